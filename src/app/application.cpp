#include "app/application.h"

#include "jobs/trouble.h"

#include <QAbstractSpinBox>
#include <QComboBox>
#include <QEvent>
#include <QSlider>

namespace yelvin {

Application::Application(int& argc, char** argv) : QApplication(argc, argv) { installEventFilter(this); }

bool Application::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::Wheel && event->type() != QEvent::Polish) return false;
    const bool has_a_value = qobject_cast<QSlider*>(watched) || qobject_cast<QAbstractSpinBox*>(watched) ||
                             qobject_cast<QComboBox*>(watched);
    if (!has_a_value) return false;
    auto* widget = static_cast<QWidget*>(watched);
    if (event->type() == QEvent::Polish) {
        if (widget->focusPolicy() == Qt::WheelFocus) widget->setFocusPolicy(Qt::StrongFocus);
        return false;
    }
    if (widget->hasFocus()) return false;
    event->ignore(); // the list around it scrolls
    return true;
}

bool Application::notify(QObject* receiver, QEvent* event) {
    bool handled = false;
    const auto done = caught("the window", [&] { handled = QApplication::notify(receiver, event); });
    if (!done && messages_) messages_->complain(done.error());
    return handled;
}

}
