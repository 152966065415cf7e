// Tickets that stand as buttons under Scan: one press chooses the ticket and scans.
#pragma once

#include <QWidget>

class QHBoxLayout;

namespace yelvin {

class Tickets;

class TicketButtons : public QWidget {
    Q_OBJECT
  public:
    TicketButtons(Tickets& tickets, QWidget* parent);
    void press(int number); // from 1; nothing where there is none

  signals:
    void scan_wanted(const QString& ticket_file);

  private:
    Tickets& tickets_;
    QHBoxLayout* row_;
    QStringList shown_; // as they stand: file, name, colour
    void refresh();
};

}
