#include "core/seeing/show_through.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// An affine map from pixels of this side to pixels of the other side's picture, each at the resolution of its marks.
using Place = cv::Matx23d;

cv::Point2d at(const Place& place, cv::Point2d p) {
    const cv::Vec2d q = place * cv::Vec3d(p.x, p.y, 1);
    return {q[0], q[1]};
}

constexpr double most_share = 0.4; // Share of the other side's density. Anything darker is this side's own print.

cv::Mat1f reduced(const cv::Mat& strength, double dpi, double to_dpi, double at_most) {
    cv::Mat1f out;
    const cv::Size size(cvRound(strength.cols * to_dpi / dpi), cvRound(strength.rows * to_dpi / dpi));
    cv::Mat small;
    cv::resize(strength, small, size, 0, 0, cv::INTER_AREA);
    small.convertTo(out, CV_32F);
    cv::min(out, at_most, out);
    return out;
}

// Registers the mirrored other side as a whole, by correlation: upright or upside down, shifted by up to 5 mm.
Place rough_place(const Marks& side, const Marks& other) {
    constexpr double dpi = 50, most_shift_mm = 5, weak = most_share * 255;
    const int margin = cvRound(mm_to_px(most_shift_mm, dpi));
    cv::Mat1f own = reduced(side.strength, side.dpi, dpi, weak), behind = reduced(other.strength, other.dpi, dpi, 255);
    cv::flip(behind, behind, 1);
    const int right = margin + std::max(0, behind.cols - own.cols),
              below = margin + std::max(0, behind.rows - own.rows);
    cv::copyMakeBorder(own, own, margin, below, margin, right, cv::BORDER_CONSTANT, cv::Scalar(0));
    double best = -2;
    Place out;
    for (const bool turned : {false, true}) {
        cv::Mat1f score;
        if (turned) cv::rotate(behind, behind, cv::ROTATE_180);
        cv::matchTemplate(own, behind, score, cv::TM_CCOEFF_NORMED);
        double peak = 0;
        cv::Point where;
        cv::minMaxLoc(score, nullptr, &peak, nullptr, &where);
        if (peak <= best) continue;
        best = peak;
        const double scale = other.dpi / dpi, x = (where.x - margin) * scale, y = (where.y - margin) * scale;
        const double width = behind.cols * scale, height = behind.rows * scale, same = other.dpi / side.dpi;
        // Mirroring exchanges left and right; with a turn by 180 degrees it exchanges top and bottom instead.
        out = turned ? Place{same, 0, -x, 0, -same, height + y} : Place{-same, 0, width + x, 0, same, -y};
    }
    return out;
}

struct Pair {
    cv::Point2d here, there; // px of either side
};

// Registers parts of 50 mm separately, starting from the rough map.
std::vector<Pair> matched_parts(const Marks& side, const Marks& other, const Place& rough) {
    constexpr double dpi = 100, part_mm = 50, shift_mm = 1.6, least_score = 0.25, weak = most_share * 255;
    const cv::Mat1f own = reduced(side.strength, side.dpi, dpi, weak);
    const double to_side = side.dpi / dpi;
    cv::Mat1f behind;
    {
        // The other side is brought into this side's coordinates by the rough map.
        cv::Mat warped;
        cv::warpAffine(other.strength, warped, rough, side.strength.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
        behind = reduced(warped, side.dpi, dpi, 255);
    }
    const int part = cvRound(mm_to_px(part_mm, dpi)), shift = cvRound(mm_to_px(shift_mm, dpi));
    std::vector<Pair> out;
    for (int y = shift; y + part + shift <= own.rows; y += part) {
        for (int x = shift; x + part + shift <= own.cols; x += part) {
            const cv::Rect here(x, y, part, part);
            cv::Scalar mean, spread;
            cv::meanStdDev(behind(here), mean, spread);
            constexpr double least_spread = 8; // In levels. Hardly anything is printed in a part with less.
            if (spread[0] < least_spread) continue;
            cv::Mat1f score;
            cv::matchTemplate(own({x - shift, y - shift, part + 2 * shift, part + 2 * shift}), behind(here), score,
                              cv::TM_CCOEFF_NORMED);
            double peak = 0;
            cv::Point where;
            cv::minMaxLoc(score, nullptr, &peak, nullptr, &where);
            if (peak < least_score) continue;
            const cv::Point2d middle = to_side * cv::Point2d(x + part / 2.0, y + part / 2.0);
            const cv::Point2d moved = to_side * cv::Point2d(where.x - shift, where.y - shift);
            out.push_back({middle + moved, at(rough, middle)});
        }
    }
    return out;
}

// Corrects the rough map by the shift and the small rotation that fit the pairs best (least squares). With fewer than
// four pairs the rough map is returned.
Place bettered(const Place& rough, const std::vector<Pair>& pairs) {
    constexpr size_t enough = 4;
    if (pairs.size() < enough) return rough;
    const auto count = static_cast<double>(pairs.size());
    cv::Point2d middle, shift;
    for (const Pair& pair : pairs) {
        middle += at(rough, pair.here) / count;
        shift += (pair.there - at(rough, pair.here)) / count;
    }
    double turning = 0, reach = 0;
    for (const Pair& pair : pairs) {
        const cv::Point2d from = at(rough, pair.here) - middle, left = pair.there - at(rough, pair.here) - shift;
        turning += from.x * left.y - from.y * left.x;
        reach += from.dot(from);
    }
    const double turn = turning / reach; // radians, small
    Place out = rough;
    for (int column = 0; column < 3; ++column) {
        out(0, column) = rough(0, column) - turn * rough(1, column);
        out(1, column) = rough(1, column) + turn * rough(0, column);
    }
    out(0, 2) += shift.x + turn * middle.y;
    out(1, 2) += shift.y - turn * middle.x;
    return out;
}

Place placed(const Marks& side, const Marks& other) {
    const Place rough = rough_place(side, other);
    std::vector<Pair> pairs = matched_parts(side, other, rough);
    const Place fair = bettered(rough, pairs);
    const double far = mm_to_px(0.6, other.dpi);
    std::erase_if(pairs, [&](const Pair& pair) { return cv::norm(at(fair, pair.here) - pair.there) > far; });
    return bettered(rough, pairs);
}

// Estimates which share of the other side's density comes through: this side's median where the other side is dark,
// less its median where the other side is bare, divided by the other side's median where it is dark. Both are blurred
// first, so that the blur by the paper makes no difference.
double share_through(const cv::Mat& strength, const cv::Mat& strength_behind, double dpi) {
    constexpr double dark = 50, enough_px = 100, blur_mm = 0.5;
    cv::Mat own, behind;
    cv::GaussianBlur(strength, own, {0, 0}, mm_to_px(blur_mm, dpi));
    cv::GaussianBlur(strength_behind, behind, {0, 0}, mm_to_px(blur_mm, dpi));
    const auto median = [&](const cv::Mat& values, const cv::Mat& where) {
        int counts[256] = {}, all = 0, passed = 0, level = 0;
        for (int y = 0; y < values.rows; ++y)
            for (int x = 0; x < values.cols; ++x)
                if (where.at<uchar>(y, x)) ++counts[values.at<uchar>(y, x)], ++all;
        if (all < enough_px) return -1;
        while (level < 255 && (passed += counts[level]) < all / 2) ++level;
        return level;
    };
    cv::Mat near;
    cv::dilate(behind, near, cv::Mat::ones(5, 5, CV_8U));
    const int there = median(own, behind > dark), of = median(behind, behind > dark), bare = median(own, near < 5);
    if (there < 0 || bare < 0) return 0;
    return static_cast<double>(there - bare) / of;
}

}

cv::Mat1b print_from_behind(const Marks& side, const Marks& other) {
    constexpr double least_share = 0.02, spread_mm = 0.25, of_the_share = 1.35, unsure = 8; // levels
    cv::Mat behind;
    cv::warpAffine(other.strength, behind, placed(side, other), side.strength.size(),
                   cv::INTER_LINEAR | cv::WARP_INVERSE_MAP);
    const double share = share_through(side.strength, behind, side.dpi);
    if (share < least_share || share > most_share) return {};
    const int reach = 2 * cvRound(mm_to_px(spread_mm, side.dpi)) + 1;
    cv::dilate(behind, behind, cv::Mat::ones(reach, reach, CV_8U));
    cv::Mat most, out;
    behind.convertTo(most, CV_8U, of_the_share * share, unsure);
    constexpr double least_seen = 3; // levels
    cv::bitwise_and(side.strength <= most, behind > least_seen / share, out);
    return out;
}

}
