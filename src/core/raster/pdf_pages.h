// An open PDF and its pages as pictures. Internal to PageFile and to what takes words from a PDF.
//
// Not thread-safe: neither poppler's document nor QPDF's is.
#pragma once

#include "core/raster/image_file.h"

#include <memory>

namespace poppler {
class document;
}

namespace yelvin {

class PdfPages {
  public:
    // Errors: BadInput, damaged or without pages; Encrypted.
    static Result<std::unique_ptr<PdfPages>> open(const std::filesystem::path& file);
    PdfPages(const PdfPages&) = delete;
    PdfPages& operator=(const PdfPages&) = delete;
    ~PdfPages();

    poppler::document& document() const;
    int count() const;
    // `most_px`: coarser, so that it is at most so many pixels wide and high; 0: as it is. Errors: BadInput, the page
    // cannot be drawn.
    Result<LoadedPage> page(int index, int most_px = 0);
    // As drawing_of_page() of image_file.h.
    std::optional<std::string> drawing(int index);
    // As PageFile::pictures().
    std::optional<std::string> pictures(int index);

  private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
    explicit PdfPages(std::unique_ptr<Inside> inside);
};

}
