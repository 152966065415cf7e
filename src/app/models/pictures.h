// Pictures of the tray's pages: thumbnails, made in the background and kept on disk, and any part of a page at any
// scale.
#pragma once

#include "app/models/page_pictures.h"
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

    // An older one, or none, until ready(id).
    QImage thumbnail(const QString& page_id);
    void keep_thumbnail(const Page& page, const QImage& image); // of the page as its recipe makes it
    PagePictures* parts() { return parts_.get(); }              // null without a place to keep pages

    // That part of the page in the background, and here then. Never where it cannot be read.
    void cut_out(const PageLook& look, std::function<void(const QImage&)> then);

    // How many dots of each brightness the page has as it lies, its tones untouched. Ends with levels_counted().
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
    QSet<QString> asked_; // files that are being made

    QString file_of(const Page& page) const;
    void make(const PagePtr& page, const QString& file);
};

}
