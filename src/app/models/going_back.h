// Where people share a computer: what was changed in the sentence is given up by itself, as the ticket says, once
// nobody has changed anything and nothing was scanned for a while.
#pragma once

#include <QObject>
#include <QTimer>

namespace yelvin {

class Messages;
class Scanning;
class Tickets;

class GoingBack : public QObject {
    Q_OBJECT
  public:
    GoingBack(Messages& messages, Tickets& tickets, Scanning& run, QObject* parent = nullptr);

    void while_is_over(); // as the timer calls it

  private:
    Messages& messages_;
    Tickets& tickets_;
    Scanning& run_;
    QTimer while_;

    void wait_anew();
};

}
