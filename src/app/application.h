// The QApplication of the window: catches exceptions of events, keeps the wheel from changing values that are only
// scrolled past, and gives Esc to the entry that is being edited.
#pragma once

#include "app/models/window/messages.h"

#include <QApplication>

namespace yelvin {

class Application : public QApplication {
  public:
    Application(int& argc, char** argv);
    void set_messages(Messages* messages) { messages_ = messages; } // null: they no longer exist
    bool notify(QObject* receiver, QEvent* event) override;
    // The wheel changes a slider, a number or a list only if it has the focus, and does not give it the focus. Esc in
    // an entry that was edited restores its old text and does nothing else; an entry with the property `own_escape`
    // handles Esc itself.
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    Messages* messages_ = nullptr;

    bool filter_wheel(QWidget& widget, QEvent& event);
    bool filter_typing(QWidget& widget, QEvent& event);
};

}
