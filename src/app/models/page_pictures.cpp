#include "app/models/page_pictures.h"

#include "app/models/pools.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {
constexpr size_t most_bytes = 160U << 20, bytes_in_use = 2; // pyramids that stay whatever they take
constexpr int smallest_side = 1000;

// A picture and its halves, down to about the size of a window.
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
        if (std::exchange(wanted_, look)) return; // somebody is on the way to do it
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

Result<Raster> PagePictures::picture_of(const PageLook& look) {
    const std::scoped_lock working(work_);
    const auto pyramid = pyramid_of(look.original);
    if (!pyramid) return std::unexpected(pyramid.error());
    Pyramid& p = **pyramid;
    const Original& o = look.original;
    PartWanted wanted{{o.width_px, o.height_px}, o.dpi, look.scale, look.part};
    if (is_large(o) && !p.closer && look.scale * o.width_px > p.levels.front().width_px() * 1.02) {
        auto closer = read_coarse(folder_, o, 4);
        if (!closer) return closer;
        p.levels = halved(std::move(*closer));
        p.closer = true;
        measured_.reset();
    }
    const PageMeasure measure = measure_of(p, look.recipe);
    const double finest = static_cast<double>(p.levels.front().width_px()) / o.width_px;
    if (look.scale <= finest * 1.02 || finest >= 1) {
        // The coarsest level that is still as fine as the picture.
        size_t level = 0;
        while (level + 1 < p.levels.size() && p.levels[level + 1].width_px() >= look.scale * o.width_px * 0.98) ++level;
        return develop_part(p.levels[level], wanted, look.recipe, measure);
    }
    // Finer than what is in memory: the rows it takes, from the disk.
    const cv::Rect needed = original_part(wanted, look.recipe);
    if (needed.empty()) return Raster{};
    const bool held = !p.band.empty() && p.band_top <= needed.y && needed.br().y <= p.band_top + p.band.height_px();
    if (!held) {
        const int margin = std::min(600, needed.height / 2);
        p.band_top = std::max(0, needed.y - margin);
        auto rows = read_own_tiff_rows(folder_ / o.file, p.band_top, needed.height + 2 * margin);
        if (!rows) return rows;
        p.band = std::move(*rows);
    }
    const cv::Rect in_band(needed.x, needed.y - p.band_top, needed.width, needed.height);
    Raster part{p.band.pixels(in_band), p.band.dpi, p.band.ink};
    wanted.level_scale = 1;
    wanted.level_origin = needed.tl();
    if (look.scale < 0.5) {
        // Between the coarse copy and the dots: halves of what was read, as often as it takes.
        for (double at = 1; at / 2 >= look.scale && std::min(part.width_px(), part.height_px()) > 2; at /= 2) {
            cv::Mat half;
            const cv::Rect even(0, 0, part.width_px() / 2 * 2, part.height_px() / 2 * 2);
            cv::resize(part.pixels(even), half, {even.width / 2, even.height / 2}, 0, 0, cv::INTER_AREA);
            part.pixels = half;
            wanted.level_scale /= 2;
        }
        wanted.level_origin = {static_cast<int>(std::lround(needed.x * wanted.level_scale)),
                               static_cast<int>(std::lround(needed.y * wanted.level_scale))};
    }
    return develop_part(part, wanted, look.recipe, measure);
}

size_t PagePictures::Pyramid::bytes() const {
    size_t sum = band.pixels.total() * band.pixels.elemSize();
    for (const Raster& level : levels) sum += level.pixels.total() * level.pixels.elemSize();
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
    // Of a large one the coarsest copy is there at once; the finer one follows when somebody looks closer.
    auto finest = is_large(original) ? read_coarse(folder_, original, 16) : read_original(folder_, original);
    if (!finest) return std::unexpected(finest.error());
    made->levels = halved(std::move(*finest));
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

// Measured once for all tones that are tried on a page; the threshold of a black page is found for each.
PageMeasure PagePictures::measure_of(const Pyramid& pyramid, const Recipe& recipe) {
    const Recipe key = measured_by(recipe);
    if (!measured_ || measured_->file != pyramid.original.file || measured_->by != key)
        measured_ = {pyramid.original.file, key, measured_on(pyramid.coarse, recipe)};
    PageMeasure measure = measured_->measure;
    measure_threshold(measure, pyramid.levels.front(), recipe);
    return measure;
}

}
