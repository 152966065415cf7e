#include "app/window/page_keys.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/page_edits.h"
#include "app/page/page_view.h"
#include "app/window/view.h"

#include <QAbstractSpinBox>
#include <QApplication>
#include <QKeyEvent>

namespace yelvin {

namespace {

bool somebody_types() {
    const QWidget* focus = QApplication::focusWidget();
    // Widgets that accept text, such as a list with its own entry, have an input method enabled.
    return (focus && focus->testAttribute(Qt::WA_InputMethodEnabled)) || qobject_cast<const QAbstractSpinBox*>(focus) ||
           QApplication::activePopupWidget();
}

}

PageKeys::PageKeys(View& view, Choice& choice, PageEdits& edits)
    : QObject(&view), view_(view), choice_(choice), edits_(edits) {
    qApp->installEventFilter(this);
}

bool PageKeys::eventFilter(QObject* watched, QEvent* event) {
    const bool pressed = event->type() == QEvent::KeyPress;
    if ((!pressed && event->type() != QEvent::KeyRelease) || !view_.isActiveWindow() || somebody_types() ||
        view_.look() != Look::Page)
        return QObject::eventFilter(watched, event);
    return take(*static_cast<QKeyEvent*>(event), pressed, qobject_cast<QWidget*>(watched) != nullptr) ||
           QObject::eventFilter(watched, event);
}

// The event reaches the window first and then a widget (`at_widget`). Actions that must happen once happen at the
// widget.
bool PageKeys::take(const QKeyEvent& key, bool pressed, bool at_widget) {
    PageView& page = view_.page();
    if (key.key() == Qt::Key_Delete && pressed && at_widget) {
        edits_.remove();
        return true;
    }
    if (key.modifiers() != Qt::NoModifier) return false;
    if (key.key() == Qt::Key_B || key.key() == Qt::Key_L) {
        if (key.isAutoRepeat()) return true;
        key.key() == Qt::Key_B ? page.show_original(pressed) : page.show_loupe(pressed);
        return true;
    }
    const PageTool tool = key.key() == Qt::Key_C   ? PageTool::Crop
                          : key.key() == Qt::Key_F ? PageTool::Corners
                                                   : PageTool::None;
    if (tool == PageTool::None || !choice_.current()) return false;
    if (pressed && !key.isAutoRepeat() && at_widget) page.use_tool(page.tool() == tool ? PageTool::None : tool);
    return true;
}

}
