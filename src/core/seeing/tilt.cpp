#include "core/seeing/tilt.h"

#include "core/seeing/marks.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace yelvin {

namespace {

using Points = std::vector<cv::Point2f>;
constexpr double widest_degrees = 15, coarse_step = 0.25, fine_step = 0.02;
constexpr int fewest_letters = 12;

double radians(double degrees) { return degrees * std::numbers::pi / 180; }

// Measures how concentrated the points are when they are projected across lines of this angle, in bins of 1 px. Each
// point is shared between its two neighbouring bins, so that the score changes smoothly with the angle.
double crowding(const Points& points, double degrees) {
    const auto c = static_cast<float>(std::cos(radians(degrees))), s = static_cast<float>(std::sin(radians(degrees)));
    thread_local std::vector<float> bins;
    float low = 1e9F, high = -1e9F;
    for (const auto& p : points) {
        const float v = p.y * c - p.x * s;
        low = std::min(low, v);
        high = std::max(high, v);
    }
    bins.assign(static_cast<size_t>(high - low) + 3, 0.F);
    for (const auto& p : points) {
        const float v = p.y * c - p.x * s - low;
        const auto bin = static_cast<size_t>(v);
        const float part = v - static_cast<float>(bin);
        bins[bin] += 1 - part;
        bins[bin + 1] += part;
    }
    double score = 0;
    for (const float n : bins) score += static_cast<double>(n) * n;
    return score;
}

struct Peak {
    double degrees = 0, sharpness = 0, score = 0; // sharpness: the best score against the median of all angles
};

Peak sweep(const Points& feet, const Points& heads) {
    const auto score = [&](double degrees) { return std::max(crowding(feet, degrees), crowding(heads, degrees)); };
    Peak best;
    std::vector<double> scores;
    const int coarse_steps = static_cast<int>(widest_degrees / coarse_step),
              fine_steps = static_cast<int>(coarse_step / fine_step);
    for (int step = -coarse_steps; step <= coarse_steps; ++step) {
        const double angle = step * coarse_step;
        scores.push_back(score(angle));
        if (scores.back() > best.score) best = {angle, 0, scores.back()};
    }
    std::ranges::nth_element(scores, scores.begin() + static_cast<ptrdiff_t>(scores.size() / 2));
    const double median = scores[scores.size() / 2], coarse = best.degrees;
    for (int step = -fine_steps; step <= fine_steps; ++step) {
        const double angle = coarse + step * fine_step;
        if (const double s = score(angle); s > best.score) best = {angle, 0, s};
    }
    best.sharpness = best.score / std::max(1.0, median);
    return best;
}

struct LineFit {
    double slope = 0, weight = 0;
    size_t points = 0;
};

// Fits a straight line through the points, dropping outliers of more than about a pixel (descenders, commas) in three
// rounds.
LineFit fit_line(Points points) {
    LineFit fit;
    for (const double tolerance : {2.5, 1.5, 1.2}) {
        if (points.size() < 5) return {};
        double mx = 0, my = 0, sxx = 0, sxy = 0;
        for (const auto& p : points) {
            mx += p.x;
            my += p.y;
        }
        mx /= static_cast<double>(points.size());
        my /= static_cast<double>(points.size());
        for (const auto& p : points) {
            sxx += (p.x - mx) * (p.x - mx);
            sxy += (p.x - mx) * (p.y - my);
        }
        if (sxx <= 0) return {};
        fit = {sxy / sxx, sxx, 0};
        std::erase_if(points, [&](const auto& p) { return std::abs(p.y - my - fit.slope * (p.x - mx)) > tolerance; });
    }
    fit.points = points.size();
    return points.size() < 5 ? LineFit{} : fit;
}

struct LineFits {
    double degrees = 0;
    int lines = 0;
    size_t points = 0; // The number of points on all lines.
};

// Groups points that were rotated upright by `degrees` into lines (by gaps in their sorted heights) and averages the
// lines' slopes.
LineFits fit_lines(const Points& points, double degrees) {
    const double c = std::cos(radians(degrees)), s = std::sin(radians(degrees));
    Points level;
    level.reserve(points.size());
    for (const auto& p : points)
        level.emplace_back(static_cast<float>(p.x * c + p.y * s), static_cast<float>(p.y * c - p.x * s));
    std::ranges::sort(level, {}, &cv::Point2f::y);
    std::vector<LineFit> fits;
    for (size_t begin = 0; begin < level.size();) {
        size_t end = begin + 1;
        while (end < level.size() && level[end].y - level[end - 1].y < 1.0F && level[end].y - level[begin].y < 8.0F)
            ++end;
        if (end - begin >= 6) {
            if (const LineFit fit = fit_line(
                    {level.begin() + static_cast<ptrdiff_t>(begin), level.begin() + static_cast<ptrdiff_t>(end)});
                fit.weight > 0)
                fits.push_back(fit);
        }
        begin = end;
    }
    if (fits.empty()) return {degrees};
    // The weighted median of the slopes, then the weighted mean of those near it.
    std::ranges::sort(fits, {}, &LineFit::slope);
    double total = 0, passed = 0;
    for (const LineFit& fit : fits) total += fit.weight;
    double middle = 0;
    for (const LineFit& fit : fits) {
        passed += fit.weight;
        if (passed >= total / 2) {
            middle = fit.slope;
            break;
        }
    }
    double sum = 0, weight = 0;
    size_t points_on_lines = 0;
    for (const LineFit& fit : fits) {
        points_on_lines += fit.points;
        if (std::abs(fit.slope - middle) < 0.006) {
            sum += fit.slope * fit.weight;
            weight += fit.weight;
        }
    }
    const double rest = std::atan(sum / weight) * 180 / std::numbers::pi;
    return {degrees + rest, static_cast<int>(fits.size()), points_on_lines};
}

struct TiltCandidate {
    Peak peak;
    LineFits fits;
};

TiltCandidate along(const Points& feet, const Points& heads) {
    TiltCandidate out;
    out.peak = sweep(feet, heads);
    const LineFits by_feet = fit_lines(feet, out.peak.degrees), by_heads = fit_lines(heads, out.peak.degrees);
    const bool feet_crowd_more = crowding(feet, out.peak.degrees) >= crowding(heads, out.peak.degrees);
    out.fits = feet_crowd_more ? by_feet : by_heads;
    return out;
}

}

std::optional<TextTilt> text_tilt(const Raster& raster) {
    return text_tilt(letters(find_marks(at_resolution(raster, 200))));
}

std::optional<TextTilt> text_tilt(const Letters& found) {
    if (found.boxes.size() < fewest_letters) return std::nullopt;
    Points feet, heads, rights, lefts; // For the latter two, x and y are exchanged, so that lines run along x again.
    for (const cv::Rect& box : found.boxes) {
        const float x = static_cast<float>(box.x) + static_cast<float>(box.width) / 2,
                    y = static_cast<float>(box.y) + static_cast<float>(box.height) / 2;
        feet.emplace_back(x, static_cast<float>(box.y + box.height));
        heads.emplace_back(x, static_cast<float>(box.y));
        rights.emplace_back(y, static_cast<float>(box.x + box.width));
        lefts.emplace_back(y, static_cast<float>(box.x));
    }
    const TiltCandidate level = along(feet, heads), upright = along(rights, lefts);
    const bool across = upright.peak.score > level.peak.score;
    const TiltCandidate& best = across ? upright : level;
    if (best.fits.lines < 1 || best.peak.sharpness < 1.15) return std::nullopt;
    // A beam in a photograph puts a few of its marks in a row, so one or two lines count as text only if most marks are
    // on them.
    if (best.fits.lines < 3 && 4 * best.fits.points < found.boxes.size()) return std::nullopt;
    // Exchanging the axes reverses the sense of rotation.
    const double degrees = across ? -best.fits.degrees : best.fits.degrees;
    return TextTilt{degrees, across, best.fits.lines, static_cast<int>(found.boxes.size())};
}

}
