// Stitching, measured in one run: the sets of the tests by us and by OpenCV's own Stitcher made for scans, and an A3
// sheet at 300 dpi from two scans in colour. Usage: yelvin-stitching-bench [a3]
#include "core/stitch/compose.h"
#include "support/pieces.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>
#include <opencv2/stitching.hpp>

#include <array>
#include <chrono>

using namespace yelvin;
using namespace yelvin::test;

namespace {

double seconds(const std::function<void()>& work) {
    const auto began = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
}

struct Outcome {
    double seconds = 0;
    size_t placed = 0, belonging = 0, strangers = 0;
    CornerErrors errors;
    // Whether every piece that belongs is placed, nothing else is, and none is off by a pixel or more at 150 dpi.
    bool solved() const { return placed == belonging && strangers == 0 && errors.worst_mm < mm_per_inch / 150; }
};

Outcome by_us(const PieceSet& set) {
    Outcome out;
    std::vector<PieceLookPtr> looks(set.pieces.size());
    Layout layout;
    out.seconds = seconds([&] {
        cv::parallel_for_({0, static_cast<int>(looks.size())}, [&](const cv::Range& range) {
            for (int i = range.start; i < range.end; ++i) {
                const auto k = static_cast<size_t>(i);
                looks[k] = look_at_piece(fmt::format("piece {}", i + 1), set.pieces[k].raster);
            }
        });
        layout = *find_layout(looks);
        const auto picture =
            composed(looks, layout, {[&](size_t i) -> Result<Raster> { return set.pieces[i].raster; }});
        if (!picture) std::abort();
    });
    std::vector<Pose> found, truth;
    std::vector<SizeMm> sizes;
    for (size_t i = 0; i < set.pieces.size(); ++i) {
        out.belonging += set.pieces[i].belongs;
        if (!layout.pieces[i].placed) continue;
        ++(set.pieces[i].belongs ? out.placed : out.strangers);
        if (!set.pieces[i].belongs) continue;
        found.push_back(layout.pieces[i].pose);
        truth.push_back(set.pieces[i].to_object);
        sizes.push_back(looks[i]->size);
    }
    out.errors = corner_errors(found, truth, sizes);
    return out;
}

// With its default settings, or helped: with six times as many features and a lower confidence threshold, without which
// it gives up on most sets.
Outcome by_opencv(const PieceSet& set, bool helped) {
    Outcome out;
    std::vector<cv::Mat> images;
    for (const TruePiece& piece : set.pieces) {
        cv::Mat colour = piece.raster.pixels;
        if (colour.channels() == 1) cv::cvtColor(piece.raster.pixels, colour, cv::COLOR_GRAY2BGR);
        images.push_back(colour);
        out.belonging += piece.belongs;
    }
    const auto stitcher = cv::Stitcher::create(cv::Stitcher::SCANS);
    if (helped) {
        stitcher->setFeaturesFinder(cv::ORB::create(3000));
        stitcher->setPanoConfidenceThresh(0.4);
    }
    bool estimated = false;
    cv::Mat picture;
    out.seconds = seconds([&] {
        try {
            estimated = stitcher->estimateTransform(images) == cv::Stitcher::OK;
            if (estimated) stitcher->composePanorama(picture);
        } catch (const cv::Exception&) {
            estimated = false;
        }
    });
    if (!estimated) return out;
    const auto cameras = stitcher->cameras();
    const auto component = stitcher->component();
    for (size_t k = 0; k < component.size(); ++k)
        ++(set.pieces[static_cast<size_t>(component[k])].belongs ? out.placed : out.strangers);
    // It is not documented which way the transforms lead, so the better of both interpretations counts.
    out.errors.worst_mm = 1e9;
    for (const bool inverse : {false, true}) {
        std::vector<cv::Point2d> found, truth;
        for (size_t k = 0; k < component.size(); ++k) {
            const TruePiece& piece = set.pieces[static_cast<size_t>(component[k])];
            if (!piece.belongs) continue;
            cv::Mat affine;
            cameras[k].R.convertTo(affine, CV_64F);
            if (inverse) affine = affine.inv();
            // The transforms belong to copies of 0.6 million pixels.
            const double work = std::min(1.0, std::sqrt(0.6e6 / static_cast<double>(piece.raster.pixels.total())));
            const double mm = mm_per_inch / piece.raster.dpi;
            const double w = piece.raster.width_px(), h = piece.raster.height_px();
            for (const cv::Point2d& c : {cv::Point2d(0, 0), {w, 0}, {w, h}, {0, h}}) {
                const cv::Mat at = affine * (cv::Mat_<double>(3, 1) << c.x * work, c.y * work, 1);
                found.emplace_back(at.at<double>(0) / work * mm, at.at<double>(1) / work * mm);
                truth.push_back(piece.to_object(c * mm));
            }
        }
        const CornerErrors errors = found.empty() ? CornerErrors{} : corner_errors(found, truth);
        if (errors.worst_mm < out.errors.worst_mm) out.errors = errors;
    }
    return out;
}

void a3() {
    const TempFolder folder;
    const PieceSet set = laid_in_pieces(folder.path(), "sheet", ObjectKind::Text, 21,
                                        {.columns = 2, .rows = 1, .most_tilt = 1, .dpi = 300, .glass = {216, 297}});
    std::vector<PieceLookPtr> looks;
    Layout layout;
    Raster picture;
    const double took = seconds([&] {
        for (const TruePiece& piece : set.pieces) looks.push_back(look_at_piece("piece", piece.raster));
        layout = *find_layout(looks);
        picture = *composed(looks, layout, {[&](size_t i) -> Result<Raster> { return set.pieces[i].raster; }});
    });
    fmt::print("  two scans of a sheet of {:.0f} x {:.0f} mm at 300 dpi in colour: {:.1f} s, picture {} x {}\n",
               set.size.width, set.size.height, took, picture.width_px(), picture.height_px());
}

}

int main(int argc, char** argv) {
    if (argc > 1 && std::string(argv[1]) == "a3") {
        a3();
        return 0;
    }
    const TempFolder folder;
    int sets = 0, solved = 0;
    struct Against {
        const char* name;
        bool helped;
        int solved = 0, placed_all = 0;
        double our_seconds = 0, its_seconds = 0, errors = 0;
    };
    std::array<Against, 2> others{{{"as it comes", false}, {"helped", true}}};
    for (const PieceSet& set : hard_sets(folder.path())) {
        const Outcome us = by_us(set);
        const auto words = [](const Outcome& o) {
            return fmt::format("{:2} of {:2}{} {:8.3f} px {:6.2f} s {}", o.placed, o.belonging,
                               o.strangers > 0 ? " and a stranger" : "", o.errors.worst_mm * 150 / mm_per_inch,
                               o.seconds, o.solved() ? "solved" : "      ");
        };
        fmt::print("  {:36} {}", set.name, words(us));
        ++sets;
        solved += us.solved();
        for (Against& other : others) {
            const Outcome them = by_opencv(set, other.helped);
            fmt::print("  |  {}", words(them));
            other.solved += them.solved();
            if (them.placed < them.belonging) continue; // it gave up: its time says nothing
            ++other.placed_all;
            other.our_seconds += us.seconds;
            other.its_seconds += them.seconds;
            other.errors += us.errors.mean_mm / std::max(1e-9, them.errors.mean_mm);
        }
        fmt::print("\n");
        std::fflush(stdout);
    }
    fmt::print("  solved: {} of {}\n", solved, sets);
    for (const Against& other : others) {
        fmt::print("  OpenCV's Stitcher for scans, {}: {} solved, all pieces placed in {}", other.name, other.solved,
                   other.placed_all);
        if (other.placed_all > 0)
            fmt::print(
                "; there, our time against its: {:.2f} (goal: at most 1), our mean error: {:.3f} (goal: under 1)",
                other.our_seconds / other.its_seconds, other.errors / other.placed_all);
        fmt::print("\n");
    }
    return 0;
}
