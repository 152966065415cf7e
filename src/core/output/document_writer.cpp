#include "core/output/document_writer.h"

#include "core/raster/image_file.h"
#include "core/raster/tiff_rows.h"
#include "core/saving/safe_file.h"

namespace yelvin {

Result<EncodedPage> encode_page(const Raster& page, TextLayer text, Format format, int jpeg_quality) {
    EncodedPage out{{}, ImageCoding::Whole, page.width_px(), page.height_px(), page.dpi, page.ink, std::move(text)};
    Result<std::string> bytes;
    switch (format) {
    case Format::Auto: // callers decide by the page; else it is a document
    case Format::Pdf:
        out.coding = page.ink == Ink::Black ? ImageCoding::G4 : ImageCoding::Jpeg;
        bytes = page.ink == Ink::Black ? encode_g4(page) : encode_jpeg(page, jpeg_quality);
        break;
    case Format::Jpeg:
        bytes = encode_jpeg(page, jpeg_quality);
        break;
    case Format::Png:
        bytes = encode_png(page);
        break;
    case Format::Tiff:
        bytes = encode_tiff(page);
        break;
    }
    if (!bytes) return std::unexpected(bytes.error());
    out.image = std::move(*bytes);
    return out;
}

namespace {

class OnePictureWriter : public DocumentWriter {
  public:
    using DocumentWriter::DocumentWriter;

  private:
    Result<void> add(EncodedPage page) override { return write_bytes(file(), page.image); }
    Result<void> complete() override { return {}; }
};

class TiffWriter : public DocumentWriter {
  public:
    explicit TiffWriter(std::filesystem::path file) : DocumentWriter(std::move(file), Format::Tiff) {}

  private:
    Result<void> add(EncodedPage page) override {
        if (!std::exchange(begun_, true)) return write_bytes(file(), page.image);
        if (const int code = append_tiff_page(file(), page.image)) return folder_error(file().parent_path(), code);
        return {};
    }
    Result<void> complete() override { return {}; }
    bool begun_ = false;
};

}

Result<void> DocumentWriter::append(EncodedPage page) {
    ++pages_;
    return add(std::move(page));
}

Result<void> DocumentWriter::finish() {
    if (auto completed = complete(); !completed) return completed;
    return opens_again(file_, format_, pages_);
}

std::unique_ptr<DocumentWriter> new_document_writer(const std::filesystem::path& file, Format format,
                                                    const DocumentInfo& info) {
    switch (format) {
    case Format::Auto:
    case Format::Pdf:
        return new_pdf_writer(file, info);
    case Format::Tiff:
        return std::make_unique<TiffWriter>(file);
    case Format::Jpeg:
    case Format::Png:
        break;
    }
    return std::make_unique<OnePictureWriter>(file, format);
}

}
