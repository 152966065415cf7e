// Originals for the simulated scanner: SVG drawings at their true size, and picture files at the size that follows from
// their resolution. Drawn by librsvg and cairo at any scale. Copies share their contents; an original and its copies
// are used by one thread at a time.
#pragma once

#include "core/error.h"
#include "core/raster/units.h"

#include <filesystem>
#include <memory>

typedef struct _cairo cairo_t;

namespace yelvin {

class PaperOriginal {
  public:
    // Reads the drawing, picture or page of a PDF; `page` counts from 0. Errors: those of read_page(); BadInput for a
    // drawing that cannot be read or has no size.
    static Result<PaperOriginal> load(const std::filesystem::path& file, int page = 0);
    SizeMm size() const { return size_; }
    // Draws the original with its upper left corner at the origin; one unit is a millimetre.
    void draw(cairo_t* cairo) const;

  private:
    struct Content;
    std::shared_ptr<const Content> content_;
    SizeMm size_;
};

}
