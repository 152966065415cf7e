#include "app/tray/tray_sheets.h"

#include "app/models/naming/document_names.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/theme/phrase_sheet.h"
#include "app/tray/add_sheet.h"

#include <QLineEdit>

namespace yelvin {

TraySheets::TraySheets(const TrayModels& models, const TabWords& words, QWidget* parent)
    : QObject(parent), models_(models), words_(words), parent_(parent) {}

void TraySheets::open_choose(const QRect& anchor) {
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("choose-sheet");
    sheet->add_row(tr("all pages"), tr("of the tray (Ctrl+A)"), false, [this] { models_.choice.choose_all(); });
    sheet->add_row(tr("this document"), {}, false,
                   [this] { models_.choice.choose(models_.choice.pages_of_document()); });
    sheet->add_row(tr("odd pages"), tr("of this document"), false, [this] { models_.choice.choose_every_other(true); });
    sheet->add_row(tr("even pages"), tr("of this document"), false,
                   [this] { models_.choice.choose_every_other(false); });
    sheet->add_row(tr("invert"), tr("pages not selected now (Ctrl+I)"), false,
                   [this] { models_.choice.choose_others(); });
    auto* numbers = new QLineEdit(sheet);
    numbers->setObjectName("numbers");
    numbers->setPlaceholderText(tr("by number: 1-3, 7"));
    numbers->setAccessibleName(tr("page numbers of this document"));
    sheet->add_widget(numbers);
    connect(numbers, &QLineEdit::returnPressed, sheet, [this, numbers, sheet] {
        if (models_.choice.choose_numbers(numbers->text()))
            sheet->close();
        else
            numbers->selectAll();
    });
    sheet->add_advice(tr(
        "Ctrl+click adds a page, Shift+click all pages up to it. Keys in the tray: Shift with the arrow keys, Space."));
    sheet->open_under(anchor);
}

void TraySheets::open_for_pages(const QString& document, const QRect& anchor) {
    const size_t chosen = models_.choice.chosen().size();
    if (chosen == 0) return;
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("page-sheet");
    sheet->add_heading(chosen > 1 ? tr("%1 selected pages").arg(chosen) : tr("This page"));
    sheet->add_row(tr("turn left"), "[", false, [this] { models_.edits.turn(-1); });
    sheet->add_row(tr("turn right"), "]", false, [this] { models_.edits.turn(1); });
    sheet->add_row(tr("remove"), tr("Delete; Ctrl+Z undoes it"), false, [this] { models_.edits.remove(); });
    sheet->add_row(tr("duplicate"), {}, false, [this] { models_.edits.duplicate(); });
    sheet->add_row(tr("move to a new document"), {}, false, [this] { models_.edits.part(); });
    if (words_.errands_on(document).isEmpty())
        add_document_rows(*sheet, document, anchor);
    else
        add_file_rows(*sheet, document, anchor);
    if (chosen > 1)
        add_joining_rows(*sheet);
    else
        add_rows_of_one_page(*sheet);
    sheet->open_under(anchor);
}

void TraySheets::add_file_rows(PhraseSheet& sheet, const QString& document, const QRect& anchor) {
    sheet.add_heading(tr("File"));
    for (const ErrandState& state : words_.errands_on(document))
        sheet.add_row(errand_words(state.errand), state.is == ErrandState::Is::Failed ? state.why : QString(), false,
                      [this, document, anchor, errand = state.errand] { begin_errand(document, errand, anchor); });
    add_ticket_row(sheet, document, anchor);
    sheet.add_row(tr("rename the file"), "F2", false, [this, document] { emit rename_wanted(document); });
    sheet.add_row(tr("move the file…"), tr("to another folder"), false,
                  [this, document, anchor] { open_folders(tr("Choose a folder"), document, anchor); });
}

void TraySheets::add_document_rows(PhraseSheet& sheet, const QString& document, const QRect& anchor) {
    sheet.add_heading(tr("This document"));
    add_waiting_rows(sheet, document);
    add_ticket_row(sheet, document, anchor);
    sheet.add_row(tr("names…"), "Shift+F2", false, [this, document, anchor] { open_names(document, anchor); });
    if (const DocumentPtr there = words_.growing(document))
        sheet.add_row(TabWords::growing_words(*there), tr("after its pages"), false,
                      [this, document] { add_to_file(document); });
    sheet.add_row(tr("add to a PDF…"), tr("an existing file"), false, [this, document, anchor] {
        open_add_sheet(models_.saving, document.toStdString(), anchor, parent_);
    });
}

void TraySheets::add_joining_rows(PhraseSheet& sheet) {
    sheet.add_heading(tr("Combine on one page"));
    sheet.add_row(tr("side by side"), {}, false, [this] { models_.edits.join(Joined::Beside); });
    sheet.add_row(tr("one above the other"), {}, false, [this] { models_.edits.join(Joined::Above); });
    sheet.add_row(tr("on an A4 page"), tr("both sides of a card"), false, [this] { models_.edits.join(Joined::OnA4); });
    sheet.add_row(tr("stitch the pieces of one original"), "Ctrl+G", false, [this] { emit stitch_wanted(); });
}

void TraySheets::add_rows_of_one_page(PhraseSheet& sheet) {
    sheet.add_row(tr("add a divider"), "Ctrl+D", false, [this] { models_.edits.divide(); });
    const bool starts = models_.tray.next_page_starts_document();
    sheet.add_row(starts ? tr("add the next page to the last document") : tr("start a new document with the next page"),
                  "Ctrl+Shift+D", false, [this, starts] { models_.tray.set_next_page_starts_document(!starts); });
    if (!models_.scanners.chosen()) return;
    sheet.add_heading(tr("Scan"));
    const QString ticket = models_.run.ticket_of_current();
    sheet.add_row(tr("in place of this page"),
                  ticket.isEmpty() ? tr("undo brings this one back") : tr("with %1, as before").arg(ticket), false,
                  [this] { models_.run.scan_at_current(Landing::How::Instead); });
    sheet.add_row(tr("before this page"), {}, false, [this] { models_.run.scan_at_current(Landing::How::Before); });
    sheet.add_row(tr("after this page"), {}, false, [this] { models_.run.scan_at_current(Landing::How::Behind); });
}

// ---- tickets

QStringList TraySheets::chosen_with(const QString& document) const {
    QStringList out;
    const auto& chosen = models_.choice.chosen();
    for (const DocumentPtr& each : models_.tray.tray().documents) {
        const auto is_chosen = [&](const PagePtr& page) { return chosen.contains(page->id); };
        if (models_.choice.several() && std::ranges::any_of(each->pages, is_chosen))
            out.append(QString::fromStdString(each->id));
    }
    return out.contains(document) ? out : QStringList{document};
}

void TraySheets::open_ticket(const QString& document, const QRect& anchor) {
    emit ticket_wanted(chosen_with(document), anchor);
}

void TraySheets::add_ticket_row(PhraseSheet& sheet, const QString& document, const QRect& anchor) {
    const DocumentPtr there = document_at(models_.tray.tray(), document.toStdString());
    if (!there) return;
    sheet.add_row(tr("make as …"), QString::fromStdString(models_.document_tickets.of(*there).name), false,
                  [this, document, anchor] { open_ticket(document, anchor); });
}

// ---- what a word on a tab does

void TraySheets::press(const QString& document, const TabWord& word, const QRect& anchor) {
    switch (word.is) {
    case TabWord::Is::Adds:
        return add_to_file(document);
    case TabWord::Is::Proposes:
        return open_names(document, anchor);
    case TabWord::Is::WaitsForFolder:
        return open_waits(document, anchor);
    case TabWord::Is::WaitsForAnswer:
        return emit question_wanted();
    case TabWord::Is::Ticket:
        return open_ticket(document, anchor);
    case TabWord::Is::Grows:
        return open_growth(document, anchor);
    case TabWord::Is::Errand:
        break;
    }
    begin_errand(document, word.state.errand, anchor);
}

// The file to which documents of this ticket are added: its name, and ending it.
void TraySheets::open_growth(const QString& document, const QRect& anchor) {
    const DocumentPtr there = document_at(models_.tray.tray(), document.toStdString());
    if (!there) return;
    const auto file = models_.names.added_to(*there);
    const Ticket ticket = models_.document_tickets.of(*there);
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("growth-sheet");
    sheet->add_heading(file.empty() ? tr("The first document starts the file")
                                    : tr("Added to %1").arg(QString::fromStdString(file.filename().string())));
    if (!file.empty())
        sheet->add_row(tr("start another file"), tr("with the next saved document"), false,
                       [this, ticket] { models_.growing.end(ticket); });
    sheet->add_row(tr("save as its own file"), tr("only this document"), false, [this, document] {
        models_.document_tickets.change(chosen_with(document),
                                        [](Ticket& own) { own.save.grows = Ticket::Save::Grows::No; });
    });
    sheet->add_advice(tr("Documents scanned with %1 become pages of one file: %2.")
                          .arg(QString::fromStdString(ticket.name), GrowingFiles::until(ticket)));
    sheet->open_under(anchor);
}

void TraySheets::add_to_file(const QString& document) {
    if (const DocumentPtr there = words_.growing(document)) models_.saving.add(there->id, {there->part_of});
}

void TraySheets::begin_errand(const QString& document, Errand errand, const QRect& anchor) {
    const std::string id = document.toStdString();
    const auto states = models_.errands.of(id);
    const auto at = std::ranges::find(states, errand, &ErrandState::errand);
    const bool failed = at != states.end() && at->is == ErrandState::Is::Failed;
    if (errand == Errand::Mail && failed && !models_.errands.mail_said(id).fits) return open_mail(id, anchor);
    models_.errands.begin(id, errand);
}

// Too large for one e-mail: the user decides what to do.
void TraySheets::open_mail(const std::string& document, const QRect& anchor) {
    const Errands::MailSaid mail = models_.errands.mail_said(document);
    auto* sheet = new PhraseSheet(parent_);
    sheet->setObjectName("mail-sheet");
    sheet->add_heading(tr("Too large for one e-mail"));
    if (mail.lower_dpi)
        sheet->add_row(tr("at lower resolution: %1 dpi").arg(*mail.lower_dpi), tr("the saved file does not change"),
                       false,
                       [this, document, dpi = *mail.lower_dpi] { models_.errands.mail_at_lower_dpi(document, dpi); });
    if (mail.mails > 1)
        sheet->add_row(tr("in %1 e-mails").arg(mail.mails), tr("each within the limit"), false,
                       [this, document] { models_.errands.mail_anyway(document, Mailing::Mails::AsManyAsItTakes); });
    sheet->add_row(tr("in one e-mail anyway"), tr("the server may reject it"), false,
                   [this, document] { models_.errands.mail_anyway(document, Mailing::Mails::One); });
    sheet->add_advice(tr("You set the limit under “then …” in the ticket's sentence."));
    sheet->open_under(anchor);
}

}
