#include "core/reading/ruled_lines.h"

#include "core/raster/raster.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>
#include <vector>

namespace yelvin {

namespace {

constexpr double shortest_mm = 11; // no word of type that runs together is as long
constexpr double thickest_mm = 0.75;

int dots(double mm, double dpi) { return std::max(1, static_cast<int>(std::lround(mm * dpi / 25.4))); }

cv::Mat bar(int across, int down) { return cv::getStructuringElement(cv::MORPH_RECT, {across, down}); }

// Type that runs together makes long thin runs as well, but has ink above or below most of their length.
void keep_what_stands_alone(cv::Mat& runs, const cv::Mat& ink, double dpi) {
    cv::Mat labels, stats, centres;
    const int count = cv::connectedComponentsWithStats(runs, labels, stats, centres, 8, CV_32S);
    const int beside = dots(0.45, dpi);
    for (int i = 1; i < count; ++i) {
        const int* s = stats.ptr<int>(i);
        const cv::Rect box{s[cv::CC_STAT_LEFT], s[cv::CC_STAT_TOP], s[cv::CC_STAT_WIDTH], s[cv::CC_STAT_HEIGHT]};
        int columns = 0, light_above = 0, light_below = 0;
        for (int x = box.x; x < box.br().x; x += 2) {
            int top = box.y, bottom = box.br().y - 1;
            while (top < bottom && labels.at<int>(top, x) != i) ++top;
            while (bottom > top && labels.at<int>(bottom, x) != i) --bottom;
            ++columns;
            light_above += top < beside || !ink.at<uchar>(top - beside, x) ? 1 : 0;
            light_below += bottom + beside >= ink.rows || !ink.at<uchar>(bottom + beside, x) ? 1 : 0;
        }
        if (light_above + light_below >= 1.3 * columns && std::min(light_above, light_below) >= 0.45 * columns)
            continue;
        runs(box).setTo(0, labels(box) == i);
    }
}

// Where lines run along rows, as far as they are thin and long.
cv::Mat lines_along_rows(const cv::Mat& ink, double dpi) {
    cv::Mat joined, taller, runs, thick;
    // A line may be broken by grain. A little tilted, it goes on in the next row: with a dot more above and below, its
    // parts in each row are long enough to be seen up to a degree or so.
    cv::morphologyEx(ink, joined, cv::MORPH_CLOSE, bar(dots(0.12, dpi), 1));
    cv::dilate(joined, taller, bar(1, 3));
    cv::morphologyEx(taller, runs, cv::MORPH_OPEN, bar(dots(shortest_mm, dpi), 1));
    if (cv::countNonZero(runs) == 0) return {};
    cv::morphologyEx(runs, thick, cv::MORPH_OPEN, bar(1, dots(thickest_mm, dpi) + 2));
    runs &= ~thick;
    runs &= joined;
    keep_what_stands_alone(runs, ink, dpi);
    return runs;
}

// How thick the lines are that were found: along a column, the usual run.
int usual_thickness(const cv::Mat& runs, double dpi) {
    std::vector<int> found(static_cast<size_t>(dots(thickest_mm, dpi)) + 2, 0);
    for (int x = 0; x < runs.cols; x += dots(1, dpi)) {
        int run = 0;
        for (int y = 0; y < runs.rows; ++y) {
            if (runs.at<uchar>(y, x))
                ++run;
            else if (run)
                ++found[std::min(static_cast<size_t>(run), found.size() - 1)], run = 0;
        }
    }
    const int all = std::accumulate(found.begin(), found.end(), 0);
    int seen = 0;
    for (size_t i = 0; i < found.size(); ++i)
        if ((seen += found[i]) * 4 >= all * 3) return static_cast<int>(i);
    return 1;
}

double usual_level(const cv::Mat& even, const cv::Mat& runs) {
    std::array<int, 256> levels{};
    int all = 0, seen = 0;
    for (int y = 0; y < even.rows; ++y)
        for (int x = 0; x < even.cols; ++x)
            if (runs.at<uchar>(y, x)) ++levels[even.at<uchar>(y, x)], ++all;
    for (size_t i = 0; i < levels.size(); ++i)
        if ((seen += levels[i]) * 2 >= all) return static_cast<double>(i);
    return 0;
}

// On a line the page becomes what lies just above and below it, where both are lighter: a stroke that goes through is
// dark on both sides and stays. So does what is clearly darker than the line.
void quieten(cv::Mat& even, const cv::Mat& runs, double dpi) {
    const int thick = usual_thickness(runs, dpi);
    const double level = usual_level(even, runs);
    cv::Mat without, mask;
    cv::morphologyEx(even, without, cv::MORPH_CLOSE, bar(1, thick + 4));
    cv::dilate(runs, mask, bar(1, 5));
    mask &= even > std::min(level - 20, 0.8 * level);
    without.copyTo(even, mask);
}

}

namespace {

// A look at a coarse copy, which is enough to say that there are none.
bool may_have_lines(const cv::Mat& even, double dpi, double under) {
    constexpr double coarse = 100;
    if (dpi <= coarse) return true;
    const cv::Mat small = scaled(even, coarse / dpi, coarse / dpi, cv::INTER_AREA);
    const cv::Mat ink = small < under + 4; // a line is thinner than a dot here
    const cv::Mat rows = lines_along_rows(ink, coarse);
    if (!rows.empty() && cv::countNonZero(rows) > 0) return true;
    const cv::Mat columns = lines_along_rows(cv::Mat(ink.t()), coarse);
    return !columns.empty() && cv::countNonZero(columns) > 0;
}

}

bool quiet_ruled_lines(cv::Mat& even, double dpi, double paper, double spread) {
    const double under = paper - std::max(14.0, 3 * spread);
    bool any = false;
    if (!may_have_lines(even, dpi, under)) return false;
    for (const bool columns : {false, true}) {
        cv::Mat turned = columns ? cv::Mat(even.t()) : even;
        const cv::Mat mask = lines_along_rows(turned < under, dpi);
        if (mask.empty() || cv::countNonZero(mask) == 0) continue;
        quieten(turned, mask, dpi);
        if (columns) cv::transpose(turned, even);
        any = true;
    }
    return any;
}

}
