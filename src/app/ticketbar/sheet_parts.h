// What the files of sheets share: a ticket with one thing changed, a tick, and the sheets about where paper comes from.
#pragma once

#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/document_tickets.h"
#include "app/models/glass.h"
#include "app/models/next_scan.h"
#include "app/models/scanners.h"
#include "app/models/tickets.h"
#include "app/ticketbar/chip_row.h"
#include "app/ticketbar/sheets.h"

#include <QCheckBox>
#include <QCoreApplication>

namespace yelvin::sheets {

inline QString words(const char* text) { return QCoreApplication::translate("Sheets", text); }

// The ticket whose choices a sheet shows: that of the documents in `for_documents`, or the one in the sentence if there
// are none.
const Ticket& shown(const TicketModels& models);

// The ticket with one thing changed: of those documents alone, or in the sentence.
template <class Change>
void change(const TicketModels& models, Change apply) {
    if (!models.for_documents.isEmpty()) return models.document_tickets.change(models.for_documents, apply);
    Ticket ticket = models.tickets.ticket();
    apply(ticket);
    models.tickets.set(ticket);
}

// A tick; `apply` is told of each change.
QCheckBox* tick(PhraseSheet& sheet, const QString& text, const QString& name, bool on,
                const std::function<void(bool)>& apply);
// Words in front of a field, set in a little.
void field(PhraseSheet& sheet, const QString& words, QWidget* edit);

// Chips whose changes are the ticket's (sheets_name.cpp).
using PartsOf = std::function<std::vector<NamePart>&(Ticket&)>;
ChipRow* add_chips(PhraseSheet& sheet, const TicketModels& models, ChipRow::For what, const PartsOf& which);

// What files are called, and where they go (sheets_name.cpp).
void fill_name(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_folder(PhraseSheet& sheet, const TicketModels& models);

// Of a file, each a sheet of its own: what it lets others do, what it says of itself, words on its pages, further
// files.
void fill_file(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_protection(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_properties(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_stamp(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_also(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);

void fill_source(PhraseSheet& sheet, const TicketModels& models);
void fill_scanner(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_more(PhraseSheet& sheet, const TicketModels& models); // what the scanner offers beyond the ticket
void fill_area(PhraseSheet& sheet, const TicketModels& models);
void fill_ink(PhraseSheet& sheet, const TicketModels& models);
void fill_dpi(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_documents(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_make(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_growth(PhraseSheet& sheet, const TicketModels& models);
void fill_other_formats(PhraseSheet& sheet, const TicketModels& models);
void fill_then(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_uses(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_quality(PhraseSheet& sheet, const TicketModels& models);
void fill_and(PhraseSheet& sheet, const TicketModels& models, const Doors& doors); // the rarer choices
QWidget* quality_box(PhraseSheet& sheet, const TicketModels& models);

}
