#include "app/models/tray/page_pictures.h"

#include "app/models/threads/pools.h"
#include "core/raster/averaging.h"
#include "core/tray/originals.h"

#include <opencv2/imgproc.hpp>

#include <iterator>

namespace yelvin {

namespace {
constexpr size_t most_bytes = 160U << 20, bytes_in_use = 2; // pyramids that stay whatever they take
constexpr int smallest_side = 1000;

// Returns the picture and copies of half, a quarter, … of its size, down to about the size of a window.
std::vector<Raster> halved(Raster finest) {
    std::vector<Raster> levels{std::move(finest)};
    while (std::max(levels.back().width_px(), levels.back().height_px()) > smallest_side) {
        const Raster& from = levels.back();
        Raster half{{}, from.dpi / 2, from.ink == Ink::Black ? Ink::Grey : from.ink};
        cv::resize(from.pixels, half.pixels, {(from.width_px() + 1) / 2, (from.height_px() + 1) / 2}, 0, 0,
                   cv::INTER_AREA);
        levels.push_back(std::move(half));
    }
    return levels;
}
}

namespace {

// The coarsest level that is at least as wide as `width_px`.
const Raster& level_for(const std::vector<Raster>& levels, double width_px) {
    size_t level = 0;
    while (level + 1 < levels.size() && levels[level + 1].width_px() >= width_px * 0.98) ++level;
    return levels[level];
}

// Pixels of `level` per pixel of the original. `finest_scale` is the same for the finest level.
cv::Point2d scale_of(const Raster& level, const Raster& finest, cv::Point2d finest_scale) {
    return {finest_scale.x * level.width_px() / finest.width_px(),
            finest_scale.y * level.height_px() / finest.height_px()};
}

}

QImage to_image(const Raster& raster) {
    if (raster.empty()) return {};
    const cv::Mat& m = raster.pixels;
    const auto format = m.channels() == 3 ? QImage::Format_BGR888 : QImage::Format_Grayscale8;
    return QImage(m.data, m.cols, m.rows, static_cast<qsizetype>(m.step), format).copy();
}

PagePictures::PagePictures(std::filesystem::path store_folder, Executor background, QObject* parent)
    : QObject(parent), folder_(std::move(store_folder)), background_(std::move(background)), here_(on_thread_of(this)) {
}

void PagePictures::look(const PageLook& look) {
    {
        const std::scoped_lock lock(lock_);
        if (std::exchange(wanted_, look)) return; // A task that has not started yet will use the new value.
    }
    background_([this] { work(); });
}

void PagePictures::work() {
    std::optional<PageLook> look;
    {
        const std::scoped_lock lock(lock_);
        look = std::exchange(wanted_, std::nullopt);
    }
    if (!look) return;
    const auto picture = picture_of(*look);
    if (picture)
        here_([this, look = *look, image = to_image(*picture)] { emit ready(look, image); });
    else
        here_([this, look = *look, words = QString::fromStdString(picture.error().sentence)] {
            emit unreadable(look, words);
        });
}

namespace {

constexpr int quarter = 4; // a large original's finer copy has a pixel for so many of its own, across and down

bool is_near(const PageLook& look) { return look.scale * quarter > 1.02; }

// Whether the recipe changes pixels of a black original. If not, the page is the original, cropped and rotated.
bool changes_pixels(const Recipe& recipe) {
    return recipe.tilt_degrees != 0 || recipe.flatten || recipe.rim_mm > 0 || recipe.adjust.specks_mm > 0;
}

}

Result<Raster> PagePictures::picture_of(const PageLook& wanted_look) {
    const std::scoped_lock working(work_);
    PageLook look = wanted_look;
    const auto pyramid = pyramid_of(look.original);
    if (!pyramid) return std::unexpected(pyramid.error());
    Pyramid& p = **pyramid;
    const Original& o = look.original;
    const bool is_made_black = o.ink != Ink::Black && look.recipe.ink == Ink::Black;
    if (!is_large(o) && (o.ink == Ink::Black || (is_made_black && !look.is_quick))) return of_black_page(p, look);
    if (o.ink == Ink::Black) {
        if (is_near(look) || changes_pixels(look.recipe)) return of_large_black_page(p, look, {});
        // The reduced copies are grey. No tone corrections are applied, because a black page has no tones.
        look.recipe.adjust = {};
        look.recipe.ink.reset();
    }
    PartWanted wanted{{o.width_px, o.height_px}, o.dpi, look.scale, look.part};
    if (is_large(o) && !p.closer && look.scale * o.width_px > p.levels.front().width_px() * 1.02) {
        auto closer = read_coarse(folder_, o, quarter);
        if (!closer) return closer;
        p.levels = halved(std::move(*closer));
        p.finest_scale = {1.0 / quarter, 1.0 / quarter};
        p.closer = true;
        measured_.reset();
    }
    const PageMeasure measure = measure_of(p, look.recipe);
    if (is_made_black && is_large(o) && is_near(look)) return of_large_black_page(p, look, measure);
    if (look.scale > p.finest_scale.x * 1.02 && p.finest_scale.x < 1) return from_disk(p, wanted, look, measure);
    const Raster& level = level_for(p.levels, look.scale * o.width_px);
    wanted.level_scale = scale_of(level, p.levels.front(), p.finest_scale);
    return develop_part(level, wanted, look.recipe, measure);
}

// Develops a part that is finer than the copies in memory, from rows that are read from the disk.
Result<Raster> PagePictures::from_disk(Pyramid& p, PartWanted wanted, const PageLook& look,
                                       const PageMeasure& measure) {
    const Original& o = look.original;
    cv::Rect needed = original_part(wanted, look.recipe);
    if (needed.empty()) return Raster{};
    // Halved as often as the scale allows, from a whole-pixel position. Otherwise the picture would shift by a fraction
    // of a pixel between views.
    int by = 1;
    while (look.scale * by * 2 <= 1) by *= 2;
    const cv::Point from(needed.x / by * by, needed.y / by * by);
    needed = cv::Rect(from, cv::Point(std::min(o.width_px, (needed.br().x + by - 1) / by * by),
                                      std::min(o.height_px, (needed.br().y + by - 1) / by * by)));
    auto pixels = pixels_of(p, needed);
    if (!pixels) return std::unexpected(pixels.error());
    Raster part{std::move(*pixels), o.dpi, o.ink};
    const cv::Size whole(needed.width / by, needed.height / by); // blocks
    if (by > 1 && !whole.empty()) {
        cv::Mat small;
        cv::resize(part.pixels(cv::Rect(0, 0, whole.width * by, whole.height * by)), small, whole, 0, 0,
                   cv::INTER_AREA);
        part.pixels = small;
    }
    wanted.level_scale = {1.0 / by, 1.0 / by};
    wanted.level_origin = needed.tl() / by;
    return develop_part(part, wanted, look.recipe, measure);
}

// Returns a part of the original at full resolution.
Result<cv::Mat> PagePictures::pixels_of(Pyramid& p, const cv::Rect& needed) {
    constexpr int block_rows = 256;
    constexpr size_t most_block_bytes = 96U << 20;
    cv::Mat out;
    const int first = needed.y / block_rows, last = (needed.br().y - 1) / block_rows;
    for (int number = first; number <= last; ++number) {
        if (!p.blocks.contains(number)) {
            auto rows = read_own_tiff_rows(folder_ / p.original.file, number * block_rows, block_rows);
            if (!rows) return std::unexpected(rows.error());
            p.blocks[number] = rows->pixels;
        }
        const cv::Mat& block = p.blocks[number];
        if (out.empty()) out.create(needed.size(), block.type());
        const int top = number * block_rows, from = std::max(needed.y, top),
                  to = std::min(needed.br().y, top + block.rows);
        block(cv::Rect(needed.x, from - top, needed.width, to - from))
            .copyTo(out.rowRange(from - needed.y, to - needed.y));
    }
    // The blocks farthest from the visible part are released first.
    const auto bytes_of_blocks = [&] {
        size_t sum = 0;
        for (const auto& [number, block] : p.blocks) sum += block.total() * block.elemSize();
        return sum;
    };
    while (bytes_of_blocks() > most_block_bytes &&
           (p.blocks.begin()->first < first || p.blocks.rbegin()->first > last)) {
        const int above = first - p.blocks.begin()->first, below = p.blocks.rbegin()->first - last;
        p.blocks.erase(above > below ? p.blocks.begin() : std::prev(p.blocks.end()));
    }
    return out;
}

// Develops the whole page, once per recipe, and returns the visible part.
Raster PagePictures::of_black_page(Pyramid& p, const PageLook& look) {
    if (p.page.empty() || p.page_by != look.recipe) {
        p.page = halved(develop(p.levels.front(), look.recipe));
        p.page_by = look.recipe;
        p.page_seen = {};
    }
    return seen_of_page(p, look);
}

namespace {

SizePx page_at(const PageLook& look, double scale) {
    const Original& o = look.original;
    const SizePx page = developed_size(look.recipe, {o.width_px, o.height_px}, o.dpi);
    const auto scaled_to = [&](int px) { return std::max(1, static_cast<int>(std::lround(px * scale))); };
    return {scaled_to(page.width), scaled_to(page.height)};
}

}

Raster PagePictures::seen_of_page(Pyramid& p, const PageLook& look) {
    const SizePx wanted = page_at(look, look.scale);
    const cv::Size size(wanted.width, wanted.height);
    if (p.page_seen.pixels.size() != size) {
        // Pixels are averaged, so that the picture is as dark as the page.
        const Raster& level = level_for(p.page, size.width);
        cv::Mat seen = level.pixels;
        if (seen.size() != size) {
            seen.release();
            cv::resize(level.pixels, seen, size, 0, 0, cv::INTER_AREA);
        }
        p.page_seen = {seen, look.original.dpi * look.scale,
                       seen.data == p.page.front().pixels.data ? p.page.front().ink : Ink::Grey};
    }
    Raster part = p.page_seen;
    part.pixels = p.page_seen.pixels(look.part & cv::Rect({}, size));
    return part;
}

// Returns a part of the page exactly as it will be in the file. `part` is in pixels of the page.
Result<Raster> PagePictures::black_part(Pyramid& p, const PageLook& look, const cv::Rect& part,
                                        const PageMeasure& measure) {
    const Original& o = look.original;
    PartWanted wanted{{o.width_px, o.height_px}, o.dpi, 1, part};
    const cv::Rect needed = original_part(wanted, look.recipe);
    if (needed.empty()) return Raster{};
    auto pixels = pixels_of(p, needed);
    if (!pixels) return std::unexpected(pixels.error());
    wanted.level_scale = {1, 1};
    wanted.level_origin = needed.tl();
    return develop_part({std::move(*pixels), o.dpi, o.ink}, wanted, look.recipe, measure);
}

// At a large scale, computed from the pixels of the visible part. At a small scale, from a copy of the page in quarter
// size, which is assembled from bands once per recipe.
Result<Raster> PagePictures::of_large_black_page(Pyramid& p, const PageLook& look, const PageMeasure& measure) {
    constexpr int band = 512; // rows of the quarter
    const SizePx page = page_at(look, 1), size = page_at(look, look.scale);
    if (is_near(look)) {
        const cv::Rect part = look.part & cv::Rect(0, 0, size.width, size.height);
        const cv::Point2d step(static_cast<double>(page.width) / size.width,
                               static_cast<double>(page.height) / size.height);
        const cv::Point2d from(part.x * step.x, part.y * step.y);
        const cv::Rect whole(cv::Point(cvFloor(from.x), cvFloor(from.y)),
                             cv::Point(cvCeil(part.br().x * step.x), cvCeil(part.br().y * step.y)));
        auto pixels = black_part(p, look, whole & cv::Rect(0, 0, page.width, page.height), measure);
        if (!pixels || pixels->empty() || look.scale == 1) return pixels;
        return Raster{averaged(pixels->pixels, part.size(), std::max(1.0, step.x), std::max(1.0, step.y),
                               {from.x - whole.x, from.y - whole.y}),
                      look.original.dpi * look.scale, Ink::Grey};
    }
    if (p.page.empty() || p.page_by != look.recipe) {
        const SizePx small = page_at(look, 1.0 / quarter);
        const double down = static_cast<double>(page.height) / small.height;
        Raster all{cv::Mat(small.height, small.width, CV_8UC1), look.original.dpi / quarter, Ink::Grey};
        for (int top = 0; top < small.height; top += band) {
            const int bottom = std::min(small.height, top + band);
            const cv::Rect rows(cv::Point(0, cvFloor(top * down)), cv::Point(page.width, cvCeil(bottom * down)));
            const auto pixels = black_part(p, look, rows & cv::Rect(0, 0, page.width, page.height), measure);
            if (!pixels) return pixels;
            if (pixels->empty()) return Raster{};
            averaged(pixels->pixels, {small.width, bottom - top}, static_cast<double>(page.width) / small.width, down,
                     {0, top * down - rows.y})
                .copyTo(all.pixels.rowRange(top, bottom));
        }
        p.page = halved(std::move(all));
        p.page_by = look.recipe;
        p.page_seen = {};
    }
    return seen_of_page(p, look);
}

size_t PagePictures::Pyramid::bytes() const {
    size_t sum = page_seen.pixels.total();
    for (const auto& [number, block] : blocks) sum += block.total() * block.elemSize();
    for (const std::vector<Raster>* each : {&levels, &page})
        for (const Raster& level : *each) sum += level.pixels.total() * level.pixels.elemSize();
    return sum;
}

size_t PagePictures::bytes_held() const {
    const std::scoped_lock lock(lock_);
    size_t sum = 0;
    for (const auto& pyramid : pyramids_) sum += pyramid->bytes();
    return sum;
}

Result<PagePictures::PyramidPtr> PagePictures::pyramid_of(const Original& original) {
    {
        const std::scoped_lock lock(lock_);
        const auto at =
            std::ranges::find_if(pyramids_, [&](const auto& p) { return p->original.file == original.file; });
        if (at != pyramids_.end()) {
            pyramids_.splice(pyramids_.begin(), pyramids_, at);
            return pyramids_.front();
        }
    }
    auto made = std::make_shared<Pyramid>();
    made->original = original;
    // For a large original only the coarsest copy is read now; the finer one is read when the user zooms in.
    auto finest = is_large(original) ? read_coarse(folder_, original, 16) : read_original(folder_, original);
    if (!finest) return std::unexpected(finest.error());
    made->levels = halved(std::move(*finest));
    if (is_large(original)) made->finest_scale = {1.0 / 16, 1.0 / 16};
    made->coarse = at_resolution(made->levels.front(), measuring_dpi);
    const std::scoped_lock lock(lock_);
    pyramids_.push_front(made);
    size_t sum = 0, count = 0;
    std::erase_if(pyramids_, [&](const auto& p) {
        sum += p->bytes();
        return ++count > bytes_in_use && sum > most_bytes;
    });
    return made;
}

// Measured once for all tone corrections of a page, except the threshold of a black page, which depends on them.
PageMeasure PagePictures::measure_of(const Pyramid& pyramid, const Recipe& recipe) {
    const Recipe key = measured_by(recipe);
    if (!measured_ || measured_->file != pyramid.original.file || measured_->by != key)
        measured_ = {pyramid.original.file, key, measured_on(pyramid.coarse, recipe)};
    PageMeasure measure = measured_->measure;
    measure_threshold(measure, pyramid.levels.front(), recipe);
    return measure;
}

}
