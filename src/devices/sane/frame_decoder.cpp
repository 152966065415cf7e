#include "devices/sane/frame_decoder.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cstring>

namespace yelvin::sane {

namespace {

int channels_of(Frame format) { return format == Frame::Rgb ? 3 : 1; }

// The channel index of a single-colour frame in BGR order.
int plane_of(Frame format) { return format == Frame::Red ? 2 : format == Frame::Green ? 1 : 0; }

std::uint8_t sample(const std::uint8_t* line, int x, int channel, const FrameParameters& p) {
    const int channels = channels_of(p.format);
    switch (p.depth) {
    case 1: {
        // Eight pixels per byte, the leftmost in the highest bit. In RGB, one byte of each channel follows the other.
        const std::uint8_t bits = line[(x / 8) * channels + channel];
        const bool set = bits >> (7 - x % 8) & 1;
        const bool black_is_set = p.format == Frame::Grey; // in colour a set bit is full intensity
        return set != black_is_set ? 255 : 0;
    }
    case 16: {
        std::uint16_t value = 0; // in the machine's own byte order
        std::memcpy(&value, line + 2 * (x * channels + channel), 2);
        return static_cast<std::uint8_t>((value + 128) / 257); // 65535 is 255, to the nearest
    }
    default:
        return line[x * channels + channel];
    }
}

}

Result<void> FrameDecoder::begin(const FrameParameters& p) {
    const int channels = channels_of(p.format);
    const int least =
        p.depth == 1 ? channels * ((p.pixels_per_line + 7) / 8) : channels * p.pixels_per_line * (p.depth / 8);
    if ((p.depth != 1 && p.depth != 8 && p.depth != 16) || p.pixels_per_line < 1 || p.bytes_per_line < least)
        return fail(ErrorKind::Device, "",
                    "frame of depth " + std::to_string(p.depth) + ", " + std::to_string(p.pixels_per_line) +
                        " pixels in " + std::to_string(p.bytes_per_line) + " bytes");
    const bool pass = p.format == Frame::Red || p.format == Frame::Green || p.format == Frame::Blue;
    if (begun_ && (!pass || p.pixels_per_line != parameters_.pixels_per_line))
        return fail(ErrorKind::Device, "", "the passes of one page do not fit each other");
    three_pass_ = pass;
    begun_ = true;
    parameters_ = p;
    partial_.clear();
    row_ = 0;
    if (pass) planes_[plane_of(p.format)] = cv::Mat();
    return {};
}

Ink FrameDecoder::ink() const {
    if (three_pass_ || parameters_.format == Frame::Rgb) return Ink::Colour;
    return parameters_.depth == 1 ? Ink::Black : Ink::Grey;
}

cv::Mat FrameDecoder::decoded(const std::uint8_t* lines, int count) const {
    const int channels = channels_of(parameters_.format), width = parameters_.pixels_per_line;
    if (channels == 3 && parameters_.depth == 8) {
        const cv::Mat rgb(count, width, CV_8UC3, const_cast<std::uint8_t*>(lines),
                          static_cast<size_t>(parameters_.bytes_per_line));
        cv::Mat bgr;
        cv::cvtColor(rgb, bgr, cv::COLOR_RGB2BGR);
        return bgr;
    }
    cv::Mat rows(count, width, CV_8UC(channels));
    for (int y = 0; y < count; ++y) {
        const std::uint8_t* line = lines + static_cast<size_t>(y) * static_cast<size_t>(parameters_.bytes_per_line);
        std::uint8_t* out = rows.ptr(y);
        if (channels == 1 && parameters_.depth == 8) {
            std::memcpy(out, line, static_cast<size_t>(width));
            continue;
        }
        for (int x = 0; x < width; ++x) {
            for (int c = 0; c < channels; ++c) out[x * channels + (channels - 1 - c)] = sample(line, x, c, parameters_);
        }
    }
    return rows;
}

cv::Mat FrameDecoder::feed(std::span<const std::uint8_t> bytes) {
    const auto line = static_cast<size_t>(parameters_.bytes_per_line);
    cv::Mat rows;
    if (partial_.empty() && bytes.size() % line == 0) { // the common case takes no copy
        if (bytes.empty()) return {};
        rows = decoded(bytes.data(), static_cast<int>(bytes.size() / line));
    } else {
        partial_.insert(partial_.end(), bytes.begin(), bytes.end());
        const size_t whole = partial_.size() / line;
        if (whole == 0) return {};
        rows = decoded(partial_.data(), static_cast<int>(whole));
        partial_.erase(partial_.begin(), partial_.begin() + static_cast<ptrdiff_t>(whole * line));
    }
    if (!three_pass_) return rows;
    cv::Mat& plane = planes_[plane_of(parameters_.format)];
    if (plane.empty()) plane = cv::Mat(0, rows.cols, CV_8UC1);
    plane.push_back(rows);
    if (!parameters_.last_frame) return {};
    // During the last pass, rows are complete as far as all three planes have them.
    int ready = plane.rows;
    for (const cv::Mat& each : planes_) ready = std::min(ready, each.rows);
    if (ready <= row_) return {};
    cv::Mat out(ready - row_, rows.cols, CV_8UC3);
    for (int y = row_; y < ready; ++y) {
        for (int c = 0; c < 3; ++c) {
            const std::uint8_t* from = planes_[c].ptr(y);
            std::uint8_t* to = out.ptr(y - row_) + c;
            for (int x = 0; x < rows.cols; ++x) to[3 * x] = from[x];
        }
    }
    row_ = ready;
    return out;
}

}
