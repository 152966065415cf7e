#include "core/raster/tiff_rows.h"

#include "core/private_files.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <tiffio.h>
#include <tiffio.hxx>

#include <cerrno>
#include <limits>
#include <spanstream>

namespace yelvin {

namespace {

constexpr int rows_per_strip = 64;

[[maybe_unused]] const bool quiet_libtiff = [] {
    TIFFSetWarningHandler(nullptr);
    TIFFSetErrorHandler(nullptr);
    return true;
}();

int channels(Ink ink) { return ink == Ink::Colour ? 3 : 1; }

std::unexpected<Error> write_failed(const std::filesystem::path& file) {
    const bool full = errno == ENOSPC || errno == EDQUOT;
    return fail(full ? ErrorKind::DiskFull : ErrorKind::NotWritable,
                fmt::format("The scanned page could not be saved in {}: {}.", file.parent_path().string(),
                            full ? "the disk is full; make room and scan the page again"
                                 : "the folder is read-only; check its permissions"));
}

}

void TiffRowWriter::Close::operator()(tiff* file) const { TIFFClose(file); }

Result<TiffRowWriter> TiffRowWriter::create(const std::filesystem::path& path, int width_px, double dpi, Ink ink) {
    TiffRowWriter writer;
    errno = 0;
    if (make_private_file(path)) return write_failed(path);
    writer.file_.reset(TIFFOpen(path.c_str(), "w8"));
    if (!writer.file_) return write_failed(path);
    writer.path_ = path;
    writer.width_ = width_px;
    writer.ink_ = ink;
    TIFF* file = writer.file_.get();
    TIFFSetField(file, TIFFTAG_IMAGEWIDTH, static_cast<uint32_t>(width_px));
    TIFFSetField(file, TIFFTAG_IMAGELENGTH, 1U);
    TIFFSetField(file, TIFFTAG_BITSPERSAMPLE, 8);
    TIFFSetField(file, TIFFTAG_SAMPLESPERPIXEL, channels(ink));
    TIFFSetField(file, TIFFTAG_PHOTOMETRIC, ink == Ink::Colour ? PHOTOMETRIC_RGB : PHOTOMETRIC_MINISBLACK);
    TIFFSetField(file, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    TIFFSetField(file, TIFFTAG_COMPRESSION, COMPRESSION_ZSTD);
    TIFFSetField(file, TIFFTAG_ZSTD_LEVEL, 1);
    TIFFSetField(file, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
    TIFFSetField(file, TIFFTAG_ROWSPERSTRIP, static_cast<uint32_t>(rows_per_strip));
    TIFFSetField(file, TIFFTAG_XRESOLUTION, dpi);
    TIFFSetField(file, TIFFTAG_YRESOLUTION, dpi);
    TIFFSetField(file, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    TIFFSetField(file, TIFFTAG_IMAGEDESCRIPTION, std::string(ink_word(ink)).c_str());
    return writer;
}

Result<void> TiffRowWriter::append(const cv::Mat& rows) {
    if (rows.cols != width_ || rows.channels() != channels(ink_)) {
        return fail(ErrorKind::Internal, "The scanner changed the width within the page; scan it again.");
    }
    cv::Mat in_order;
    if (ink_ == Ink::Colour)
        cv::cvtColor(rows, in_order, cv::COLOR_BGR2RGB);
    else
        in_order = rows;
    if (pending_.empty())
        pending_ = in_order.clone();
    else
        pending_.push_back(in_order);
    rows_ += rows.rows;
    return write_strips(false);
}

Result<void> TiffRowWriter::write_strips(bool last) {
    const int written = rows_ - pending_.rows;
    int done = 0;
    TIFFSetField(file_.get(), TIFFTAG_IMAGELENGTH, static_cast<uint32_t>(std::max(1, rows_)));
    while (pending_.rows - done >= rows_per_strip || (last && pending_.rows > done)) {
        cv::Mat strip = pending_.rowRange(done, std::min(done + rows_per_strip, pending_.rows)).clone();
        errno = 0;
        const auto number = static_cast<uint32_t>((written + done) / rows_per_strip);
        const auto bytes = static_cast<tmsize_t>(strip.total() * strip.elemSize());
        if (TIFFWriteEncodedStrip(file_.get(), number, strip.data, bytes) < 0) return write_failed(path_);
        done += strip.rows;
    }
    if (done > 0) pending_ = done < pending_.rows ? pending_.rowRange(done, pending_.rows).clone() : cv::Mat{};
    return {};
}

Result<void> TiffRowWriter::finish() {
    if (rows_ == 0) return fail(ErrorKind::Device, "The scanner sent no data; scan the page again.");
    if (auto written = write_strips(true); !written) return written;
    errno = 0;
    const bool flushed = TIFFFlush(file_.get()) == 1;
    file_.reset();
    if (!flushed) return write_failed(path_);
    return {};
}

Result<Raster> read_own_tiff(const std::filesystem::path& path) {
    return read_own_tiff_rows(path, 0, std::numeric_limits<int>::max());
}

namespace {

using TiffPtr = std::unique_ptr<TIFF, decltype([](TIFF* file) { TIFFClose(file); })>;

struct OwnHeader : OwnTiff {
    int strip_rows = 1;
};

std::optional<OwnHeader> header_of(TIFF* file) {
    if (!file) return std::nullopt;
    uint32_t width = 0, height = 0, strip_rows = 0;
    uint16_t samples = 1, bits = 0;
    float dpi = 0;
    char* description = nullptr;
    TIFFGetField(file, TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(file, TIFFTAG_IMAGELENGTH, &height);
    TIFFGetFieldDefaulted(file, TIFFTAG_SAMPLESPERPIXEL, &samples);
    TIFFGetFieldDefaulted(file, TIFFTAG_BITSPERSAMPLE, &bits);
    TIFFGetFieldDefaulted(file, TIFFTAG_ROWSPERSTRIP, &strip_rows);
    TIFFGetField(file, TIFFTAG_XRESOLUTION, &dpi);
    TIFFGetField(file, TIFFTAG_IMAGEDESCRIPTION, &description);
    constexpr uint32_t longest = 1U << 24;
    if (width == 0 || height == 0 || width > longest || height > longest || strip_rows == 0 || bits != 8 ||
        (samples != 1 && samples != 3) || !(dpi > 0) || TIFFIsTiled(file))
        return std::nullopt;
    OwnHeader out;
    out.width_px = static_cast<int>(width);
    out.height_px = static_cast<int>(height);
    out.dpi = dpi;
    out.ink = samples == 3                                              ? Ink::Colour
              : description && std::string_view(description) == "black" ? Ink::Black
                                                                        : Ink::Grey;
    out.strip_rows = static_cast<int>(std::min(strip_rows, height));
    return out;
}

}

std::optional<OwnTiff> own_tiff_header(const std::filesystem::path& path) {
    const TiffPtr file{TIFFOpen(path.c_str(), "r")};
    const auto header = header_of(file.get());
    std::error_code failure;
    const std::uintmax_t bytes = std::filesystem::file_size(path, failure);
    if (!header || failure) return std::nullopt;
    const auto strips = static_cast<uint32_t>((header->height_px + header->strip_rows - 1) / header->strip_rows);
    if (TIFFNumberOfStrips(file.get()) != strips) return std::nullopt;
    for (uint32_t i = 0; i < strips; ++i) {
        const uint64_t size = TIFFGetStrileByteCount(file.get(), i);
        if (size == 0 || TIFFGetStrileOffset(file.get(), i) + size > bytes) return std::nullopt;
    }
    return *header;
}

Result<Raster> read_own_tiff_rows(const std::filesystem::path& path, int first, int count) {
    const auto broken = [&] {
        return fail(ErrorKind::BadInput,
                    fmt::format("The original {} cannot be opened; scan this page again.", path.filename().string()));
    };
    const TiffPtr file{TIFFOpen(path.c_str(), "r")};
    const auto header = header_of(file.get());
    if (!header) return broken();
    const int all = header->height_px, each = header->strip_rows;
    first = std::clamp(first, 0, all - 1);
    const int end = count < all - first ? first + std::max(1, count) : all;
    const int begin = first / each * each; // of the strip that holds the first row
    const int last = std::min(all, (end + each - 1) / each * each);
    const bool colour = header->ink == Ink::Colour;
    Raster out{cv::Mat(last - begin, header->width_px, colour ? CV_8UC3 : CV_8UC1), header->dpi, header->ink};
    for (int y = begin; y < last; y += each) {
        cv::Mat rows = out.pixels.rowRange(y - begin, std::min(last, y + each) - begin);
        const auto bytes = static_cast<tmsize_t>(rows.total() * rows.elemSize());
        if (TIFFReadEncodedStrip(file.get(), static_cast<uint32_t>(y / each), rows.data, bytes) != bytes)
            return broken();
        if (colour) cv::cvtColor(rows, rows, cv::COLOR_RGB2BGR);
    }
    if (first != begin || end != last) out.pixels = out.pixels.rowRange(first - begin, end - begin);
    return out;
}

namespace {
// Calls `use` with the TIFF in `bytes`. Returns a default value if it is no TIFF.
template <class Use>
auto with_tiff(const std::string& bytes, Use use) -> decltype(use(static_cast<TIFF*>(nullptr))) {
    std::ispanstream stream{std::span<const char>(bytes)};
    const TiffPtr file{TIFFStreamOpen("memory", &stream)};
    if (!file) return {};
    return use(file.get());
}
}

TiffPages tiff_pages(const std::filesystem::path& path) {
    const TiffPtr file{TIFFOpen(path.c_str(), "r")};
    if (!file) return {};
    TiffPages pages{{TIFFCurrentDirOffset(file.get())}, false};
    while (!TIFFLastDirectory(file.get())) {
        if (pages.is_cut_off = TIFFReadDirectory(file.get()) != 1; pages.is_cut_off) break;
        pages.places.push_back(TIFFCurrentDirOffset(file.get()));
    }
    return pages;
}

namespace {

int count_complaint(TIFF*, void* complaints, const char*, const char*, va_list) {
    ++*static_cast<int*>(complaints);
    return 1;
}

bool lies_in_file(TIFF* file, uint32_t part, uint64_t file_bytes) {
    const uint64_t offset = TIFFGetStrileOffset(file, part), size = TIFFGetStrileByteCount(file, part);
    return offset <= file_bytes && size <= file_bytes - offset;
}

}

bool is_whole_tiff_page(const std::filesystem::path& path, TiffPlace place) {
    int complaints = 0;
    const std::unique_ptr<TIFFOpenOptions, decltype([](TIFFOpenOptions* o) { TIFFOpenOptionsFree(o); })> options{
        TIFFOpenOptionsAlloc()};
    TIFFOpenOptionsSetErrorHandlerExtR(options.get(), count_complaint, &complaints);
    TIFFOpenOptionsSetWarningHandlerExtR(options.get(), count_complaint, &complaints);
    const TiffPtr file{TIFFOpenExt(path.c_str(), "rm", options.get())};
    std::error_code failure;
    const std::uintmax_t bytes = std::filesystem::file_size(path, failure);
    if (!file || failure || !TIFFSetSubDirectory(file.get(), place)) return false;
    const bool tiled = TIFFIsTiled(file.get()) != 0;
    const uint32_t parts = tiled ? TIFFNumberOfTiles(file.get()) : TIFFNumberOfStrips(file.get());
    for (uint32_t i = 0; i < parts; ++i)
        if (!lies_in_file(file.get(), i, bytes)) return false;
    uint16_t compression = COMPRESSION_NONE;
    TIFFGetFieldDefaulted(file.get(), TIFFTAG_COMPRESSION, &compression);
    if (compression == COMPRESSION_NONE) return true;
    complaints = 0; // Warnings about unknown tags do not count.
    std::string part(static_cast<size_t>(tiled ? TIFFTileSize(file.get()) : TIFFStripSize(file.get())), '\0');
    for (uint32_t i = 0; i < parts && complaints == 0; ++i) {
        const auto size = static_cast<tmsize_t>(part.size());
        const tmsize_t got = tiled ? TIFFReadEncodedTile(file.get(), i, part.data(), size)
                                   : TIFFReadEncodedStrip(file.get(), i, part.data(), size);
        if (got < 0) return false;
    }
    return complaints == 0;
}

std::optional<TiffPageSays> tiff_page_says(const std::filesystem::path& path, TiffPlace place) {
    const TiffPtr file{TIFFOpen(path.c_str(), "r")};
    uint32_t width = 0, height = 0;
    if (!file || !TIFFSetSubDirectory(file.get(), place)) return std::nullopt;
    TIFFGetField(file.get(), TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(file.get(), TIFFTAG_IMAGELENGTH, &height);
    TiffPageSays says{static_cast<double>(width), static_cast<double>(height)};
    uint32_t size = 0;
    const void* profile = nullptr;
    if (TIFFGetField(file.get(), TIFFTAG_ICCPROFILE, &size, &profile) && profile)
        says.profile.assign(static_cast<const char*>(profile), size);
    uint16_t photometric = PHOTOMETRIC_MINISBLACK, bits = 1;
    TIFFGetField(file.get(), TIFFTAG_PHOTOMETRIC, &photometric);
    TIFFGetFieldDefaulted(file.get(), TIFFTAG_BITSPERSAMPLE, &bits);
    says.is_white_zero = photometric == PHOTOMETRIC_MINISWHITE;
    says.bits = bits;
    return says;
}

namespace {
template <class T>
void copy_tag(TIFF* from, TIFF* to, uint32_t tag) {
    T value{};
    if (TIFFGetField(from, tag, &value)) TIFFSetField(to, tag, value);
}

// Copies one page strip by strip, without decoding it.
bool copy_page(TIFF* from, TIFF* to) {
    copy_tag<uint32_t>(from, to, TIFFTAG_IMAGEWIDTH);
    copy_tag<uint32_t>(from, to, TIFFTAG_IMAGELENGTH);
    copy_tag<uint16_t>(from, to, TIFFTAG_BITSPERSAMPLE);
    copy_tag<uint16_t>(from, to, TIFFTAG_SAMPLESPERPIXEL);
    copy_tag<uint16_t>(from, to, TIFFTAG_COMPRESSION);
    copy_tag<uint16_t>(from, to, TIFFTAG_PHOTOMETRIC);
    copy_tag<uint16_t>(from, to, TIFFTAG_PLANARCONFIG);
    copy_tag<uint16_t>(from, to, TIFFTAG_FILLORDER);
    copy_tag<uint16_t>(from, to, TIFFTAG_PREDICTOR);
    copy_tag<uint32_t>(from, to, TIFFTAG_ROWSPERSTRIP);
    copy_tag<float>(from, to, TIFFTAG_XRESOLUTION);
    copy_tag<float>(from, to, TIFFTAG_YRESOLUTION);
    copy_tag<uint16_t>(from, to, TIFFTAG_RESOLUTIONUNIT);
    uint16_t across = 0, down = 0;
    if (TIFFGetField(from, TIFFTAG_YCBCRSUBSAMPLING, &across, &down))
        TIFFSetField(to, TIFFTAG_YCBCRSUBSAMPLING, across, down);
    uint32_t profile_size = 0;
    void* profile = nullptr;
    if (TIFFGetField(from, TIFFTAG_ICCPROFILE, &profile_size, &profile))
        TIFFSetField(to, TIFFTAG_ICCPROFILE, profile_size, profile);
    std::string strip;
    for (uint32_t i = 0; i < TIFFNumberOfStrips(from); ++i) {
        strip.resize(static_cast<size_t>(TIFFRawStripSize(from, i)));
        const tmsize_t size = TIFFReadRawStrip(from, i, strip.data(), static_cast<tmsize_t>(strip.size()));
        if (size < 0 || TIFFWriteRawStrip(to, i, strip.data(), size) != size) return false;
    }
    return TIFFWriteDirectory(to) == 1;
}
}

int append_tiff_page(const std::filesystem::path& file, const std::string& one_page_tiff) {
    errno = 0;
    const TiffPtr to{TIFFOpen(file.c_str(), "a")};
    const bool copied = to && with_tiff(one_page_tiff, [&](TIFF* from) { return copy_page(from, to.get()); }) &&
                        TIFFFlush(to.get()) == 1;
    if (copied) return 0;
    return errno != 0 ? errno : EIO; // A short write sets no errno.
}

}
