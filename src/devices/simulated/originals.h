// What can be laid on the simulated glass: SVG drawings at their true size, and picture files at the size their
// resolution gives them. Drawn through librsvg and cairo at whatever scale is asked.
#pragma once

#include "core/error.h"
#include "core/raster/units.h"

#include <filesystem>
#include <memory>

typedef struct _cairo cairo_t;

namespace yelvin {

class PaperOriginal {
  public:
    // `page` counts from 0 in files with several pages.
    static Result<PaperOriginal> load(const std::filesystem::path& file, int page = 0);
    SizeMm size() const { return size_; }
    // Draws with the upper left corner at the origin, one unit being a millimetre.
    void draw(cairo_t* cairo) const;

  private:
    struct Content;
    std::shared_ptr<const Content> content_;
    SizeMm size_;
};

}
