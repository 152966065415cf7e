// Encodes JPEG with libjpeg, row by row from the raster's pixels, without a copy of the page.
#include "core/raster/image_file.h"

#include <algorithm>
#include <cmath>
#include <csetjmp>
#include <cstdio>
#include <cstdlib>

#include <jpeglib.h>

namespace yelvin {

namespace {

struct JpegWriter {
    jpeg_compress_struct jpeg{};
    jpeg_error_mgr errors{};
    std::jmp_buf way_out{};
    unsigned char* bytes = nullptr;
    unsigned long size = 0;
    JpegWriter() {
        jpeg.err = jpeg_std_error(&errors);
        errors.error_exit = [](j_common_ptr common) {
            longjmp(static_cast<JpegWriter*>(common->client_data)->way_out, 1); // NOLINT: libjpeg's way out
        };
        errors.output_message = [](j_common_ptr) {};
        jpeg.client_data = this;
        jpeg_create_compress(&jpeg);
    }
    JpegWriter(const JpegWriter&) = delete;
    JpegWriter& operator=(const JpegWriter&) = delete;
    ~JpegWriter() {
        jpeg_destroy_compress(&jpeg);
        std::free(bytes); // NOLINT: libjpeg allocates it by malloc
    }
};

// Contains all calls that may call longjmp(). Everything that must be released is owned by the writer, outside of it.
bool write_jpeg(JpegWriter& writer, const Raster& raster, int quality) {
    if (setjmp(writer.way_out)) return false; // NOLINT: libjpeg's error handling
    jpeg_compress_struct& jpeg = writer.jpeg;
    jpeg_mem_dest(&jpeg, &writer.bytes, &writer.size);
    const bool colour = raster.pixels.channels() == 3;
    jpeg.image_width = static_cast<JDIMENSION>(raster.width_px());
    jpeg.image_height = static_cast<JDIMENSION>(raster.height_px());
    jpeg.input_components = colour ? 3 : 1;
    jpeg.in_color_space = colour ? JCS_EXT_BGR : JCS_GRAYSCALE;
    jpeg_set_defaults(&jpeg);
    jpeg_set_quality(&jpeg, std::clamp(quality, 1, 100), TRUE);
    jpeg.density_unit = 1; // pixels an inch (JFIF 1.02)
    jpeg.X_density = jpeg.Y_density = static_cast<UINT16>(std::clamp(std::lround(raster.dpi), 1L, 65535L));
    jpeg_start_compress(&jpeg, TRUE);
    while (jpeg.next_scanline < jpeg.image_height) {
        auto* row = const_cast<JSAMPROW>(raster.pixels.ptr(static_cast<int>(jpeg.next_scanline)));
        jpeg_write_scanlines(&jpeg, &row, 1);
    }
    jpeg_finish_compress(&jpeg);
    return true;
}

}

Result<std::string> encode_jpeg(const Raster& raster, int quality) {
    JpegWriter writer;
    if (raster.empty() || !write_jpeg(writer, raster, quality))
        return fail(ErrorKind::Internal, "The page could not be saved as JPEG.");
    return std::string(reinterpret_cast<const char*>(writer.bytes), writer.size);
}

}
