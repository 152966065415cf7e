// The segments of JBIG2 data (ITU-T T.88, 7): page information, regions and symbol dictionaries, as PDF embeds them
// (ISO 32000-1, 7.4.7). Pure functions.
#pragma once

#include <opencv2/core.hpp>

#include <cstdint>
#include <span>
#include <string>
#include <string_view>
#include <utility>

namespace yelvin {

// Appends big-endian numbers to a string.
class BigEndian {
  public:
    BigEndian& u8(std::uint32_t value);
    BigEndian& u16(std::uint32_t value);
    BigEndian& u32(std::uint32_t value);
    BigEndian& bytes(std::string_view bytes);
    std::string take() { return std::move(out_); }

  private:
    std::string out_;
};

enum class SegmentType { SymbolDictionary = 0, TextRegion = 7, GenericRegion = 39, PageInformation = 48 };

// Returns a segment with its header (7.2). `page` is the page that it belongs to; 0 for all. `refers_to`, at most 4,
// are numbers of earlier segments.
std::string segment(std::uint32_t number, SegmentType type, std::span<const std::uint32_t> refers_to, int page,
                    std::string_view data);

// Returns the data of a page information segment (7.4.8) for an empty page.
std::string page_information(cv::Size size, double dpi);

// Returns the information with which the data of each region begin (7.4.1): its place, and that it is combined by OR.
std::string region_information(const cv::Rect& place);
// The nominal places of the adaptive pixels of template 0 (figure 4), as they stand in a segment.
inline constexpr std::string_view nominal_pixels = "\x03\xFF\xFD\xFF\x02\xFE\xFE\xFE";
// The same of refinement template 0 (figure 12).
inline constexpr std::string_view nominal_refinement_pixels = "\xFF\xFF\xFF\xFF";

// Returns the data of a generic region (7.4.6) whose first pixel is at `at` on the page.
std::string generic_region(const cv::Mat& mask, cv::Point at);

}
