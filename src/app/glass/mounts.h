// Painting corner mounts, as in a photo album, for frames on the glass and crops on a page.
#pragma once

#include <QColor>
#include <QPainter>
#include <QPolygonF>

#include <algorithm>

namespace yelvin {

inline const QColor on_picture("#7A2E5D"); // plum on pictures, which are light in the dark look too

inline void paint_mounts(QPainter& painter, const QRectF& frame, double thick) {
    constexpr double largest = 14;
    painter.setPen(Qt::NoPen);
    painter.setBrush(on_picture);
    const double size = std::min(largest, std::min(frame.width(), frame.height()) / 2);
    for (const int sx : {0, 1}) {
        for (const int sy : {0, 1}) {
            const QPointF corner(sx ? frame.right() : frame.left(), sy ? frame.bottom() : frame.top());
            const double dx = sx ? -1 : 1, dy = sy ? -1 : 1;
            const QPointF at = corner - QPointF(dx, dy) * 3;
            painter.drawPolygon(QPolygonF{at, at + QPointF(dx * size, 0), at + QPointF(dx * size, dy * thick),
                                          at + QPointF(dx * thick, dy * thick), at + QPointF(dx * thick, dy * size),
                                          at + QPointF(0, dy * size)});
        }
    }
}

}
