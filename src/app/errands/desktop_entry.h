// The desktop's entry for this program, with an action for each ticket that has a button.
#pragma once

#include <QString>
#include <QStringList>

namespace yelvin {

class Tickets;

// The installed entry with those actions, as the Desktop Entry Specification 1.5 writes them.
QString entry_with_tickets(const QString& installed, const QStringList& tickets);

// Keeps the person's own copy of the entry as the tickets' buttons are, for as long as `tickets` lives. Only where the
// program is installed; an entry that the person wrote is left alone.
void keep_desktop_entry(Tickets& tickets);

}
