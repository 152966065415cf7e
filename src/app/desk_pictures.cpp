// The desk's pictures of pages, made in the background, and what documents are called and how large they will be.
#include "app/desk.h"

#include "core/page/develop.h"
#include "core/saving/file_name.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>

namespace yelvin {

namespace {
constexpr int thumbnail_side = 192, most_thumbnails = 400;
}

QImage thumbnail_of(const Raster& original, const Recipe& recipe) {
    const double dpi = original.dpi * 2.0 * thumbnail_side / std::max(original.width_px(), original.height_px());
    return to_image(develop(at_resolution(original, dpi), recipe))
        .scaled(thumbnail_side, thumbnail_side, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

// ---- thumbnails

// Named by what it shows, so that a page that is turned back finds its old one.
QString Desk::thumbnail_file(const Original& original, const Recipe& recipe) const {
    const std::string key = original.file + to_json(recipe).dump();
    const QByteArray hash = QCryptographicHash::hash(QByteArrayView(key.data(), static_cast<qsizetype>(key.size())),
                                                     QCryptographicHash::Sha1);
    return QString::fromStdString((store_->folder() / "thumbnails").string()) + "/" + hash.toHex() + ".png";
}

void Desk::keep_thumbnail(const Page& page, const QImage& image) {
    if (image.isNull()) return;
    thumbnails_[QString::fromStdString(page.id)] = {page.recipe, image, ++thumbnail_uses_};
    if (thumbnails_.size() <= most_thumbnails) return;
    // Those that were not looked at for longest are on disk.
    auto oldest = thumbnails_.begin();
    for (auto at = thumbnails_.begin(); at != thumbnails_.end(); ++at) {
        if (at->used < oldest->used) oldest = at;
    }
    thumbnails_.erase(oldest);
}

QImage Desk::thumbnail(const QString& page_id) {
    const PagePtr page = page_at(tray_, page_id.toStdString());
    if (!page || !store_) return {};
    const auto at = thumbnails_.find(page_id);
    if (at != thumbnails_.end()) at->used = ++thumbnail_uses_;
    if (at != thumbnails_.end() && at->recipe == page->recipe) return at->image;
    const QString file = thumbnail_file(page->original, page->recipe);
    if (!asked_.contains(file)) {
        asked_.insert(file);
        picture_pool_.start([this, page, file, folder = store_->folder(), stop = work_stop_.get_token()] {
            if (stop.stop_requested()) return;
            step_back(2);
            QImage image(file);
            if (image.isNull()) {
                const auto original = is_large(page->original) ? read_coarse(folder, page->original, 16)
                                                               : read_original(folder, page->original);
                if (original) image = thumbnail_of(*original, page->recipe);
                QDir().mkpath(QFileInfo(file).path());
                QSaveFile kept(file);
                if (!image.isNull() && kept.open(QIODevice::WriteOnly) && image.save(&kept, "PNG")) kept.commit();
            }
            on_desk([this, page, file, image] {
                asked_.remove(file);
                keep_thumbnail(*page, image);
                if (!image.isNull()) emit picture_ready(QString::fromStdString(page->id));
            });
        });
    }
    // Until the new one is there the old one is better than nothing.
    return at != thumbnails_.end() ? at->image : QImage();
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
