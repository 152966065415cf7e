#include "app/theme/popup.h"

namespace yelvin::theme {

Popup::Popup(QWidget* parent) : QFrame(parent, Qt::Popup | Qt::FramelessWindowHint) {
    setObjectName("sheet");
    setProperty("sheet", true);
    setAttribute(Qt::WA_DeleteOnClose);
}

void Popup::open_in_the_middle(int below_top_px) {
    adjustSize();
    const QRect around = parentWidget()->window()->geometry();
    move(around.center().x() - width() / 2, around.top() + below_top_px);
    show();
}

}
