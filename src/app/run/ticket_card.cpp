#include "app/run/ticket_card.h"

#include "app/models/tickets.h"
#include "app/theme/theme.h"
#include "core/shown_text.h"
#include "core/ticket/ticket_effects.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

namespace yelvin {

TicketCard::TicketCard(Tickets& tickets, QWidget* parent) : QFrame(parent), tickets_(tickets) {
    setObjectName("ticket-card");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(18, 10, 12, 10);
    row->setSpacing(10);
    words_ = new QLabel(this);
    words_->setObjectName("ticket-card-words");
    words_->setTextFormat(Qt::PlainText); // what stands in it comes from somebody else
    words_->setWordWrap(true);
    row->addWidget(words_, 1);
    auto* leave = new QPushButton(tr("do not use it"), this);
    leave->setObjectName("ticket-card-leave");
    leave->setProperty("kind", "link");
    auto* use = new QPushButton(tr("Use it"), this);
    use->setObjectName("ticket-card-use");
    use->setToolTip(tr("You are asked again when the ticket's file changes"));
    row->addWidget(leave);
    row->addWidget(use);
    connect(use, &QPushButton::clicked, &tickets_, &Tickets::accept_asked);
    connect(leave, &QPushButton::clicked, &tickets_, &Tickets::refuse_asked);
    connect(&tickets_, &Tickets::acceptance_wanted, this, &TicketCard::refresh);
    refresh();
}

void TicketCard::refresh() {
    const auto& asked = tickets_.asked();
    setVisible(asked.has_value());
    if (!asked) return;
    QString lines;
    for (const std::string& effect : effects_of(asked->ticket))
        lines += "\n• " + QString::fromStdString(shown_text(effect));
    words_->setText(tr("The ticket “%1” comes from elsewhere. It:%2")
                        .arg(QString::fromStdString(shown_text(asked->ticket.name)), lines));
}

void TicketCard::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.paper);
    painter.fillRect(QRect(0, 0, 5, height()), c.amber);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

}
