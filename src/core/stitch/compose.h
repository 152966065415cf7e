// Composing the pieces into one picture, from the top downwards, a few rows at a time, so that memory does not grow
// with the picture; only a few pieces are held at once.
//
// Each piece is resampled once (resample.h). Along seams, neighbours are blended over about 1.5 mm; where they differ,
// the piece that owns the place wins, so that there are no ghosts.
//
// The functions block, use OpenCV's threads, and may be called on any thread.
#pragma once

#include "core/stitch/seams.h"

namespace yelvin {

struct StitchSource {
    std::function<Result<Raster>(size_t)> load; // loads a piece by its index; may be called several times for one piece
    size_t most_bytes = 320U << 20;             // of pieces held at the same time; at least one is held
};

// Receives the rows of the picture in order: CV_8UC3, or CV_8UC1 if no piece has colour.
using RowSink = std::function<Result<void>(const cv::Mat& rows)>;

// Returns the colour mode of the picture.
Ink stitched_ink(const std::vector<PieceLookPtr>& looks, const Layout& layout);

// Composes the picture and passes its rows to `sink`. Errors: those of `source` and `sink`; Stopped.
Result<void> compose(const std::vector<PieceLookPtr>& looks, const Layout& layout, const std::vector<Tones>& tones,
                     const SeamMap& seams, const StitchSource& source, const RowSink& sink,
                     const std::stop_token& stop = {}, const TellShare& progress = {});

// Returns the whole picture, which must fit into memory, or a part of it (in pixels of the picture) for display.
Result<Raster> composed(const std::vector<PieceLookPtr>& looks, const Layout& layout, const StitchSource& source);
Result<Raster> composed_part(const std::vector<PieceLookPtr>& looks, const Layout& layout,
                             const std::vector<Tones>& tones, const SeamMap& seams, const StitchSource& source,
                             cv::Rect part);

}
