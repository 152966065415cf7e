// Decoding PNG and JPEG with libpng and libjpeg directly, for what their wrappers do not give: nothing is printed on
// standard error, damage is an error instead of a grey lower half, and dots go straight into a Raster. An embedded
// colour profile is applied: the dots are sRGB, or its grey. Internal.
#pragma once

#include "core/raster/raster.h"

#include <optional>
#include <string>

namespace yelvin {

struct DecodedPicture {
    Raster raster;               // dpi left at its default
    double x_dpi = 0, y_dpi = 0; // 0: the file says none
};

// Nothing when the bytes are damaged or cut off.
std::optional<DecodedPicture> decode_png(const std::string& bytes);
// Nothing also for four-colour (CMYK) JPEGs, which are for another decoder. Bytes before the last marker, and a last
// marker that is missing, lose nothing and are no damage. The resolution is JFIF's, else EXIF's.
enum class JpegColours { AsItsProfileSays, AsTheyAre };
std::optional<DecodedPicture> decode_jpeg(const std::string& bytes,
                                          JpegColours colours = JpegColours::AsItsProfileSays);
struct JpegHeader {
    int width_px = 0, height_px = 0;
    bool four_colours = false;
};
std::optional<JpegHeader> jpeg_header(const std::string& bytes);

// Whether all of a JPEG's data are there and decode; of any number of colours. Costs a fraction of decoding it, as only
// an eighth of its width and height is made.
bool is_whole_jpeg(std::string_view bytes);

}
