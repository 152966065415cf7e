#include "core/stitch/seams.h"

#include <opencv2/imgproc.hpp>
#include <opencv2/imgproc/detail/gcgraph.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

struct ToneSample {
    std::array<double, 3> of_a, of_b; // by channel
    cv::Point2d at_a, at_b;           // -1 to 1 across each piece
};

struct PairOfTones {
    size_t a = 0, b = 0;
    std::vector<ToneSample> samples;
};

cv::Point2d across(const PieceLook& look, cv::Point2d mm) {
    return {2 * mm.x / look.size.width - 1, 2 * mm.y / look.size.height - 1};
}

std::array<double, 3> tone_at(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d dot = level.dot(mm);
    const int x = static_cast<int>(std::lround(dot.x)), y = static_cast<int>(std::lround(dot.y));
    std::array<double, 3> sum{};
    for (int j = -1; j <= 1; ++j) {
        for (int i = -1; i <= 1; ++i) {
            for (int c = 0; c < 3; ++c) {
                sum[static_cast<size_t>(c)] += level.pixels.channels() == 3
                                                   ? level.pixels.at<cv::Vec3b>(y + j, x + i)[c]
                                                   : level.pixels.at<uchar>(y + j, x + i);
            }
        }
    }
    for (double& s : sum) s /= 9;
    return sum;
}

bool well_inside(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d dot = level.dot(mm);
    return dot.x >= 4 && dot.y >= 4 && dot.x <= level.pixels.cols - 5 && dot.y <= level.pixels.rows - 5;
}

double slope_at(const LookLevel& level, cv::Point2d mm) {
    const cv::Point2d dot = level.dot(mm);
    const int x = static_cast<int>(std::lround(dot.x)), y = static_cast<int>(std::lround(dot.y));
    const cv::Mat& p = level.pixels;
    return std::hypot(p.at<float>(y, x + 2) - p.at<float>(y, x - 2), p.at<float>(y + 2, x) - p.at<float>(y - 2, x));
}

// Flat places of the overlap; those that are brighter than the scanner can say only where there is nothing else.
PairOfTones tones_of(const Looks& looks, const Layout& layout, const Seam& seam) {
    PairOfTones out{seam.a, seam.b, {}};
    std::vector<ToneSample> clipped;
    const PieceLook &a = *looks[seam.a], &b = *looks[seam.b];
    const Pose back_a = layout.pieces[seam.a].pose.inverse(), back_b = layout.pieces[seam.b].pose.inverse();
    const cv::Rect2d box =
        bounds_of(layout.pieces[seam.a].pose, a.size) & bounds_of(layout.pieces[seam.b].pose, b.size);
    const double step = std::max(0.7, std::sqrt(box.area() / 60000));
    for (double y = box.y; y < box.y + box.height; y += step) {
        for (double x = box.x; x < box.x + box.width; x += step) {
            const cv::Point2d in_a = back_a({x, y}), in_b = back_b({x, y});
            if (!well_inside(a.colour, in_a) || !well_inside(b.colour, in_b)) continue;
            if (slope_at(a.coarse, in_a) > 24 || slope_at(b.coarse, in_b) > 24) continue;
            const auto ta = tone_at(a.colour, in_a), tb = tone_at(b.colour, in_b);
            bool differs = false, over = false;
            for (size_t c = 0; c < 3; ++c) {
                differs = differs || std::abs(ta[c] - tb[c]) > 12 + 0.2 * std::max(ta[c], tb[c]);
                over = over || std::max(ta[c], tb[c]) > 251;
            }
            if (!differs) (over ? clipped : out.samples).push_back({ta, tb, across(a, in_a), across(b, in_b)});
        }
    }
    if (out.samples.size() < 200) out.samples.insert(out.samples.end(), clipped.begin(), clipped.end());
    return out;
}

}

std::vector<Tones> even_tones(const Looks& looks, const Layout& layout) {
    std::vector<Tones> out(looks.size());
    std::vector<PairOfTones> pairs;
    for (const Seam& seam : layout.seams) {
        if (looks[seam.a]->ink == Ink::Black || looks[seam.b]->ink == Ink::Black) return out;
        if (seam.agreement > 0.5 || seam.empty) pairs.push_back(tones_of(looks, layout, seam));
    }
    constexpr double usual_gain = 0.06, usual_slope = 0.02, usual_offset = 2.5, usual_off = 3;
    constexpr int each = 6; // five of the gain, and the offset
    const int unknown = static_cast<int>(looks.size()) * each;
    for (size_t c = 0; c < 3; ++c) {
        cv::Mat normal = cv::Mat::zeros(unknown, unknown, CV_64F), right = cv::Mat::zeros(unknown, 1, CV_64F);
        for (int i = 0; i < unknown; ++i) {
            const int k = i % each;
            const double usual = k == 0 ? usual_gain : k < 5 ? usual_slope : usual_offset;
            normal.at<double>(i, i) = 1 / (usual * usual);
            if (k == 0) right.at<double>(i) = normal.at<double>(i, i);
        }
        for (const PairOfTones& pair : pairs) {
            if (pair.samples.size() < 50) continue;
            // Neighbours say much the same: they count as at most 400 in all.
            const double weight =
                std::min(1.0, 400.0 / static_cast<double>(pair.samples.size())) / (usual_off * usual_off);
            for (const ToneSample& s : pair.samples) {
                const auto terms = [](double value, cv::Point2d at, double sign) {
                    return std::array<double, each>{sign * value,
                                                    sign * value * at.x,
                                                    sign * value * at.y,
                                                    sign * value * at.x * at.x,
                                                    sign * value * at.y * at.y,
                                                    sign};
                };
                const auto ja = terms(s.of_a[c], s.at_a, 1), jb = terms(s.of_b[c], s.at_b, -1);
                const int a = static_cast<int>(pair.a) * each, b = static_cast<int>(pair.b) * each;
                const auto at = [&](size_t p) {
                    return p < each ? a + static_cast<int>(p) : b + static_cast<int>(p) - each;
                };
                const auto j = [&](size_t p) { return p < each ? ja[p] : jb[p - each]; };
                for (size_t p = 0; p < 2 * each; ++p)
                    for (size_t q = 0; q < 2 * each; ++q) normal.at<double>(at(p), at(q)) += weight * j(p) * j(q);
            }
        }
        cv::Mat solution;
        if (!cv::solve(normal, right, solution, cv::DECOMP_CHOLESKY)) continue;
        // The whole keeps its brightness.
        double mean = 0;
        const auto n = static_cast<double>(looks.size());
        for (int i = 0; i < unknown; i += each)
            mean += (solution.at<double>(i) + (solution.at<double>(i + 3) + solution.at<double>(i + 4)) / 3) / n;
        for (size_t i = 0; i < looks.size(); ++i) {
            const double* own = solution.ptr<double>(static_cast<int>(i) * each);
            for (size_t k = 0; k < 5; ++k) out[i].gain[c][k] = own[k] / mean;
            out[i].offset[c] = own[5] / mean;
        }
    }
    const bool seen = std::ranges::any_of(out, [](const Tones& t) {
        for (size_t c = 0; c < 3; ++c)
            for (const double x : {-1.0, 0.0, 1.0})
                for (const double y : {-1.0, 0.0, 1.0})
                    if (std::abs(t.gain_at(c, x, y) * 200 + t.offset[c] - 200) > 0.7) return true;
        return false;
    });
    if (!seen) out.assign(looks.size(), {});
    return out;
}

namespace {

// A piece brought onto the picture's cells.
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
    const auto dot_of = [&](double x, double y) {
        return look.coarse.dot(back({(out.box.x + x + 0.5) * cell, (out.box.y + y + 0.5) * cell}));
    };
    const cv::Point2d origin = dot_of(0, 0), dx = dot_of(1, 0) - origin, dy = dot_of(0, 1) - origin;
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
    // What is going on anywhere within a cell counts for it: the range of values in it.
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
                // In a wide overlap the seam keeps to its middle; beyond that each has its own.
                const float ahead = piece.inside.at<float>(y, x) - value(&CellPiece::inside, now, piece, x, y);
                if (ahead > half_band_mm)
                    mine.emplace_back(x, y);
                else if (ahead > -half_band_mm)
                    number_.at<int>(y, x) = both++;
            }
        }
        if (!alone) return; // it shows nothing new
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

    // What a seam through this cell would show.
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
                // A scan is worst at its edge: a seam keeps 3 mm away from it where it can.
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
        // The one that lies most on what is there already.
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
    // From the end that lies farthest up and left, always on to the nearest.
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
