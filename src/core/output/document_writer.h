// Writing finished files page by page. encode_page(), the expensive half, is a pure function and may run on any thread;
// append() takes the encoded pages in order. Memory does not grow with the number of pages.
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

// Coding of EncodedPage::image. G4: bare data as encode_g4() returns them; Whole: a complete PNG, JPEG or one-page TIFF
// file; Pictures: a PDF that pictures_alone() made.
enum class ImageCoding { Jpeg, G4, Whole, Pictures };

struct EncodedPage {
    std::string image;
    ImageCoding coding = ImageCoding::Whole;
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Grey;
    PageText text;                  // without what is left out
    FlowPage flow;                  // for formats that can be edited
    std::vector<cv::Rect> pictures; // tagged PDF: places of pictures, px
    std::string cover;              // e-book: the page as a small JPEG
    Ticket::Make make;              // what the ticket wants
    std::string drawing = {};       // a PDF of this page, which is used instead of its picture; may be empty
    std::string stamp;              // text of the stamp; in picture formats it is in the pixels already
};

// Encodes a page; `text` must not contain what is left out. Errors: those of the encoders.
Result<EncodedPage> encode_page(const Raster& page, PageText text, const Ticket::Make& make);
// Returns a page of a PDF that shows `pictures`, made by pictures_alone() and equal to the raster's pixels, instead of
// encoding the raster.
Result<EncodedPage> with_pictures(const Raster& page, PageText text, const Ticket::Make& make, std::string pictures);
// Whether files of this format can contain `pictures` unchanged; false if they are empty.
bool takes_pictures(Format format, const std::string& pictures);
// Encodes a page with an OCR result without edits.
Result<EncodedPage> encode_page(const Raster& page, const TextLayer& text, Format format, int jpeg_quality);

// Returns the number of bytes that the page's picture takes in a file of one page.
double picture_bytes(const EncodedPage& page);

struct DocumentInfo {
    std::string title;
    Ticket::Make make{}; // for choices that concern the file as a whole
    std::string author = {}, subject = {}, keywords = {};
    Passwords passwords = {}; // of a PDF; checked by check_protection()
};

// Writes one file. Used by one thread at a time. The file must not exist or be empty; if the writer is destroyed before
// finish(), it is incomplete.
class DocumentWriter {
  public:
    // `password` is needed to open the finished file again.
    DocumentWriter(std::filesystem::path file, Format format, Secret password = {})
        : file_(std::move(file)), format_(format), password_(std::move(password)) {}
    DocumentWriter(const DocumentWriter&) = delete;
    DocumentWriter& operator=(const DocumentWriter&) = delete;
    virtual ~DocumentWriter() = default;

    // Appends a page. Errors: NotWritable, DiskFull, BadInput.
    Result<void> append(EncodedPage page);
    // Completes the file and checks it with opens_again(). Call it once. Errors: those of append() and opens_again().
    Result<void> finish();

  protected:
    virtual Result<void> add(EncodedPage page) = 0;
    virtual Result<void> complete() = 0; // must check every write, flush and close
    const std::filesystem::path& file() const { return file_; }

  private:
    std::filesystem::path file_;
    Format format_;
    Secret password_;
    int pages_ = 0;
};

// Opens a finished file with QPDF, libtiff, libpng, libjpeg, libzip or the library of its format, and checks its
// structure, the number of its pages and that it reaches its end. Pixels are not decoded. Errors: NotWritable if the
// file is not complete.
Result<void> opens_again(const std::filesystem::path& file, Format format, int pages, const Secret& password = {});

// Returns a writer for the format; it takes any number of pages if holds_many_pages(), otherwise exactly one.
std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_writer(const std::filesystem::path& file, const DocumentInfo& info);
std::unique_ptr<DocumentWriter> new_pdf_a_writer(const std::filesystem::path& file, const DocumentInfo& info);

}
