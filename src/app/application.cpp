#include "app/application.h"

#include "jobs/trouble.h"

#include <QAbstractSpinBox>
#include <QComboBox>
#include <QEvent>
#include <QKeyEvent>
#include <QLineEdit>
#include <QSlider>

namespace yelvin {

Application::Application(int& argc, char** argv) : QApplication(argc, argv) { installEventFilter(this); }

bool Application::eventFilter(QObject* watched, QEvent* event) {
    switch (event->type()) {
    case QEvent::Wheel:
    case QEvent::Polish:
        return watched->isWidgetType() && filter_wheel(*static_cast<QWidget*>(watched), *event);
    case QEvent::FocusIn:
    case QEvent::ShortcutOverride:
    case QEvent::KeyPress:
        return watched->isWidgetType() && filter_typing(*static_cast<QWidget*>(watched), *event);
    default:
        return false;
    }
}

bool Application::filter_wheel(QWidget& widget, QEvent& event) {
    const bool has_a_value = qobject_cast<QSlider*>(&widget) || qobject_cast<QAbstractSpinBox*>(&widget) ||
                             qobject_cast<QComboBox*>(&widget);
    if (!has_a_value) return false;
    if (event.type() == QEvent::Polish) {
        if (widget.focusPolicy() == Qt::WheelFocus) widget.setFocusPolicy(Qt::StrongFocus);
        return false;
    }
    if (widget.hasFocus()) return false;
    event.ignore(); // the list around it scrolls
    return true;
}

namespace {

// A property: the text that the entry held before something was typed.
constexpr const char* stood_there = "stood_there";

// Returns the entry to which this widget belongs; null if it is no entry.
QLineEdit* entry_of(QWidget& widget) {
    if (auto* entry = qobject_cast<QLineEdit*>(&widget)) return entry->isReadOnly() ? nullptr : entry;
    return qobject_cast<QAbstractSpinBox*>(&widget) ? widget.findChild<QLineEdit*>() : nullptr;
}

}

namespace {
// Passwords are never remembered, not even for undo.
bool is_secret(const QLineEdit& entry) {
    return entry.echoMode() != QLineEdit::Normal || (entry.inputMethodHints() & Qt::ImhSensitiveData);
}
}

bool Application::filter_typing(QWidget& widget, QEvent& event) {
    QLineEdit* entry = entry_of(widget);
    if (!entry) return false;
    const QString holds = is_secret(*entry) ? QString() : entry->text();
    if (event.type() == QEvent::FocusIn || !entry->isModified()) widget.setProperty(stood_there, holds);
    if (event.type() == QEvent::FocusIn) return false;
    const int key = static_cast<QKeyEvent&>(event).key();
    if (event.type() == QEvent::KeyPress && (key == Qt::Key_Return || key == Qt::Key_Enter))
        widget.setProperty(stood_there, holds); // Return accepts the text, so Escape no longer goes back behind it.
    if (key != Qt::Key_Escape) return false;
    const bool has_own = widget.property("own_escape").toBool();
    const QString before = widget.property(stood_there).toString();
    if (!has_own && entry->text() == before) return false;
    if (event.type() == QEvent::ShortcutOverride) {
        event.accept(); // Qt then sends the key to the entry instead of the window's shortcuts.
        return true;
    }
    if (has_own) return false;
    entry->setText(before);
    entry->selectAll();
    return true;
}

bool Application::notify(QObject* receiver, QEvent* event) {
    bool handled = false;
    const auto done = caught("the window", [&] { handled = QApplication::notify(receiver, event); });
    if (!done && messages_) messages_->complain(done.error());
    return handled;
}

}
