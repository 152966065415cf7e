// What the files of sheets share: a ticket with one thing changed, a tick, and the sheets about where paper comes from.
#pragma once

#include "app/ticketbar/sheets.h"

#include <QCheckBox>
#include <QCoreApplication>

namespace yelvin::sheets {

inline QString words(const char* text) { return QCoreApplication::translate("Sheets", text); }

// A ticket with one thing changed.
template <class Change>
void change(Desk& desk, Change apply) {
    Ticket ticket = desk.ticket();
    apply(ticket);
    desk.set_ticket(ticket);
}

void fill_source(PhraseSheet& sheet, Desk& desk);
void fill_scanner(PhraseSheet& sheet, Desk& desk, const Doors& doors);
void fill_more(PhraseSheet& sheet, Desk& desk); // what the scanner offers beyond the ticket
void fill_area(PhraseSheet& sheet, Desk& desk);
void fill_ink(PhraseSheet& sheet, Desk& desk);
void fill_dpi(PhraseSheet& sheet, Desk& desk, const Doors& doors);
void fill_quality(PhraseSheet& sheet, Desk& desk);
void fill_and(PhraseSheet& sheet, Desk& desk, const Doors& doors); // the rarer choices
QWidget* quality_box(PhraseSheet& sheet, Desk& desk);

}
