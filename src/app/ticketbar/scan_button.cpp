#include "app/ticketbar/scan_button.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QStyleOptionButton>

namespace yelvin {

namespace {
constexpr int word_height = 21, bar_height = 14, mark = 6;
}

ScanButton::ScanButton(QWidget* parent) : QPushButton(parent) {
    setProperty("kind", "main");
    setObjectName("scan");
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Expanding);
}

void ScanButton::say(const QString& does, const QString& scanner, State state) {
    setText(does);
    scanner_ = scanner;
    state_ = state;
    setAccessibleDescription(scanner);
    update();
}

void ScanButton::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    QStyleOptionButton option;
    initStyleOption(&option);
    option.text.clear();
    style()->drawControl(QStyle::CE_PushButton, &option, &painter, this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor words = isEnabled() ? c.on_plum : c.quiet;
    const int top = (height() - word_height - bar_height) / 2;
    QFont big = theme::title();
    big.setPixelSize(17);
    painter.setFont(big);
    painter.setPen(words);
    painter.drawText(QRect(0, top, width(), word_height), Qt::AlignCenter, text());
    // A filled circle for a scanner that is ready, a ring while it is working, a bar if something is wrong.
    const QFontMetrics metrics(theme::measure());
    const QString shown = metrics.elidedText(scanner_, Qt::ElideRight, width() - 2 * 8 - mark - 5);
    const double wide = mark + 5 + metrics.horizontalAdvance(shown), x = (width() - wide) / 2;
    const QRectF at(x, top + word_height + (bar_height - mark) / 2.0, mark, mark);
    painter.setPen(QPen(words, 1.2));
    painter.setBrush(state_ == State::Ready ? QBrush(words) : Qt::NoBrush);
    if (state_ == State::Wrong)
        painter.drawLine(at.topLeft(), at.bottomRight());
    else
        painter.drawEllipse(at.adjusted(0.6, 0.6, -0.6, -0.6));
    if (state_ == State::Wrong) painter.drawLine(at.topRight(), at.bottomLeft());
    painter.setFont(theme::measure());
    painter.drawText(QRectF(at.right() + 5, top + word_height, width(), bar_height), Qt::AlignVCenter, shown);
}

}
