#include "core/output/picture_writers.h"

#include "core/raster/tiff_rows.h"
#include "core/saving/safe_file.h"

namespace yelvin {

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

std::unique_ptr<DocumentWriter> new_jpeg_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Jpeg);
}
std::unique_ptr<DocumentWriter> new_png_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Png);
}
std::unique_ptr<DocumentWriter> new_webp_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Webp);
}
std::unique_ptr<DocumentWriter> new_bmp_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Bmp);
}
std::unique_ptr<DocumentWriter> new_avif_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Avif);
}
std::unique_ptr<DocumentWriter> new_heic_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<OnePictureWriter>(file, Format::Heic);
}
std::unique_ptr<DocumentWriter> new_tiff_writer(const std::filesystem::path& file, const DocumentInfo&) {
    return std::make_unique<TiffWriter>(file);
}

}
