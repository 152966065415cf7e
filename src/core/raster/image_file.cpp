#include "core/raster/image_file.h"

#include "core/raster/page_file.h"
#include "core/raster/pix.h"

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

Result<std::string> encode_g4(const Raster& raster) {
    L_COMP_DATA* compressed = nullptr;
    const PixPtr pix = to_pix(raster);
    if (!pix || pixGenerateCIData(pix.get(), L_G4_ENCODE, 0, 0, &compressed) != 0 || !compressed) {
        return fail(ErrorKind::Internal, "The page could not be saved in black and white (CCITT G4).");
    }
    std::string out(reinterpret_cast<const char*>(compressed->datacomp), compressed->nbytescomp);
    l_CIDataDestroy(&compressed);
    return out;
}

}
