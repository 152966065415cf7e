#include "core/raster/image_file.h"

#include "core/raster/page_file.h"
#include "core/raster/pix.h"

#include <fmt/format.h>

#include <cstdlib>

namespace fs = std::filesystem;

namespace yelvin {

Result<int> count_pages(const fs::path& file) {
    const auto opened = PageFile::open(file);
    if (!opened) return std::unexpected(opened.error());
    return opened->count();
}

Result<LoadedPage> read_page(const fs::path& file, int index) {
    const auto opened = PageFile::open(file);
    if (!opened) return std::unexpected(opened.error());
    return opened->page(index);
}

Result<Raster> glimpse_of_page(const fs::path& file, int index, int most_px) {
    const auto opened = PageFile::open(file);
    if (!opened) return std::unexpected(opened.error());
    return opened->glimpse(index, most_px);
}

std::optional<std::string> drawing_of_page(const fs::path& file, int index) {
    const auto opened = PageFile::open(file);
    return opened ? opened->drawing(index) : std::nullopt;
}

namespace {

Result<std::string> taken(l_uint8* bytes, size_t size, l_int32 failed, std::string_view what) {
    if (failed || !bytes) return fail(ErrorKind::Internal, fmt::format("The page could not be written as {}.", what));
    std::string out(reinterpret_cast<const char*>(bytes), size);
    std::free(bytes); // NOLINT: Leptonica gives memory from malloc
    return out;
}

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
