// A program that was started and goes its own way: told of only if it does not come to anything.
#pragma once

#include "app/models/outside.h"

#include <QObject>
#include <QTimer>

#include <chrono>

namespace yelvin {

class Started : public QObject {
  public:
    // Ends with `ended` once: the program's status when it is over within `patience`, 0 when it is still there then; -1
    // if it could not be started or fell. It is not waited for in the window's thread, and lives on when this is gone.
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
