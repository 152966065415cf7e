// The window's application: no exception leaves an event.
#pragma once

#include "app/models/messages.h"

#include <QApplication>

namespace yelvin {

class Application : public QApplication {
  public:
    using QApplication::QApplication;
    void set_messages(Messages* messages) { messages_ = messages; } // null: there are none any more
    bool notify(QObject* receiver, QEvent* event) override;

  private:
    Messages* messages_ = nullptr;
};

}
