// The text at each place of the sentence.
#include "app/ticketbar/wording.h"

#include "app/models/errands/errands.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/folders.h"
#include "app/models/saving/save_places.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/ticketbar/chip_row.h"
#include "core/errands/programs.h"
#include "core/naming/file_name.h"
#include "core/text/languages.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QHash>

namespace yelvin::wording {

namespace {

// What automatic choices became for the current page, and why.
struct Became {
    QString ink, ink_why, paper, paper_why, format, format_why;
};

Became became_of(const Page& page, const Ticket& ticket) {
    Became became;
    if (!ticket.how.ink) {
        became.ink = ink(page.recipe.ink.value_or(page.original.ink));
        became.ink_why = SentenceText::tr("The page in the view was %1.").arg(why_ink(page));
    }
    if (ticket.from.paper == "auto" && !ticket.from.own_paper)
        became.paper = QString::fromStdString(page.notices.paper);
    if (!became.paper.isEmpty() && page.notices.sheet)
        became.paper_why = SentenceText::tr("It measures %1 × %2 mm: %3.")
                               .arg(page.notices.sheet->w_mm, 0, 'f', 1)
                               .arg(page.notices.sheet->h_mm, 0, 'f', 1)
                               .arg(became.paper);
    if (ticket.make.format == Format::Auto) {
        const bool photograph = page.notices.kind == PageKind::Photo;
        became.format_why = photograph ? SentenceText::tr("The page in the view is a photograph.")
                                       : SentenceText::tr("The page in the view is not just a photograph.");
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
            other ? SentenceText::tr("instead of %1").arg(source(from.source, from.flip, false)) : QString()};
}

Phrase scanner_phrase(const Scanners& scanners) {
    const QString name = !scanners.connecting_to().isEmpty()
                             ? SentenceText::tr("%1 (connecting)").arg(scanners.connecting_to())
                         : scanners.chosen() ? scanners.title()
                                             : SentenceText::tr("no scanner yet");
    return {"scanner", name, {}, !scanners.chosen()};
}

Phrase ink_phrase(const TicketModels& models, const ScanRequest& will, const Became& became) {
    const auto& wanted = models.tickets.ticket().how.ink;
    const bool other = wanted && models.scanners.chosen() && will.ink > *wanted;
    if (other) return {"ink", ink(will.ink), SentenceText::tr("instead of %1").arg(ink(wanted))};
    return {"ink", ink(wanted), became.ink, false, became.ink_why};
}

Phrase dpi_phrase(const Ticket::How& how, int will) {
    if (how.dpi_auto) return {"dpi", SentenceText::tr("automatic resolution"), SentenceText::tr("%1 dpi").arg(will)};
    return {"dpi", SentenceText::tr("%1 dpi").arg(will),
            will != how.dpi ? SentenceText::tr("instead of %1").arg(how.dpi) : QString()};
}

QString reading(const std::vector<std::string>& in) {
    const bool detects = in.size() == 1 && in.front() == automatic_language;
    return detects ? SentenceText::tr("read and detect the language") : SentenceText::tr("read %1").arg(languages(in));
}

// "Leases/2026/sender": a value that is not known yet is shown by its caption.
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
    if (save.where == Ticket::Save::Where::Asked)
        return {"folder", SentenceText::tr("a folder you choose when saving")};
    if (save.where == Ticket::Save::Where::Temporary) return {"folder", SentenceText::tr("a temporary folder")};
    const QString folder = models.tickets.folder();
    const QString name = QFileInfo(folder).fileName();
    const QString shown = folder == QDir::homePath() ? SentenceText::tr("the home folder")
                          : name.isEmpty()           ? folder
                                                     : name;
    const FolderState state = models.folders.of(folder.toStdString());
    const QString whole = shown + within_words(models);
    const QString why = QString::fromStdString(state.why.sentence);
    switch (state.is) {
    case FolderState::Is::Missing:
        return save.make_folder ? Phrase{"folder", SentenceText::tr("%1 (new)").arg(whole)}
                                : Phrase{"folder", SentenceText::tr("%1 (missing)").arg(whole), {}, true, why};
    case FolderState::Is::Silent:
        return {"folder", SentenceText::tr("%1 (not responding)").arg(whole), {}, true, why};
    case FolderState::Is::Unusable:
        return {"folder", SentenceText::tr("%1 (read-only)").arg(whole), {}, true, why};
    default:
        return {"folder", whole};
    }
}

// Rarely needed choices are in the sentence once they are set.
Phrase quality_phrase(const Ticket::Make& make) {
    const bool usual = make.jpeg_quality == Ticket::Make{}.jpeg_quality;
    return {"quality", usual ? QString() : SentenceText::tr("JPEG quality %1").arg(make.jpeg_quality),
            {},        false,
            {},        SentenceText::tr(", at ")};
}

// Looked up once, because the sentence is made again at every change.
QString program_title(const std::string& id) {
    static QHash<QString, QString> titles;
    const QString key = QString::fromStdString(id);
    if (!titles.contains(key)) {
        const auto program = program_named(id);
        titles[key] = program ? QString::fromStdString(program->name) : SentenceText::tr("%1 (missing)").arg(key);
    }
    return titles[key];
}

// If nothing happens after saving, there is no phrase, which keeps the sentence short.
Phrase then_phrase(const Ticket& ticket) {
    QStringList list;
    for (const Errand each : ticket.then.errands) {
        QString said = errand_words(each);
        if (each == Errand::OpenWith && !ticket.then.program.empty())
            said = SentenceText::tr("open it with %1").arg(program_title(ticket.then.program));
        if (each == Errand::Print && ticket.then.print.copies > 1)
            said = SentenceText::tr("print it %1 times").arg(ticket.then.print.copies);
        list.append(said);
    }
    QString said = list.join(", ");
    if (list.size() > 1) {
        const QString last = list.takeLast();
        said = SentenceText::tr("%1 and %2").arg(list.join(", "), last);
    }
    if (ticket.save.at_once)
        said = said.isEmpty() ? SentenceText::tr("save automatically")
                              : SentenceText::tr("save automatically, then %1").arg(said);
    return {"then", said, {}, false, {}, ticket.save.at_once ? SentenceText::tr(", ") : SentenceText::tr(", then ")};
}

Phrase more_phrase(const Ticket::From& from, const std::string& scanner) {
    const auto more = from.more.find(scanner);
    const size_t settings = more == from.more.end() ? 0 : more->second.size();
    return {"more",
            settings == 0   ? QString()
            : settings == 1 ? SentenceText::tr("1 scanner setting")
                            : SentenceText::tr("%1 scanner settings").arg(settings),
            {},
            false,
            {},
            SentenceText::tr(", with ")};
}

}

QString where(const Ticket& ticket) {
    if (ticket.save.where == Ticket::Save::Where::Asked) return SentenceText::tr("a folder you choose when saving");
    if (ticket.save.where == Ticket::Save::Where::Temporary) return SentenceText::tr("a temporary folder");
    return shown_folder(QString::fromStdString(expanded_folder(ticket.save.folder).string()));
}

QString then(const Ticket& ticket) { return then_phrase(ticket).words; }

QString becomes(const Ticket& ticket) {
    const QString file = SentenceText::tr("%1 in %2").arg(format(ticket), where(ticket)), next = then(ticket);
    return next.isEmpty() ? file : SentenceText::tr("%1, then %2").arg(file, next);
}

QList<Phrase> phrases(const TicketModels& models) {
    const Ticket& ticket = models.tickets.ticket();
    const PagePtr page = models.choice.current();
    // The result of automatic choices is shown only for a page whose document uses the ticket in the sentence.
    const bool says = page && page->noticed && &models.document_tickets.of_page(page->id) == &ticket;
    const Became became = says ? became_of(*page, ticket) : Became{};
    const auto read_in = languages_for(ticket, ticket.read.languages);
    const bool reads = !read_in.empty() && takes_words(make_for(ticket.make, false));
    const ScanRequest will = models.next_scan.request(); // The ticket's request as this scanner can carry it out.
    return {source_phrase(models, will),
            scanner_phrase(models.scanners),
            {"area", area(models), became.paper, false, became.paper_why},
            ink_phrase(models, will, became),
            dpi_phrase(ticket.how, static_cast<int>(std::lround(will.dpi))),
            {"pages", corrections(ticket)},
            {"documents", documents(ticket.pages, will.source != Source::Glass)},
            {"read", reads ? reading(read_in) : SentenceText::tr("read no text")},
            {"make", format(ticket), became.format, false, became.format_why},
            {"name", models.names.next_said(part_caption)},
            folder_phrase(models),
            quality_phrase(ticket.make),
            more_phrase(ticket.from, models.scanners.key().toStdString()),
            then_phrase(ticket),
            {"and", SentenceText::tr("and …")}};
}

}
