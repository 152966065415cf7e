// What is still being done when the window is to close. Documents that are being saved are waited for a moment; what is
// not done by then goes on at the next start.
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
    // For what is under way, and then for the threads and the disk. Who closes the window waits for both together at
    // most.
    static constexpr std::chrono::milliseconds patience{3000}, to_end{2000};

    Closing(Saving& saving, Renaming& renaming, QObject* parent = nullptr);

    QString under_way() const; // "Saving 3 documents"; empty: nothing
    bool is_asked_for() const { return is_asked_for_; }
    // True: the window may close now. Else ready() comes as soon as it may, unless stay() is called; asked a second
    // time it may.
    bool ask();
    void stay();

  signals:
    void changed(); // all of the above
    void ready();   // to be closed

  private:
    Saving& saving_;
    Renaming& renaming_;
    QTimer patience_;
    bool is_asked_for_ = false;

    void see();
};

}
