// The codings of TIFF files. A value.
#pragma once

namespace yelvin {

// How the pixels of a TIFF are packed. Auto is Deflate; black pages are G4 (ITU-T T.6) with Auto and Jpeg.
enum class TiffCoding { Auto, Lzw, Deflate, Jpeg };

}
