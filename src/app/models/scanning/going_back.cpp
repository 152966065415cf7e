#include "app/models/scanning/going_back.h"

#include "app/models/scanning/scanning.h"
#include "app/models/tickets/tickets.h"
#include "app/models/window/messages.h"

namespace yelvin {

GoingBack::GoingBack(Messages& messages, Tickets& tickets, Scanning& run, QObject* parent)
    : QObject(parent), messages_(messages), tickets_(tickets), run_(run) {
    while_.setSingleShot(true);
    while_.setTimerType(Qt::VeryCoarseTimer);
    connect(&while_, &QTimer::timeout, this, &GoingBack::while_is_over);
    connect(&tickets_, &Tickets::changed, this, &GoingBack::wait_anew);
    connect(&run_, &Scanning::changed, this, &GoingBack::wait_anew);
    wait_anew();
}

void GoingBack::wait_anew() {
    const int minutes = tickets_.ticket().back.after_minutes;
    if (minutes == 0 || tickets_.changed_since_kept().empty()) return while_.stop();
    while_.start(std::chrono::minutes(minutes));
}

void GoingBack::while_is_over() {
    if (run_.passing() || run_.waiting().what != Waiting::For::Nothing) return wait_anew();
    if (tickets_.ticket().back.after_minutes == 0 || tickets_.changed_since_kept().empty()) return;
    tickets_.go_back();
    if (!tickets_.changed_since_kept().empty()) return;
    messages_.tell(
        tr("The changes to %1 were discarded. Documents in the tray keep the choices they were scanned with.")
            .arg(QString::fromStdString(tickets_.ticket().name)));
}

}
