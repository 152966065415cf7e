#include "app/ticketbar/wording.h"

#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/document_tickets.h"
#include "app/models/errands.h"
#include "app/models/folders.h"
#include "app/models/glass.h"
#include "app/models/next_scan.h"
#include "app/models/save_places.h"
#include "app/models/scanners.h"
#include "app/models/tickets.h"
#include "app/ticketbar/chip_row.h"
#include "app/ticketbar/ticket_bar.h"
#include "core/errands/programs.h"
#include "core/reading/languages.h"
#include "core/saving/file_name.h"
#include "core/saving/safe_file.h"

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

namespace {
QString words(const char* text) { return QCoreApplication::translate("Sentence", text); }
}

QString pattern() {
    //: The ticket. 1 source, 2 scanner, 3 area, 4 ink, 5 resolution, 6 corrections, 7 reading, 8 format, 9 name, 10
    //: folder; 11 JPEG quality and 12 the scanner's own settings, each with its words in front, where set; 13
    //: what happens then, with words in front of it; 14 more
    return words("Scan %1 of %2, %3, in %4 at %5; %6, %7; make %8 named %9 in %10%11%12%13, %14");
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
    if (name == automatic_language) return words("any language");
    return QString::fromStdString(language_words(name));
}

QString languages(const std::vector<std::string>& list) {
    QStringList names;
    for (const auto& name : list) names.append(language(name));
    if (names.size() < 2) return names.join("");
    const QString last = names.takeLast();
    return words("%1 and %2").arg(names.join(", "), last);
}

QString tiff_coding(TiffCoding coding) {
    switch (coding) {
    case TiffCoding::Lzw:
        return words("LZW");
    case TiffCoding::Deflate:
        return words("Deflate");
    case TiffCoding::Jpeg:
        return words("JPEG");
    case TiffCoding::Auto:
        break;
    }
    return words("what fits each page");
}

QString format(const Ticket& ticket) {
    const Ticket::Make& make = ticket.make;
    const bool read = is_pdf(make.format) && !ticket.read.languages.empty(), searchable = read && make.searchable;
    if (ticket.make.format == Format::Auto) return words("one PDF per document, or a JPEG per photograph");
    const QString plain = QString::fromUtf8(format_words(make.format).data());
    const QString kind = searchable ? words("searchable %1").arg(plain) : plain;
    const bool per_document = make.per == Per::Document && holds_many_pages(make.format);
    QStringList said{(per_document ? words("one %1 per document") : words("one %1 per page")).arg(kind)};
    if (make.format == Format::PdfA && make.pdf_a_level == PdfALevel::A1b) said.append(words("level 1b"));
    if (read && !make.searchable) said.append(words("without its words"));
    if (read && make.bookmarks) said.append(words("with bookmarks"));
    if (make.format == Format::Text && make.lines_as_printed) said.append(words("its lines as printed"));
    if ((make.format == Format::Docx || make.format == Format::Odt) && make.as_it_looks)
        said.append(words("as it looks"));
    if (make.format == Format::Tiff && make.tiff_coding != TiffCoding::Auto)
        said.append(words("packed by %1").arg(tiff_coding(make.tiff_coding)));
    if (make.is_protected()) said.append(words("protected"));
    if (!make.stamp.parts.empty()) said.append(words("stamped"));
    for (const AlsoMade& each : make.also)
        said.append(words("and a %1").arg(QString::fromUtf8(format_words(each.format).data())));
    return said.join(", ");
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

namespace {

// What automatic choices became, by the page that is looked at, and why.
struct Became {
    QString ink, ink_why, paper, paper_why, format, format_why;
};

Became became_of(const Page& page, const Ticket& ticket) {
    Became became;
    if (!ticket.how.ink) {
        became.ink = ink(page.recipe.ink.value_or(page.original.ink));
        became.ink_why = words("The page looked at was %1.").arg(why_ink(page));
    }
    if (ticket.from.paper == "auto" && !ticket.from.own_paper)
        became.paper = QString::fromStdString(page.notices.paper);
    if (!became.paper.isEmpty() && page.notices.sheet)
        became.paper_why = words("Its edges lie %1 × %2 mm apart: %3.")
                               .arg(page.notices.sheet->w_mm, 0, 'f', 1)
                               .arg(page.notices.sheet->h_mm, 0, 'f', 1)
                               .arg(became.paper);
    if (ticket.make.format == Format::Auto) {
        const bool photograph = page.notices.kind == PageKind::Photo;
        became.format_why = photograph ? words("The page looked at is a photograph.")
                                       : words("The page looked at is not only a photograph.");
        became.format = QString::fromUtf8(format_words(make_for(ticket.make, photograph).format).data());
    }
    return became;
}

Phrase source_phrase(const TicketModels& models, const ScanRequest& will) {
    const Ticket::From& from = models.tickets.ticket().from;
    const bool two_passes = models.next_scan.two_passes();
    const bool other =
        models.scanners.chosen() && from.source != Source::HandFed && will.source != from.source && !two_passes;
    return {"source", source(other ? will.source : from.source, from.flip, two_passes),
            other ? words("instead of %1").arg(source(from.source, from.flip, false)) : QString()};
}

Phrase scanner_phrase(const Scanners& scanners) {
    const QString name = !scanners.connecting_to().isEmpty() ? words("%1 (connecting)").arg(scanners.connecting_to())
                         : scanners.chosen()                 ? scanners.title()
                                                             : words("no scanner yet");
    return {"scanner", name, {}, !scanners.chosen()};
}

Phrase ink_phrase(const TicketModels& models, const ScanRequest& will, const Became& became) {
    const auto& wanted = models.tickets.ticket().how.ink;
    const bool other = wanted && models.scanners.chosen() && will.ink > *wanted;
    if (other) return {"ink", ink(will.ink), words("instead of %1").arg(ink(wanted))};
    return {"ink", ink(wanted), became.ink, false, became.ink_why};
}

Phrase dpi_phrase(const Ticket::How& how, int will) {
    if (how.dpi_auto) return {"dpi", words("automatic resolution"), words("%1 dpi").arg(will)};
    return {"dpi", words("%1 dpi").arg(will), will != how.dpi ? words("instead of %1").arg(how.dpi) : QString()};
}

// "Leases/2026/sender": what is not known yet by its caption.
QString within_words(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    QString out;
    bool begins = true;
    for (const NamePart& part : ticket.save.within) {
        if (part.kind == NamePart::Kind::Slash) {
            begins = true;
            continue;
        }
        const auto known = with_values({part}, {{}, ticket.name});
        const QString said = is_read_on_paper(part.kind) || known.empty()
                                 ? part_caption(part.kind)
                                 : QString::fromStdString(joined_parts(known, today(), 1));
        out += (begins ? "/" : " ") + said;
        begins = false;
    }
    return out;
}

Phrase folder_phrase(const TicketModels& models) {
    const Ticket::Save& save = models.tickets.ticket().save;
    if (save.where == Ticket::Save::Where::Asked) return {"folder", words("a folder that is asked for")};
    if (save.where == Ticket::Save::Where::Temporary) return {"folder", words("a folder for a look")};
    const QString folder = models.tickets.folder();
    const QString name = QFileInfo(folder).fileName();
    const QString shown = folder == QDir::homePath() ? words("the home folder") : name.isEmpty() ? folder : name;
    const FolderState state = models.folders.of(folder.toStdString());
    const QString whole = shown + within_words(models);
    const QString why = QString::fromStdString(state.why.sentence);
    switch (state.is) {
    case FolderState::Is::Missing:
        return save.make_folder ? Phrase{"folder", words("%1 (to be made)").arg(whole)}
                                : Phrase{"folder", words("%1 (not there)").arg(whole), {}, true, why};
    case FolderState::Is::Silent:
        return {"folder", words("%1 (does not answer)").arg(whole), {}, true, why};
    case FolderState::Is::Unusable:
        return {"folder", words("%1 (cannot be written to)").arg(whole), {}, true, why};
    default:
        return {"folder", whole};
    }
}

// The rarer ones stand in the sentence once they are set.
Phrase quality_phrase(const Ticket::Make& make) {
    const bool usual = make.jpeg_quality == Ticket::Make{}.jpeg_quality;
    return {"quality",     usual ? QString() : words("JPEG quality %1").arg(make.jpeg_quality), {}, false, {},
            words(", at ")};
}

// Looked up once: the sentence is made anew at every change.
QString program_title(const std::string& id) {
    static QHash<QString, QString> titles;
    const QString key = QString::fromStdString(id);
    if (!titles.contains(key)) {
        const auto program = program_named(id);
        titles[key] = program ? QString::fromStdString(program->name) : words("%1 (not there)").arg(key);
    }
    return titles[key];
}

// Nothing stands there where nothing happens: the sentence is no longer than it must be.
Phrase then_phrase(const Ticket& ticket) {
    QStringList list;
    for (const Errand each : ticket.then.errands) {
        QString said = errand_words(each);
        if (each == Errand::OpenWith && !ticket.then.program.empty())
            said = words("open it with %1").arg(program_title(ticket.then.program));
        if (each == Errand::Print && ticket.then.print.copies > 1)
            said = words("print it %1 times").arg(ticket.then.print.copies);
        list.append(said);
    }
    QString said = list.join(", ");
    if (list.size() > 1) {
        const QString last = list.takeLast();
        said = words("%1 and %2").arg(list.join(", "), last);
    }
    if (ticket.save.at_once) said = said.isEmpty() ? words("at once") : words("at once, then %1").arg(said);
    return {"then", said, {}, false, {}, ticket.save.at_once ? words(", ") : words(", then ")};
}

Phrase more_phrase(const Ticket::From& from, const std::string& scanner) {
    const auto more = from.more.find(scanner);
    const size_t settings = more == from.more.end() ? 0 : more->second.size();
    return {"more",
            settings == 0   ? QString()
            : settings == 1 ? words("a setting of the scanner's own")
                            : words("%1 settings of the scanner's own").arg(settings),
            {},
            false,
            {},
            words(", with ")};
}

}

QString where(const Ticket& ticket) {
    if (ticket.save.where == Ticket::Save::Where::Asked) return words("a folder that is asked for");
    if (ticket.save.where == Ticket::Save::Where::Temporary) return words("a folder for a look");
    return shown_folder(QString::fromStdString(expanded_folder(ticket.save.folder).string()));
}

QString then(const Ticket& ticket) { return then_phrase(ticket).words; }

QString becomes(const Ticket& ticket) {
    const QString file = words("%1 in %2").arg(format(ticket), where(ticket)), next = then(ticket);
    return next.isEmpty() ? file : words("%1, then %2").arg(file, next);
}

QList<Phrase> phrases(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    const PagePtr page = models.choice.current();
    // What automatic choices became is only said of a page whose document goes by the ticket in the sentence.
    const bool says = page && page->noticed && &models.document_tickets.of_page(page->id) == &ticket;
    const Became became = says ? became_of(*page, ticket) : Became{};
    const auto read_in = languages_for(ticket, ticket.read.languages);
    const bool reads = !read_in.empty() && takes_words(make_for(ticket.make, false));
    const ScanRequest will = models.next_scan.request(); // what this scanner makes of the ticket
    return {source_phrase(models, will),
            scanner_phrase(models.scanners),
            {"area", area(models), became.paper, false, became.paper_why},
            ink_phrase(models, will, became),
            dpi_phrase(ticket.how, static_cast<int>(std::lround(will.dpi))),
            {"pages", corrections(ticket, will.source != Source::Glass)},
            {"read", reads ? words("read %1").arg(languages(read_in)) : words("read nothing")},
            {"make", format(ticket), became.format, false, became.format_why},
            {"name", models.names.next_said(part_caption)},
            folder_phrase(models),
            quality_phrase(ticket.make),
            more_phrase(ticket.from, models.scanners.key().toStdString()),
            then_phrase(ticket),
            {"and", words("and …")}};
}

}
}
