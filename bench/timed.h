// Measures every event that the window handles.
#pragma once

#include <QApplication>
#include <QElapsedTimer>

#include <algorithm>

namespace yelvin {

inline double ms(const QElapsedTimer& clock) { return static_cast<double>(clock.nsecsElapsed()) / 1e6; }

class Timed : public QApplication {
  public:
    using QApplication::QApplication;
    double worst = 0; // ms
    bool notify(QObject* receiver, QEvent* event) override {
        QElapsedTimer clock;
        clock.start();
        const bool done = QApplication::notify(receiver, event);
        worst = std::max(worst, ms(clock));
        return done;
    }
};

}
