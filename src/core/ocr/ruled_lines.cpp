#include "core/ocr/ruled_lines.h"

#include "core/raster/ink_pieces.h"
#include "core/raster/raster.h"
#include "core/raster/units.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <numeric>
#include <vector>

namespace yelvin {

namespace {

constexpr double shortest_mm = 11; // Longer than the part of any word whose letters touch.
constexpr double thickest_mm = 0.75;

cv::Mat bar(int across, int down) { return cv::getStructuringElement(cv::MORPH_RECT, {across, down}); }

// To save memory, each step processes bands of rows instead of the whole page. A band includes the rows above and below
// that the step needs.
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

// The top and the bottom of a piece in every second column.
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

// The runs of pixels of all lines, row by row.
using Runs = std::vector<InkPieces::Run>;

// Whether the line belongs to ruled paper: it begins and ends where its neighbours do. Such a line may have type along
// its whole length.
bool is_like_others(const cv::Rect& line, const std::vector<cv::Rect>& others, double dpi) {
    constexpr int enough = 3;
    const int near = scanned_px(1, dpi);
    const auto alike = std::ranges::count_if(others, [&](const cv::Rect& other) {
        return std::abs(other.x - line.x) <= near && std::abs(other.br().x - line.br().x) <= near &&
               std::abs(other.height - line.height) <= near / 2;
    });
    return alike >= enough;
}

// Returns the runs that are lines. Connected type forms long thin runs as well, but has ink above or below most of
// their length.
Runs what_stands_alone(const InkPieces& lines, const cv::Mat& grey, double under, double dpi) {
    const int beside = scanned_px(0.45, dpi);
    std::vector<bool> alone;
    const auto reaches = reaches_of(lines);
    for (const auto& columns : reaches) {
        const auto count = static_cast<double>(columns.size());
        int light_above = 0, light_below = 0, x = lines.pieces()[alone.size()].box.x;
        for (const Reach& reach : columns) {
            light_above += reach.top < beside || grey.at<uchar>(reach.top - beside, x) >= under ? 1 : 0;
            light_below +=
                reach.bottom + beside >= grey.rows || grey.at<uchar>(reach.bottom + beside, x) >= under ? 1 : 0;
            x += 2;
        }
        alone.push_back(light_above + light_below >= 1.3 * count && std::min(light_above, light_below) >= 0.45 * count);
    }
    std::vector<cv::Rect> others;
    for (size_t i = 0; i < alone.size(); ++i)
        if (alone[i]) others.push_back(lines.pieces()[i].box);
    for (size_t i = 0; i < alone.size(); ++i) alone[i] = alone[i] || is_like_others(lines.pieces()[i].box, others, dpi);
    Runs kept;
    std::ranges::copy_if(lines.runs(), std::back_inserter(kept), [&](const auto& run) { return alone[run.piece]; });
    return kept;
}

// Returns a mask of the thin and long structures in a band (non-zero), or an empty picture if there are none.
cv::Mat long_and_thin(const cv::Mat& band, double under, double dpi, int thickest) {
    cv::Mat joined, taller, runs, thick;
    // A line may be interrupted by grain. A slightly tilted line continues in the next row: dilated by one pixel above
    // and below, its parts in each row are long enough to be detected up to a tilt of about one degree.
    cv::morphologyEx(band < under, joined, cv::MORPH_CLOSE, bar(scanned_px(0.12, dpi), 1));
    cv::dilate(joined, taller, bar(1, 3));
    cv::morphologyEx(taller, runs, cv::MORPH_OPEN, bar(scanned_px(shortest_mm, dpi), 1));
    if (cv::countNonZero(runs) == 0) return {};
    cv::morphologyEx(runs, thick, cv::MORPH_OPEN, bar(1, thickest));
    runs &= ~thick;
    runs &= joined;
    return runs;
}

// Returns the thin and long horizontal lines that are darker than `under`.
Runs lines_along_rows(const cv::Mat& grey, double under, double dpi) {
    const int thickest = scanned_px(thickest_mm, dpi) + 2;
    const std::vector<Band> bands = bands_of(grey.rows, 2 * thickest + 4);
    const std::vector<uchar> none(static_cast<size_t>(grey.cols), 0);
    auto next = bands.begin();
    cv::Mat found;
    int first = 0; // its row
    const InkPieces lines(grey.size(), [&](int y) {
        if (next != bands.end() && y == next->rows.start) {
            found = long_and_thin(grey.rowRange(next->around), under, dpi, thickest);
            first = next++->around.start;
        }
        return found.empty() ? none.data() : found.ptr(y - first);
    });
    return what_stands_alone(lines, grey, under, dpi);
}

// The typical thickness of the lines: the median length of their runs along columns.
int usual_thickness(const Runs& lines, cv::Size page, double dpi) {
    const int apart = scanned_px(1, dpi);
    std::vector<int> found(static_cast<size_t>(scanned_px(thickest_mm, dpi)) + 2, 0);
    std::vector<Reach> columns(static_cast<size_t>(page.width / apart) + 1);
    const auto count = [&](const Reach& reach) { // Lines that the page's edge cuts off do not count.
        if (reach.top >= 0 && reach.bottom < page.height - 1)
            ++found[std::min(static_cast<size_t>(reach.bottom - reach.top) + 1, found.size() - 1)];
    };
    for (const InkPieces::Run& run : lines) {
        for (int x = (run.from + apart - 1) / apart * apart; x < run.to; x += apart) {
            Reach& column = columns[static_cast<size_t>(x / apart)];
            if (column.bottom != run.y - 1 || column.top < 0) {
                count(column);
                column.top = run.y;
            }
            column.bottom = run.y;
        }
    }
    std::ranges::for_each(columns, count);
    const int all = std::accumulate(found.begin(), found.end(), 0);
    int seen = 0;
    for (size_t i = 0; i < found.size(); ++i)
        if ((seen += found[i]) * 4 >= all * 3) return static_cast<int>(i);
    return 1;
}

double usual_level(const cv::Mat& even, const Runs& lines) {
    std::array<int, 256> levels{};
    int all = 0, seen = 0;
    for (const InkPieces::Run& run : lines) {
        const uchar* row = even.ptr(run.y);
        for (int x = run.from; x < run.to; ++x) ++levels[row[x]];
        all += run.to - run.from;
    }
    for (size_t i = 0; i < levels.size(); ++i)
        if ((seen += levels[i]) * 2 >= all) return static_cast<double>(i);
    return 0;
}

cv::Mat drawn(const Runs& lines, cv::Range rows, int width) {
    cv::Mat out = cv::Mat::zeros(rows.size(), width, CV_8U);
    for (auto at = std::ranges::lower_bound(lines, rows.start, {}, &InkPieces::Run::y);
         at != lines.end() && at->y < rows.end; ++at)
        std::fill_n(out.ptr(at->y - rows.start) + at->from, at->to - at->from, uchar{255});
    return out;
}

// On a line the page becomes what lies just above and below it, where both are lighter: a stroke that goes through is
// dark on both sides and stays. So does what is clearly darker than the line.
void quieten(cv::Mat& even, const Runs& lines, double dpi) {
    const int thick = usual_thickness(lines, even.size(), dpi);
    const double level = usual_level(even, lines);
    cv::Mat above; // The unchanged rows of a band.
    for (const Band& band : bands_of(even.rows, thick + 6)) {
        cv::Mat before = even.rowRange(band.rows.start, band.around.end), without, mask;
        if (!above.empty()) cv::vconcat(above, before, before);
        cv::morphologyEx(before, without, cv::MORPH_CLOSE, bar(1, thick + 4));
        cv::dilate(drawn(lines, band.around, even.cols), mask, bar(1, 5));
        mask &= before > std::min(level - 20, 0.8 * level);
        const int next = std::max(0, band.rows.end - (thick + 6)) - band.around.start;
        above = before.rowRange(next, band.inner().end).clone();
        without.rowRange(band.inner()).copyTo(even.rowRange(band.rows), mask.rowRange(band.inner()));
    }
}

}

namespace {

// Whether a coarse copy of the page shows structures that may be lines. If not, there are none.
bool may_have_lines(const cv::Mat& even, double dpi, double under) {
    constexpr double coarse = 100;
    if (dpi <= coarse) return true;
    const cv::Mat small = scaled(even, coarse / dpi, coarse / dpi, cv::INTER_AREA);
    const double lighter = under + 4; // A line is thinner than a pixel at this resolution, hence paler.
    return !lines_along_rows(small, lighter, coarse).empty() ||
           !lines_along_rows(cv::Mat(small.t()), lighter, coarse).empty();
}

}

bool remove_ruled_lines(cv::Mat& even, double dpi, double paper, double spread) {
    const double under = paper - std::max(14.0, 3 * spread);
    bool any = false;
    if (!may_have_lines(even, dpi, under)) return false;
    for (const bool columns : {false, true}) {
        cv::Mat turned = even;
        // Columns are found as rows of the transposed page. The page itself is released meanwhile, to save memory.
        if (columns) {
            turned = even.t();
            even.release();
        }
        if (const Runs lines = lines_along_rows(turned, under, dpi); !lines.empty()) {
            quieten(turned, lines, dpi);
            any = true;
        }
        if (columns) cv::transpose(turned, even);
    }
    return any;
}

}
