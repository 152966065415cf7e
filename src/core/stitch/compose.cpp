#include "core/stitch/compose.h"

#include "core/developing/resample.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <list>

namespace yelvin {

namespace {

using Looks = std::vector<PieceLookPtr>;

constexpr int band_rows = 384, tile_columns = 512;
constexpr double outside = 255; // where no piece lies

// A cache of the most recently used pieces.
class Held {
  public:
    Held(const StitchSource& source, Ink ink) : source_(source), ink_(ink) {}

    Result<const cv::Mat*> piece(size_t index) {
        for (auto at = held_.begin(); at != held_.end(); ++at) {
            if (at->first != index) continue;
            held_.splice(held_.begin(), held_, at);
            return &held_.front().second;
        }
        Result<Raster> raster = source_.load(index);
        if (!raster) return std::unexpected(raster.error());
        cv::Mat pixels = raster->pixels;
        if (ink_ == Ink::Colour && pixels.channels() == 1) cv::cvtColor(raster->pixels, pixels, cv::COLOR_GRAY2BGR);
        held_.emplace_front(index, pixels);
        size_t bytes = 0;
        for (auto at = held_.begin(); at != held_.end();) {
            bytes += at->second.total() * at->second.elemSize();
            if (bytes > source_.most_bytes && at != held_.begin())
                at = held_.erase(at);
            else
                ++at;
        }
        return &held_.front().second;
    }

  private:
    const StitchSource& source_;
    Ink ink_;
    std::list<std::pair<size_t, cv::Mat>> held_;
};

// Applies the tone correction to a part of the picture. `back` maps to pixels of the piece.
void even(cv::Mat& pixels, cv::Rect part, const Tones& tones, const cv::Matx33d& back, const PieceLook& look) {
    const int channels = pixels.channels();
    cv::parallel_for_({0, pixels.rows}, [&](const cv::Range& range) {
        for (int y = range.start; y < range.end; ++y) {
            uchar* row = pixels.ptr(y);
            for (int x = 0; x < pixels.cols; ++x) {
                const double px = part.x + x, py = part.y + y;
                const double u = 2 * (back(0, 0) * px + back(0, 1) * py + back(0, 2)) / look.width_px - 1;
                const double v = 2 * (back(1, 0) * px + back(1, 1) * py + back(1, 2)) / look.height_px - 1;
                for (int c = 0; c < channels; ++c) {
                    const size_t k = channels == 3 ? static_cast<size_t>(c) : 1;
                    uchar& value = row[x * channels + c];
                    value = cv::saturate_cast<uchar>(tones.gain_at(k, u, v) * value + tones.offset[k]);
                }
            }
        }
    });
}

class Composing {
  public:
    Composing(const Looks& looks, const Layout& layout, const std::vector<Tones>& tones, const SeamMap& seams,
              const StitchSource& source)
        : looks_(looks), layout_(layout), tones_(tones), seams_(seams), ink_(stitched_ink(looks, layout)),
          held_(source, ink_), channels_(ink_ == Ink::Colour ? 3 : 1) {
        share_.resize(looks.size());
        for (size_t i = 0; i < looks.size(); ++i) {
            maps_.push_back(layout.pieces[i].placed ? to_picture(layout, looks, i) : cv::Matx33d::eye());
            if (!layout.pieces[i].placed) continue;
            // The weight of the piece in each cell, smoothed.
            cv::Mat owned = (seams.owner == static_cast<double>(i)), share;
            owned.convertTo(share, CV_32F, 1 / 255.0);
            cv::GaussianBlur(share, share, {}, 0.8);
            share.setTo(0, share < 0.004);
            share_[i] = share;
        }
    }

    int type() const { return channels_ == 3 ? CV_8UC3 : CV_8UC1; }

    // Composes the part `part` of the picture in tiles.
    Result<cv::Mat> part(cv::Rect part) {
        cv::Mat out(part.size(), type(), cv::Scalar::all(outside));
        for (int y = 0; y < part.height; y += band_rows) {
            for (int x = 0; x < part.width; x += tile_columns) {
                const cv::Rect tile(x, y, std::min(tile_columns, part.width - x), std::min(band_rows, part.height - y));
                cv::Mat to = out(tile);
                if (const auto done = one_tile(tile + part.tl(), to); !done) return std::unexpected(done.error());
            }
        }
        if (ink_ == Ink::Black) cv::threshold(out, out, 127, 255, cv::THRESH_BINARY);
        return out;
    }

  private:
    const Looks& looks_;
    const Layout& layout_;
    const std::vector<Tones>& tones_;
    const SeamMap& seams_;
    Ink ink_;
    Held held_;
    int channels_;
    std::vector<cv::Matx33d> maps_; // pieces to the picture
    std::vector<cv::Mat> share_;

    cv::Rect cells_under(cv::Rect tile) const {
        const double cells = mm_per_inch / layout_.dpi / seams_.cell_mm;
        const int left = static_cast<int>(std::floor(tile.x * cells)) - 2,
                  top = static_cast<int>(std::floor(tile.y * cells)) - 2;
        const int right = static_cast<int>(std::ceil(tile.br().x * cells)) + 2,
                  bottom = static_cast<int>(std::ceil(tile.br().y * cells)) + 2;
        return cv::Rect(left, top, right - left, bottom - top) & cv::Rect({}, seams_.owner.size());
    }

    Result<void> sampled(size_t i, cv::Rect tile, cv::Mat& to) {
        const auto pixels = held_.piece(i);
        if (!pixels) return std::unexpected(pixels.error());
        const cv::Matx33d shift(1, 0, tile.x, 0, 1, tile.y, 0, 0, 1);
        resample(**pixels, to, maps_[i].inv() * shift, cv::Scalar::all(outside));
        if (!tones_[i].untouched()) even(to, tile, tones_[i], maps_[i].inv(), *looks_[i]);
        return {};
    }

    // Returns the weight of the piece: 1 inside, decreasing towards its edge.
    cv::Mat covered(size_t i, cv::Rect tile) const {
        const cv::Matx33d back = maps_[i].inv();
        cv::Mat out(tile.size(), CV_32F);
        const double right = looks_[i]->width_px - 1, bottom = looks_[i]->height_px - 1;
        for (int y = 0; y < tile.height; ++y) {
            auto* row = out.ptr<float>(y);
            double px = back(0, 0) * tile.x + back(0, 1) * (tile.y + y) + back(0, 2);
            double py = back(1, 0) * tile.x + back(1, 1) * (tile.y + y) + back(1, 2);
            for (int x = 0; x < tile.width; ++x, px += back(0, 0), py += back(1, 0))
                row[x] = px >= 0 && py >= 0 && px <= right && py <= bottom ? 1.0F : 0.0F;
        }
        return out;
    }

    cv::Mat share_in(size_t i, cv::Rect tile) const {
        const double cells = mm_per_inch / layout_.dpi / seams_.cell_mm;
        // Pixel x lies at (x + 0.5) · cells - 0.5 among the cells.
        const cv::Matx23d map(cells, 0, (tile.x + 0.5) * cells - 0.5, 0, cells, (tile.y + 0.5) * cells - 0.5);
        cv::Mat out;
        cv::warpAffine(share_[i], out, map, tile.size(), cv::INTER_LINEAR | cv::WARP_INVERSE_MAP, cv::BORDER_REPLICATE);
        return out.mul(covered(i, tile));
    }

    Result<void> one_tile(cv::Rect tile, cv::Mat& to) {
        const cv::Rect cells = cells_under(tile);
        if (cells.empty()) return {};
        std::vector<size_t> present;
        bool gaps = false;
        for (size_t i = 0; i < share_.size(); ++i)
            if (!share_[i].empty() && cv::countNonZero(share_[i](cells)) > 0) present.push_back(i);
        gaps = cv::countNonZero(seams_.owner(cells) == static_cast<double>(SeamMap::nobody)) > 0;
        if (present.size() == 1 && !gaps) return sampled(present.front(), tile, to);
        return blended(present, tile, to);
    }

    Result<void> blended(const std::vector<size_t>& present, cv::Rect tile, cv::Mat& to) {
        std::vector<cv::Mat> values, shares;
        for (const size_t i : present) {
            cv::Mat share = share_in(i, tile);
            if (cv::countNonZero(share) == 0) continue;
            cv::Mat value(tile.size(), type());
            if (const auto done = sampled(i, tile, value); !done) return done;
            values.push_back(value);
            shares.push_back(share);
        }
        if (values.empty()) return {};
        const cv::Mat unlike = difference(values, shares);
        for (int y = 0; y < tile.height; ++y) {
            const auto* off = unlike.ptr<float>(y);
            uchar* out = to.ptr(y);
            for (int x = 0; x < tile.width; ++x) {
                float sum = 0;
                std::array<float, 3> mixed{};
                // The more the pieces differ, the more the larger weight dominates.
                const float power = 1 + std::clamp((off[x] - 10) * 0.4F, 0.0F, 12.0F);
                for (size_t k = 0; k < values.size(); ++k) {
                    const float share = shares[k].at<float>(y, x);
                    if (share <= 0) continue;
                    const float weight = power > 1 ? std::pow(share, power) : share;
                    sum += weight;
                    const uchar* value = values[k].ptr(y) + static_cast<long>(x) * channels_;
                    for (int c = 0; c < channels_; ++c)
                        mixed[static_cast<size_t>(c)] += weight * static_cast<float>(value[c]);
                }
                if (sum <= 0) continue;
                for (int c = 0; c < channels_; ++c)
                    out[x * channels_ + c] = cv::saturate_cast<uchar>(mixed[static_cast<size_t>(c)] / sum);
            }
        }
        return {};
    }

    // Returns the difference between the pieces that share a pixel, over a small neighbourhood.
    cv::Mat difference(const std::vector<cv::Mat>& values, const std::vector<cv::Mat>& shares) const {
        cv::Mat high(values.front().size(), CV_8U, cv::Scalar(0)), low(values.front().size(), CV_8U, cv::Scalar(255));
        cv::Mat brighter, darker;
        for (size_t k = 0; k < values.size(); ++k) {
            cv::Mat grey = values[k];
            if (channels_ == 3) cv::cvtColor(values[k], grey, cv::COLOR_BGR2GRAY);
            const cv::Mat here = shares[k] > 0;
            cv::max(high, grey, brighter);
            cv::min(low, grey, darker);
            brighter.copyTo(high, here);
            darker.copyTo(low, here);
        }
        cv::Mat out;
        cv::subtract(high, low, out, cv::noArray(), CV_32F);
        cv::max(out, 0, out);
        cv::blur(out, out, {5, 5});
        return out;
    }
};

}

Ink stitched_ink(const Looks& looks, const Layout& layout) {
    Ink ink = Ink::Black;
    for (size_t i = 0; i < looks.size(); ++i)
        if (layout.pieces[i].placed) ink = std::min(ink, looks[i]->ink);
    return ink;
}

Result<void> compose(const Looks& looks, const Layout& layout, const std::vector<Tones>& tones, const SeamMap& seams,
                     const StitchSource& source, const RowSink& sink, const std::stop_token& stop,
                     const TellShare& progress) {
    Composing composing(looks, layout, tones, seams, source);
    for (int y = 0; y < layout.size.height; y += band_rows) {
        if (stop.stop_requested()) return stopped();
        const auto rows = composing.part({0, y, layout.size.width, std::min(band_rows, layout.size.height - y)});
        if (!rows) return std::unexpected(rows.error());
        if (const auto done = sink(*rows); !done) return done;
        if (progress) progress(std::min(1.0, static_cast<double>(y + band_rows) / layout.size.height));
    }
    return {};
}

Result<Raster> composed(const Looks& looks, const Layout& layout, const StitchSource& source) {
    const auto tones = even_tones(looks, layout);
    const SeamMap seams = choose_seams(looks, layout, tones);
    return composed_part(looks, layout, tones, seams, source, {0, 0, layout.size.width, layout.size.height});
}

Result<Raster> composed_part(const Looks& looks, const Layout& layout, const std::vector<Tones>& tones,
                             const SeamMap& seams, const StitchSource& source, cv::Rect part) {
    Composing composing(looks, layout, tones, seams, source);
    const auto pixels = composing.part(part);
    if (!pixels) return std::unexpected(pixels.error());
    return Raster{*pixels, layout.dpi, stitched_ink(looks, layout)};
}

}
