// Checks a file that was just written with the libraries that other programs use to open it.
#include "core/output/format_table.h"
#include "core/output/zip_file.h"
#include "core/raster/image_file.h"
#include "core/raster/png_jpeg.h"

#include <fmt/format.h>
#include <png.h>
#include <qpdf/QPDF.hh>
#include <tiffio.h>

#include <csetjmp>
#include <cstdarg>
#include <cstdio>
#include <fstream>
#include <limits>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::string end_of(const fs::path& file, std::uintmax_t bytes, size_t count) {
    std::ifstream in(file, std::ios::binary);
    std::string out(std::min<std::uintmax_t>(bytes, count), '\0');
    in.seekg(-static_cast<std::streamoff>(out.size()), std::ios::end);
    in.read(out.data(), static_cast<std::streamsize>(out.size()));
    return in ? out : std::string();
}

std::string begin_of(const fs::path& file, size_t count) {
    std::ifstream in(file, std::ios::binary);
    std::string out(count, '\0');
    in.read(out.data(), static_cast<std::streamsize>(count));
    return in ? out : std::string();
}

// Reads a little-endian number of four bytes.
std::uintmax_t number_at(const std::string& bytes, size_t at) {
    std::uintmax_t number = 0;
    for (size_t i = 4; i-- > 0;) number = number << 8U | static_cast<unsigned char>(bytes[at + i]);
    return number;
}

// Checks the structure, and that every picture is where the structure says.
bool pdf_is_whole(const fs::path& file, std::uintmax_t bytes, int pages, const Secret& password) {
    if (end_of(file, bytes, 6) != "%%EOF\n") return false;
    try {
        QPDF pdf;
        pdf.setSuppressWarnings(true);
        pdf.processFile(file.c_str(), password.c_str());
        auto sheets = pdf.getAllPages();
        if (static_cast<int>(sheets.size()) != pages) return false;
        for (QPDFObjectHandle& sheet : sheets) {
            if (!sheet.getKey("/Contents").isStream()) return false;
            QPDFObjectHandle resources = sheet.getKey("/Resources"); // a page that is only drawn may have none
            QPDFObjectHandle pictures = resources.isDictionary() ? resources.getKey("/XObject") : resources;
            if (!pictures.isDictionary()) continue;
            for (auto& [name, picture] : pictures.ditems()) {
                if (!picture.isStream()) return false;
            }
        }
        return !pdf.anyWarnings(); // a damaged file is mended as it is read, with a warning
    } catch (const std::exception&) {
        return false;
    }
}

// Whether the directory is complete: 2 bytes, 12 per entry, and 4 bytes for the offset of the next one (TIFF 6.0,
// section 2).
bool has_whole_directory(TIFF* tiff, const fs::path& file, std::uintmax_t bytes) {
    std::ifstream in(file, std::ios::binary);
    uint16_t entries = 0;
    const uint64_t at = TIFFCurrentDirOffset(tiff);
    in.seekg(static_cast<std::streamoff>(at));
    in.read(reinterpret_cast<char*>(&entries), sizeof entries);
    if (TIFFIsByteSwapped(tiff)) TIFFSwabShort(&entries);
    return in && at + 2 + 12ULL * entries + 4 <= bytes;
}

// Counts warnings as well as errors, because a truncated tag is only a warning for libtiff.
int count_complaint(TIFF*, void* complaints, const char*, const char*, va_list) {
    ++*static_cast<int*>(complaints);
    return 1;
}

bool tiff_is_whole(const fs::path& file, std::uintmax_t bytes, int pages) {
    int complaints = 0, count = 0;
    const std::unique_ptr<TIFFOpenOptions, decltype([](TIFFOpenOptions* o) { TIFFOpenOptionsFree(o); })> options{
        TIFFOpenOptionsAlloc()};
    TIFFOpenOptionsSetErrorHandlerExtR(options.get(), count_complaint, &complaints);
    TIFFOpenOptionsSetWarningHandlerExtR(options.get(), count_complaint, &complaints);
    const std::unique_ptr<TIFF, decltype([](TIFF* tiff) { TIFFClose(tiff); })> tiff{
        // Not memory-mapped, because the mapping of a long file would count as memory.
        TIFFOpenExt(file.c_str(), "rm", options.get())};
    if (!tiff) return false;
    do {
        ++count;
        if (!has_whole_directory(tiff.get(), file, bytes)) return false;
        for (uint32_t i = 0; i < TIFFNumberOfStrips(tiff.get()); ++i) {
            const uint64_t size = TIFFGetStrileByteCount(tiff.get(), i);
            if (size == 0 || TIFFGetStrileOffset(tiff.get(), i) + size > bytes) return false;
        }
    } while (TIFFReadDirectory(tiff.get()) == 1);
    return count == pages && complaints == 0;
}

void png_fail(png_structp png, png_const_charp) { longjmp(png_jmpbuf(png), 1); } // NOLINT: libpng's way out
void png_hush(png_structp, png_const_charp) {}

bool png_header_is_read(std::FILE* in, png_structp png, png_infop info) {
    if (setjmp(png_jmpbuf(png))) return false; // NOLINT: libpng's error handling
    png_init_io(png, in);
    png_read_info(png, info);
    return png_get_image_width(png, info) > 0 && png_get_image_height(png, info) > 0;
}

bool png_is_whole(const fs::path& file, std::uintmax_t bytes) {
    const std::unique_ptr<std::FILE, decltype([](std::FILE* f) { std::fclose(f); })> in{std::fopen(file.c_str(), "rb")};
    if (!in) return false;
    png_structp png = png_create_read_struct(PNG_LIBPNG_VER_STRING, nullptr, png_fail, png_hush);
    png_infop info = png ? png_create_info_struct(png) : nullptr;
    const bool header = info && png_header_is_read(in.get(), png, info);
    png_destroy_read_struct(&png, &info, nullptr);
    // The last chunk with its checksum: PNG (ISO/IEC 15948), 11.2.5.
    return header && end_of(file, bytes, 12) == std::string("\0\0\0\0IEND\xAE\x42\x60\x82", 12);
}

bool jpeg_is_whole(const fs::path& file, std::uintmax_t bytes) {
    std::ifstream in(file, std::ios::binary);
    std::string beginning(std::min<std::uintmax_t>(bytes, 1U << 20), '\0'); // the headers are in it
    in.read(beginning.data(), static_cast<std::streamsize>(beginning.size()));
    // From start to end of image: ITU-T T.81, B.1.1.3.
    return in && jpeg_header(beginning) && end_of(file, bytes, 2) == "\xFF\xD9";
}

// Whether the file ends with the given text.
bool ends_with(const fs::path& file, std::uintmax_t bytes, std::string_view end) {
    return end_of(file, bytes, end.size()) == end;
}

}

bool pdf_opens(const Finished& made) { return pdf_is_whole(made.file, made.bytes, made.pages, made.password); }
bool tiff_opens(const Finished& made) { return tiff_is_whole(made.file, made.bytes, made.pages); }
bool png_opens(const Finished& made) { return made.pages == 1 && png_is_whole(made.file, made.bytes); }
bool jpeg_opens(const Finished& made) { return made.pages == 1 && jpeg_is_whole(made.file, made.bytes); }

// RIFF (the container of WebP) and BMP have the length of the file in their header.
bool webp_opens(const Finished& made) {
    const std::string begin = begin_of(made.file, 12);
    return made.pages == 1 && begin.size() == 12 && begin.starts_with("RIFF") && begin.ends_with("WEBP") &&
           number_at(begin, 4) + 8 == made.bytes;
}
bool bmp_opens(const Finished& made) {
    const std::string begin = begin_of(made.file, 6);
    return made.pages == 1 && begin.size() == 6 && begin.starts_with("BM") && number_at(begin, 2) == made.bytes;
}
bool heif_opens(const Finished& made) { return made.pages == 1 && heif_is_whole(made.file); }

bool text_opens(const Finished& made) { return ends_with(made.file, made.bytes, "\n"); }
bool html_opens(const Finished& made) { return ends_with(made.file, made.bytes, "</html>\n"); }
bool alto_opens(const Finished& made) { return ends_with(made.file, made.bytes, "</alto>\n"); }
bool zip_with_kind_opens(const Finished& made) { return zip_is_whole(made.file, "mimetype"); }
bool docx_opens(const Finished& made) { return zip_is_whole(made.file, "[Content_Types].xml"); }

Result<void> opens_again(const fs::path& file, Format format, int pages, const Secret& password) {
    std::error_code failure;
    const std::uintmax_t bytes = fs::file_size(file, failure);
    if (!failure && bytes > 0 && format_entry(format).opens({file, bytes, pages, password})) return {};
    return fail(ErrorKind::NotWritable,
                fmt::format("The file saved in {} could not be read back: the disk or network lost part of it. Nothing "
                            "was saved there; choose another folder or try again.",
                            file.parent_path().string()));
}

}
