// The card that shows the effects of a ticket from elsewhere before its first use.
#pragma once

#include "app/run/question_card.h"

namespace yelvin {

class Tickets;

class TicketCard : public QuestionCard {
    Q_OBJECT
  public:
    TicketCard(Tickets& tickets, QWidget* parent);

  protected:
    void give_up() override;

  private:
    Tickets& tickets_;
    void refresh();
};

}
