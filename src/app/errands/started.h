// Starting a program in a session of its own, and noticing if it fails at once. Lives on the window's thread.
#pragma once

#include <QObject>
#include <QTimer>

#include <chrono>
#include <functional>
#include <string>
#include <vector>

namespace yelvin {

class Started : public QObject {
  public:
    // Starts `command`, the program and its arguments. Calls `ended` once, later, unless `parent` is deleted before:
    // with the program's exit status if it ends within `patience`, with 0 if it still runs then, with -1 if it could
    // not be started or crashed. Does not block; the program outlives this object.
    static void begin(const std::vector<std::string>& command, std::chrono::milliseconds patience,
                      std::function<void(int status)> ended, QObject* parent);

  private:
    Started(int process, std::chrono::milliseconds patience, std::function<void(int)> ended, QObject* parent);
    void look();
    int process_;
    std::chrono::milliseconds left_;
    std::function<void(int)> ended_;
    QTimer timer_;
};

}
