#include "core/jbig2/segments.h"

#include "core/jbig2/arithmetic_encoder.h"
#include "core/jbig2/regions.h"

#include <cmath>

namespace yelvin {

BigEndian& BigEndian::u8(std::uint32_t value) {
    out_.push_back(static_cast<char>(value & 0xFF));
    return *this;
}
BigEndian& BigEndian::u16(std::uint32_t value) { return u8(value >> 8).u8(value); }
BigEndian& BigEndian::u32(std::uint32_t value) { return u16(value >> 16).u16(value); }
BigEndian& BigEndian::bytes(std::string_view bytes) {
    out_ += bytes;
    return *this;
}

std::string segment(std::uint32_t number, SegmentType type, std::span<const std::uint32_t> refers_to, int page,
                    std::string_view data) {
    BigEndian out;
    out.u32(number).u8(static_cast<std::uint32_t>(type)).u8(static_cast<std::uint32_t>(refers_to.size()) << 5);
    for (const std::uint32_t each : refers_to) {
        // 7.2.5: the length of these numbers depends on the segment's own.
        if (number <= 256)
            out.u8(each);
        else if (number <= 65536)
            out.u16(each);
        else
            out.u32(each);
    }
    out.u8(static_cast<std::uint32_t>(page)).u32(static_cast<std::uint32_t>(data.size())).bytes(data);
    return out.take();
}

std::string page_information(cv::Size size, double dpi) {
    constexpr double inches_per_metre = 1000 / 25.4;
    const auto per_metre = static_cast<std::uint32_t>(std::lround(dpi * inches_per_metre));
    constexpr std::uint32_t lossless = 1, may_refine = 2;
    return BigEndian()
        .u32(static_cast<std::uint32_t>(size.width))
        .u32(static_cast<std::uint32_t>(size.height))
        .u32(per_metre)
        .u32(per_metre)
        .u8(lossless | may_refine)
        .u16(0) // not striped
        .take();
}

std::string region_information(const cv::Rect& place) {
    return BigEndian()
        .u32(static_cast<std::uint32_t>(place.width))
        .u32(static_cast<std::uint32_t>(place.height))
        .u32(static_cast<std::uint32_t>(place.x))
        .u32(static_cast<std::uint32_t>(place.y))
        .u8(0)
        .take();
}

std::string generic_region(const cv::Mat& mask, cv::Point at) {
    ArithmeticEncoder encoder;
    GenericContexts().encode(encoder, mask, true);
    constexpr std::uint32_t typical = 1 << 3; // with template 0
    return BigEndian()
        .bytes(region_information({at, mask.size()}))
        .u8(typical)
        .bytes(nominal_pixels)
        .bytes(encoder.finish())
        .take();
}

}
