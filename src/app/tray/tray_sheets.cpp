// The sheets of the out tray: choosing pages, and what can be done with the chosen ones.
#include "app/ticketbar/phrase_sheet.h"
#include "app/tray/tray_strip.h"

#include <QContextMenuEvent>
#include <QLineEdit>

namespace yelvin {

void TrayStrip::open_choose_sheet(const QRect& anchor) {
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("choose-sheet");
    sheet->add_row(tr("all pages"), tr("of the tray (Ctrl+A)"), false, [this] { desk_.choose_all(); });
    sheet->add_row(tr("this document"), {}, false, [this] { desk_.choose_pages(desk_.pages_of_document()); });
    sheet->add_row(tr("odd pages"), tr("of this document"), false, [this] { desk_.choose_every_other(true); });
    sheet->add_row(tr("even pages"), tr("of this document"), false, [this] { desk_.choose_every_other(false); });
    sheet->add_row(tr("the others"), tr("those not chosen now (Ctrl+I)"), false, [this] { desk_.choose_others(); });
    auto* numbers = new QLineEdit(sheet);
    numbers->setObjectName("numbers");
    numbers->setPlaceholderText(tr("by number: 1-3, 7"));
    numbers->setAccessibleName(tr("numbers of pages of this document"));
    sheet->add_widget(numbers);
    connect(numbers, &QLineEdit::returnPressed, sheet, [this, numbers, sheet] {
        if (desk_.choose_numbers(numbers->text()))
            sheet->close();
        else
            numbers->selectAll();
    });
    sheet->add_advice(tr(
        "With the mouse: Ctrl adds a page, Shift all up to it. With keys in the tray: Shift and the arrows, Space."));
    sheet->open_under(anchor);
}

void TrayStrip::open_page_sheet(const QRect& anchor) {
    const PageIds chosen = desk_.chosen();
    if (chosen.empty()) return;
    const bool several = chosen.size() > 1;
    auto* sheet = new PhraseSheet(this);
    sheet->setObjectName("page-sheet");
    sheet->add_heading(several ? tr("%1 chosen pages").arg(chosen.size()) : tr("This page"));
    sheet->add_row(tr("turn left"), "[", false, [this] { desk_.turn_current(-1); });
    sheet->add_row(tr("turn right"), "]", false, [this] { desk_.turn_current(1); });
    sheet->add_row(tr("remove"), tr("Delete; Ctrl+Z brings back"), false, [this] { desk_.remove_current(); });
    sheet->add_row(tr("duplicate"), {}, false, [this] { desk_.double_chosen(); });
    sheet->add_row(tr("a document of their own"), {}, false, [this] { desk_.part_chosen(); });
    if (several) {
        sheet->add_heading(tr("On one page"));
        sheet->add_row(tr("side by side"), {}, false, [this] { desk_.join_chosen(Joined::Beside); });
        sheet->add_row(tr("one above the other"), {}, false, [this] { desk_.join_chosen(Joined::Above); });
        sheet->add_row(tr("on an A4 page"), tr("both sides of a card"), false,
                       [this] { desk_.join_chosen(Joined::OnA4); });
        sheet->add_row(tr("stitched, as pieces of one thing"), "Ctrl+G", false, [this] { emit stitch_wanted(); });
    } else {
        sheet->add_row(tr("divider here"), "Ctrl+D", false, [this] { desk_.divide_at_current(); });
        if (desk_.has_scanner()) {
            sheet->add_heading(tr("Scan"));
            sheet->add_row(tr("in its place"), tr("this one is kept by undo"), false,
                           [this] { desk_.scan_at_current(Desk::Landing::How::Instead); });
            sheet->add_row(tr("before it"), {}, false, [this] { desk_.scan_at_current(Desk::Landing::How::Before); });
            sheet->add_row(tr("behind it"), {}, false, [this] { desk_.scan_at_current(Desk::Landing::How::Behind); });
        }
    }
    sheet->open_under(anchor);
}

void TrayStrip::contextMenuEvent(QContextMenuEvent* event) {
    if (event->reason() == QContextMenuEvent::Mouse) {
        for (const auto& box : boxes_) {
            for (const auto& page : box.pages) {
                if (page.rect.contains(event->pos()) && !desk_.chosen().contains(page.id.toStdString()))
                    desk_.set_current_page(page.id);
            }
        }
        return open_page_sheet({event->globalPos(), QSize(1, 1)});
    }
    const QRect at = page_rect(desk_.current_page());
    open_page_sheet({mapToGlobal(at.topLeft()), at.size()});
}

}
