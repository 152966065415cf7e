// The tickets with a button under Scan: one press chooses the ticket and scans.
#pragma once

#include <QWidget>

class QHBoxLayout;

namespace yelvin {

class Tickets;

class TicketButtons : public QWidget {
    Q_OBJECT
  public:
    TicketButtons(Tickets& tickets, QWidget* parent);
    void press(int number); // from 1; does nothing if there is none

  signals:
    void scan_wanted(const QString& ticket_file);

  private:
    Tickets& tickets_;
    QHBoxLayout* row_;
    QStringList shown_; // file, name and colour of each shown button
    void refresh();
};

}
