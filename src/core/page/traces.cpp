#include "core/page/traces.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>

namespace yelvin {

namespace {

// Creases, folds and rules: runs of 8 mm along or across, which no letter has. A little slant still counts.
cv::Mat without_long_lines(const cv::Mat& mask, double dpi) {
    const int length = static_cast<int>(mm_to_px(8, dpi));
    cv::Mat along, across, lines, left;
    // Paper's grain breaks a faint line; a gap of half a millimetre is bridged first.
    const int gap = std::max(1, static_cast<int>(mm_to_px(0.5, dpi)));
    cv::morphologyEx(mask, along, cv::MORPH_CLOSE, cv::Mat::ones(1, gap, CV_8U));
    cv::morphologyEx(along, along, cv::MORPH_OPEN, cv::Mat::ones(1, length, CV_8U));
    cv::morphologyEx(mask, across, cv::MORPH_CLOSE, cv::Mat::ones(gap, 1, CV_8U));
    cv::morphologyEx(across, across, cv::MORPH_OPEN, cv::Mat::ones(length, 1, CV_8U));
    cv::bitwise_or(along, across, lines);
    // Thick areas hold long runs too; they are no lines.
    cv::Mat thick;
    const int broad = std::max(3, static_cast<int>(mm_to_px(1.5, dpi)));
    cv::morphologyEx(mask, thick, cv::MORPH_OPEN, cv::Mat::ones(broad, broad, CV_8U));
    lines.setTo(0, thick);
    cv::dilate(lines, lines, cv::Mat::ones(3, 3, CV_8U));
    mask.copyTo(left);
    left.setTo(0, lines);
    return left;
}

struct Component {
    cv::Rect box;
    int area = 0, peak = 0, crisp_dots = 0;
};

}

Traces find_traces(const Marks& marks) {
    const double dpi = marks.dpi;
    const cv::Mat mask = without_long_lines(marks.all, dpi);
    cv::Mat labels, stats, centres, steps;
    const int count = cv::connectedComponentsWithStats(mask, labels, stats, centres, 8, CV_32S);
    std::vector<Component> found(static_cast<size_t>(count));
    // How steep the edges are: the greatest difference within three dots, against how dark the mark is at all.
    cv::morphologyEx(marks.grey, steps, cv::MORPH_GRADIENT, cv::Mat::ones(3, 3, CV_8U));
    // Only the dots of marks are looked at, twice; they are few.
    struct Dot {
        int label;
        uchar strength, step;
    };
    std::vector<Dot> dots;
    for (int y = 0; y < mask.rows; ++y) {
        const int* label = labels.ptr<int>(y);
        const uchar *strength = marks.strength.ptr(y), *step = steps.ptr(y);
        for (int x = 0; x < mask.cols; ++x) {
            if (label[x]) dots.push_back({label[x], strength[x], step[x]});
        }
    }
    for (const Dot& dot : dots) {
        int& peak = found[static_cast<size_t>(dot.label)].peak;
        peak = std::max<int>(peak, dot.strength);
    }
    for (const Dot& dot : dots) {
        Component& component = found[static_cast<size_t>(dot.label)];
        if (dot.step > 0.62 * component.peak) ++component.crisp_dots;
    }
    const int rim = static_cast<int>(mm_to_px(3, dpi));
    const double speck = mm_to_px(1.1, dpi), dot_mm = mm_per_inch / dpi;
    // Coarse scans show soft edges as steep ones: there only what is clearly dark counts.
    const int least_peak = dpi < 140 ? 45 : 14;
    Traces out;
    double area = 0;
    for (int i = 1; i < count; ++i) {
        Component& c = found[static_cast<size_t>(i)];
        c.box = {stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP),
                 stats.at<int>(i, cv::CC_STAT_WIDTH), stats.at<int>(i, cv::CC_STAT_HEIGHT)};
        c.area = stats.at<int>(i, cv::CC_STAT_AREA);
        const bool at_rim =
            c.box.x < rim || c.box.y < rim || c.box.br().x > mask.cols - rim || c.box.br().y > mask.rows - rim;
        const int longer = std::max(c.box.width, c.box.height), shorter = std::min(c.box.width, c.box.height);
        if (at_rim || longer < speck || c.peak < least_peak) continue;
        // Hole punches cut 5.5 to 8 mm, 8 to 15 mm from the edge (ISO 838 has 6 mm at 12 mm).
        const cv::Point middle = (c.box.tl() + c.box.br()) / 2;
        const int to_edge = std::min({middle.x, middle.y, mask.cols - middle.x, mask.rows - middle.y});
        const bool hole = longer * dot_mm > 4.5 && longer * dot_mm < 9 && shorter > 0.8 * longer &&
                          c.area > 0.62 * c.box.area() && to_edge * dot_mm < 20;
        if (hole) continue;
        const bool line = longer * dot_mm > 40 && shorter * dot_mm < 2;
        const bool crisp = c.crisp_dots >= std::max<int>(4, static_cast<int>(0.5 * longer)) && !line;
        constexpr int dark = 60; // a picture may be soft all over, but it is not pale
        if (crisp) ++out.crisp;
        if (crisp || c.peak >= dark) area += c.area;
    }
    out.ink_percent = 100.0 * area / static_cast<double>(mask.total());
    return out;
}

}
