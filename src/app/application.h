// The window's application: no exception leaves an event, and the wheel changes no value by the way.
#pragma once

#include "app/models/messages.h"

#include <QApplication>

namespace yelvin {

class Application : public QApplication {
  public:
    Application(int& argc, char** argv);
    void set_messages(Messages* messages) { messages_ = messages; } // null: there are none any more
    bool notify(QObject* receiver, QEvent* event) override;
    // The wheel changes a slider, a number or a list only where it has the focus, and does not give it the focus: who
    // scrolls past one changes nothing.
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    Messages* messages_ = nullptr;
};

}
