#include "app/ticketbar/sheets.h"

#include "app/models/text/reading.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/wording.h"
#include "core/text/languages.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace yelvin::sheets {

namespace {

QCheckBox* check_box(const QString& text, bool on, QWidget* parent) {
    auto* box = new QCheckBox(text, parent);
    box->setChecked(on);
    return box;
}

// Corrections that are off unless the user wants them on every page.
void add_corrections(PhraseSheet& sheet, const TicketModels& models) {
    auto* box = new QWidget;
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 2, 0, 2);
    grid->setHorizontalSpacing(18);
    int at = 0;
    for (const auto& [value, on, row, phrase] : wording::offered_corrections) {
        auto* box_for = check_box(SheetText::tr(row), models.tickets.ticket().pages.adjust.*value > 0, box);
        box_for->setObjectName("unasked:" + QString::number(at));
        grid->addWidget(box_for, at / 2, at % 2);
        ++at;
        QObject::connect(box_for, &QCheckBox::toggled, &sheet, [&models, value = value, on = on](bool wanted) {
            change(models, [&](Ticket& t) { t.pages.adjust.*value = wanted ? on : 0; });
        });
    }
    if (models.tickets.ticket().pages.adjust != Adjust{}) {
        auto* none = theme::button(SheetText::tr("none of these"), theme::Kind::Item, "unasked-none", box);
        grid->addWidget(none, at / 2, at % 2);
        QObject::connect(none, &QPushButton::clicked, &sheet, [&models, &sheet] {
            change(models, [](Ticket& t) { t.pages.adjust = {}; });
            sheet.close();
        });
    }
    sheet.add_widget(box);
}

void fill_pages(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    auto* both = new QWidget;
    auto* column = new QVBoxLayout(both);
    column->setContentsMargins(0, 0, 0, 0);
    auto* straighten =
        check_box(SheetText::tr("straighten by the lines of text"), models.tickets.ticket().pages.straighten, both);
    auto* upright =
        check_box(SheetText::tr("turn upright by the text"), models.tickets.ticket().pages.turn_upright, both);
    column->addWidget(straighten);
    column->addWidget(upright);
    QObject::connect(straighten, &QCheckBox::toggled, &sheet,
                     [&models](bool on) { change(models, [on](Ticket& t) { t.pages.straighten = on; }); });
    QObject::connect(upright, &QCheckBox::toggled, &sheet,
                     [&models](bool on) { change(models, [on](Ticket& t) { t.pages.turn_upright = on; }); });
    sheet.add_heading(SheetText::tr("Apply to every page"));
    sheet.add_widget(both);
    auto* blank = check_box(SheetText::tr("leave out blank sides"), models.tickets.ticket().pages.drop_blank, both);
    blank->setObjectName("drop-blank");
    column->addWidget(blank);
    QObject::connect(blank, &QCheckBox::toggled, &sheet,
                     [&models](bool on) { change(models, [on](Ticket& t) { t.pages.drop_blank = on; }); });
    add_corrections(sheet, models);
    sheet.add_row(SheetText::tr("blank limit…"),
                  SheetText::tr("now: less than %1% ink").arg(models.tickets.ticket().pages.blank_limit_percent), false,
                  doors.blank);
    sheet.add_advice(
        SheetText::tr("A page that is already straight stays exactly as scanned. Each correction can be undone on "
                      "the page; the original is kept."));
}

void fill_read(PhraseSheet& sheet, const TicketModels& models) {
    const auto& chosen = models.tickets.ticket().read.languages;
    const auto is_chosen = [&](std::string_view name) { return std::ranges::find(chosen, name) != chosen.end(); };
    const auto installed = models.reading.installed_languages();
    models.reading.look_for_languages(); // Languages that were installed since are shown the next time.
    auto* list = new QWidget;
    auto* column = new QVBoxLayout(list);
    column->setContentsMargins(0, 0, 0, 0);
    auto* any = check_box(SheetText::tr("detect the language"), is_chosen(automatic_language), list);
    any->setEnabled(installed.size() > 1);
    column->addWidget(any);
    // Either any language, or those that are ticked.
    const auto boxes = std::make_shared<QList<QCheckBox*>>();
    for (const std::string& name : installed) {
        auto* box = check_box(wording::language(name), is_chosen(name), list);
        column->addWidget(box);
        boxes->append(box);
        QObject::connect(box, &QCheckBox::toggled, &sheet, [&models, name, any](bool on) {
            const QSignalBlocker quiet(any);
            if (on) any->setChecked(false);
            change(models, [&](Ticket& t) {
                std::erase(t.read.languages, name);
                std::erase(t.read.languages, automatic_language);
                if (on) t.read.languages.push_back(name);
            });
        });
    }
    QObject::connect(any, &QCheckBox::toggled, &sheet, [&models, boxes](bool on) {
        for (QCheckBox* box : *boxes) {
            const QSignalBlocker quiet(box);
            box->setChecked(false);
        }
        change(models, [&](Ticket& t) {
            t.read.languages.clear();
            if (on) t.read.languages.emplace_back(automatic_language);
        });
    });
    sheet.add_heading(SheetText::tr("Read in"));
    sheet.add_widget(list);
    if (installed.empty())
        sheet.add_advice(SheetText::tr("Looking for installed languages; open this again in a moment."));
    sheet.add_advice(SheetText::tr(
        "Text that was read makes PDFs searchable. With several languages ticked, the one of each page and "
        "paragraph is detected. With none ticked, no text is read. More languages: packages tesseract-ocr-…"));
}

}

namespace {

// Choices about saving also apply to documents that are in the tray.
QString for_whom(const QString& phrase, const TicketModels& models) {
    static const QStringList becomes{"make", "name",       "folder",     "other-formats", "growth", "then",
                                     "file", "protection", "properties", "stamp",         "also",   "quality"};
    const int following = models.document_tickets.following();
    if (!becomes.contains(phrase) || !models.for_documents.isEmpty() || following == 0) return {};
    return following == 1
               ? SheetText::tr("For the next scan and the document in the tray that was scanned with this ticket.")
               : SheetText::tr("For the next scan and the %1 documents in the tray that were scanned with this "
                               "ticket.")
                     .arg(following);
}

}

Doors doors_to(const std::function<std::function<void()>(const char* phrase)>& to) {
    Doors doors;
    doors.quality = to("quality");
    doors.formats = to("other-formats");
    doors.then = to("then");
    doors.uses = to("uses");
    doors.file = to("file");
    doors.protection = to("protection");
    doors.properties = to("properties");
    doors.stamp = to("stamp");
    doors.also = to("also");
    doors.growth = to("growth");
    return doors;
}

void fill(PhraseSheet& sheet, const QString& phrase, const TicketModels& models, const Doors& doors) {
    sheet.setAccessibleName(phrase);
    if (phrase == "source")
        fill_source(sheet, models);
    else if (phrase == "scanner")
        fill_scanner(sheet, models, doors);
    else if (phrase == "area")
        fill_area(sheet, models);
    else if (phrase == "ink")
        fill_ink(sheet, models);
    else if (phrase == "dpi")
        fill_dpi(sheet, models, doors);
    else if (phrase == "pages")
        fill_pages(sheet, models, doors);
    else if (phrase == "documents")
        fill_documents(sheet, models, doors);
    else if (phrase == "read")
        fill_read(sheet, models);
    else if (phrase == "make")
        fill_make(sheet, models, doors);
    else if (phrase == "name")
        fill_name(sheet, models, doors);
    else if (phrase == "more")
        fill_more(sheet, models);
    else if (phrase == "folder")
        fill_folder(sheet, models);
    else if (phrase == "growth")
        fill_growth(sheet, models);
    else if (phrase == "other-formats")
        fill_other_formats(sheet, models);
    else if (phrase == "then")
        fill_then(sheet, models, doors);
    else if (phrase == "file")
        fill_file(sheet, models, doors);
    else if (phrase == "protection")
        fill_protection(sheet, models, doors);
    else if (phrase == "properties")
        fill_properties(sheet, models, doors);
    else if (phrase == "stamp")
        fill_stamp(sheet, models, doors);
    else if (phrase == "also")
        fill_also(sheet, models, doors);
    else if (phrase == "uses")
        fill_uses(sheet, models, doors);
    else if (phrase == "quality")
        fill_quality(sheet, models);
    else if (phrase == "and")
        fill_and(sheet, models, doors);
    if (const QString who = for_whom(phrase, models); !who.isEmpty()) sheet.add_advice(who)->setObjectName("for-whom");
}

}
