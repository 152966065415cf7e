#include "core/stitch/search.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

std::vector<double> edge_directions(const PieceLook& look) {
    std::vector<double> bins(direction_bins, 0.0);
    const cv::Mat& pixels = look.soft.pixels; // The less blurred level has inexact slopes at thin lines.
    double sum = 0;
    for (int y = 2; y < pixels.rows - 2; ++y) {
        const auto *row = pixels.ptr<float>(y), *up = pixels.ptr<float>(y - 1), *low = pixels.ptr<float>(y + 1);
        for (int x = 2; x < pixels.cols - 2; ++x) {
            const double gx = row[x + 1] - row[x - 1], gy = low[x] - up[x];
            const double strength = gx * gx + gy * gy;
            if (strength < 6) continue;
            double degrees = std::atan2(gy / look.coarse.mm_y, gx / look.coarse.mm_x) * 180 / CV_PI;
            degrees -= 90 * std::floor(degrees / 90);
            const double weight = std::min(20.0, std::sqrt(strength));
            bins[static_cast<size_t>(degrees * 4) % direction_bins] += weight;
            sum += weight;
        }
    }
    if (sum > 0)
        for (double& b : bins) b /= sum;
    return bins;
}

MainDirection main_direction(const std::vector<double>& bins) {
    const auto at = [&](int i) { return bins[static_cast<size_t>((i + 2 * direction_bins) % direction_bins)]; };
    MainDirection best;
    for (int i = 0; i < direction_bins; ++i) {
        double share = 0, centre = 0;
        for (int k = -2; k <= 2; ++k) {
            share += at(i + k);
            centre += at(i + k) * k;
        }
        if (share > best.share) best = {(i + 0.5 + centre / share) / 4, share};
    }
    return best;
}

bool made_of_lines(const PieceLook& look) { return main_direction(edge_directions(look)).share > clear_direction; }

namespace {

// The edges of a piece at some resolution: gradients as complex numbers, and a mask of where there are any.
struct EdgePicture {
    cv::Mat slopes;   // CV_32FC2
    cv::Mat strength; // CV_32F, |slopes|²
    cv::Mat covered;  // CV_32F, 0 or 1
};

EdgePicture edges_of(const cv::Mat& pixels, const cv::Mat& covered) {
    cv::Mat gx, gy;
    cv::Sobel(pixels, gx, CV_32F, 1, 0, 3, 1 / 8.0);
    cv::Sobel(pixels, gy, CV_32F, 0, 1, 3, 1 / 8.0);
    cv::Mat inside;
    cv::erode(covered, inside, cv::Mat::ones(5, 5, CV_8U), {-1, -1}, 1, cv::BORDER_CONSTANT, 0);
    EdgePicture out;
    out.slopes = cv::Mat::zeros(pixels.size(), CV_32FC2);
    out.strength = cv::Mat::zeros(pixels.size(), CV_32F);
    inside.convertTo(out.covered, CV_32F);
    for (int y = 0; y < pixels.rows; ++y) {
        for (int x = 0; x < pixels.cols; ++x) {
            if (inside.at<uchar>(y, x) == 0) continue;
            const float dx = gx.at<float>(y, x), dy = gy.at<float>(y, x);
            const float length = std::hypot(dx, dy);
            if (length < 0.7F) continue;
            const float held = std::min(length, 12.0F) / length; // Limits the weight of a single dark bar.
            out.slopes.at<cv::Vec2f>(y, x) = {dx * held, dy * held};
            out.strength.at<float>(y, x) = length * length * held * held;
        }
    }
    return out;
}

// Returns the spectrum: the packed half for a real picture, all of it for a complex one.
cv::Mat spectrum(const cv::Mat& of, cv::Size padded) {
    cv::Mat big = cv::Mat::zeros(padded, of.type());
    of.copyTo(big(cv::Rect({}, of.size())));
    cv::Mat out;
    cv::dft(big, out, 0, of.rows);
    return out;
}

// For each shift t, returns the real part of the sum over x of a(x + t) · conj(b(x)).
cv::Mat correlation(const cv::Mat& of_a, const cv::Mat& of_b) {
    cv::Mat product, out;
    cv::mulSpectrums(of_a, of_b, product, 0, true);
    cv::dft(product, out, cv::DFT_INVERSE | cv::DFT_SCALE | (product.channels() == 1 ? cv::DFT_REAL_OUTPUT : 0));
    if (out.channels() == 1) return out;
    cv::Mat real;
    cv::extractChannel(out, real, 0);
    return real;
}

class Searching {
  public:
    Searching(const PieceLook& a, const PieceLook& b, double dpi) : b_(b), mm_(mm_per_inch / dpi) {
        const cv::Mat pixels = at_scale(a, Pose{}, size_px(a.size));
        edges_ = edges_of(pixels, cv::Mat(pixels.size(), CV_8U, cv::Scalar(1)));
        without_outline(edges_, a, Pose{});
        const double diagonal = std::hypot(b.size.width, b.size.height) / mm_;
        const int side = static_cast<int>(std::ceil(diagonal)) + 2;
        padded_ = {cv::getOptimalDFTSize(pixels.cols + side), cv::getOptimalDFTSize(pixels.rows + side)};
        slopes_ = spectrum(edges_.slopes, padded_);
        strength_ = spectrum(edges_.strength, padded_);
        covered_ = spectrum(edges_.covered, padded_);
        least_px_ = 0.04 * std::min(a.size.width * a.size.height, b.size.width * b.size.height) / (mm_ * mm_);
    }

    struct Peak {
        Pose pose;
        double weight = 0;
    };

    // Finds the best positions with `b` rotated by `radians`.
    void at_turn(double radians, size_t most, std::vector<Peak>& out) const {
        Pose turned{radians, 0, 0, 1};
        const cv::Rect2d box = bounds_of(turned, b_.size);
        turned.x = -box.x;
        turned.y = -box.y;
        const cv::Size size(static_cast<int>(box.width / mm_) + 1, static_cast<int>(box.height / mm_) + 1);
        cv::Mat mask(size, CV_8U, cv::Scalar(0));
        std::vector<cv::Point> outline;
        for (const cv::Point2d& c : corners_of(turned, b_.size)) outline.emplace_back(c * (1 / mm_));
        cv::fillConvexPoly(mask, outline, 1);
        EdgePicture edges = edges_of(at_scale(b_, turned, size), mask);
        without_outline(edges, b_, turned);
        const cv::Mat of_b = spectrum(edges.slopes, padded_);
        const cv::Mat same = correlation(slopes_, of_b);
        const cv::Mat covered = spectrum(edges.covered, padded_);
        const cv::Mat in_a = correlation(strength_, covered);
        const cv::Mat in_b = correlation(covered_, spectrum(edges.strength, padded_));
        const cv::Mat area = correlation(covered_, covered);
        cv::Mat weight(padded_, CV_32F, cv::Scalar(0));
        for (int y = 1; y < padded_.height - 1; ++y) {
            for (int x = 1; x < padded_.width - 1; ++x) {
                const float here = same.at<float>(y, x);
                const float left = same.at<float>(y, x - 1), right = same.at<float>(y, x + 1);
                const float up = same.at<float>(y - 1, x), low = same.at<float>(y + 1, x);
                if (here <= 0 || here < left || here < right || here < up || here < low) continue;
                const float all = in_a.at<float>(y, x) + in_b.at<float>(y, x);
                if (area.at<float>(y, x) < least_px_ || all < 100) continue;
                // The maximum is interpolated between pixels: thin lines that are half a pixel off would score much
                // lower.
                const auto above = [&](float before, float after) {
                    const float bend = 2 * here - before - after;
                    return bend > 0 ? (before - after) * (before - after) / (8 * bend) : 0;
                };
                const float alike = here + above(left, right) + above(up, low);
                const float share = std::min(1.0F, 2 * alike / all); // 1 if every edge of one piece is in the other.
                if (share > 0.25F) weight.at<float>(y, x) = std::pow(share, 6.0F) * std::sqrt(std::sqrt(alike));
            }
        }
        for (size_t k = 0; k < most; ++k) {
            double best = 0;
            cv::Point at;
            cv::minMaxLoc(weight, nullptr, &best, nullptr, &at);
            if (best <= 0) break;
            cv::circle(weight, at, static_cast<int>(4 / mm_), cv::Scalar(0), -1);
            const cv::Point2d shift(at.x > padded_.width - size.width ? at.x - padded_.width : at.x,
                                    at.y > padded_.height - size.height ? at.y - padded_.height : at.y);
            Pose pose = turned;
            pose.x += shift.x * mm_;
            pose.y += shift.y * mm_;
            out.push_back({pose, best});
        }
    }

  private:
    const PieceLook& b_;
    double mm_;
    EdgePicture edges_;
    cv::Size padded_;
    cv::Mat slopes_, strength_, covered_;
    double least_px_ = 0;

    cv::Size size_px(SizeMm size) const {
        return {static_cast<int>(size.width / mm_), static_cast<int>(size.height / mm_)};
    }

    // Removes the edges of the paper, because they match any other straight edge.
    void without_outline(EdgePicture& edges, const PieceLook& look, const Pose& pose) const {
        const double size = look.cell_px * look.coarse.mm_x;
        for (int y = 0; y < look.outline.rows; ++y) {
            for (int x = 0; x < look.outline.cols; ++x) {
                if (look.outline.at<uchar>(y, x) == 0) continue;
                const cv::Point at(pose({(x + 0.5) * size, (y + 0.5) * size}) * (1 / mm_));
                cv::circle(edges.slopes, at, static_cast<int>(0.8 * size / mm_), cv::Scalar::all(0), -1);
                cv::circle(edges.strength, at, static_cast<int>(0.8 * size / mm_), cv::Scalar::all(0), -1);
                cv::circle(edges.covered, at, static_cast<int>(0.8 * size / mm_), cv::Scalar::all(0), -1);
            }
        }
    }

    // Pixel (i, j) of the copy is at the position (i, j) · mm.
    cv::Mat at_scale(const PieceLook& look, const Pose& pose, cv::Size size) const {
        const Pose back = pose.inverse();
        const cv::Point2d origin = look.coarse.pixel(back({0, 0}));
        const cv::Point2d x = look.coarse.pixel(back({mm_, 0})) - origin,
                          y = look.coarse.pixel(back({0, mm_})) - origin;
        cv::Mat softer, out;
        cv::GaussianBlur(look.coarse.pixels, softer, {}, 0.9 * mm_ / look.coarse.mm_x);
        cv::warpAffine(softer, out, cv::Matx23d(x.x, y.x, origin.x, x.y, y.y, origin.y), size,
                       cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
        return out;
    }
};

}

std::vector<Guess> searched(const PieceLook& a, const PieceLook& b, size_t most) {
    const MainDirection of_a = main_direction(edge_directions(a)), of_b = main_direction(edge_directions(b));
    const bool known = of_a.share > clear_direction && of_b.share > clear_direction;
    std::vector<double> turns;
    double dpi = 40;
    // If there are many features and none agree, a search at all rotations would find nothing either.
    constexpr size_t abound = 700;
    if (!known && a.features.size() > abound && b.features.size() > abound) return {};
    if (known) {
        for (int quarter = 0; quarter < 4; ++quarter) turns.push_back(of_a.degrees - of_b.degrees + 90 * quarter);
    } else {
        dpi = 16;
        for (int quarter = 0; quarter < 4; ++quarter)
            for (double tilt = -9; tilt <= 9; tilt += 0.9) turns.push_back(90 * quarter + tilt);
    }
    const Searching searching(a, b, dpi);
    std::vector<std::vector<Searching::Peak>> by_turn(turns.size());
    cv::parallel_for_({0, static_cast<int>(turns.size())}, [&](const cv::Range& range) {
        for (int i = range.start; i < range.end; ++i)
            searching.at_turn(turns[static_cast<size_t>(i)] * CV_PI / 180, known ? 16 : 3,
                              by_turn[static_cast<size_t>(i)]);
    });
    std::vector<Searching::Peak> peaks;
    for (const auto& some : by_turn) peaks.insert(peaks.end(), some.begin(), some.end());
    std::ranges::sort(peaks, [](const auto& p, const auto& q) { return p.weight > q.weight; });
    std::vector<Guess> out;
    for (const Searching::Peak& peak : peaks) {
        const bool known_already =
            std::ranges::any_of(out, [&](const Guess& g) { return corner_distance(g.pose, peak.pose, b.size) < 4; });
        if (known_already) continue;
        out.push_back({peak.pose, 0});
        if (out.size() >= most) break;
    }
    return out;
}

}
