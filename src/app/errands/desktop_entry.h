// The desktop entry of this program, with an action for each ticket that has a button. Used on the window's thread.
#pragma once

#include "jobs/executor.h"

#include <QString>
#include <QStringList>

namespace yelvin {

class Tickets;

// Returns the installed entry with these actions (Desktop Entry Specification 1.5).
QString entry_with_tickets(const QString& installed, const QStringList& tickets);

// Keeps the user's copy of the entry in line with the tickets' buttons, as long as `tickets` exists. `writing` reads
// and writes the file; it runs its tasks one after another. Does nothing if the program is not installed; an entry that
// the user wrote is left alone.
void keep_desktop_entry(Tickets& tickets, const Executor& writing);

}
