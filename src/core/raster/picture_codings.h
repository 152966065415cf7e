// Decoders of the codings that PDFs embed without a file format around them: fax, JBIG2 and JPEG 2000.
// Thread-safe.
#pragma once

#include <opencv2/core.hpp>

#include <optional>
#include <string>

namespace yelvin {

// Decodes CCITT Group 4 (ITU-T T.6) by libtiff. Returns CV_8UC1 of the given size, 255 for white and 0 for black, or
// nullopt if the data do not decode to all rows.
std::optional<cv::Mat> decode_g4(const std::string& bytes, int width_px, int height_px);

// Decodes JBIG2 (ITU-T T.88) as PDF embeds it, by jbig2dec. `globals` are the segments shared by several pictures; may
// be empty. Returns pixels like decode_g4(), or nullopt for damaged data.
std::optional<cv::Mat> decode_jbig2(const std::string& bytes, const std::string& globals);

// Decodes JPEG 2000 (ITU-T T.800), a file or a bare codestream, by OpenJPEG. Returns CV_8UC1 for one channel and
// CV_8UC3, BGR, for three; nullopt for other numbers of channels, depths over 8 bits, subsampled channels, and damaged
// data.
std::optional<cv::Mat> decode_jpeg2000(const std::string& bytes);

}
