// The window's application: no exception leaves an event, the wheel changes no value by the way, and Esc belongs to
// what is being typed.
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
    // scrolls past one changes nothing. Esc belongs first to what is being typed: an entry in which something was typed
    // gets back what stood in it, and nothing else happens. An entry with the property `own_escape` has Esc to itself.
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    Messages* messages_ = nullptr;

    bool filter_wheel(QWidget& widget, QEvent& event);
    bool filter_typing(QWidget& widget, QEvent& event);
};

}
