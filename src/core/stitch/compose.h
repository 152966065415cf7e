// The pieces put into one picture, from the top downwards, a few rows at a time: what is in memory does not grow with
// the picture, only a few pieces are held at once.
//
// Each piece is resampled once (resample.h). Where seams run, neighbours are blended over about 1.5 mm; where they do
// not show the same there, no ghost is made: the one whose place it is wins.
#pragma once

#include "core/stitch/seams.h"

namespace yelvin {

struct StitchSource {
    std::function<Result<Raster>(size_t)> load; // piece by its number; asked for again where memory is short
    size_t most_bytes = 320U << 20;             // of pieces held at once; one is held in any case
};

// Rows of the picture (CV_8UC3, or CV_8UC1 where all pieces are grey or black), in order.
using RowSink = std::function<Result<void>(const cv::Mat& rows)>;

Ink stitched_ink(const std::vector<PieceLookPtr>& looks, const Layout& layout);

Result<void> compose(const std::vector<PieceLookPtr>& looks, const Layout& layout, const std::vector<Tones>& tones,
                     const SeamMap& seams, const StitchSource& source, const RowSink& sink,
                     const std::stop_token& stop = {}, const TellShare& progress = {});

// All of it at once, for what fits into memory; and a part of it (in dots of the picture), for looking.
Result<Raster> composed(const std::vector<PieceLookPtr>& looks, const Layout& layout, const StitchSource& source);
Result<Raster> composed_part(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                             const std::vector<Tones>& tones, const SeamMap& seams, const StitchSource& source,
                             cv::Rect part);

}
