// Closing the window while work is under way: waits a moment for documents that are being saved; the rest continues at
// the next start.
#pragma once

#include <QObject>
#include <QString>
#include <QTimer>

#include <chrono>

namespace yelvin {

class Renaming;
class Saving;

class Closing : public QObject {
    Q_OBJECT
  public:
    // Time limits for work under way, and then for threads and disk.
    static constexpr std::chrono::milliseconds patience{3000}, to_end{2000};

    Closing(Saving& saving, Renaming& renaming, QObject* parent = nullptr);

    QString under_way() const; // "Saving 3 documents"; empty if nothing is under way
    bool is_asked_for() const { return is_asked_for_; }
    // Returns true if the window may close now; also when called a second time. Otherwise ready() is emitted as soon as
    // it may, unless stay() is called.
    bool ask();
    void stay();

  signals:
    void changed(); // under_way() or the state changed
    void ready();   // the window may close

  private:
    Saving& saving_;
    Renaming& renaming_;
    QTimer patience_;
    bool is_asked_for_ = false;

    void see();
};

}
