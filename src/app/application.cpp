#include "app/application.h"

#include "jobs/trouble.h"

namespace yelvin {

bool Application::notify(QObject* receiver, QEvent* event) {
    bool handled = false;
    const auto done = caught("the window", [&] { handled = QApplication::notify(receiver, event); });
    if (!done && messages_) messages_->complain(done.error());
    return handled;
}

}
