#include "app/ticketbar/wording.h"

#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/glass.h"
#include "app/models/next_scan.h"
#include "app/models/scanners.h"
#include "app/models/tickets.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/saving/safe_file.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
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

namespace {
QString words(const char* text) { return QCoreApplication::translate("Sentence", text); }
}

QString pattern() {
    //: The ticket. 1 source, 2 scanner, 3 area, 4 ink, 5 resolution, 6 corrections, 7 reading, 8 format, 9 name, 10
    //: folder; 11 JPEG quality and 12 the scanner's own settings, each with its words in front, where set; 13 more
    return words("Scan %1 of %2, %3, in %4 at %5; %6, %7; make %8 named %9 in %10%11%12, %13");
}

QString ink(const std::optional<Ink>& ink) {
    if (!ink) return words("automatic colour");
    switch (*ink) {
    case Ink::Colour:
        return words("colour");
    case Ink::Grey:
        return words("grey");
    case Ink::Black:
        break;
    }
    return words("black and white");
}

QString language(const std::string& name) {
    static const QHash<QString, QString> names{{"eng", "English"},    {"deu", "German"},  {"fra", "French"},
                                               {"spa", "Spanish"},    {"ita", "Italian"}, {"nld", "Dutch"},
                                               {"por", "Portuguese"}, {"pol", "Polish"},  {"swe", "Swedish"},
                                               {"dan", "Danish"},     {"cym", "Welsh"}};
    const QString key = QString::fromStdString(name);
    return names.value(key, key);
}

QString languages(const std::vector<std::string>& list) {
    QStringList names;
    for (const auto& name : list) names.append(language(name));
    if (names.size() < 2) return names.join("");
    const QString last = names.takeLast();
    return words("%1 and %2").arg(names.join(", "), last);
}

QString format(const Ticket& ticket) {
    const bool searchable = ticket.make.format == Format::Pdf && !ticket.read.languages.empty();
    if (ticket.make.format == Format::Auto) return words("one PDF per document, or a JPEG per photograph");
    const QString kind =
        searchable ? words("searchable PDF") : QString::fromUtf8(format_words(ticket.make.format).data());
    const bool per_document = ticket.make.per == Per::Document && holds_many_pages(ticket.make.format);
    return (per_document ? words("one %1 per document") : words("one %1 per page")).arg(kind);
}

QString source(Source wanted, Flip flip, bool two_passes) {
    switch (wanted) {
    case Source::Glass:
        return words("the glass");
    case Source::FeederFront:
        return words("the feeder, front only");
    case Source::FeederBoth:
        if (two_passes) return words("the feeder, both sides in two passes");
        return flip == Flip::Notepad ? words("the feeder, both sides like a notepad") : words("the feeder, both sides");
    case Source::HandFed:
        break;
    }
    return words("sheet by sheet");
}

QString area(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    if (ticket.from.own_paper)
        return words("%1 × %2 mm").arg(mm_words(ticket.from.own_paper->width), mm_words(ticket.from.own_paper->height));
    if (ticket.from.paper != "auto") return words("as %1").arg(QString::fromStdString(ticket.from.paper));
    if (models.next_scan.source() != Source::Glass) return words("cut to each sheet");
    const auto frames = static_cast<int>(models.glass.frames().size());
    if (ticket.from.frames == Frames::Whole) return words("all of it");
    if (frames > 0) return frames == 1 ? words("1 frame") : words("%1 frames").arg(frames);
    if (ticket.from.frames == Frames::EachItem) return words("each item on it");
    if (ticket.from.frames == Frames::OneItem) return words("what lies on it as one page");
    return words("all of it");
}

QString why_ink(const Page& page) {
    const InkNeed& need = page.notices.ink;
    if (page.original.ink == Ink::Colour && need.least == Ink::Colour)
        return words("kept in colour: %1 mm² of it are coloured")
            .arg(need.colour_mm2, 0, 'f', need.colour_mm2 < 10 ? 1 : 0);
    if (page.original.ink == Ink::Colour) return words("made grey: nothing on it has a colour but its paper");
    return words("scanned without colour");
}

namespace {

// What is done to the pages of a scan, as a list.
// What every page gets besides, as far as it is set.
QStringList unasked(const Adjust& adjust) {
    QStringList list;
    for (const auto& [value, said] :
         std::initializer_list<std::pair<double Adjust::*, const char*>>{{&Adjust::edge_shadow, "lift shadows"},
                                                                         {&Adjust::punch_holes, "fill punch holes"},
                                                                         {&Adjust::even_light, "even out the light"},
                                                                         {&Adjust::red_eyes, "darken red eyes"},
                                                                         {&Adjust::fading, "restore faded print"},
                                                                         {&Adjust::screen_lpi, "smooth print screens"},
                                                                         {&Adjust::specks_mm, "clean specks"}}) {
        if (adjust.*value > 0) list.append(words(said));
    }
    Adjust rest = adjust;
    for (double Adjust::*value : {&Adjust::edge_shadow, &Adjust::punch_holes, &Adjust::even_light, &Adjust::red_eyes,
                                  &Adjust::fading, &Adjust::screen_lpi, &Adjust::specks_mm})
        rest.*value = 0;
    int others = 0;
    for (const AdjustField& field : adjust_fields()) others += rest.*field.value != field.rest ? 1 : 0;
    if (others > 0) list.append(others == 1 ? words("one more correction") : words("%1 more corrections").arg(others));
    return list;
}

QString corrections(const Ticket& ticket, bool from_stack) {
    QStringList list;
    if (ticket.pages.straighten && ticket.pages.turn_upright)
        list.append(words("straighten and turn upright"));
    else if (ticket.pages.straighten)
        list.append(words("straighten"));
    else if (ticket.pages.turn_upright)
        list.append(words("turn upright"));
    if (ticket.pages.drop_blank) list.append(words("drop blank sides"));
    list.append(unasked(ticket.pages.adjust));
    if (from_stack) {
        switch (ticket.pages.split) {
        case SplitAt::BlankSheet:
            list.append(words("a new document at each blank sheet"));
            break;
        case SplitAt::Separator:
            list.append(words("a new document at each separator"));
            break;
        case SplitAt::Every:
            list.append(words("a new document every %1 pages").arg(ticket.pages.split_every));
            break;
        case SplitAt::Never:
            break;
        }
    }
    return list.isEmpty() ? words("change nothing") : list.join(", ");
}

}

QList<Phrase> phrases(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    // What the automatic colour became, by the page that is looked at.
    QString became;
    QString paper, made_as, ink_why, paper_why, made_why;
    if (const PagePtr page = models.choice.current(); page && page->noticed) {
        if (!ticket.how.ink) {
            became = ink(page->recipe.ink.value_or(page->original.ink));
            ink_why = words("The page looked at was %1.").arg(why_ink(*page));
        }
        if (ticket.from.paper == "auto" && !ticket.from.own_paper) paper = QString::fromStdString(page->notices.paper);
        if (!paper.isEmpty() && page->notices.sheet)
            paper_why = words("Its edges lie %1 × %2 mm apart: %3.")
                            .arg(page->notices.sheet->w_mm, 0, 'f', 1)
                            .arg(page->notices.sheet->h_mm, 0, 'f', 1)
                            .arg(paper);
        if (ticket.make.format == Format::Auto) {
            made_why = page->notices.kind == PageKind::Photo ? words("The page looked at is a photograph.")
                                                             : words("The page looked at is not only a photograph.");
            made_as = QString::fromUtf8(
                format_words(make_for(ticket.make, page->notices.kind == PageKind::Photo).format).data());
        }
    }
    const bool reads = !ticket.read.languages.empty() && make_for(ticket.make, false).format == Format::Pdf;
    // What this scanner makes of the ticket, where that is something else.
    const ScanRequest will = models.next_scan.request();
    const Source wanted = ticket.from.source;
    const bool other_source = models.scanners.chosen() && wanted != Source::HandFed && will.source != wanted &&
                              !models.next_scan.two_passes();
    const int dpi = static_cast<int>(std::lround(will.dpi));
    const bool other_ink =
        ticket.how.ink && models.scanners.chosen() && will.ink != *ticket.how.ink && will.ink > *ticket.how.ink;
    const QString instead = words("instead of %1");
    if (other_ink) became = instead.arg(ink(ticket.how.ink));
    const QString folder = models.tickets.folder();
    const bool folder_is_there = check_folder(folder.toStdString()).has_value();
    const QString shown_folder = folder == QDir::homePath()               ? words("the home folder")
                                 : QFileInfo(folder).fileName().isEmpty() ? folder
                                                                          : QFileInfo(folder).fileName();
    // The rarer ones stand in the sentence once they are set.
    const QString quality = ticket.make.jpeg_quality == Ticket::Make{}.jpeg_quality
                                ? QString()
                                : words("JPEG quality %1").arg(ticket.make.jpeg_quality);
    const auto more = ticket.from.more.find(models.scanners.key().toStdString());
    const int settings = more == ticket.from.more.end() ? 0 : static_cast<int>(more->second.size());
    const QString own = settings == 0   ? QString()
                        : settings == 1 ? words("a setting of the scanner's own")
                                        : words("%1 settings of the scanner's own").arg(settings);
    return {
        {"source", source(other_source ? will.source : wanted, ticket.from.flip, models.next_scan.two_passes()),
         other_source ? instead.arg(source(wanted, ticket.from.flip, false)) : QString(), false},
        {"scanner",
         !models.scanners.connecting_to().isEmpty() ? words("%1 (connecting)").arg(models.scanners.connecting_to())
         : models.scanners.chosen()                 ? models.scanners.title()
                                                    : words("no scanner yet"),
         {},
         !models.scanners.chosen()},
        {"area", area(models), paper, false, paper_why},
        {"ink", other_ink ? ink(will.ink) : ink(ticket.how.ink), became, false, ink_why},
        {"dpi", ticket.how.dpi_auto ? words("automatic resolution") : words("%1 dpi").arg(dpi),
         ticket.how.dpi_auto     ? words("%1 dpi").arg(dpi)
         : dpi != ticket.how.dpi ? instead.arg(ticket.how.dpi)
                                 : QString(),
         false},
        {"pages", corrections(ticket, will.source != Source::Glass), {}, false},
        {"read", reads ? words("read %1").arg(languages(ticket.read.languages)) : words("read nothing"), {}, false},
        {"make", format(ticket), made_as, false, made_why},
        {"name", models.names.next(), {}, false},
        {"folder", folder_is_there ? shown_folder : words("%1 (not there)").arg(shown_folder), {}, !folder_is_there},
        {"quality", quality, {}, false, {}, words(", at ")},
        {"more", own, {}, false, {}, words(", with ")},
        {"and", words("and …"), {}, false}};
}

}
}
