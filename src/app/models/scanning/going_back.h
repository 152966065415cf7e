// For shared computers: discards unsaved changes of the sentence, as the ticket says, after a time without a change or
// a scan. Used on the window's thread.
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

    void while_is_over(); // called by the timer

  private:
    Messages& messages_;
    Tickets& tickets_;
    Scanning& run_;
    QTimer while_;

    void wait_anew();
};

}
