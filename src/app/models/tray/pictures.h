// Pictures of the tray's pages: thumbnails, made in the background and stored on disk, and parts of pages at any scale.
// Lives on the window's thread.
#pragma once

#include "app/models/tray/page_pictures.h"
#include "core/tray/tray.h"
#include "jobs/executor.h"

#include <QHash>
#include <QImage>
#include <QObject>
#include <QSet>

#include <memory>
#include <stop_token>

namespace yelvin {

class OutTray;
class Pools;

class Pictures : public QObject {
    Q_OBJECT
  public:
    Pictures(OutTray& tray, Pools& pools, QObject* parent = nullptr);

    // Returns the thumbnail. If it is not up to date, returns an older one or none, and emits ready() later.
    QImage thumbnail(const QString& page_id);
    void keep_thumbnail(const Page& page, const QImage& image); // of the developed page
    PagePictures* parts() { return parts_.get(); }              // null without a store

    // Computes a part of a page in the background and calls `then` on this thread; never if the page cannot be read.
    void cut_out(const PageLook& look, std::function<void(const QImage&)> then);

    // Counts the grey levels of the page after its geometry and before its tones. Emits levels_counted().
    void count_levels(const QString& page_id);

  signals:
    void ready(const QString& page_id);
    void levels_counted(const QString& page_id, const QList<int>& counts); // 256

  private:
    struct Thumbnail {
        Recipe recipe;
        QImage image;
        quint64 used = 0;
    };
    OutTray& tray_;
    Executor background_, here_;
    std::stop_token stop_;
    std::unique_ptr<PagePictures> parts_;
    QHash<QString, Thumbnail> thumbnails_;
    quint64 uses_ = 0;
    QSet<QString> asked_; // files of thumbnails that are being made

    QString file_of(const Page& page) const;
    void make(const PagePtr& page, const QString& file);
};

}
