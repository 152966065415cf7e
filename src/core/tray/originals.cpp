// Originals on disk: written row by row, renamed when whole.
#include "core/tray/originals.h"
#include "core/raster/averaging.h"
#include "core/saving/safe_file.h"
#include "core/storage/new_id.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

namespace fs = std::filesystem;

namespace yelvin {

namespace {
constexpr int coarse_steps[] = {4, 16};
}

Result<OriginalWriter> OriginalWriter::begin(const fs::path& store_folder, int width_px, double dpi, Ink ink,
                                             FileSteps& steps) {
    Original original{new_id() + ".tif", width_px, 0, dpi, ink};
    fs::path growing = store_folder / (original.file + growing_suffix);
    auto rows = TiffRowWriter::create(growing, width_px, dpi, ink);
    if (!rows) return std::unexpected(rows.error());
    OriginalWriter writer(std::move(*rows), std::move(growing), std::move(original), steps);
    if (width_px < large_width_px) return writer;
    for (const int by : coarse_steps) {
        const fs::path file = coarse_file(store_folder, writer.original_, by);
        // Grey between black and white, because a coarse copy is only for the screen.
        auto coarse = TiffRowWriter::create(file, width_px / by, dpi / by, ink == Ink::Colour ? ink : Ink::Grey);
        if (!coarse) return std::unexpected(coarse.error());
        writer.coarse_.push_back({by, std::move(*coarse), {}, file});
    }
    return writer;
}

Result<void> OriginalWriter::append(const cv::Mat& rows) {
    for (CoarseRows& coarse : coarse_) {
        if (auto done = coarse.append(rows, false); !done) return done;
    }
    return rows_.append(rows);
}

Result<void> OriginalWriter::CoarseRows::append(const cv::Mat& more, bool last) {
    if (!more.empty()) {
        if (pending.empty())
            pending = more.clone();
        else
            pending.push_back(more);
    }
    const int blocks = pending.rows / by;
    if (blocks > 0) {
        const int width = pending.cols / by;
        const cv::Mat small = averaged(pending(cv::Rect(0, 0, width * by, blocks * by)), {width, blocks});
        if (auto done = rows.append(small); !done) return done;
        pending = pending.rows > blocks * by ? pending.rowRange(blocks * by, pending.rows).clone() : cv::Mat{};
    }
    return last && rows.rows_written() > 0 ? rows.finish() : Result<void>{};
}

OriginalWriter::~OriginalWriter() {
    std::error_code failure;
    if (!growing_.empty()) fs::remove(growing_, failure);
    for (const CoarseRows& coarse : coarse_) fs::remove(coarse.file, failure);
}

Result<Original> OriginalWriter::finish() {
    original_.height_px = rows_.rows_written();
    for (CoarseRows& coarse : coarse_) {
        if (auto done = coarse.append({}, true); !done) return std::unexpected(done.error());
    }
    if (auto done = rows_.finish(); !done) return std::unexpected(done.error());
    const fs::path whole = growing_.parent_path() / original_.file;
    if (auto moved = sync_and_rename(growing_, whole, *steps_); !moved) return std::unexpected(moved.error());
    growing_.clear();
    coarse_.clear();
    return original_;
}

Result<Original> keep_original(const fs::path& store_folder, const Raster& raster, FileSteps& steps) {
    auto writer = OriginalWriter::begin(store_folder, raster.width_px(), raster.dpi, raster.ink, steps);
    if (!writer) return std::unexpected(writer.error());
    if (auto done = writer->append(raster.pixels); !done) return std::unexpected(done.error());
    return writer->finish();
}

Result<Raster> read_original(const fs::path& store_folder, const Original& original) {
    return read_own_tiff(store_folder / original.file);
}

bool is_large(const Original& original) { return original.width_px >= large_width_px; }

fs::path coarse_file(const fs::path& store_folder, const Original& original, int by) {
    return store_folder / fmt::format("{}.by{}", original.file, by);
}

Result<Raster> read_coarse(const fs::path& store_folder, const Original& original, int by) {
    if (auto kept = read_own_tiff(coarse_file(store_folder, original, by))) return kept;
    // The copy was lost, or the original came from elsewhere: it is made again from bands of the original.
    Raster out;
    constexpr int band = 512;
    for (int top = 0; top < original.height_px; top += band) {
        auto rows = read_own_tiff_rows(store_folder / original.file, top, band);
        if (!rows) return rows;
        const int width = rows->width_px() / by, height = rows->height_px() / by;
        if (width == 0 || height == 0) break;
        out.pixels.push_back(averaged(rows->pixels(cv::Rect(0, 0, width * by, height * by)), {width, height}));
        out.dpi = original.dpi / by;
        out.ink = original.ink == Ink::Colour ? Ink::Colour : Ink::Grey;
    }
    if (out.empty()) return read_own_tiff(store_folder / original.file);
    return out;
}

}
