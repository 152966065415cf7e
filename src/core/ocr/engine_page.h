// Giving a page to Tesseract with little memory (a grey A4 page at 300 dpi has 9 MB). Internal to Engine.
#pragma once

#include "core/raster/pix.h"
#include "core/raster/raster.h"

namespace tesseract {
class TessBaseAPI;
}

namespace yelvin {

// Returns the ink of an 8-bit page by Otsu's threshold, pixel for pixel what Tesseract itself would compute; if most of
// the page is dark, ink is what is light. Returns null if there is not enough memory.
PixPtr ink_of(PIX* grey);

// Gives a page to Tesseract, which finds lines in black and white and reads letters in grey. Both are given to it; with
// the grey page alone it would make two more pictures of its size, a copy and a map of thresholds.
void set_page(tesseract::TessBaseAPI& engine, const Raster& page);

// Releases the pixels of a page while Tesseract works on its own copy of them, and restores them from that copy when
// destroyed. Does nothing if somebody else holds the pixels.
class ReleasedPixels {
  public:
    ReleasedPixels(Raster& page, tesseract::TessBaseAPI& engine); // set_page() was called with both
    ~ReleasedPixels();
    ReleasedPixels(const ReleasedPixels&) = delete;
    ReleasedPixels& operator=(const ReleasedPixels&) = delete;

  private:
    Raster& page_;
    tesseract::TessBaseAPI& engine_;
    PixPtr theirs_;
};

// Returns free memory of the heap to the system. Freed pictures leave holes into which the next large picture seldom
// fits. Call it between steps of OCR; it takes at most a twentieth of a page's time.
void give_memory_back();

}
