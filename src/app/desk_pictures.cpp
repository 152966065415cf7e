// The desk's pictures of pages, made in the background, and what documents are called and how large they will be.
#include "app/desk.h"

#include "core/page/develop.h"
#include "core/saving/file_name.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

QImage to_image(const Raster& raster) {
    if (raster.empty()) return {};
    const cv::Mat& m = raster.pixels;
    const auto format = m.channels() == 3 ? QImage::Format_BGR888 : QImage::Format_Grayscale8;
    return QImage(m.data, m.cols, m.rows, static_cast<qsizetype>(m.step), format).copy();
}

Levels levels_of(const Raster& raster) {
    Levels levels{to_image(raster)};
    cv::Mat pixels = raster.pixels;
    while (std::max(pixels.cols, pixels.rows) > 1000) {
        cv::Mat half;
        cv::resize(pixels, half, {(pixels.cols + 1) / 2, (pixels.rows + 1) / 2}, 0, 0, cv::INTER_AREA);
        pixels = half;
        levels.append(to_image({pixels, raster.dpi, raster.ink}));
    }
    return levels;
}

QImage thumbnail_of(const Raster& original, const Recipe& recipe) {
    constexpr int side = 192;
    const double dpi = original.dpi * 2.0 * side / std::max(original.width_px(), original.height_px());
    return to_image(develop(at_resolution(original, dpi), recipe))
        .scaled(side, side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

// ---- pictures

Levels Desk::picture(QHash<QString, Picture>& cache, const QString& page_id, const Recipe& recipe, int longest_side,
                     const QString& kind) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || !store_) return {};
    const auto at = cache.constFind(page_id);
    if (at != cache.constEnd() && at->recipe == recipe) return at->levels;
    const QString asked = kind + page_id + QString::fromStdString(to_json(recipe).dump());
    if (!asked_.contains(asked)) {
        asked_.insert(asked);
        const auto work = [this, &cache, page_id, file = page->original, recipe, longest_side, asked,
                           folder = store_->folder(), stop = work_stop_.get_token()] {
            if (stop.stop_requested()) return;
            step_back(2);
            Levels levels;
            if (auto original = read_original(folder, file)) {
                levels =
                    longest_side > 0 ? Levels{thumbnail_of(*original, recipe)} : levels_of(develop(*original, recipe));
            }
            on_desk([this, &cache, page_id, recipe, levels, asked, longest_side] {
                asked_.remove(asked);
                cache[page_id] = {recipe, levels};
                if (longest_side == 0) forget_old_pictures(page_id);
                emit picture_ready(page_id);
            });
        };
        picture_pool_.start(work, longest_side == 0 ? 1 : 0); // what is looked at comes before thumbnails
    }
    // Until the new one is there the old one is better than nothing.
    return at != cache.constEnd() ? at->levels : Levels();
}

// Large pictures take memory: the last few only.
void Desk::forget_old_pictures(const QString& latest) {
    picture_order_.removeAll(latest);
    picture_order_.append(latest);
    while (picture_order_.size() > 4) {
        const QString oldest = picture_order_.takeFirst();
        pictures_.remove(oldest);
        originals_.remove(oldest);
    }
}

Levels Desk::page_picture(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    return page ? picture(pictures_, page_id, page->recipe, 0, "page") : Levels();
}
Levels Desk::original_picture(const QString& page_id) { return picture(originals_, page_id, {}, 0, "original"); }
QImage Desk::thumbnail(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    const Levels levels = page ? picture(thumbnails_, page_id, page->recipe, 192, "thumb") : Levels();
    return levels.isEmpty() ? QImage() : levels.front();
}

std::optional<TextLayer> Desk::text_of(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || !store_) return std::nullopt;
    return store_->text(page->id, page->recipe, languages_key());
}

// ---- names and sizes

QString Desk::title_of(const Document& document) const {
    if (!document.name.empty()) return QString::fromStdString(document.name);
    // Documents without a name of their own will be numbered in the order in which they lie, each kind by itself.
    const auto parts = with_barcode(ticket_.save.name, document.barcode);
    int before = 0;
    for (const auto& other : tray_.documents) {
        if (other->id == document.id) break;
        const bool counts = other->name.empty() && other->saved_as.empty() && !other->kept_pages().empty();
        if (counts && with_barcode(ticket_.save.name, other->barcode) == parts) ++before;
    }
    return QString::fromStdString(numbered_name(parts, today(), next_number_of(parts), before));
}

Ticket::Make Desk::make_of(const Document& document) const {
    const auto pages = document.kept_pages();
    const bool photographs = !pages.empty() && std::ranges::all_of(pages, [](const PagePtr& page) {
        return page->noticed && page->notices.kind == PageKind::Photo;
    });
    return make_for(ticket_.make, photographs);
}

double Desk::estimated_bytes(const Document& document) const {
    double bytes = 0;
    const Ticket::Make make = make_of(document);
    for (const auto& page : document.kept_pages()) {
        const Original& o = page->original;
        const SizePx px = developed_size(page->recipe, {o.width_px, o.height_px}, o.dpi);
        bytes += estimates_.page_bytes(make, ticket_.name, {px_to_mm(px.width, o.dpi), px_to_mm(px.height, o.dpi)},
                                       o.dpi, page->recipe.ink.value_or(o.ink));
    }
    return bytes;
}

}
