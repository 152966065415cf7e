#include "app/ticketbar/chip.h"

#include "app/theme/theme.h"

#include <QApplication>
#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {

constexpr int chip_pad = 9;

constexpr PartCaption captions[] = {
    {NamePart::Kind::Date, "date", QT_TRANSLATE_NOOP("yelvin::Chip", "date of scanning")},
    {NamePart::Kind::PaperDate, "paper_date", QT_TRANSLATE_NOOP("yelvin::Chip", "document date")},
    {NamePart::Kind::Words, "words", QT_TRANSLATE_NOOP("yelvin::Chip", "own text")},
    {NamePart::Kind::Heading, "heading", QT_TRANSLATE_NOOP("yelvin::Chip", "heading")},
    {NamePart::Kind::Sender, "sender", QT_TRANSLATE_NOOP("yelvin::Chip", "sender")},
    {NamePart::Kind::PaperKind, "kind", QT_TRANSLATE_NOOP("yelvin::Chip", "kind of document")},
    {NamePart::Kind::Number, "number", QT_TRANSLATE_NOOP("yelvin::Chip", "document number")},
    {NamePart::Kind::Counter, "counter", QT_TRANSLATE_NOOP("yelvin::Chip", "counter")},
    {NamePart::Kind::Barcode, "barcode", QT_TRANSLATE_NOOP("yelvin::Chip", "separator text")},
    {NamePart::Kind::Ticket, "ticket", QT_TRANSLATE_NOOP("yelvin::Chip", "ticket name")},
    {NamePart::Kind::Slash, "slash", QT_TRANSLATE_NOOP("yelvin::Chip", "subfolder")}};
static_assert(has_each(captions, &PartCaption::kind), "every kind of part needs its words");

const PartCaption& caption_of(NamePart::Kind kind) { return *std::ranges::find(captions, kind, &PartCaption::kind); }

}

std::span<const PartCaption> part_captions() { return captions; }

QString part_caption(NamePart::Kind kind) { return Chip::tr(caption_of(kind).words); }

QString part_widget_name(const char* what, NamePart::Kind kind) {
    return QString("%1:%2").arg(what, caption_of(kind).key);
}

Chip::Chip(const QString& value, NamePart::Kind kind, QWidget* parent)
    : QAbstractButton(parent), caption_(part_caption(kind)) {
    setText(value);
    setAccessibleName(caption_ + ", " + value);
    setObjectName(part_widget_name("chip", kind));
    setFocusPolicy(Qt::StrongFocus);
    setCursor(Qt::PointingHandCursor);
    setToolTip(
        tr("%1. Drag it, or move it with Ctrl and the arrow keys; Delete removes it, + adds one.").arg(caption_));
}

QSize Chip::sizeHint() const {
    const int value = QFontMetrics(theme::strong()).horizontalAdvance(text());
    const int caption = QFontMetrics(theme::measure()).horizontalAdvance(caption_);
    return {std::min(300, std::max(value, caption)) + 2 * chip_pad, height_px};
}

void Chip::set_chosen(bool chosen) {
    chosen_ = chosen;
    update();
}

void Chip::set_value(const QString& value) {
    if (value == text()) return;
    setText(value);
    setAccessibleName(caption_ + ", " + value);
    update();
}

// Drawn as a label with a cut corner at the left, as tickets are.
void Chip::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(chosen_ || hasFocus() ? c.plum : c.hairline, hasFocus() ? 2 : 1));
    painter.setBrush(chosen_ ? c.plum_wash : c.paper);
    painter.drawRoundedRect(QRectF(rect()).adjusted(1, 1, -1, -1), theme::corner, theme::corner);
    painter.setFont(theme::strong());
    painter.setPen(text() == QStringLiteral("–") ? c.quiet : c.ink);
    const QString value = QFontMetrics(theme::strong()).elidedText(text(), Qt::ElideRight, width() - 2 * chip_pad + 2);
    painter.drawText(QRect(chip_pad, 3, width() - chip_pad, 19), Qt::AlignVCenter, value);
    painter.setFont(theme::measure());
    painter.setPen(chosen_ ? c.plum : c.quiet);
    painter.drawText(QRect(chip_pad, 21, width() - chip_pad, 15), Qt::AlignVCenter, caption_);
}

void Chip::focusInEvent(QFocusEvent* event) {
    QAbstractButton::focusInEvent(event);
    emit pointed(true);
}

void Chip::keyPressEvent(QKeyEvent* event) {
    const bool moves = event->modifiers() & Qt::ControlModifier;
    switch (event->key()) {
    case Qt::Key_Left:
        return moves ? emit move_wanted(-1) : emit walk_wanted(-1);
    case Qt::Key_Right:
        return moves ? emit move_wanted(1) : emit walk_wanted(1);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        return emit remove_wanted();
    case Qt::Key_Plus:
    case Qt::Key_Insert:
        return emit add_wanted();
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return click();
    default:
        QAbstractButton::keyPressEvent(event);
    }
}

void Chip::mousePressEvent(QMouseEvent* event) {
    pressed_at_ = event->pos();
    moves_ = false;
    QAbstractButton::mousePressEvent(event);
}

void Chip::mouseMoveEvent(QMouseEvent* event) {
    const bool far = (event->pos() - pressed_at_).manhattanLength() >= QApplication::startDragDistance();
    if ((event->buttons() & Qt::LeftButton) && (far || moves_)) {
        moves_ = true;
        emit dragged(mapToParent(event->pos()));
    }
    QAbstractButton::mouseMoveEvent(event);
}

void Chip::mouseReleaseEvent(QMouseEvent* event) {
    if (!std::exchange(moves_, false)) return QAbstractButton::mouseReleaseEvent(event);
    setDown(false);
    emit dropped(mapToParent(event->pos()));
}

}
