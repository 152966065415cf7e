// Functions that the sources of sheets share. Internal to app/ticketbar.
#pragma once

#include "app/models/naming/document_names.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/document_tickets.h"
#include "app/ticketbar/chip_row.h"
#include "app/ticketbar/sheets.h"

#include <QCheckBox>
#include <QCoreApplication>

namespace yelvin::sheets {

struct SheetText {
    Q_DECLARE_TR_FUNCTIONS(SheetText)
};

// Returns the ticket whose choices a sheet shows: that of the documents in `for_documents` or, if there are none, the
// sentence's.
const Ticket& shown(const TicketModels& models);

// Changes the ticket of these documents alone, or that of the sentence.
template <class Change>
void change(const TicketModels& models, Change apply) {
    if (!models.for_documents.isEmpty()) return models.document_tickets.change(models.for_documents, apply);
    Ticket ticket = models.tickets.ticket();
    apply(ticket);
    models.tickets.set(ticket);
}

// Adds a check box; `apply` is called with each change.
QCheckBox* tick(PhraseSheet& sheet, const QString& text, const QString& name, bool on,
                const std::function<void(bool)>& apply);
// Adds an indented label in front of a field.
void field(PhraseSheet& sheet, const QString& words, QWidget* edit);

// Adds chips that change the ticket (sheets_name.cpp).
using PartsOf = std::function<std::vector<NamePart>&(Ticket&)>;
ChipRow* add_chips(PhraseSheet& sheet, const TicketModels& models, ChipRow::For what, const PartsOf& which);

// The sheets about names and folders (sheets_name.cpp).
void fill_name(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_folder(PhraseSheet& sheet, const TicketModels& models);

// The sheets of file options: protection, properties, stamp, further files.
void fill_file(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_protection(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_properties(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_stamp(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_also(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);

// Each of the following fills the sheet of one phrase of the sentence with the present choices. What a choice changes
// is changed at once; what opens another sheet calls a function of `doors`.
void fill_source(PhraseSheet& sheet, const TicketModels& models);
void fill_scanner(PhraseSheet& sheet, const TicketModels& models, const Doors& doors);
void fill_more(PhraseSheet& sheet, const TicketModels& models); // options of the scanner's driver
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
void fill_and(PhraseSheet& sheet, const TicketModels& models, const Doors& doors); // rarely needed choices
QWidget* quality_box(PhraseSheet& sheet, const TicketModels& models);

}
