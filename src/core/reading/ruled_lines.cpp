#include "core/reading/ruled_lines.h"

#include "core/raster/ink_pieces.h"
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

// A page takes much memory, and each step would make another picture of its size: they work on bands of rows, with as
// many more above and below as they look at.
struct Band {
    cv::Range rows, around;
    cv::Range inner() const { return {rows.start - around.start, rows.end - around.start}; }
};

std::vector<Band> bands_of(int rows, int beside) {
    constexpr int height = 256;
    std::vector<Band> bands;
    for (int from = 0; from < rows; from += height) {
        const int to = std::min(from + height, rows);
        bands.push_back({{from, to}, {std::max(0, from - beside), std::min(rows, to + beside)}});
    }
    return bands;
}

// Where a piece begins and ends, in every second column.
struct Reach {
    int top = -1, bottom = -1;
};

std::vector<std::vector<Reach>> reaches_of(const InkPieces& lines) {
    std::vector<std::vector<Reach>> reaches;
    for (const InkPiece& line : lines.pieces()) reaches.emplace_back((line.box.width + 1) / 2);
    for (const InkPieces::Run& run : lines.runs()) {
        const int left = lines.pieces()[run.piece].box.x;
        for (int x = run.from + (run.from - left) % 2; x < run.to; x += 2) {
            Reach& reach = reaches[run.piece][static_cast<size_t>(x - left) / 2];
            if (reach.top < 0) reach.top = run.y;
            reach.bottom = run.y;
        }
    }
    return reaches;
}

// Type that runs together makes long thin runs as well, but has ink above or below most of their length.
void keep_what_stands_alone(cv::Mat& runs, const cv::Mat& grey, double under, double dpi) {
    const InkPieces lines = InkPieces::of(runs);
    const auto reaches = reaches_of(lines);
    const int beside = dots(0.45, dpi);
    lines.set(runs, 0, [&](const InkPiece& line) {
        const auto& columns = reaches[static_cast<size_t>(&line - lines.pieces().data())];
        const auto count = static_cast<double>(columns.size());
        int light_above = 0, light_below = 0, x = line.box.x;
        for (const Reach& reach : columns) {
            light_above += reach.top < beside || grey.at<uchar>(reach.top - beside, x) >= under ? 1 : 0;
            light_below +=
                reach.bottom + beside >= grey.rows || grey.at<uchar>(reach.bottom + beside, x) >= under ? 1 : 0;
            x += 2;
        }
        return light_above + light_below < 1.3 * count || std::min(light_above, light_below) < 0.45 * count;
    });
}

// Where lines darker than `under` run along rows, as far as they are thin and long; empty where there are none.
cv::Mat lines_along_rows(const cv::Mat& grey, double under, double dpi) {
    const int thickest = dots(thickest_mm, dpi) + 2;
    cv::Mat all;
    for (const Band& band : bands_of(grey.rows, 2 * thickest + 4)) {
        cv::Mat joined, taller, runs, thick;
        // A line may be broken by grain. A little tilted, it goes on in the next row: with a dot more above and below,
        // its parts in each row are long enough to be seen up to a degree or so.
        cv::morphologyEx(grey.rowRange(band.around) < under, joined, cv::MORPH_CLOSE, bar(dots(0.12, dpi), 1));
        cv::dilate(joined, taller, bar(1, 3));
        cv::morphologyEx(taller, runs, cv::MORPH_OPEN, bar(dots(shortest_mm, dpi), 1));
        if (cv::countNonZero(runs) == 0) continue;
        cv::morphologyEx(runs, thick, cv::MORPH_OPEN, bar(1, thickest));
        runs &= ~thick;
        runs &= joined;
        if (all.empty()) all = cv::Mat::zeros(grey.size(), CV_8U);
        runs.rowRange(band.inner()).copyTo(all.rowRange(band.rows));
    }
    if (!all.empty()) keep_what_stands_alone(all, grey, under, dpi);
    return all;
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
    cv::Mat above; // a band, as it was
    for (const Band& band : bands_of(even.rows, thick + 6)) {
        cv::Mat before = even.rowRange(band.rows.start, band.around.end), without, mask;
        if (!above.empty()) cv::vconcat(above, before, before);
        cv::morphologyEx(before, without, cv::MORPH_CLOSE, bar(1, thick + 4));
        cv::dilate(runs.rowRange(band.around), mask, bar(1, 5));
        mask &= before > std::min(level - 20, 0.8 * level);
        const int next = std::max(0, band.rows.end - (thick + 6)) - band.around.start;
        above = before.rowRange(next, band.inner().end).clone();
        without.rowRange(band.inner()).copyTo(even.rowRange(band.rows), mask.rowRange(band.inner()));
    }
}

}

namespace {

// A look at a coarse copy, which is enough to say that there are none.
bool may_have_lines(const cv::Mat& even, double dpi, double under) {
    constexpr double coarse = 100;
    if (dpi <= coarse) return true;
    const cv::Mat small = scaled(even, coarse / dpi, coarse / dpi, cv::INTER_AREA);
    const double lighter = under + 4; // a line is thinner than a dot here
    const cv::Mat rows = lines_along_rows(small, lighter, coarse);
    if (!rows.empty() && cv::countNonZero(rows) > 0) return true;
    const cv::Mat columns = lines_along_rows(cv::Mat(small.t()), lighter, coarse);
    return !columns.empty() && cv::countNonZero(columns) > 0;
}

}

bool quiet_ruled_lines(cv::Mat& even, double dpi, double paper, double spread) {
    const double under = paper - std::max(14.0, 3 * spread);
    bool any = false;
    if (!may_have_lines(even, dpi, under)) return false;
    for (const bool columns : {false, true}) {
        cv::Mat turned = columns ? cv::Mat(even.t()) : even;
        const cv::Mat mask = lines_along_rows(turned, under, dpi);
        if (mask.empty() || cv::countNonZero(mask) == 0) continue;
        quieten(turned, mask, dpi);
        if (columns) cv::transpose(turned, even);
        any = true;
    }
    return any;
}

}
