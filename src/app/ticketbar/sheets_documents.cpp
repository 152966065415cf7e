// The sheet about which pages become one document.
#include "app/models/scanning/next_scan.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/wording.h"

#include <QSpinBox>

namespace yelvin::sheets {

namespace {

// Adds the rows that say where the pages of a stack are divided into documents.
void add_dividing(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket::Pages& now = models.tickets.ticket().pages;
    const auto row = [&](const QString& advice, SplitAt at) {
        Ticket::Pages then = now;
        then.split = at;
        if (then.documents == Documents::EachItem) then.documents = Documents::Joined;
        const bool is_now = now.split == at && now.documents != Documents::EachItem;
        sheet.add_row(wording::documents(then, true), advice, is_now, [&models, then] {
            change(models, [&then](Ticket& t) {
                t.pages.split = then.split;
                t.pages.documents = then.documents;
            });
        });
    };
    row(SheetText::tr("a sheet without ink; it is left out"), SplitAt::BlankSheet);
    row(SheetText::tr("a sheet with a code, printed below; it is left out"), SplitAt::Separator);
    row(SheetText::tr("blank pages count"), SplitAt::Every);
    if (now.split == SplitAt::Every && now.documents != Documents::EachItem) {
        auto* every = new QSpinBox;
        every->setObjectName("split-every");
        every->setRange(1, 1000);
        every->setSuffix(SheetText::tr(" pages"));
        every->setValue(now.split_every);
        every->setAccessibleName(SheetText::tr("pages per document"));
        QObject::connect(every, &QSpinBox::valueChanged, &sheet,
                         [&models](int value) { change(models, [value](Ticket& t) { t.pages.split_every = value; }); });
        sheet.add_widget(every);
    }
    sheet.add_row(SheetText::tr("print separator sheets…"),
                  SheetText::tr("creates a PDF to print; text on a sheet can name the document"), false,
                  doors.separators);
}

}

void fill_documents(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket::Pages& now = models.tickets.ticket().pages;
    const bool from_stack = models.next_scan.source() != Source::Glass;
    const auto row = [&](const QString& advice, Documents which) {
        Ticket::Pages then = now;
        then.documents = which;
        then.split = SplitAt::Never;
        const bool is_now =
            now.documents == which && (which == Documents::EachItem || !from_stack || now.split == SplitAt::Never);
        sheet.add_row(wording::documents(then, from_stack), advice, is_now, [&models, which, from_stack] {
            change(models, [&](Ticket& t) {
                t.pages.documents = which;
                if (from_stack) t.pages.split = SplitAt::Never;
            });
        });
    };
    row(SheetText::tr("scan after scan, until you start a new one"), Documents::Joined);
    row(SheetText::tr("all pages of one scan"), Documents::EachScan);
    row(from_stack ? SheetText::tr("with both sides; named from its text")
                   : SheetText::tr("found on the glass; named from its text"),
        Documents::EachItem);
    if (from_stack) add_dividing(sheet, models, doors);
    sheet.add_advice(
        SheetText::tr("Below Scan you see where the next page goes; click it to change that once. Ctrl+D starts a "
                      "document at the selected page."));
}

}
