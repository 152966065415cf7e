#include "core/stitch/seams.h"

#include <opencv2/imgproc.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

using Looks = std::vector<PieceLookPtr>;

namespace {

// A piece, resampled to the cells of the picture.
struct CellPiece {
    cv::Rect box;   // of the picture's cells
    cv::Mat value;  // CV_32F, tones evened
    cv::Mat slope;  // CV_32F, how much is going on
    cv::Mat inside; // CV_32F: mm to its own edge, 0 outside
};

CellPiece on_cells(const PieceLook& look, const Pose& pose, const Tones& tones, double cell, cv::Size cells) {
    CellPiece out;
    const cv::Rect2d b = bounds_of(pose, look.size);
    const cv::Point tl(static_cast<int>(std::floor(b.x / cell)), static_cast<int>(std::floor(b.y / cell)));
    const cv::Point br(static_cast<int>(std::ceil((b.x + b.width) / cell)),
                       static_cast<int>(std::ceil((b.y + b.height) / cell)));
    out.box = cv::Rect(tl, br) & cv::Rect({}, cells);
    if (out.box.empty()) return out;
    const Pose back = pose.inverse();
    const auto pixel_of = [&](double x, double y) {
        return look.coarse.pixel(back({(out.box.x + x + 0.5) * cell, (out.box.y + y + 0.5) * cell}));
    };
    const cv::Point2d origin = pixel_of(0, 0), dx = pixel_of(1, 0) - origin, dy = pixel_of(0, 1) - origin;
    const cv::Matx23d map(dx.x, dy.x, origin.x, dx.y, dy.y, origin.y);
    cv::Mat even = look.coarse.pixels.clone();
    if (!tones.untouched()) {
        for (int y = 0; y < even.rows; ++y) {
            for (int x = 0; x < even.cols; ++x) {
                const double px = 2.0 * x / even.cols - 1, py = 2.0 * y / even.rows - 1;
                even.at<float>(y, x) =
                    static_cast<float>(tones.gain_at(1, px, py) * even.at<float>(y, x) + tones.offset[1]);
            }
        }
    }
    // A cell's activity is the range of the values within it.
    cv::Mat high, low;
    const cv::Mat square = cv::Mat::ones(3, 3, CV_8U);
    cv::dilate(even, high, square);
    cv::erode(even, low, square);
    const auto warp = [&](const cv::Mat& from, cv::Mat& to) {
        cv::warpAffine(from, to, map, out.box.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
    };
    warp(even, out.value);
    warp(high - low, out.slope);
    out.inside = cv::Mat(out.box.size(), CV_32F);
    for (int y = 0; y < out.box.height; ++y) {
        for (int x = 0; x < out.box.width; ++x) {
            const cv::Point2d at = look.coarse.mm(origin + dx * x + dy * y);
            const double near = std::min({at.x, at.y, look.size.width - at.x, look.size.height - at.y});
            out.inside.at<float>(y, x) = static_cast<float>(std::max(0.0, near - 0.25));
        }
    }
    return out;
}

class Cutting {
  public:
    Cutting(SeamMap& map, const std::vector<CellPiece>& pieces) : map_(map), pieces_(pieces) {}

    void add(size_t index) {
        const CellPiece& piece = pieces_[index];
        if (piece.box.empty()) return;
        number_ = cv::Mat(piece.box.size(), CV_32S, cv::Scalar(-1));
        int both = 0;
        bool alone = false;
        std::vector<cv::Point> mine;
        for (int y = 0; y < piece.box.height; ++y) {
            for (int x = 0; x < piece.box.width; ++x) {
                if (piece.inside.at<float>(y, x) <= 0) continue;
                const uchar now = owner(piece, x, y);
                if (now == SeamMap::nobody) {
                    alone = true;
                    mine.emplace_back(x, y);
                    continue;
                }
                // In a wide overlap the seam remains near the middle; outside of it each piece is used alone.
                const float ahead = piece.inside.at<float>(y, x) - value(&CellPiece::inside, now, piece, x, y);
                if (ahead > half_band_mm)
                    mine.emplace_back(x, y);
                else if (ahead > -half_band_mm)
                    number_.at<int>(y, x) = both++;
            }
        }
        if (!alone) return; // The piece covers nothing that others do not cover.
        const auto own = static_cast<uchar>(index);
        for (const cv::Point& p : mine) owner(piece, p.x, p.y) = own;
        if (both > 0) cut(piece, own, both);
    }

  private:
    static constexpr float half_band_mm = 14;
    SeamMap& map_;
    const std::vector<CellPiece>& pieces_;
    cv::Mat number_; // of the cells that are open, within the piece's box

    uchar& owner(const CellPiece& piece, int x, int y) const {
        return map_.owner.at<uchar>(piece.box.y + y, piece.box.x + x);
    }

    float value(const cv::Mat CellPiece::*what, uchar index, const CellPiece& piece, int x, int y) const {
        const CellPiece& from = pieces_[index];
        return (from.*what).at<float>(piece.box.y + y - from.box.y, piece.box.x + x - from.box.x);
    }

    // The visibility of a seam through this cell.
    double cost(const CellPiece& piece, int x, int y) const {
        const uchar now = owner(piece, x, y);
        const double off = std::abs(value(&CellPiece::value, now, piece, x, y) - piece.value.at<float>(y, x));
        const double going_on = std::max(value(&CellPiece::slope, now, piece, x, y), piece.slope.at<float>(y, x));
        return 1 + off + 0.5 * std::max(0.0, going_on - 4);
    }

    void cut(const CellPiece& piece, uchar index, int both) {
        cv::detail::GCGraph<double> graph(static_cast<unsigned>(both), static_cast<unsigned>(4 * both));
        for (int i = 0; i < both; ++i) graph.addVtx();
        constexpr double fixed = 1e7;
        for (int y = 0; y < piece.box.height; ++y) {
            for (int x = 0; x < piece.box.width; ++x) {
                const int i = number_.at<int>(y, x);
                if (i < 0) continue;
                const double own_cost = cost(piece, x, y);
                // A scan is least accurate at its edge, so a seam keeps a distance of 3 mm if possible.
                const double mine = piece.inside.at<float>(y, x),
                             theirs = value(&CellPiece::inside, owner(piece, x, y), piece, x, y);
                graph.addTermWeights(i, std::max(0.0, 3 - mine), std::max(0.0, 3 - theirs));
                for (const cv::Point& by : {cv::Point(1, 0), cv::Point(0, 1), cv::Point(-1, 0), cv::Point(0, -1)}) {
                    const int nx = x + by.x, ny = y + by.y;
                    const int gx = piece.box.x + nx, gy = piece.box.y + ny;
                    if (gx < 0 || gy < 0 || gx >= map_.owner.cols || gy >= map_.owner.rows) continue;
                    const bool in_box = nx >= 0 && ny >= 0 && nx < piece.box.width && ny < piece.box.height;
                    const int j = in_box ? number_.at<int>(ny, nx) : -1;
                    if (j >= 0) {
                        if (by.x + by.y > 0) {
                            const double both_costs = own_cost + cost(piece, nx, ny);
                            graph.addEdges(i, j, both_costs, both_costs);
                        }
                        continue;
                    }
                    const uchar fixed_to = map_.owner.at<uchar>(gy, gx);
                    if (fixed_to == index)
                        graph.addTermWeights(i, 0, fixed);
                    else if (fixed_to != SeamMap::nobody)
                        graph.addTermWeights(i, fixed, 0);
                }
            }
        }
        graph.maxFlow();
        for (int y = 0; y < piece.box.height; ++y) {
            for (int x = 0; x < piece.box.width; ++x) {
                const int i = number_.at<int>(y, x);
                if (i >= 0 && !graph.inSourceSegment(i)) owner(piece, x, y) = index;
            }
        }
    }
};

}

SeamMap choose_seams(const Looks& looks, const Layout& layout, const std::vector<Tones>& tones) {
    SeamMap map;
    const double width = px_to_mm(layout.size.width, layout.dpi), height = px_to_mm(layout.size.height, layout.dpi);
    const cv::Size cells(static_cast<int>(std::ceil(width / map.cell_mm)),
                         static_cast<int>(std::ceil(height / map.cell_mm)));
    map.owner = cv::Mat(cells, CV_8U, cv::Scalar(SeamMap::nobody));
    std::vector<CellPiece> pieces(looks.size());
    std::vector<size_t> waiting;
    for (size_t i = 0; i < looks.size(); ++i) {
        if (!layout.pieces[i].placed) continue;
        pieces[i] = on_cells(*looks[i], layout.pieces[i].pose, tones[i], map.cell_mm, cells);
        waiting.push_back(i);
    }
    Cutting cutting(map, pieces);
    std::vector<size_t> done;
    while (!waiting.empty()) {
        // The piece with the largest overlap with those already placed.
        size_t next = 0;
        double most = -1;
        for (size_t k = 0; k < waiting.size(); ++k) {
            double area = 0;
            for (const Seam& s : layout.seams) {
                const bool joins = (s.a == waiting[k] && std::ranges::find(done, s.b) != done.end()) ||
                                   (s.b == waiting[k] && std::ranges::find(done, s.a) != done.end());
                if (joins) area += s.area_mm2;
            }
            if (area > most) {
                most = area;
                next = k;
            }
        }
        cutting.add(waiting[next]);
        done.push_back(waiting[next]);
        waiting.erase(waiting.begin() + static_cast<long>(next));
    }
    return map;
}

std::vector<cv::Point2d> along_seam(const SeamMap& map, size_t a, size_t b, double step_mm) {
    std::vector<cv::Point> touching;
    for (int y = 1; y < map.owner.rows; ++y) {
        for (int x = 1; x < map.owner.cols; ++x) {
            const uchar here = map.owner.at<uchar>(y, x);
            if (here != a && here != b) continue;
            const size_t other = here == a ? b : a;
            if (map.owner.at<uchar>(y, x - 1) == other || map.owner.at<uchar>(y - 1, x) == other)
                touching.emplace_back(x, y);
        }
    }
    std::vector<cv::Point2d> out;
    if (touching.empty()) return out;
    // Begins at the upper left end and continues with the nearest point.
    auto at = std::ranges::min_element(touching, {}, [](const cv::Point& p) { return p.x + p.y; });
    cv::Point last = *at;
    double gone = step_mm;
    while (true) {
        if (gone >= step_mm) {
            out.emplace_back((last.x + 0.5) * map.cell_mm, (last.y + 0.5) * map.cell_mm);
            gone = 0;
        }
        touching.erase(at);
        if (touching.empty()) break;
        at = std::ranges::min_element(touching, {}, [&](const cv::Point& p) { return (p - last).dot(p - last); });
        gone += cv::norm(*at - last) * map.cell_mm;
        last = *at;
    }
    return out;
}

}
