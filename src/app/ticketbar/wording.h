// The words of the ticket's sentence.
#pragma once

#include "app/models/groups.h"
#include "app/ticketbar/sentence.h"
#include "core/scanner/scanner.h"
#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <QCoreApplication>

namespace yelvin::wording {

struct SentenceText {
    Q_DECLARE_TR_FUNCTIONS(SentenceText)
};
QString pattern();
QList<Phrase> phrases(const TicketModels& models); // in the order of the template's places

QString ink(const std::optional<Ink>& ink);
QString languages(const std::vector<std::string>& languages); // "English", "English and German"
QString language(const std::string& name);
QString tiff_coding(TiffCoding coding);
QString growth(Ticket::Save::Grows grows); // with a place for the format: "one %1 per month"
QString format(const Ticket& ticket);
// A correction that a ticket can apply to every page: its box in the sheet and its words in the sentence.
struct OfferedCorrection {
    double Adjust::*value;
    double on;
    const char* row;    // in the context SheetText
    const char* phrase; // in the context SentenceText
};
constexpr double screen_as_noticed = 133; // lines per inch; what is noticed on a page replaces it
inline constexpr OfferedCorrection offered_corrections[] = {
    {&Adjust::edge_shadow, 1, QT_TRANSLATE_NOOP("SheetText", "lift shadows at edges"),
     QT_TRANSLATE_NOOP("SentenceText", "lift shadows")},
    {&Adjust::punch_holes, 1, QT_TRANSLATE_NOOP("SheetText", "fill punch holes"),
     QT_TRANSLATE_NOOP("SentenceText", "fill punch holes")},
    {&Adjust::even_light, 1, QT_TRANSLATE_NOOP("SheetText", "even out the light"),
     QT_TRANSLATE_NOOP("SentenceText", "even out the light")},
    {&Adjust::fading, 100, QT_TRANSLATE_NOOP("SheetText", "restore faded print"),
     QT_TRANSLATE_NOOP("SentenceText", "restore faded print")},
    {&Adjust::red_eyes, 1, QT_TRANSLATE_NOOP("SheetText", "darken red eyes"),
     QT_TRANSLATE_NOOP("SentenceText", "darken red eyes")},
    {&Adjust::screen_lpi, screen_as_noticed, QT_TRANSLATE_NOOP("SheetText", "smooth printed dots"),
     QT_TRANSLATE_NOOP("SentenceText", "smooth printed dots")},
    {&Adjust::specks_mm, 0.5, QT_TRANSLATE_NOOP("SheetText", "remove specks up to 0.5 mm"),
     QT_TRANSLATE_NOOP("SentenceText", "remove specks")},
};
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
