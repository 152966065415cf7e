// One writer per finished file. The heavy half of a page, encode_page(), depends on nothing but the page and may run on
// any thread; append() takes the encoded pages in order. Memory does not grow with the number of pages.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/reading/text_layer.h"
#include "core/ticket/ticket.h"

#include <filesystem>
#include <memory>
#include <string>

namespace yelvin {

enum class ImageCoding { Jpeg, G4, Whole }; // Whole: the bytes are a complete PNG, JPEG or one-page TIFF file

struct EncodedPage {
    std::string image;
    ImageCoding coding = ImageCoding::Whole;
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Grey;
    TextLayer text; // used by PDF
};

// JPEG quality as in Ticket::Make.
Result<EncodedPage> encode_page(const Raster& page, TextLayer text, Format format, int jpeg_quality);

struct DocumentInfo {
    std::string title;
};

class DocumentWriter {
  public:
    DocumentWriter(std::filesystem::path file, Format format) : file_(std::move(file)), format_(format) {}
    DocumentWriter(const DocumentWriter&) = delete;
    DocumentWriter& operator=(const DocumentWriter&) = delete;
    virtual ~DocumentWriter() = default;

    Result<void> append(EncodedPage page);
    // Afterwards the file is complete, and was opened again to see that it is.
    Result<void> finish();

  protected:
    virtual Result<void> add(EncodedPage page) = 0;
    virtual Result<void> complete() = 0; // every write, flush and close checked
    const std::filesystem::path& file() const { return file_; }

  private:
    std::filesystem::path file_;
    Format format_;
    int pages_ = 0;
};

// Whether a finished file can be read by others: its structure by QPDF, libtiff, libpng or libjpeg, the number of its
// pages, and that it goes on to its end. The dots are not decoded. An Error says that it was not written whole.
Result<void> opens_again(const std::filesystem::path& file, Format format, int pages);

// A PDF or TIFF takes any number of pages, JPEG and PNG exactly one.
std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
