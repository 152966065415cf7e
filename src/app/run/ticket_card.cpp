#include "app/run/ticket_card.h"

#include "app/models/tickets/tickets.h"
#include "core/shown_text.h"
#include "core/ticket/ticket_effects.h"

#include <QLabel>
#include <QPushButton>

namespace yelvin {

TicketCard::TicketCard(Tickets& tickets, QWidget* parent) : QuestionCard("ticket-card", parent), tickets_(tickets) {
    connect(add_link(tr("do not use"), "ticket-card-leave"), &QPushButton::clicked, this, &TicketCard::give_up);
    auto* use = add_button(tr("Use"), "ticket-card-use");
    use->setToolTip(tr("Asks again when the ticket's file changes"));
    connect(use, &QPushButton::clicked, &tickets_, &Tickets::accept_asked);
    connect(&tickets_, &Tickets::acceptance_wanted, this, &TicketCard::refresh);
    refresh();
}

void TicketCard::give_up() { tickets_.refuse_asked(); }

void TicketCard::refresh() {
    const auto& asked = tickets_.asked();
    appear(asked.has_value());
    if (!asked) return;
    QString lines;
    for (const std::string& effect : effects_of(asked->ticket))
        lines += "\n• " + QString::fromStdString(shown_text(effect));
    words()->setText(tr("The ticket “%1” is from someone else. It:%2")
                         .arg(QString::fromStdString(shown_text(asked->ticket.name)), lines));
}

}
