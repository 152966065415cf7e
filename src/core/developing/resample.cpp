#include "core/developing/resample.h"

#include <opencv2/core/hal/intrin.hpp>

#include <array>
#include <cmath>
#include <cstring>

namespace yelvin {

namespace {

constexpr int phase_bits = 7, phases = 1 << phase_bits, weight_bits = 13,
              between_bits = 6; // Fractional bits of the values between the horizontal and the vertical pass.

// Keys' kernel at the four pixels around a position that is `phase` / 128 after the second of them; the weights sum up
// to exactly 1. Stored once per pixel, and in the layout for multiplying eight samples at once.
struct Weights {
    std::array<short, 4> taps{};
    alignas(16) std::array<short, 8> first{}, second{}; // pixels 0 and 1, 2 and 3, in turn
};

std::array<Weights, phases> cubic_weights() {
    std::array<Weights, phases> table{};
    constexpr double a = -0.5;
    for (size_t i = 0; i < phases; ++i) {
        const double x = static_cast<double>(i) / phases;
        const auto near = [](double t) { return ((a + 2) * t - (a + 3)) * t * t + 1; };
        const auto far = [](double t) { return a * (((t - 5) * t + 8) * t - 4); };
        const std::array<double, 4> w{far(1 + x), near(x), near(1 - x), far(2 - x)};
        auto& taps = table[i].taps;
        int sum = 0;
        for (size_t k = 0; k < 4; ++k) sum += taps[k] = static_cast<short>(std::lround(w[k] * (1 << weight_bits)));
        short& most = taps[x < 0.5 ? 1 : 2];
        most = static_cast<short>(most + (1 << weight_bits) - sum);
        for (size_t k = 0; k < 8; ++k) {
            table[i].first[k] = taps[k % 2];
            table[i].second[k] = taps[2 + k % 2];
        }
    }
    return table;
}

const std::array<Weights, phases>& weights() {
    static const auto table = cubic_weights();
    return table;
}

constexpr int last_shift = weight_bits + between_bits;

// Interpolates four pixels of each of four rows: first along the columns, eight samples at once, then along the row.
template <int channels>
void sample(const uchar* at, size_t step, const Weights& wx, const Weights& wy, uchar* out) {
    using namespace cv;
    const v_int16x8 upper = v_load_aligned(wy.first.data()), lower = v_load_aligned(wy.second.data());
    const auto down = [&](int offset) {
        const v_int16x8 r0 = v_reinterpret_as_s16(v_load_expand(at + offset)),
                        r1 = v_reinterpret_as_s16(v_load_expand(at + step + offset)),
                        r2 = v_reinterpret_as_s16(v_load_expand(at + 2 * step + offset)),
                        r3 = v_reinterpret_as_s16(v_load_expand(at + 3 * step + offset));
        v_int16x8 a0, a1, b0, b1;
        v_zip(r0, r1, a0, a1);
        v_zip(r2, r3, b0, b1);
        const v_int32x4 first = v_dotprod(a0, upper) + v_dotprod(b0, lower),
                        second = v_dotprod(a1, upper) + v_dotprod(b1, lower);
        return v_rshr_pack<weight_bits - between_bits>(first, second);
    };
    if constexpr (channels == 1) {
        const v_int16x8 along(wx.taps[0], wx.taps[1], wx.taps[2], wx.taps[3], 0, 0, 0, 0);
        const int sum = v_reduce_sum(v_dotprod(down(0), along));
        out[0] = saturate_cast<uchar>((sum + (1 << (last_shift - 1))) >> last_shift);
    } else {
        // Interleaves pixels 0 and 1 channel by channel, and pixels 2 and 3.
        const auto paired = [](const v_int16x8& samples) {
            v_int16x8 pairs, rest;
            v_zip(samples, v_rotate_right<3>(samples), pairs, rest);
            return pairs;
        };
        const v_int32x4 sum = v_dotprod(paired(down(0)), v_load_aligned(wx.first.data())) +
                              v_dotprod(paired(down(6)), v_load_aligned(wx.second.data()));
        const v_int16x8 levels = v_rshr_pack<last_shift>(sum, sum);
        uchar four[16];
        v_store_low(four, v_pack_u(levels, levels));
        std::memcpy(out, four, 3);
    }
}

// The same if some of the sixteen pixels are outside the picture.
template <int channels>
void sample_at_rim(const cv::Mat& from, int x, int y, const Weights& wx, const Weights& wy, const cv::Scalar& outside,
                   uchar* out) {
    for (int c = 0; c < channels; ++c) {
        double sum = 0;
        for (int j = 0; j < 4; ++j) {
            for (int i = 0; i < 4; ++i) {
                const bool inside = x + i >= 0 && x + i < from.cols && y + j >= 0 && y + j < from.rows;
                const double value = inside ? from.ptr(y + j)[(x + i) * channels + c] : outside[c];
                sum += value * wx.taps[static_cast<size_t>(i)] * wy.taps[static_cast<size_t>(j)];
            }
        }
        out[c] = cv::saturate_cast<uchar>(sum / (1 << weight_bits) / (1 << weight_bits));
    }
}

// A position in the source picture, in units of 1/128 pixel.
struct Place {
    int x, y;
};

template <int channels>
void sample_anywhere(const cv::Mat& from, Place at, const cv::Scalar& outside, uchar* out) {
    const int x = (at.x >> phase_bits) - 1, y = (at.y >> phase_bits) - 1;
    const Weights &wx = weights()[static_cast<size_t>(at.x & (phases - 1))],
                  &wy = weights()[static_cast<size_t>(at.y & (phases - 1))];
    // Reads of eight samples extend beyond the four pixels, but must remain within the row.
    const int last_x = from.cols - (channels == 1 ? 8 : 5), last_y = from.rows - 4;
    if (x >= 0 && y >= 0 && x <= last_x && y <= last_y)
        sample<channels>(from.ptr(y) + x * channels, from.step, wx, wy, out);
    else
        sample_at_rim<channels>(from, x, y, wx, wy, outside, out);
}

template <int channels>
void projective_row(const cv::Mat& from, uchar* out, int width, cv::Vec3d at, const cv::Vec3d& step,
                    const cv::Scalar& outside) {
    for (int x = 0; x < width; ++x, out += channels, at += step) {
        const double fx = at[0] / at[2], fy = at[1] / at[2];
        const bool near = at[2] > 0 && fx > -4 && fy > -4 && fx < from.cols + 4 && fy < from.rows + 4;
        if (near)
            sample_anywhere<channels>(from, {cvRound(fx * phases), cvRound(fy * phases)}, outside, out);
        else
            for (int c = 0; c < channels; ++c) out[c] = cv::saturate_cast<uchar>(outside[c]);
    }
}

// The part of a row, from first to one past the last pixel, in which `begin` + x * `step` stays within `least` to
// `most`.
void keep_within(double begin, double step, double least, double most, int& first, int& last) {
    if (most < least) { // The picture has fewer pixels than the kernel reads at once.
        last = first;
        return;
    }
    if (std::abs(step) < 1e-12) {
        if (begin < least || begin > most) last = first;
        return;
    }
    const double a = (least - begin) / step, b = (most - begin) / step;
    first = static_cast<int>(std::max<double>(first, std::min(1e9, std::ceil(std::min(a, b)))));
    last = static_cast<int>(std::min<double>(last, std::max(-1e9, std::floor(std::max(a, b)) + 1)));
}

// Every position is begin + x * step, accumulated in units of 2^-32 pixel; in the middle of the row no bounds need to
// be checked.
template <int channels>
void affine_row(const cv::Mat& from, uchar* out, int width, const cv::Vec3d& at, const cv::Vec3d& step,
                const cv::Scalar& outside) {
    constexpr int fraction = 32 - phase_bits;
    constexpr double one = 4294967296.0;
    if (std::max(std::abs(at[0] + width * step[0]), std::abs(at[1] + width * step[1])) > 1e9 ||
        std::max(std::abs(at[0]), std::abs(at[1])) > 1e9)
        return projective_row<channels>(from, out, width, at, step, outside);
    int first = 0, last = width;
    keep_within(at[0], step[0], 1, from.cols - (channels == 1 ? 8 : 5), first, last);
    keep_within(at[1], step[1], 1, from.rows - 4, first, last);
    const auto whole = [](double value) { return static_cast<int64_t>(std::llround(value * one)); };
    const int64_t step_x = whole(step[0]), step_y = whole(step[1]), half = int64_t{1} << (fraction - 1);
    const int64_t begin_x = whole(at[0]) + half, begin_y = whole(at[1]) + half;
    const auto place = [&](int x) {
        return Place{static_cast<int>((begin_x + x * step_x) >> fraction),
                     static_cast<int>((begin_y + x * step_y) >> fraction)};
    };
    const auto with_care = [&](int begin, int end) {
        for (int x = begin; x < end; ++x) {
            const Place p = place(x);
            const bool near = p.x > -4 * phases && p.y > -4 * phases && p.x < (from.cols + 4) * phases &&
                              p.y < (from.rows + 4) * phases;
            if (near)
                sample_anywhere<channels>(from, p, outside, out + x * channels);
            else
                for (int c = 0; c < channels; ++c) out[x * channels + c] = cv::saturate_cast<uchar>(outside[c]);
        }
    };
    first = std::min(first, width);
    last = std::max(first, last);
    with_care(0, first);
    const auto& table = weights();
    const uchar* origin = from.data;
    const size_t row = from.step;
    int64_t px = begin_x + first * step_x, py = begin_y + first * step_y;
    uchar* to = out + static_cast<ptrdiff_t>(first) * channels;
    for (int x = first; x < last; ++x, px += step_x, py += step_y, to += channels) {
        const auto wx = static_cast<size_t>(px >> fraction) & (phases - 1),
                   wy = static_cast<size_t>(py >> fraction) & (phases - 1);
        const uchar* corner = origin + ((py >> 32) - 1) * static_cast<int64_t>(row) + ((px >> 32) - 1) * channels;
        sample<channels>(corner, row, table[wx], table[wy], to);
    }
    with_care(last, width);
}

template <int channels>
void resample_row(const cv::Mat& from, cv::Mat& to, int y, const cv::Matx33d& map, const cv::Scalar& outside) {
    const cv::Vec3d begin = map * cv::Vec3d(0, y, 1), step(map(0, 0), map(1, 0), map(2, 0));
    if (map(2, 0) == 0 && map(2, 1) == 0)
        affine_row<channels>(from, to.ptr(y), to.cols, begin / map(2, 2), step / map(2, 2), outside);
    else
        projective_row<channels>(from, to.ptr(y), to.cols, begin, step, outside);
}

}

void resample(const cv::Mat& from, cv::Mat& to, const cv::Matx33d& map, const cv::Scalar& outside) {
    cv::parallel_for_(cv::Range(0, to.rows), [&](const cv::Range& rows) {
        for (int y = rows.start; y < rows.end; ++y) {
            if (from.channels() == 1)
                resample_row<1>(from, to, y, map, outside);
            else
                resample_row<3>(from, to, y, map, outside);
        }
    });
}

}
