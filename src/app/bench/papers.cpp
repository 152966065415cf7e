#include "app/bench/papers.h"

#include "app/models/scanning/scanners.h"

#include <cmath>

namespace yelvin {

std::vector<LaidPaper> parts_of(const std::string& file, SizeMm glass) {
    const auto size = original_size(file);
    if (!size) return {};
    if (size->width <= glass.width + 2 && size->height <= glass.height + 2) return {};
    const auto count = [](double all, double part) {
        return all <= part + 2 ? 1 : static_cast<int>(std::ceil((all - part) / (part * 0.9))) + 1;
    };
    // Two halves side by side that share 10 mm, if that is enough; the sheet is then placed lengthwise on the glass.
    const auto two = [&](double width, double height) {
        return height <= glass.height + 2 && width <= 2 * glass.width - 10;
    };
    const bool turns = !two(size->width, size->height) && two(size->height, size->width);
    const SizeMm whole = turns ? SizeMm{size->height, size->width} : *size;
    const bool halves = two(whole.width, whole.height);
    const int columns = halves ? 2 : count(whole.width, glass.width),
              rows = halves ? 1 : count(whole.height, glass.height);
    std::vector<LaidPaper> out;
    for (int row = 0; row < rows; ++row) {
        for (int column = 0; column < columns; ++column) {
            const auto share = [](int at, int of) { return of > 1 ? static_cast<double>(at) / (of - 1) : 0.0; };
            LaidPaper paper{file};
            const double left = share(column, columns) * (whole.width - glass.width);
            const double top = share(row, rows) * (whole.height - glass.height);
            const size_t number = out.size();
            static constexpr double tilts[] = {0.4, -0.7, 0.9, -0.3, 0.6, -0.9, 0.2, 0.8, -0.5};
            const double tilt = columns * rows > 2 ? tilts[number % std::size(tilts)] : tilts[number % 2] * 0.5;
            const bool over = columns * rows > 4 && number % 5 == 4; // turned over by half a turn
            const double degrees = tilt + (turns ? 90 : 0) + (over ? 180 : 0);
            // The middle of the part is in the middle of the glass.
            const double x = left + glass.width / 2 - whole.width / 2, y = top + glass.height / 2 - whole.height / 2;
            const double a = (tilt + (over ? 180 : 0)) * M_PI / 180;
            paper.x_mm = glass.width / 2 - (x * std::cos(a) - y * std::sin(a));
            paper.y_mm = glass.height / 2 - (x * std::sin(a) + y * std::cos(a));
            paper.angle_degrees = degrees;
            out.push_back(paper);
        }
    }
    return out;
}

namespace {

// Returns the upright rectangle around a paper in any position, in mm of the glass.
cv::Rect2d around(const LaidPaper& paper) {
    const auto size = original_size(paper.file);
    if (!size) return {};
    const double a = paper.angle_degrees * M_PI / 180, c = std::abs(std::cos(a)), s = std::abs(std::sin(a));
    const double w = size->width * c + size->height * s, h = size->width * s + size->height * c;
    return {paper.x_mm - w / 2, paper.y_mm - h / 2, w, h};
}

// Returns the free place of this size that is nearest to the glass's corner and outside of all `taken` ones, or nothing
// if there is none.
std::optional<cv::Point2d> free_place(SizeMm size, SizeMm glass, const std::vector<cv::Rect2d>& taken) {
    constexpr double step = 4, gap = 8, from_edge = 10;
    for (double y = from_edge; y + size.height <= glass.height; y += step) {
        for (double x = from_edge; x + size.width <= glass.width; x += step) {
            const cv::Rect2d at(x - gap, y - gap, size.width + 2 * gap, size.height + 2 * gap);
            if (std::ranges::none_of(taken, [&](const cv::Rect2d& other) { return (at & other).area() > 0; }))
                return cv::Point2d{x, y};
        }
    }
    return std::nullopt;
}

}

LaidPaper laid_down(const QString& file, const std::vector<LaidPaper>& already, SizeMm glass) {
    LaidPaper paper{file.toStdString()};
    const auto size = original_size(paper.file);
    if (!size) return paper;
    std::vector<cv::Rect2d> taken;
    std::ranges::transform(already, std::back_inserter(taken), around);
    // A sheet is placed in the corner; anything else beside what is there, or on top of it if there is no room.
    const bool sheet = size->width > 180;
    const auto place = sheet ? std::nullopt : free_place(*size, glass, taken);
    const double over = sheet ? 0 : std::min(12.0, std::max(0.0, glass.height - size->height));
    paper.x_mm = (place ? place->x : over) + size->width / 2;
    paper.y_mm = (place ? place->y : over) + size->height / 2;
    return paper;
}

std::vector<StackSheet> demo_stack(const QString& originals) {
    const std::string folder = originals.toStdString() + "/";
    const auto sheet = [&](const char* front, const char* back, double skew) {
        StackSheet made;
        made.front = {folder + front + ".svg"};
        if (*back) made.back = {folder + back + ".svg"};
        made.skew_degrees = skew;
        made.show_through = 0.1;
        return made;
    };
    std::vector<StackSheet> stack{sheet("lease-1", "lease-2", 0.7), sheet("invoice", "", -0.4),
                                  sheet("log-sheet", "", 1.1),      sheet("towpath-form", "", 0.2),
                                  sheet("till-receipt", "", -1.6),  sheet("lease-1", "lease-2", -0.3)};
    stack[3].upside_down = true;
    return stack;
}

int part_laid(const LaidPaper& paper, const std::vector<LaidPaper>& parts) {
    for (size_t i = 0; i < parts.size(); ++i) {
        if (std::hypot(parts[i].x_mm - paper.x_mm, parts[i].y_mm - paper.y_mm) < 1) return static_cast<int>(i);
    }
    return -1;
}

void lay_next_part(Scanners& scanners) {
    if (!scanners.bench_chosen()) return;
    BenchSetup setup = scanners.bench().bench();
    if (setup.glass.size() != 1) return;
    const auto parts = parts_of(setup.glass[0].file.string(), scanners.capabilities().glass);
    if (parts.empty()) return;
    const auto next = static_cast<size_t>(part_laid(setup.glass[0], parts) + 1) % parts.size();
    setup.glass[0] = parts[next];
    scanners.set_bench(setup);
}

}
