// The sheets of the out tray: choosing pages, and what can be done with the chosen ones.
#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/experience.h"
#include "app/models/looking.h"
#include "app/models/out_tray.h"
#include "app/models/page_edits.h"
#include "app/models/pictures.h"
#include "app/models/saving.h"
#include "app/models/scanners.h"
#include "app/models/scanning.h"
#include "app/models/tickets.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/tray/tray_strip.h"

#include <QContextMenuEvent>
#include <QLineEdit>

namespace yelvin {

void TrayStrip::open_choose_sheet(const QRect& anchor) {
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("choose-sheet");
    sheet->add_row(tr("all pages"), tr("of the tray (Ctrl+A)"), false, [this] { models_.choice.choose_all(); });
    sheet->add_row(tr("this document"), {}, false,
                   [this] { models_.choice.choose(models_.choice.pages_of_document()); });
    sheet->add_row(tr("odd pages"), tr("of this document"), false, [this] { models_.choice.choose_every_other(true); });
    sheet->add_row(tr("even pages"), tr("of this document"), false,
                   [this] { models_.choice.choose_every_other(false); });
    sheet->add_row(tr("the others"), tr("those not chosen now (Ctrl+I)"), false,
                   [this] { models_.choice.choose_others(); });
    auto* numbers = new QLineEdit(sheet);
    numbers->setObjectName("numbers");
    numbers->setPlaceholderText(tr("by number: 1-3, 7"));
    numbers->setAccessibleName(tr("numbers of pages of this document"));
    sheet->add_widget(numbers);
    connect(numbers, &QLineEdit::returnPressed, sheet, [this, numbers, sheet] {
        if (models_.choice.choose_numbers(numbers->text()))
            sheet->close();
        else
            numbers->selectAll();
    });
    sheet->add_advice(tr(
        "With the mouse: Ctrl adds a page, Shift all up to it. With keys in the tray: Shift and the arrows, Space."));
    sheet->open_under(anchor);
}

void TrayStrip::open_page_sheet(const QRect& anchor) {
    const PageIds chosen = models_.choice.chosen();
    if (chosen.empty()) return;
    const bool several = chosen.size() > 1;
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("page-sheet");
    sheet->add_heading(several ? tr("%1 chosen pages").arg(chosen.size()) : tr("This page"));
    sheet->add_row(tr("turn left"), "[", false, [this] { models_.edits.turn(-1); });
    sheet->add_row(tr("turn right"), "]", false, [this] { models_.edits.turn(1); });
    sheet->add_row(tr("remove"), tr("Delete; Ctrl+Z brings back"), false, [this] { models_.edits.remove(); });
    sheet->add_row(tr("duplicate"), {}, false, [this] { models_.edits.duplicate(); });
    sheet->add_row(tr("a document of their own"), {}, false, [this] { models_.edits.part(); });
    const QString document = document_of_current();
    const auto errands = errands_on(document);
    if (!errands.isEmpty()) sheet->add_heading(tr("With its file"));
    for (const ErrandState& state : errands)
        sheet->add_row(errand_words(state.errand), state.is == ErrandState::Is::Failed ? state.why : QString(), false,
                       [this, document, anchor, errand = state.errand] { begin_errand(document, errand, anchor); });
    if (!errands.isEmpty()) {
        sheet->add_row(tr("rename the file"), "F2", false, [this, document] { rename(document); });
        sheet->add_row(tr("move the file …"), tr("into another folder"), false, [this, document, anchor] {
            auto* folders = new PhraseSheet(this);
            folders->setObjectName("folder-sheet");
            folders->add_heading(tr("Where the file goes"));
            add_folder_rows(*folders, document);
            folders->open_under(anchor);
        });
    } else {
        sheet->add_heading(tr("This document"));
        add_waiting_rows(*sheet, document);
        sheet->add_row(tr("names …"), "Shift+F2", false,
                       [this, document, anchor] { open_names_sheet(document, anchor); });
        if (const DocumentPtr there = growing(document))
            sheet->add_row(growing_words(*there), tr("behind what it has"), false,
                           [this, document] { add_to_file(document); });
        sheet->add_row(tr("add to a PDF …"), tr("one that exists"), false,
                       [this, document, anchor] { add_to_another(document, anchor); });
    }
    if (several) {
        sheet->add_heading(tr("On one page"));
        sheet->add_row(tr("side by side"), {}, false, [this] { models_.edits.join(Joined::Beside); });
        sheet->add_row(tr("one above the other"), {}, false, [this] { models_.edits.join(Joined::Above); });
        sheet->add_row(tr("on an A4 page"), tr("both sides of a card"), false,
                       [this] { models_.edits.join(Joined::OnA4); });
        sheet->add_row(tr("stitched, as pieces of one thing"), "Ctrl+G", false, [this] { emit stitch_wanted(); });
    } else {
        sheet->add_row(tr("divider here"), "Ctrl+D", false, [this] { models_.edits.divide(); });
        const bool starts = models_.tray.next_page_starts_document();
        sheet->add_row(starts ? tr("the next page goes on in the last document")
                              : tr("the next page begins a document"),
                       "Ctrl+Shift+D", false, [this, starts] { models_.tray.set_next_page_starts_document(!starts); });
        if (models_.scanners.chosen()) {
            sheet->add_heading(tr("Scan"));
            sheet->add_row(tr("in its place"), tr("this one is kept by undo"), false,
                           [this] { models_.run.scan_at_current(Landing::How::Instead); });
            sheet->add_row(tr("before it"), {}, false, [this] { models_.run.scan_at_current(Landing::How::Before); });
            sheet->add_row(tr("behind it"), {}, false, [this] { models_.run.scan_at_current(Landing::How::Behind); });
        }
    }
    sheet->open_under(anchor);
}

QString TrayStrip::document_of_current() const {
    const auto box = std::ranges::find_if(boxes_, [](const auto& each) { return each.current; });
    return box == boxes_.end() ? QString() : box->id;
}

void TrayStrip::contextMenuEvent(QContextMenuEvent* event) {
    if (event->reason() == QContextMenuEvent::Mouse) {
        QString document, other; // choosing lays the boxes out anew
        for (const auto& box : boxes_) {
            if (!box.current && box.tab.contains(event->pos())) document = box.id;
            for (const auto& page : box.pages) {
                if (page.rect.contains(event->pos()) && !models_.choice.chosen().contains(page.id.toStdString()))
                    other = page.id;
            }
        }
        if (!document.isEmpty()) choose_first_of(document);
        if (!other.isEmpty()) models_.choice.set_current(other);
        return open_page_sheet({event->globalPos(), QSize(1, 1)});
    }
    QRect at = page_rect(models_.choice.current_id());
    for (const auto& box : boxes_)
        if (slim_ && box.current) at = box.tab;
    open_page_sheet({mapToGlobal(at.topLeft()), at.size()});
}

}
