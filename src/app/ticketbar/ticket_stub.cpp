#include "app/ticketbar/ticket_stub.h"

#include "app/keys.h"
#include "app/models/tickets/tickets.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QDrag>
#include <QMimeData>
#include <QMouseEvent>
#include <QPainter>
#include <QUrl>

namespace yelvin {

namespace {
constexpr int stub_width = 166, name_left = 16, name_height = 20, state_height = 15;
}

TicketStub::TicketStub(const TicketModels& models, QWidget* parent) : QAbstractButton(parent), models_(models) {
    setFixedWidth(stub_width);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setObjectName("stub");
    setToolTip(with_key(tr("Tickets: choose, save, copy, rename"), Do::ShowTickets));
    setShortcut(QKeySequence(key_of(Do::ShowTickets).keys));
}

void TicketStub::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    const QString name = QString::fromStdString(models_.tickets.ticket().name);
    const QFontMetrics metrics(theme::title());
    const QString shown = metrics.elidedText(name, Qt::ElideRight, width() - name_left - 30);
    const QColor lit = hasFocus() || underMouse() ? c.plum : c.ink;
    const int top = (height() - name_height - state_height) / 2;
    painter.setFont(theme::title());
    painter.setPen(lit);
    painter.drawText(QRect(name_left, top, width() - name_left, name_height), Qt::AlignVCenter, shown);
    theme::icon("down", lit).paint(&painter, name_left + metrics.horizontalAdvance(shown) + 5, top + 4, 13, 13);
    const bool kept = models_.tickets.is_kept(), changed = !models_.tickets.changed_since_kept().empty();
    const QString state = !kept ? tr("not saved as a ticket") : changed ? tr("changed since saved") : tr("saved");
    painter.setFont(theme::measure());
    painter.setPen(c.quiet);
    painter.drawText(QRect(name_left, top + name_height, width() - name_left, state_height), Qt::AlignVCenter, state);
    setAccessibleName(tr("Ticket: %1, %2").arg(name, state));
}

void TicketStub::mousePressEvent(QMouseEvent* event) {
    pressed_at_ = event->pos();
    QAbstractButton::mousePressEvent(event);
}

void TicketStub::mouseMoveEvent(QMouseEvent* event) {
    const bool far = (event->pos() - pressed_at_).manhattanLength() > 3 * QApplication::startDragDistance();
    if (!(event->buttons() & Qt::LeftButton) || !far || !models_.tickets.as_kept()) return;
    setDown(false);
    auto* drag = new QDrag(this);
    auto* file = new QMimeData;
    file->setUrls({QUrl::fromLocalFile(models_.tickets.chosen_file())});
    file->setData(dragged, "1");
    drag->setMimeData(file);
    drag->exec(Qt::CopyAction);
}

}
