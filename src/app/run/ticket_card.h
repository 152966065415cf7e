// The card that shows what a ticket from elsewhere does, before it is used for the first time.
#pragma once

#include <QFrame>

class QLabel;

namespace yelvin {

class Tickets;

class TicketCard : public QFrame {
    Q_OBJECT
  public:
    TicketCard(Tickets& tickets, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Tickets& tickets_;
    QLabel* words_;
    void refresh();
};

}
