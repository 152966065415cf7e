// Decoding PNG and JPEG with libpng and libjpeg directly, because their wrappers print on standard error and return a
// grey lower half for damaged files. Embedded colour profiles are applied, so that pixels are sRGB or its grey.
// Internal to core/raster. Thread-safe.
#pragma once

#include "core/raster/raster.h"

#include <optional>
#include <string>

namespace yelvin {

struct DecodedPicture {
    Raster raster;               // dpi left at its default
    double x_dpi = 0, y_dpi = 0; // 0: the file has no resolution
};

// Returns nullopt if the bytes are damaged or cut off.
std::optional<DecodedPicture> decode_png(const std::string& bytes);
// Returns nullopt if the bytes are damaged or cut off, and for four-colour (CMYK) JPEGs. Extra bytes before the last
// marker, and a missing last marker, are not damage. The resolution is JFIF's or, if there is none, EXIF's.
enum class JpegColours { AsItsProfileSays, AsTheyAre };
std::optional<DecodedPicture> decode_jpeg(const std::string& bytes,
                                          JpegColours colours = JpegColours::AsItsProfileSays);
struct JpegHeader {
    int width_px = 0, height_px = 0;
    bool four_colours = false;
};
std::optional<JpegHeader> jpeg_header(const std::string& bytes);

// Whether the data of a JPEG, of any number of colours, are complete and can be decoded. Takes a fraction of the time
// of decoding, because only an eighth of its width and height is computed.
bool is_whole_jpeg(std::string_view bytes);

}
