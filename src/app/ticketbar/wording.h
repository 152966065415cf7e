// The words of the ticket's sentence.
#pragma once

#include "app/models/groups.h"
#include "app/ticketbar/sentence.h"
#include "core/scanner/scanner.h"
#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

namespace yelvin::wording {

QString words(const char* text); // translated
QString pattern();
QList<Phrase> phrases(const TicketModels& models); // in the order of the template's places

QString ink(const std::optional<Ink>& ink);
QString languages(const std::vector<std::string>& languages); // "English", "English and German"
QString language(const std::string& name);
QString tiff_coding(TiffCoding coding);
QString growth(Ticket::Save::Grows grows); // with a place for the format: "one %1 per month"
QString format(const Ticket& ticket);
QString corrections(const Ticket& ticket);                      // the corrections of every page, as a list
QString documents(const Ticket::Pages& pages, bool from_stack); // which pages become one document
QString area(const TicketModels& models);
QString why_ink(const Page& page); // why the automatic colour mode became this
// What becomes of documents in short ("one PDF per document in ~/Leases"), in parts, of which the last may be empty.
QString becomes(const Ticket& ticket);
QString where(const Ticket& ticket);
QString then(const Ticket& ticket);
QString source(Source wanted, Flip flip, bool two_passes);

}
