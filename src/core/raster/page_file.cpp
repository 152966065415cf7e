#include "core/raster/page_file.h"

#include "core/raster/colour_profile.h"
#include "core/raster/pdf_pages.h"
#include "core/raster/pix.h"
#include "core/raster/png_jpeg.h"
#include "core/raster/tiff_rows.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <fstream>
#include <mutex>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr int smallest_side_px = 8;
constexpr double most_pixels = 1.2e9; // an A1 at 1000 dpi; beyond that the numbers in a header are not believed

[[maybe_unused]] const int quiet_leptonica = setMsgSeverity(L_SEVERITY_NONE);

std::string shown(const fs::path& file) { return file.filename().string(); }

// Checks that the file exists and is a regular file. A pipe or a device may have no end.
Result<void> check_file(const fs::path& file) {
    std::error_code failure;
    if (!fs::exists(file, failure)) {
        return fail(ErrorKind::Missing,
                    fmt::format("{} does not exist; check the name and the folder.", file.string()));
    }
    if (fs::is_directory(file, failure)) {
        return fail(ErrorKind::BadInput, fmt::format("{} is a folder; name the files in it.", file.string()));
    }
    if (!fs::is_regular_file(file, failure)) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is a pipe or a device, not a file; save its data to a file first.", file.string()));
    }
    if (fs::file_size(file, failure) == 0 && !failure) {
        return fail(ErrorKind::BadInput, fmt::format("{} is empty (0 bytes); scan or copy it again.", shown(file)));
    }
    return {};
}

// Returns the first `most` bytes of the file.
Result<std::string> read_bytes(const fs::path& file, std::uintmax_t most = UINTMAX_MAX) {
    std::error_code failure;
    const std::uintmax_t size = fs::file_size(file, failure);
    std::ifstream in(file, std::ios::binary);
    std::string bytes(failure ? 0 : std::min(size, most), '\0');
    if (!in || !in.read(bytes.data(), static_cast<std::streamsize>(bytes.size())))
        return fail(ErrorKind::Missing,
                    fmt::format("{} cannot be read; check your permission and the disk.", file.string()));
    return bytes;
}

const l_uint8* data(const std::string& bytes) { return reinterpret_cast<const l_uint8*>(bytes.data()); }

std::unexpected<Error> damaged(const fs::path& file) {
    return fail(ErrorKind::BadInput,
                fmt::format("{} is damaged or incomplete and cannot be opened; scan or copy it again.", shown(file)));
}

bool is_pdf(const std::string& bytes) { return bytes.substr(0, 1024).find("%PDF-") != std::string::npos; }

enum class FileKind { Pdf, Tiff, Picture };

Result<FileKind> kind_of(const fs::path& file, const std::string& bytes) {
    if (is_pdf(bytes)) return FileKind::Pdf;
    l_int32 format = IFF_UNKNOWN;
    // Leptonica reads the first 12 bytes without checking the length.
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
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is not a picture or PDF, whatever its name; use PNG, JPEG, TIFF, WebP, BMP or PDF.",
                                shown(file)));
    }
}

Result<void> check_size(const fs::path& file, double width, double height) {
    if (width < smallest_side_px || height < smallest_side_px) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is only {:.0f} × {:.0f} px, too small to be a page; leave it out.", shown(file),
                                width, height));
    }
    if (width * height > most_pixels) {
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is {:.0f} × {:.0f} px, more than Yelvin can open; make it smaller first.",
                                shown(file), width, height));
    }
    return {};
}

// Checks the size in the header before memory is allocated for the picture.
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

// Returns the picture with square pixels. Some programs write a resolution of 1 for "aspect ratio only"; that is no
// resolution.
LoadedPage with_square_pixels(Raster raster, double x, double y) {
    LoadedPage page{std::move(raster), x >= 10 && y >= 10};
    page.raster.dpi = page.resolution_known ? std::max(x, y) : customary_dpi;
    if (page.resolution_known && std::abs(x - y) * 50 > page.raster.dpi) { // fax pages: 204 x 98 pixels
        page.raster.pixels = scaled(page.raster.pixels, page.raster.dpi / x, page.raster.dpi / y,
                                    page.raster.ink == Ink::Black ? cv::INTER_NEAREST : cv::INTER_LINEAR);
    }
    return page;
}

std::optional<LoadedPage> decoded(PIX* pix) {
    if (!pix) return std::nullopt;
    Raster raster = from_pix(pix, customary_dpi);
    if (raster.empty()) return std::nullopt;
    return with_square_pixels(std::move(raster), pixGetXRes(pix), pixGetYRes(pix));
}

// Leptonica inverts grey pictures in which 0 is white, except those with 16 bits, and ignores colour profiles.
void take_meaning(Raster& raster, const TiffPageSays& says) {
    if (raster.ink == Ink::Black) return;
    if (says.is_white_zero && says.bits == 16) raster.pixels = 255 - raster.pixels;
    to_srgb(raster.pixels, says.profile);
}

// Reads one page. The caller owns the PIX; it is null if the page cannot be read. Leptonica stores the offset of the
// next page in its second argument.
PIX* read_pix(const fs::path& tiff, TiffPlace place) {
    size_t at = place;
    return pixReadFromMultipageTiff(tiff.c_str(), &at);
}

std::optional<LoadedPage> decoded_picture(const std::string& bytes) {
    l_int32 format = IFF_UNKNOWN;
    findFileFormatBuffer(data(bytes), &format);
    const bool own =
        format == IFF_PNG || (format == IFF_JFIF_JPEG && !jpeg_header(bytes).value_or(JpegHeader{}).four_colours);
    if (!own) return decoded(PixPtr{pixReadMem(data(bytes), bytes.size())}.get());
    auto picture = format == IFF_PNG ? decode_png(bytes) : decode_jpeg(bytes);
    if (!picture) return std::nullopt;
    return with_square_pixels(std::move(picture->raster), picture->x_dpi, picture->y_dpi);
}

}

struct PageFile::Inside {
    fs::path file;
    FileKind kind = FileKind::Picture;
    int count = 1;
    bool is_cut_off = false;
    std::vector<TiffPlace> places; // of a TIFF's pages
    std::mutex mutex;
    std::vector<std::unique_ptr<PdfPages>> idle;
};

PageFile::PageFile(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
PageFile::PageFile(PageFile&&) noexcept = default;
PageFile& PageFile::operator=(PageFile&&) noexcept = default;
PageFile::~PageFile() = default;

const fs::path& PageFile::path() const { return inside_->file; }
int PageFile::count() const { return inside_->count; }

Result<PageFile> PageFile::open(const fs::path& file) {
    if (auto there = check_file(file); !there) return std::unexpected(there.error());
    constexpr std::uintmax_t enough_to_tell = 1024;
    const auto beginning = read_bytes(file, enough_to_tell);
    if (!beginning) return std::unexpected(beginning.error());
    const auto kind = kind_of(file, *beginning);
    if (!kind) return std::unexpected(kind.error());
    auto inside = std::make_unique<Inside>();
    inside->file = file;
    inside->kind = *kind;
    if (*kind == FileKind::Pdf) {
        auto pdf = PdfPages::open(file);
        if (!pdf) return std::unexpected(pdf.error());
        inside->count = (*pdf)->count();
        inside->idle.push_back(std::move(*pdf));
        return PageFile(std::move(inside));
    }
    if (*kind == FileKind::Tiff) {
        TiffPages pages = tiff_pages(file);
        if (pages.places.empty()) return damaged(file);
        inside->count = static_cast<int>(pages.places.size());
        inside->places = std::move(pages.places);
        inside->is_cut_off = pages.is_cut_off;
    }
    return PageFile(std::move(inside));
}

std::optional<Error> PageFile::missing_pages() const {
    if (!inside_->is_cut_off) return std::nullopt;
    const std::string there =
        inside_->count == 1 ? "only its first page is" : fmt::format("only its first {} pages are", inside_->count);
    return Error{ErrorKind::BadInput,
                 fmt::format("{} is incomplete: {} there; scan or copy it again.", shown(inside_->file), there),
                 {}};
}

PageFile::Loan::Loan(const PageFile& file, std::unique_ptr<PdfPages> pdf) : file_(file), pdf_(std::move(pdf)) {}
PageFile::Loan::~Loan() { file_.give_back(std::move(pdf_)); }

PageFile::Loan PageFile::pdf() const {
    if (inside_->kind != FileKind::Pdf) return {*this, nullptr};
    {
        const std::scoped_lock lock(inside_->mutex);
        if (!inside_->idle.empty()) {
            auto pdf = std::move(inside_->idle.back());
            inside_->idle.pop_back();
            return {*this, std::move(pdf)};
        }
    }
    auto opened = PdfPages::open(inside_->file);
    return {*this, opened ? std::move(*opened) : nullptr};
}

void PageFile::give_back(std::unique_ptr<PdfPages> pdf) const {
    if (!pdf) return;
    const std::scoped_lock lock(inside_->mutex);
    inside_->idle.push_back(std::move(pdf));
}

std::optional<std::string> PageFile::drawing(int index) const {
    const Loan lent = pdf();
    return lent.get() ? lent.get()->drawing(index) : std::nullopt;
}

std::optional<std::string> PageFile::pictures(int index) const {
    const Loan lent = pdf();
    return lent.get() ? lent.get()->pictures(index) : std::nullopt;
}

Result<LoadedPage> PageFile::page(int index) const {
    const fs::path& file = inside_->file;
    if (inside_->kind == FileKind::Pdf) {
        const Loan lent = pdf();
        return lent.get() ? lent.get()->page(index) : damaged(file);
    }
    std::optional<LoadedPage> page;
    if (inside_->kind == FileKind::Tiff) {
        if (index < 0 || index >= inside_->count) return damaged(file);
        const TiffPlace place = inside_->places[static_cast<size_t>(index)];
        const auto says = tiff_page_says(file, place);
        if (!says) return damaged(file);
        if (auto checked = check_size(file, says->width, says->height); !checked)
            return std::unexpected(checked.error());
        page = decoded(PixPtr{read_pix(file, place)}.get());
        if (page) take_meaning(page->raster, *says);
        if (page && !is_whole_tiff_page(file, place))
            page->damage =
                fmt::format("Page {} of {} is damaged or incomplete; scan or copy it again.", index + 1, shown(file));
    } else {
        const auto bytes = read_bytes(file);
        if (!bytes) return std::unexpected(bytes.error());
        if (auto checked = check_header(file, *bytes); !checked) return std::unexpected(checked.error());
        page = decoded_picture(*bytes);
    }
    if (!page) return damaged(file);
    if (auto checked = check_size(file, page->raster.width_px(), page->raster.height_px()); !checked)
        return std::unexpected(checked.error());
    return std::move(*page);
}

Result<Raster> PageFile::glimpse(int index, int most_px) const {
    if (inside_->kind == FileKind::Pdf) {
        const Loan lent = pdf();
        if (!lent.get()) return damaged(inside_->file);
        auto page = lent.get()->page(index, most_px);
        return page ? Result<Raster>(std::move(page->raster)) : std::unexpected(page.error());
    }
    auto loaded = page(index);
    if (!loaded) return std::unexpected(loaded.error());
    Raster& raster = loaded->raster;
    const double by = static_cast<double>(most_px) / std::max(raster.width_px(), raster.height_px());
    if (by >= 1) return std::move(raster);
    return Raster{scaled(raster.pixels, by, by, cv::INTER_AREA), raster.dpi * by,
                  raster.ink == Ink::Black ? Ink::Grey : raster.ink};
}

}
