// The card that shows what a ticket from elsewhere does, before it is used for the first time.
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
