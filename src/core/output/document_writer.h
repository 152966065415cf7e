// One writer per finished file. The heavy half of a page, encode_page(), depends on nothing but the page and may run on
// any thread; append() takes the encoded pages in order. Memory does not grow with the number of pages.
#pragma once

#include "core/error.h"
#include "core/output/flow.h"
#include "core/raster/raster.h"
#include "core/secret.h"
#include "core/ticket/ticket.h"

#include <filesystem>
#include <memory>
#include <string>

namespace yelvin {

// Whole: the bytes are a complete PNG, JPEG or one-page TIFF file; Pictures: those of a PDF that pictures_alone() made.
enum class ImageCoding { Jpeg, G4, Whole, Pictures };

struct EncodedPage {
    std::string image;
    ImageCoding coding = ImageCoding::Whole;
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Grey;
    PageText text;                  // as it goes into the file
    FlowPage flow;                  // of what can be edited
    std::vector<cv::Rect> pictures; // of a tagged PDF: where they are, px
    std::string cover;              // of an e-book: the page as a small JPEG
    Ticket::Make make;              // how it was wished
    std::string drawing = {};       // a PDF of this one page, which goes into the file instead of a picture of it
    std::string stamp;              // words on it, as make.stamp says; of a picture they are in its dots already
};

// The text without what is left out.
Result<EncodedPage> encode_page(const Raster& page, PageText text, const Ticket::Make& make);
// For a PDF whose page shows `pictures`, made by pictures_alone(), instead of the raster encoded anew. They are the
// raster's dots.
Result<EncodedPage> with_pictures(const Raster& page, PageText text, const Ticket::Make& make, std::string pictures);
// Whether a file of this format can show them so; false where there are none.
bool takes_pictures(Format format, const std::string& pictures);
// As it was read.
Result<EncodedPage> encode_page(const Raster& page, const TextLayer& text, Format format, int jpeg_quality);

struct DocumentInfo {
    std::string title;
    Ticket::Make make{}; // what the file as a whole needs of it
    std::string author = {}, subject = {}, keywords = {};
    Passwords passwords = {}; // of a PDF; checked by check_protection()
};

class DocumentWriter {
  public:
    // `password` opens the finished file.
    DocumentWriter(std::filesystem::path file, Format format, Secret password = {})
        : file_(std::move(file)), format_(format), password_(std::move(password)) {}
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
    Secret password_;
    int pages_ = 0;
};

// Whether a finished file can be read by others: its structure by QPDF, libtiff, libpng, libjpeg or libzip, the number
// of its pages where it has any, and that it goes on to its end. The dots are not decoded. An Error says that it was
// not written whole.
Result<void> opens_again(const std::filesystem::path& file, Format format, int pages, const Secret& password = {});

// Any number of pages where holds_many_pages(), else exactly one.
std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_a_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
