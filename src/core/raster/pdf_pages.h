// An open PDF and its pages as pictures. Internal to PageFile and to text/pdf_text.
//
// Not thread-safe, because neither poppler's document nor QPDF's is.
#pragma once

#include "core/raster/image_file.h"

#include <memory>

namespace poppler {
class document;
}

namespace yelvin {

class PdfPages {
  public:
    // Opens a PDF. Errors: BadInput if it is damaged or has no pages; Encrypted if it needs a password.
    static Result<std::unique_ptr<PdfPages>> open(const std::filesystem::path& file);
    PdfPages(const PdfPages&) = delete;
    PdfPages& operator=(const PdfPages&) = delete;
    ~PdfPages();

    poppler::document& document() const;
    int count() const;
    // See read_page(). If `most_px` is not 0, the picture is reduced to at most that width and height. Errors: BadInput
    // if the page cannot be drawn.
    Result<LoadedPage> page(int index, int most_px = 0);
    // See PageFile::drawing().
    std::optional<std::string> drawing(int index);
    // See PageFile::pictures().
    std::optional<std::string> pictures(int index);

  private:
    struct Inside;
    std::unique_ptr<Inside> inside_;
    explicit PdfPages(std::unique_ptr<Inside> inside);
};

}
