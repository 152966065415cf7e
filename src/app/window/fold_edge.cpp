#include "app/window/fold_edge.h"

#include "app/keys.h"
#include "app/models/window/room.h"
#include "app/theme/theme.h"

#include <QPainter>

namespace yelvin {

namespace {
constexpr int edge_width = 13;
}

FoldEdge::FoldEdge(Room& room, QWidget* parent) : QAbstractButton(parent), room_(room) {
    setObjectName("fold-side");
    setFixedWidth(edge_width);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    setAttribute(Qt::WA_Hover);
    connect(this, &FoldEdge::clicked, this, [this] { room_.fold_side(!room_.side_is_folded()); });
    connect(&room_, &Room::changed, this, &FoldEdge::refresh);
    refresh();
}

void FoldEdge::refresh() {
    const QString does = room_.side_is_folded() ? tr("Show the side column") : tr("Hide the side column");
    setToolTip(with_key(does, Do::FoldSide));
    setAccessibleName(does);
    update();
}

void FoldEdge::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const bool lit = underMouse() || hasFocus();
    painter.fillRect(rect(), lit ? c.plum_wash : c.desk);
    painter.fillRect(QRect(width() - 1, 0, 1, height()), c.hairline);
    // The arrow points in the direction in which the column moves.
    const double x = width() / 2.0 - 0.5, y = height() / 2.0, to = room_.side_is_folded() ? -2.5 : 2.5;
    painter.setPen(QPen(lit ? c.plum : c.quiet, 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    painter.drawPolyline(QPolygonF({{x - to, y - 5}, {x + to, y}, {x - to, y + 5}}));
}

}
