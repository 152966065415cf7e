// The codings of pictures that only PDFs embed bare: fax, JBIG2 and JPEG 2000. Internal.
#pragma once

#include <opencv2/core.hpp>

#include <optional>
#include <string>

namespace yelvin {

// CCITT Group 4 (ITU-T T.6) by libtiff: rows of width_px dots, one a byte; 255 where the data say white, 0 black.
// Returns nullopt for data that do not decode to all rows.
std::optional<cv::Mat> decode_g4(const std::string& bytes, int width_px, int height_px);

// JBIG2 (ITU-T T.88) as PDF embeds it, by jbig2dec; `globals`: the segments shared by several pictures, or empty.
// Returns dots as decode_g4() does, or nullopt for damaged data.
std::optional<cv::Mat> decode_jbig2(const std::string& bytes, const std::string& globals);

// JPEG 2000 (ITU-T T.800), a file or a bare codestream, by OpenJPEG. Returns CV_8UC1 for one channel and CV_8UC3, BGR,
// for three; nullopt for other numbers of channels, depths over 8 bits, subsampled channels, and damaged data.
std::optional<cv::Mat> decode_jpeg2000(const std::string& bytes);

}
