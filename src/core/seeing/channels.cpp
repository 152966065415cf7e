#include "core/seeing/channels.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <functional>

namespace yelvin {

namespace {

constexpr int place_px = 128;  // 16 mm at 200 dpi
constexpr double farthest = 2; // In pixels. Sensors do not displace channels farther.

// Returns square regions with the most edges, apart from each other.
std::vector<cv::Rect> richest_places(const cv::Mat& green) {
    struct Place {
        cv::Rect at;
        double edges = 0;
    };
    std::vector<Place> all;
    for (int y = 0; y + place_px <= green.rows; y += place_px)
        for (int x = 0; x + place_px <= green.cols; x += place_px) {
            const cv::Rect at(x, y, place_px, place_px);
            cv::Scalar mean, spread;
            cv::meanStdDev(green(at), mean, spread);
            all.push_back({at, spread[0]});
        }
    std::ranges::sort(all, std::greater{}, &Place::edges);
    std::vector<cv::Rect> out;
    constexpr size_t enough = 8;
    constexpr double least_edges = 12; // In levels. A place without edges would show the noise's displacement.
    for (size_t i = 0; i < std::min(enough, all.size()); ++i)
        if (all[i].edges >= least_edges) out.push_back(all[i].at);
    return out;
}

// A region of both channels, smoothed so that grain counts little and the channels overlap despite their shift.
struct Pair {
    cv::Mat green, channel, across, down; // CV_32FC1; the slopes of green
};

Pair pair_at(const cv::Mat& green, const cv::Mat& channel, const cv::Rect& at) {
    constexpr double softness = 1.2; // pixels
    Pair pair;
    green(at).convertTo(pair.green, CV_32F);
    channel(at).convertTo(pair.channel, CV_32F);
    for (cv::Mat* each : {&pair.green, &pair.channel}) cv::GaussianBlur(*each, *each, {0, 0}, softness);
    cv::Sobel(pair.green, pair.across, CV_32F, 1, 0, 3, 1.0 / 8);
    cv::Sobel(pair.green, pair.down, CV_32F, 0, 1, 3, 1.0 / 8);
    return pair;
}

// The normal equations for the remaining shift of `channel` against green, after it was moved back by `by` (B. Lucas
// and T. Kanade, An iterative image registration technique, 1981). The channel's levels are first fitted to green's by
// a straight line.
void add_equations(const Pair& pair, cv::Point2d by, cv::Matx22d& left, cv::Vec2d& right) {
    cv::Mat moved, difference;
    const cv::Matx23d back(1, 0, by.x, 0, 1, by.y);
    cv::warpAffine(pair.channel, moved, back, pair.channel.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                   cv::BORDER_REPLICATE);
    constexpr int rim = 4; // Pixels at the rim that were repeated by the displacement.
    const cv::Rect inside(rim, rim, place_px - 2 * rim, place_px - 2 * rim);
    const cv::Mat green = pair.green(inside), channel = moved(inside), across = pair.across(inside),
                  down = pair.down(inside);
    cv::Scalar green_mean, green_spread, mean, spread;
    cv::meanStdDev(green, green_mean, green_spread);
    cv::meanStdDev(channel, mean, spread);
    const double count = static_cast<double>(green.total());
    const double together = green.dot(channel) / count - green_mean[0] * mean[0];
    if (together <= 0 || spread[0] < 1) return;
    const double slope = together / (spread[0] * spread[0]);
    channel.convertTo(difference, CV_32F, slope, green_mean[0] - slope * mean[0]);
    difference -= green;
    left += cv::Matx22d(across.dot(across), across.dot(down), across.dot(down), down.dot(down));
    right += cv::Vec2d(-across.dot(difference), -down.dot(difference));
}

}

cv::Point2d channel_shift(const cv::Mat& green, const cv::Mat& channel) {
    std::vector<Pair> pairs;
    for (const cv::Rect& at : richest_places(green)) pairs.push_back(pair_at(green, channel, at));
    cv::Point2d shift;
    if (pairs.empty()) return shift;
    constexpr int steps = 4;
    for (int i = 0; i < steps; ++i) {
        cv::Matx22d left = cv::Matx22d::zeros();
        cv::Vec2d right;
        for (const Pair& pair : pairs) add_equations(pair, shift, left, right);
        // If all edges have the same direction, the shift along them is undetermined.
        const double weak = 0.02 * (left(0, 0) + left(1, 1));
        if (weak <= 0) return {};
        left(0, 0) += left(0, 0) < weak ? weak : 0;
        left(1, 1) += left(1, 1) < weak ? weak : 0;
        const cv::Vec2d more = left.inv() * right;
        shift += cv::Point2d(more[0], more[1]);
        if (std::hypot(shift.x, shift.y) > farthest) return {};
    }
    return shift;
}

std::vector<cv::Mat> registered_channels(const cv::Mat& bgr) {
    std::vector<cv::Mat> planes;
    cv::split(bgr, planes);
    bool is_moved = false;
    for (const size_t c : {size_t{0}, size_t{2}}) {
        const cv::Point2d shift = channel_shift(planes[1], planes[c]);
        constexpr double hardly = 0.05; // pixels
        if (std::hypot(shift.x, shift.y) < hardly) continue;
        const cv::Matx23d back(1, 0, shift.x, 0, 1, shift.y);
        cv::warpAffine(planes[c], planes[c], back, planes[c].size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP,
                       cv::BORDER_REPLICATE);
        is_moved = true;
    }
    return is_moved ? planes : std::vector<cv::Mat>();
}

}
