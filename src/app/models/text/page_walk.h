// Visits the pages of a document one by one, each in a turn of the event loop, so that the window stays responsive.
// Used on the window's thread.
#pragma once

#include <QObject>
#include <QStringList>
#include <QTimer>

#include <functional>

namespace yelvin {

class PageWalk : public QObject {
    Q_OBJECT
  public:
    // Deletes itself after `done`. If it is deleted before, no function is called any more.
    PageWalk(const QStringList& page_ids, std::function<void(const QString& page_id)> each, std::function<void()> done,
             QObject* parent)
        : QObject(parent), page_ids_(page_ids) {
        connect(&turn_, &QTimer::timeout, this, [this, each = std::move(each), done = std::move(done)] {
            if (at_ < page_ids_.size()) return each(page_ids_[at_++]);
            turn_.stop();
            done();
            deleteLater();
        });
        turn_.start(0);
    }

  private:
    QStringList page_ids_;
    qsizetype at_ = 0;
    QTimer turn_;
};

}
