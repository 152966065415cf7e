// Small things that several panels are made of.
#pragma once

#include "app/theme/theme.h"

#include <QFrame>
#include <QLayout>

namespace yelvin::theme {

inline QFrame* hairline(QWidget* parent) {
    auto* line = new QFrame(parent);
    line->setFixedHeight(1);
    line->setStyleSheet(QString("background: %1").arg(colours().hairline.name()));
    return line;
}

// Everything in the layout goes, inner layouts too.
inline void clear(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        if (QLayout* inner = item->layout()) clear(inner);
        delete item;
    }
}

}
