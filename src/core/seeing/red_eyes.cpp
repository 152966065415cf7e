#include "core/seeing/red_eyes.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

struct EyeCandidate {
    cv::Point2d at; // px
    double radius = 0;
};

bool is_red(const cv::Vec3b& pixel) {
    const int other = std::max(pixel[0], pixel[1]);
    return pixel[2] > 75 && pixel[2] * 10 > other * 16 && pixel[2] - other > 45;
}

bool is_skin(const cv::Vec3b& pixel) {
    const int blue = pixel[0], green = pixel[1], red = pixel[2];
    return red > 60 && red > green && green * 100 >= blue * 92 && red - blue > 12 && red * 10 < green * 19;
}

// The composition of a ring around the candidate.
struct Ring {
    double red = 0, white = 0, dark = 0, skin = 0; // shares
};
Ring ring_around(const cv::Mat& colour, const EyeCandidate& c, double inner, double outer) {
    Ring ring;
    int count = 0;
    const double far = c.radius * outer, near = c.radius * inner;
    for (int y = std::max(0, cvFloor(c.at.y - far)); y <= std::min(colour.rows - 1, cvCeil(c.at.y + far)); ++y) {
        for (int x = std::max(0, cvFloor(c.at.x - far)); x <= std::min(colour.cols - 1, cvCeil(c.at.x + far)); ++x) {
            const double away = std::hypot(x - c.at.x, y - c.at.y);
            if (away < near || away > far) continue;
            const auto& pixel = colour.at<cv::Vec3b>(y, x);
            const int high = std::max({pixel[0], pixel[1], pixel[2]}), low = std::min({pixel[0], pixel[1], pixel[2]});
            ++count;
            ring.red += is_red(pixel) ? 1 : 0;
            ring.white += low > 130 && high - low < 50 ? 1 : 0;
            ring.dark += high < 95 ? 1 : 0;
            ring.skin += is_skin(pixel) ? 1 : 0;
        }
    }
    for (double* share : {&ring.red, &ring.white, &ring.dark, &ring.skin}) *share /= std::max(1, count);
    return ring;
}

}

std::vector<Spot> find_red_eyes(const Raster& raster) {
    if (raster.ink != Ink::Colour) return {};
    const cv::Mat& colour = raster.pixels;
    cv::Mat red(colour.size(), CV_8UC1), labels, stats, centres;
    for (int y = 0; y < colour.rows; ++y) {
        const auto* row = colour.ptr<cv::Vec3b>(y);
        uchar* out = red.ptr(y);
        for (int x = 0; x < colour.cols; ++x) out[x] = is_red(row[x]) ? 255 : 0;
    }
    if (cv::countNonZero(red) == 0) return {};
    // The reflection of the flash in the middle of a pupil is white.
    cv::morphologyEx(red, red, cv::MORPH_CLOSE, cv::getStructuringElement(cv::MORPH_ELLIPSE, {5, 5}));
    const int count = cv::connectedComponentsWithStats(red, labels, stats, centres, 8, CV_32S);
    std::vector<EyeCandidate> candidates;
    for (int i = 1; i < count; ++i) {
        const double w = stats.at<int>(i, cv::CC_STAT_WIDTH), h = stats.at<int>(i, cv::CC_STAT_HEIGHT),
                     area = stats.at<int>(i, cv::CC_STAT_AREA);
        const EyeCandidate c{{centres.at<double>(i, 0), centres.at<double>(i, 1)}, std::sqrt(area / CV_PI)};
        const double radius_mm = px_to_mm(c.radius, raster.dpi);
        if (radius_mm < 0.2 || radius_mm > 8 || c.radius < 1.6) continue;
        if (w > 1.5 * h || h > 1.5 * w || area < 0.6 * w * h) continue;
        const Ring eye = ring_around(colour, c, 1.35, 2.4), face = ring_around(colour, c, 2.6, 5);
        if (eye.red > 0.1 || eye.white + eye.dark < 0.12 || face.skin < 0.4 || face.red > 0.1) continue;
        candidates.push_back(c);
    }
    std::vector<Spot> out;
    for (const EyeCandidate& a : candidates) {
        const bool has_partner = std::ranges::any_of(candidates, [&](const EyeCandidate& b) {
            const double apart = std::hypot(a.at.x - b.at.x, a.at.y - b.at.y), larger = std::max(a.radius, b.radius),
                         smaller = std::min(a.radius, b.radius);
            return apart > 5 * larger && apart < 26 * larger && larger < 1.7 * smaller;
        });
        if (has_partner)
            out.push_back({px_to_mm(a.at.x + 0.5, raster.dpi), px_to_mm(a.at.y + 0.5, raster.dpi),
                           px_to_mm(a.radius, raster.dpi)});
    }
    return out;
}

}
