#include "app/text/text_marks.h"

#include "app/theme/theme.h"

#include <QPainterPath>

namespace yelvin {

void paint_wave(QPainter& painter, const QRectF& word) {
    constexpr double step = 3, high = 2.2;
    const double y = word.bottom() + 1.5;
    QPainterPath wave(QPointF(word.left(), y));
    bool up = true;
    for (double x = word.left(); x < word.right(); x += step, up = !up)
        wave.quadTo(QPointF(x + step / 2, y + (up ? -high : high)), QPointF(std::min(x + step, word.right()), y));
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::colours().amber, 1.3));
    painter.drawPath(wave);
}

void paint_mark(QPainter& painter, const QRectF& word, WordMark mark) {
    const auto& c = theme::colours();
    const auto pale = [](QColor colour, int alpha) {
        colour.setAlpha(alpha);
        return colour;
    };
    painter.setPen(Qt::NoPen);
    switch (mark) {
    case WordMark::Chosen:
        painter.setBrush(pale(c.plum, 28));
        painter.setPen(QPen(c.plum, 1));
        break;
    case WordMark::Stretch:
        painter.setBrush(pale(c.plum, 52));
        break;
    case WordMark::Found:
        painter.setBrush(pale(c.amber, 70));
        break;
    case WordMark::Spoken:
        painter.setBrush(pale(c.moss, 60));
        break;
    }
    painter.drawRoundedRect(word.adjusted(-2, -1, 2, 1), 2, 2);
}

}
