// Ensures one window for each out tray: starting Yelvin again raises the existing window and passes it the files. Used
// on the window's thread.
#pragma once

#include "core/storage/store_lock.h"

#include <QLocalServer>
#include <QObject>
#include <QStringList>

#include <chrono>
#include <memory>

namespace yelvin {

// The request of a start of the program.
struct Wish {
    QStringList files = {}; // files to add; absolute paths
    QString ticket = {};    // name of the ticket to choose
    bool scan = false;
};

class OneWindow : public QObject {
    Q_OBJECT
  public:
    // Becomes the window of the store in this folder and returns the object, or passes `wish` to the existing window
    // and returns null. Waits up to `patience` for a window that is just opening.
    static std::unique_ptr<OneWindow> become_or_hand_over(const QString& store_folder, const Wish& wish,
                                                          std::chrono::milliseconds patience);

  signals:
    void asked_for(const Wish& wish); // Yelvin was started again

  private:
    std::optional<StoreLock> lock_;
    QLocalServer server_;
    QStringList taken_; // ids of the latest requests; each is handled once

    OneWindow() = default;
    void listen(const QString& name);
    void answer();
};

}
