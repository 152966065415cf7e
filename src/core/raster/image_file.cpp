#include "core/raster/image_file.h"

#include "core/raster/pdf_pages.h"
#include "core/raster/pix.h"
#include "core/raster/png_jpeg.h"
#include "core/raster/tiff_rows.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <cstdlib>
#include <fstream>
#include <iterator>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr int smallest_side_px = 8;
constexpr double most_pixels = 1.2e9; // an A1 at 1000 dpi; beyond that the numbers in a header are not believed

[[maybe_unused]] const int quiet_leptonica = setMsgSeverity(L_SEVERITY_NONE);

std::string shown(const fs::path& file) { return file.filename().string(); }

Result<std::string> read_bytes(const fs::path& file) {
    std::error_code failure;
    if (!fs::exists(file, failure)) {
        return fail(ErrorKind::Missing, fmt::format("{} is not there; check the name and the folder.", file.string()));
    }
    if (fs::is_directory(file, failure)) {
        return fail(ErrorKind::BadInput, fmt::format("{} is a folder; give the files in it.", file.string()));
    }
    std::ifstream in(file, std::ios::binary);
    if (!in) {
        return fail(ErrorKind::Missing, fmt::format("{} cannot be opened; check that you may read it.", file.string()));
    }
    std::string bytes{std::istreambuf_iterator<char>(in), {}};
    if (bytes.empty()) {
        return fail(ErrorKind::BadInput, fmt::format("{} is empty (0 bytes); scan or copy it again.", shown(file)));
    }
    return bytes;
}

const l_uint8* data(const std::string& bytes) { return reinterpret_cast<const l_uint8*>(bytes.data()); }

std::unexpected<Error> damaged(const fs::path& file) {
    return fail(ErrorKind::BadInput,
                fmt::format("{} is damaged or cut off and cannot be read; scan or copy it again.", shown(file)));
}

bool is_pdf(const std::string& bytes) { return bytes.substr(0, 1024).find("%PDF-") != std::string::npos; }

enum class FileKind { Pdf, Tiff, Picture };

Result<FileKind> kind_of(const fs::path& file, const std::string& bytes) {
    if (is_pdf(bytes)) return FileKind::Pdf;
    l_int32 format = IFF_UNKNOWN;
    // Leptonica looks at the first 12 bytes and trusts that they are there.
    if (bytes.size() >= 12) findFileFormatBuffer(data(bytes), &format);
    switch (format) {
    case IFF_TIFF:
    case IFF_TIFF_PACKBITS:
    case IFF_TIFF_RLE:
    case IFF_TIFF_G3:
    case IFF_TIFF_G4:
    case IFF_TIFF_LZW:
    case IFF_TIFF_ZIP:
    case IFF_TIFF_JPEG:
        return FileKind::Tiff;
    case IFF_PNG:
    case IFF_JFIF_JPEG:
    case IFF_BMP:
    case IFF_PNM:
    case IFF_GIF:
    case IFF_WEBP:
    case IFF_JP2:
        return FileKind::Picture;
    default:
        return fail(
            ErrorKind::BadInput,
            fmt::format("{} is not a picture or PDF, whatever its name says; give PNG, JPEG, TIFF, WebP, BMP or PDF.",
                        shown(file)));
    }
}

Result<void> check_size(const fs::path& file, double width, double height) {
    if (width < smallest_side_px || height < smallest_side_px) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is only {:.0f} x {:.0f} px, too small to be a page; leave it out.", shown(file),
                                width, height));
    }
    if (width * height > most_pixels) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} says it is {:.0f} x {:.0f} px, more than Yelvin can hold; make it smaller first.",
                                shown(file), width, height));
    }
    return {};
}

// The size a picture's header claims, before memory is taken for it.
Result<void> check_header(const fs::path& file, const std::string& bytes) {
    l_int32 format = 0, width = 0, height = 0, bits = 0, samples = 0, map = 0;
    findFileFormatBuffer(data(bytes), &format);
    if (format == IFF_JFIF_JPEG) {
        const auto header = jpeg_header(bytes);
        return header ? check_size(file, header->width_px, header->height_px) : damaged(file);
    }
    if (pixReadHeaderMem(data(bytes), bytes.size(), &format, &width, &height, &bits, &samples, &map) != 0)
        return damaged(file);
    return check_size(file, width, height);
}

// A decoded picture with its dots made square. Some writers put 1 for "aspect ratio only": that is no resolution.
LoadedPage with_square_dots(Raster raster, double x, double y) {
    LoadedPage page{std::move(raster), x >= 10 && y >= 10};
    page.raster.dpi = page.resolution_known ? std::max(x, y) : customary_dpi;
    if (page.resolution_known && std::abs(x - y) * 50 > page.raster.dpi) { // fax pages: 204 x 98 dots
        page.raster.pixels = scaled(page.raster.pixels, page.raster.dpi / x, page.raster.dpi / y,
                                    page.raster.ink == Ink::Black ? cv::INTER_NEAREST : cv::INTER_LINEAR);
    }
    return page;
}

std::optional<LoadedPage> decoded(PIX* pix) {
    if (!pix) return std::nullopt;
    Raster raster = from_pix(pix, customary_dpi);
    if (raster.empty()) return std::nullopt;
    return with_square_dots(std::move(raster), pixGetXRes(pix), pixGetYRes(pix));
}

std::optional<LoadedPage> decoded_picture(const std::string& bytes) {
    l_int32 format = IFF_UNKNOWN;
    findFileFormatBuffer(data(bytes), &format);
    const bool own =
        format == IFF_PNG || (format == IFF_JFIF_JPEG && !jpeg_header(bytes).value_or(JpegHeader{}).four_colours);
    if (!own) return decoded(PixPtr{pixReadMem(data(bytes), bytes.size())}.get());
    auto picture = format == IFF_PNG ? decode_png(bytes) : decode_jpeg(bytes);
    if (!picture) return std::nullopt;
    return with_square_dots(std::move(picture->raster), picture->x_dpi, picture->y_dpi);
}

Result<std::string> taken(l_uint8* bytes, size_t size, l_int32 failed, std::string_view what) {
    if (failed || !bytes) return fail(ErrorKind::Internal, fmt::format("The page could not be written as {}.", what));
    std::string out(reinterpret_cast<const char*>(bytes), size);
    std::free(bytes); // NOLINT: Leptonica gives memory from malloc
    return out;
}

}

Result<int> count_pages(const fs::path& file) {
    const auto bytes = read_bytes(file);
    if (!bytes) return std::unexpected(bytes.error());
    const auto kind = kind_of(file, *bytes);
    if (!kind) return std::unexpected(kind.error());
    if (*kind == FileKind::Pdf) return count_pdf_pages(file, *bytes);
    if (*kind == FileKind::Picture) return 1;
    const int pages = count_tiff_pages(*bytes);
    if (pages < 1) return damaged(file);
    return pages;
}

std::optional<std::string> drawing_of_page(const fs::path& file, int index) {
    const auto bytes = read_bytes(file);
    return bytes && is_pdf(*bytes) ? drawing_of_pdf_page(*bytes, index) : std::nullopt;
}

Result<LoadedPage> read_page(const fs::path& file, int index) {
    const auto bytes = read_bytes(file);
    if (!bytes) return std::unexpected(bytes.error());
    const auto kind = kind_of(file, *bytes);
    if (!kind) return std::unexpected(kind.error());
    if (*kind == FileKind::Pdf) return read_pdf_page(file, *bytes, index);

    std::optional<LoadedPage> page;
    if (*kind == FileKind::Tiff) {
        const auto size = tiff_page_size(*bytes, index);
        if (!size) return damaged(file);
        if (auto checked = check_size(file, size->width, size->height); !checked)
            return std::unexpected(checked.error());
        page = decoded(PixPtr{pixReadMemTiff(data(*bytes), bytes->size(), index)}.get());
    } else {
        if (auto checked = check_header(file, *bytes); !checked) return std::unexpected(checked.error());
        page = decoded_picture(*bytes);
    }
    if (!page) return damaged(file);
    if (auto checked = check_size(file, page->raster.width_px(), page->raster.height_px()); !checked)
        return std::unexpected(checked.error());
    return std::move(*page);
}

Result<Raster> glimpse_of_page(const fs::path& file, int index, int most_px) {
    if (const auto bytes = read_bytes(file); bytes && is_pdf(*bytes)) {
        auto page = read_pdf_page(file, *bytes, index, most_px);
        return page ? Result<Raster>(std::move(page->raster)) : std::unexpected(page.error());
    }
    auto page = read_page(file, index);
    if (!page) return std::unexpected(page.error());
    Raster& raster = page->raster;
    const double by = static_cast<double>(most_px) / std::max(raster.width_px(), raster.height_px());
    if (by >= 1) return std::move(raster);
    return Raster{scaled(raster.pixels, by, by, cv::INTER_AREA), raster.dpi * by,
                  raster.ink == Ink::Black ? Ink::Grey : raster.ink};
}

Result<std::string> encode_jpeg(const Raster& raster, int quality) {
    const PixPtr pix = to_pix(raster.ink == Ink::Black ? Raster{raster.pixels, raster.dpi, Ink::Grey} : raster);
    l_uint8* bytes = nullptr;
    size_t size = 0;
    const l_int32 failed = pix ? pixWriteMemJpeg(&bytes, &size, pix.get(), std::clamp(quality, 1, 100), 0) : 1;
    return taken(bytes, size, failed, "JPEG");
}

Result<std::string> encode_g4(const Raster& raster) {
    L_COMP_DATA* compressed = nullptr;
    const PixPtr pix = to_pix(raster);
    if (!pix || pixGenerateCIData(pix.get(), L_G4_ENCODE, 0, 0, &compressed) != 0 || !compressed) {
        return fail(ErrorKind::Internal, "The page could not be written as black and white (CCITT G4).");
    }
    std::string out(reinterpret_cast<const char*>(compressed->datacomp), compressed->nbytescomp);
    l_CIDataDestroy(&compressed);
    return out;
}

}
