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
    virtual ~DocumentWriter() = default;
    virtual Result<void> append(EncodedPage page) = 0;
    virtual Result<void> finish() = 0; // afterwards the file is complete
};

// A PDF or TIFF takes any number of pages, JPEG and PNG exactly one.
std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
