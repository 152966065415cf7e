#include "app/ticketbar/placement.h"

#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QPainter>
#include <QPainterPath>

namespace yelvin {

namespace {

struct PlacementText {
    Q_DECLARE_TR_FUNCTIONS(PlacementText)
};

void draw_arrow(QPainter& painter, QPointF from, QPointF to) {
    painter.drawLine(from, to);
    const QLineF line(to, from);
    for (const double turn : {28.0, -28.0}) {
        QLineF barb = line;
        barb.setLength(7);
        barb.setAngle(line.angle() + turn);
        painter.drawLine(barb);
    }
}

// Draws a sheet with a heading; a face-down sheet is empty.
void sheet(QPainter& painter, const QRectF& r, bool printed, bool head_down = false) {
    const auto& c = theme::colours();
    painter.setPen(QPen(c.ink, 1.5));
    painter.setBrush(c.paper);
    painter.drawRect(r);
    painter.setPen(QPen(printed ? c.ink : c.hairline, printed ? 2 : 1.5));
    const double step = r.height() / 6;
    for (int i = 1; i < 5; ++i) {
        const double y = head_down ? r.bottom() - i * step : r.top() + i * step;
        if (printed) painter.drawLine(QPointF(r.left() + 7, y), QPointF(r.right() - (i == 1 ? 22 : 7), y));
        painter.setPen(QPen(printed ? c.quiet : c.hairline, 1));
    }
}

}

QString placement_words(Source source, Flip flip, bool two_passes) {
    if (source == Source::Glass)
        return PlacementText::tr(
            "Face down, against the marked corner. Which way up does not matter: the page is turned by its text.");
    if (source == Source::HandFed) return PlacementText::tr("One sheet at a time, face up, top edge first.");
    if (two_passes)
        return PlacementText::tr(
            "Face up, top edge first: the fronts. Then turn the whole stack over without sorting it, "
            "put it back and scan the backs. Yelvin puts them in order.");
    if (source == Source::FeederBoth && flip == Flip::Notepad)
        return PlacementText::tr(
            "Face up, top edge first. Backs are printed the other way up, as in a notepad, and are turned.");
    return PlacementText::tr("Face up, top edge first, the stack pushed together. Sizes may be mixed.");
}

Placement::Placement(Source source, Flip flip, bool two_passes, QWidget* parent)
    : QWidget(parent), source_(source), flip_(flip), two_passes_(two_passes) {
    const bool narrow = source == Source::Glass || (source != Source::FeederBoth && !two_passes);
    setFixedSize(narrow ? 112 : sizeHint().width(), sizeHint().height());
    setAccessibleName(placement_words(source, flip, two_passes));
}

void Placement::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (source_ == Source::Glass) {
        const QRectF glass(20, 12, 76, 96);
        painter.setPen(QPen(c.ink, 1.5));
        painter.setBrush(c.table);
        painter.drawRect(glass);
        sheet(painter, {glass.left() + 3, glass.top() + 3, 54, 74}, false);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.plum);
        painter.drawPolygon(QPolygonF{glass.topLeft() + QPointF(-5, -5), glass.topLeft() + QPointF(15, -5),
                                      glass.topLeft() + QPointF(-5, 15)});
        return;
    }
    // Draws the feeder obliquely from above: a tray, the stack in it, and the direction of feeding.
    for (int i = 3; i >= 0; --i) sheet(painter, QRectF(24 + i * 2.5, 26 - i * 2.5, 52, 70), i == 0);
    painter.setPen(QPen(c.ink, 1.5));
    painter.setBrush(c.table);
    painter.drawRoundedRect(QRectF(14, 2, 84, 15), 3, 3);
    painter.setPen(QPen(c.plum, 2));
    draw_arrow(painter, {50, 60}, {50, 30});
    painter.setFont(theme::measure());
    if (two_passes_) {
        sheet(painter, QRectF(166, 26, 52, 70), false);
        painter.setPen(QPen(c.plum, 2));
        painter.setBrush(Qt::NoBrush);
        QPainterPath turn;
        turn.moveTo(90, 62);
        turn.cubicTo(108, 30, 140, 30, 156, 56);
        painter.drawPath(turn);
        draw_arrow(painter, {150, 46}, {157, 58});
        painter.setPen(c.quiet);
        painter.drawText(QRectF(84, 72, 80, 30), Qt::AlignHCenter, PlacementText::tr("turn over"));
    } else if (source_ == Source::FeederBoth) {
        sheet(painter, QRectF(120, 26, 44, 60), true);
        sheet(painter, QRectF(178, 26, 44, 60), true, flip_ == Flip::Notepad);
        painter.setPen(c.quiet);
        painter.drawText(QRectF(112, 90, 60, 16), Qt::AlignHCenter, PlacementText::tr("front"));
        painter.drawText(QRectF(170, 90, 60, 16), Qt::AlignHCenter, PlacementText::tr("back"));
    }
}

}
