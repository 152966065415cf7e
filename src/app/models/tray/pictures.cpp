#include "app/models/tray/pictures.h"

#include "app/models/threads/pools.h"
#include "app/models/tray/out_tray.h"
#include "core/developing/recipe_json.h"
#include "core/private_files.h"
#include "core/tray/originals.h"
#include "jobs/page_looker.h"
#include "jobs/trouble.h"

#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>
#include <QSaveFile>

#include <chrono>

namespace yelvin {

namespace {

constexpr int most_thumbnails = 400; // in memory

// Deletes thumbnails that were not used for a month. They are made again if their page still exists.
void forget_old_thumbnails(const std::filesystem::path& folder) {
    std::error_code failure;
    const auto month = std::chrono::hours(24 * 30);
    for (const auto& entry : std::filesystem::directory_iterator(folder, failure)) {
        if (std::filesystem::file_time_type::clock::now() - entry.last_write_time(failure) > month)
            std::filesystem::remove(entry.path(), failure);
    }
}

QImage kept_or_made(const Page& page, const QString& file, const std::filesystem::path& store_folder) {
    QImage image(file);
    if (!image.isNull()) return image;
    const auto original = is_large(page.original) ? read_coarse(store_folder, page.original, 16)
                                                  : read_original(store_folder, page.original);
    if (!original) return {};
    image = to_image(thumbnail_of(*original, page.recipe));
    make_private_folder(QFileInfo(file).path().toStdString());
    make_private_file(file.toStdString()); // QSaveFile keeps the permissions of the file that it replaces.
    QSaveFile kept(file);
    if (!image.isNull() && kept.open(QIODevice::WriteOnly) && image.save(&kept, "PNG")) kept.commit();
    return image;
}

}

Pictures::Pictures(OutTray& tray, Pools& pools, QObject* parent)
    : QObject(parent), tray_(tray), background_(pools.pictures()), here_(on_thread_of(this)),
      stop_(pools.stop_token()) {
    if (!tray_.has_store()) return;
    parts_ = std::make_unique<PagePictures>(tray_.store_folder(), pools.parts());
    background_([folder = tray_.store_folder() / "thumbnails"] { forget_old_thumbnails(folder); });
}

// ---- thumbnails

// The name is a digest of the page's content, so that a page that is changed back finds its earlier thumbnail.
QString Pictures::file_of(const Page& page) const {
    const std::string key = page.original.file + to_json(page.recipe).dump();
    const QByteArray hash = QCryptographicHash::hash(QByteArrayView(key.data(), static_cast<qsizetype>(key.size())),
                                                     QCryptographicHash::Sha1);
    return QString::fromStdString((tray_.store_folder() / "thumbnails").string()) + "/" + hash.toHex() + ".png";
}

void Pictures::keep_thumbnail(const Page& page, const QImage& image) {
    if (image.isNull()) return;
    thumbnails_[QString::fromStdString(page.id)] = {page.recipe, image, ++uses_};
    if (thumbnails_.size() <= most_thumbnails) return;
    // The least recently used thumbnail is dropped from memory; it is on the disk.
    auto oldest = thumbnails_.begin();
    for (auto at = thumbnails_.begin(); at != thumbnails_.end(); ++at) {
        if (at->used < oldest->used) oldest = at;
    }
    thumbnails_.erase(oldest);
}

QImage Pictures::thumbnail(const QString& page_id) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page || !tray_.has_store()) return {};
    const auto at = thumbnails_.find(page_id);
    if (at != thumbnails_.end()) at->used = ++uses_;
    if (at != thumbnails_.end() && at->recipe == page->recipe) return at->image;
    const QString file = file_of(*page);
    if (!asked_.contains(file)) {
        asked_.insert(file);
        make(page, file);
    }
    // The outdated thumbnail is shown until the new one is ready.
    return at != thumbnails_.end() ? at->image : QImage();
}

void Pictures::make(const PagePtr& page, const QString& file) {
    background_([this, page, file, folder = tray_.store_folder()] {
        if (stop_.stop_requested()) return;
        lower_priority(2);
        const auto made =
            caught("drawing a small picture", [&]() -> Result<QImage> { return kept_or_made(*page, file, folder); });
        here_([this, page, file, image = made.value_or(QImage())] {
            asked_.remove(file);
            keep_thumbnail(*page, image);
            if (!image.isNull()) emit ready(QString::fromStdString(page->id));
        });
    });
}

// ---- parts

void Pictures::cut_out(const PageLook& look, std::function<void(const QImage&)> then) {
    if (!parts_) return;
    background_([this, look, then = std::move(then)] {
        if (stop_.stop_requested()) return;
        const auto picture = caught("cutting a picture out", [&] { return parts_->picture_of(look); });
        if (!picture || picture->empty()) return;
        here_([then, image = to_image(*picture)] { then(image); });
    });
}

// ---- levels

void Pictures::count_levels(const QString& page_id) {
    const PagePtr page = tray_.page(page_id.toStdString());
    if (!page || !parts_) return;
    background_([this, page] {
        if (stop_.stop_requested()) return;
        constexpr int side = 500;
        const Original& o = page->original;
        const Recipe lying = geometry_of(page->recipe);
        const SizePx size = developed_size(lying, {o.width_px, o.height_px}, o.dpi);
        const double scale = std::min(1.0, static_cast<double>(side) / std::max(size.width, size.height));
        const auto picture = parts_->picture_of({page->id, o, lying, scale, {0, 0, side, side}});
        if (!picture || picture->empty()) return;
        QList<int> counts(256, 0);
        const cv::Mat grey = grey_pixels(*picture);
        for (int y = 0; y < grey.rows; ++y) {
            for (int x = 0; x < grey.cols; ++x) ++counts[grey.ptr(y)[x]];
        }
        here_([this, id = QString::fromStdString(page->id), counts] { emit levels_counted(id, counts); });
    });
}

}
