// A page as the engine gets it, and the memory that takes: an A4 page has nine megabytes in grey. Internal.
#pragma once

#include "core/raster/pix.h"
#include "core/raster/raster.h"

namespace tesseract {
class TessBaseAPI;
}

namespace yelvin {

// What is ink on a page of 8 bits, by Otsu's threshold; where most is dark, the light is. Dot for dot what the engine
// takes for ink by itself. Null where there is no memory for it.
PixPtr ink_of(PIX* grey);

// The engine looks for lines in black and white and reads their letters in grey. Given the grey page alone it makes two
// more pictures of its size: a copy, and which threshold each dot had.
void set_page(tesseract::TessBaseAPI& engine, const Raster& page);

// The engine has a copy of its own of what it reads: a page's dots that nobody else has are let go until the engine has
// done, and then taken from that copy.
class Lent {
  public:
    Lent(Raster& page, tesseract::TessBaseAPI& engine); // which it was set on
    ~Lent();
    Lent(const Lent&) = delete;
    Lent& operator=(const Lent&) = delete;

  private:
    Raster& page_;
    tesseract::TessBaseAPI& engine_;
    PixPtr theirs_;
};

// Memory that was let go stays with the program as holes, which the next large picture seldom fits into: where one step
// of reading ends and another begins, the system gets them back. Takes a twentieth of a page's time at most.
void give_memory_back();

}
