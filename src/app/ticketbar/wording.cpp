#include "app/ticketbar/wording.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/tickets/tickets.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/text/languages.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QHash>
#include <QLocale>

namespace yelvin {

QString bytes_words(double bytes) {
    if (bytes < 1e3) return QString("%1 B").arg(bytes, 0, 'f', 0);
    if (bytes < 9.95e5)
        return QString("%1 kB").arg(bytes < 1e5 ? bytes / 1e3 : std::round(bytes / 1e4) * 10, 0, 'f', 0);
    return QString("%1 MB").arg(bytes / 1e6, 0, 'f', bytes < 1e8 ? 1 : 0);
}

QString mm_words(double mm) { return QString::number(mm, 'f', std::abs(mm - std::round(mm)) < 0.05 ? 0 : 1); }

namespace wording {

QString pattern() {
    //: The ticket. 1 source, 2 scanner, 3 area, 4 ink, 5 resolution, 6 corrections, 7 which pages become a document,
    //: 8 reading, 9 format, 10 name, 11 folder; 12 JPEG quality and 13 the scanner's own settings, each with its words
    //: in front, where set; 14 what happens then, with words in front of it; 15 more
    return SentenceText::tr("Scan %1 of %2, %3, in %4 at %5; %6, %7, %8; make %9 named %10 in %11%12%13%14, %15");
}

QString ink(const std::optional<Ink>& ink) {
    if (!ink) return SentenceText::tr("automatic colour");
    switch (*ink) {
    case Ink::Colour:
        return SentenceText::tr("colour");
    case Ink::Grey:
        return SentenceText::tr("grey");
    case Ink::Black:
        break;
    }
    return SentenceText::tr("black and white");
}

QString language(const std::string& name) {
    if (name == automatic_language) return SentenceText::tr("detect the language");
    return QString::fromStdString(language_words(name));
}

QString languages(const std::vector<std::string>& list) {
    QStringList names;
    for (const auto& name : list) names.append(language(name));
    if (names.size() < 2) return names.join("");
    const QString last = names.takeLast();
    return SentenceText::tr("%1 and %2").arg(names.join(", "), last);
}

QString tiff_coding(TiffCoding coding) {
    switch (coding) {
    case TiffCoding::Lzw:
        return SentenceText::tr("LZW");
    case TiffCoding::Deflate:
        return SentenceText::tr("Deflate");
    case TiffCoding::Jpeg:
        return SentenceText::tr("JPEG");
    case TiffCoding::Auto:
        break;
    }
    return SentenceText::tr("automatic");
}

QString growth(Ticket::Save::Grows grows) {
    switch (grows) {
    case Ticket::Save::Grows::Always:
        return SentenceText::tr("one %1 for all documents");
    case Ticket::Save::Grows::Day:
        return SentenceText::tr("one %1 per day");
    case Ticket::Save::Grows::Month:
        return SentenceText::tr("one %1 per month");
    case Ticket::Save::Grows::No:
        break;
    }
    return SentenceText::tr("one %1 per document");
}

QString format(const Ticket& ticket) {
    const Ticket::Make& make = ticket.make;
    const bool read = is_pdf(make.format) && !ticket.read.languages.empty(), searchable = read && make.searchable;
    if (ticket.make.format == Format::Auto) return SentenceText::tr("one PDF per document, or a JPEG per photograph");
    const QString plain = QString::fromUtf8(format_words(make.format).data());
    const QString kind = searchable ? SentenceText::tr("searchable %1").arg(plain) : plain;
    const bool grows = adds_to_file(ticket);
    const bool per_document = make.per == Per::Document && holds_many_pages(make.format);
    QStringList said{(grows          ? growth(ticket.save.grows)
                      : per_document ? SentenceText::tr("one %1 per document")
                                     : SentenceText::tr("one %1 per page"))
                         .arg(kind)};
    if (make.format == Format::PdfA && make.pdf_a_level == PdfALevel::A1b) said.append(SentenceText::tr("PDF/A-1b"));
    if (read && !make.searchable) said.append(SentenceText::tr("without text"));
    if (read && make.bookmarks) said.append(SentenceText::tr("with bookmarks"));
    if (make.format == Format::Text && make.lines_as_printed) said.append(SentenceText::tr("line breaks as printed"));
    if ((make.format == Format::Docx || make.format == Format::Odt) && make.as_it_looks)
        said.append(SentenceText::tr("exact layout"));
    if (make.format == Format::Tiff && make.tiff_coding != TiffCoding::Auto)
        said.append(SentenceText::tr("%1 compression").arg(tiff_coding(make.tiff_coding)));
    if (make.is_protected()) said.append(SentenceText::tr("protected"));
    if (!make.stamp.parts.empty()) said.append(SentenceText::tr("stamped"));
    for (const FurtherFile& each : make.also)
        said.append(SentenceText::tr("also as %1").arg(QString::fromUtf8(format_words(each.format).data())));
    return said.join(", ");
}

QString source(Source wanted, Flip flip, bool two_passes) {
    switch (wanted) {
    case Source::Glass:
        return SentenceText::tr("the glass");
    case Source::FeederFront:
        return SentenceText::tr("the feeder, front only");
    case Source::FeederBoth:
        if (two_passes) return SentenceText::tr("the feeder, both sides in two passes");
        return flip == Flip::Notepad ? SentenceText::tr("the feeder, both sides like a notepad")
                                     : SentenceText::tr("the feeder, both sides");
    case Source::HandFed:
        break;
    }
    return SentenceText::tr("sheet by sheet");
}

QString area(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    if (ticket.from.own_paper)
        return SentenceText::tr("%1 × %2 mm")
            .arg(mm_words(ticket.from.own_paper->width), mm_words(ticket.from.own_paper->height));
    if (ticket.from.paper != "auto") return SentenceText::tr("as %1").arg(QString::fromStdString(ticket.from.paper));
    if (models.next_scan.source() != Source::Glass) return SentenceText::tr("cropped to each sheet");
    const auto frames = static_cast<int>(models.glass.frames().size());
    if (ticket.from.frames == Frames::Whole) return SentenceText::tr("all of it");
    if (frames > 0) return frames == 1 ? SentenceText::tr("1 frame") : SentenceText::tr("%1 frames").arg(frames);
    if (ticket.from.frames == Frames::EachItem) return SentenceText::tr("each item on it");
    if (ticket.from.frames == Frames::OneItem) return SentenceText::tr("everything on it as one page");
    return SentenceText::tr("all of it");
}

QString why_ink(const Page& page) {
    const InkNeed& need = page.notices.ink;
    if (page.original.ink == Ink::Colour && need.least == Ink::Colour)
        return SentenceText::tr("kept in colour, as %1 mm² are coloured")
            .arg(need.colour_mm2, 0, 'f', need.colour_mm2 < 10 ? 1 : 0);
    if (page.original.ink == Ink::Colour) return SentenceText::tr("made grey, as only its paper has a colour");
    return SentenceText::tr("scanned without colour");
}

namespace {

// The corrections for every page that are switched on.
QStringList unasked(const Adjust& adjust) {
    QStringList list;
    Adjust rest = adjust;
    for (const OfferedCorrection& each : offered_corrections) {
        if (adjust.*each.value > 0) list.append(SentenceText::tr(each.phrase));
        rest.*each.value = 0;
    }
    int others = 0;
    for (const AdjustField& field : adjust_fields()) others += rest.*field.value != field.rest ? 1 : 0;
    if (others > 0)
        list.append(others == 1 ? SentenceText::tr("one more correction")
                                : SentenceText::tr("%1 more corrections").arg(others));
    return list;
}

}

QString corrections(const Ticket& ticket) {
    QStringList list;
    if (ticket.pages.straighten && ticket.pages.turn_upright)
        list.append(SentenceText::tr("straighten and turn upright"));
    else if (ticket.pages.straighten)
        list.append(SentenceText::tr("straighten"));
    else if (ticket.pages.turn_upright)
        list.append(SentenceText::tr("turn upright"));
    if (ticket.pages.drop_blank) list.append(SentenceText::tr("leave out blank sides"));
    list.append(unasked(ticket.pages.adjust));
    return list.isEmpty() ? SentenceText::tr("change nothing") : list.join(", ");
}

QString documents(const Ticket::Pages& pages, bool from_stack) {
    if (pages.documents == Documents::EachItem)
        return from_stack ? SentenceText::tr("a new document for each sheet")
                          : SentenceText::tr("a new document for each item");
    switch (from_stack ? pages.split : SplitAt::Never) {
    case SplitAt::BlankSheet:
        return SentenceText::tr("a new document at each blank sheet");
    case SplitAt::Separator:
        return SentenceText::tr("a new document at each separator");
    case SplitAt::Every:
        return SentenceText::tr("a new document every %1 pages").arg(pages.split_every);
    case SplitAt::Never:
        break;
    }
    return pages.documents == Documents::EachScan ? SentenceText::tr("a new document for each scan")
                                                  : SentenceText::tr("collect in one document");
}

}
}
