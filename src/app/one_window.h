// One window for an out tray: whoever starts Yelvin again brings the window that is there forward and hands it the
// files.
#pragma once

#include "core/tray/store_lock.h"

#include <QLocalServer>
#include <QObject>
#include <QStringList>

#include <chrono>
#include <memory>

namespace yelvin {

// What somebody started the program for.
struct Wish {
    QStringList files = {}; // to add; absolute names
    QString ticket = {};    // to choose, by its name
    bool scan = false;
};

class OneWindow : public QObject {
    Q_OBJECT
  public:
    // Becomes the window of the store in this folder, or hands `wish` to the one that is: then there is nothing left to
    // do, and null is given. While one is just opening it is waited for, `patience` long.
    static std::unique_ptr<OneWindow> become_or_hand_over(const QString& store_folder, const Wish& wish,
                                                          std::chrono::milliseconds patience);

  signals:
    void asked_for(const Wish& wish); // somebody started Yelvin again

  private:
    std::optional<StoreLock> lock_;
    QLocalServer server_;
    QStringList taken_; // ids of the latest wishes: each is taken once, however often it is handed over

    OneWindow() = default;
    void listen(const QString& name);
    void answer();
};

}
