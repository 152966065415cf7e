// The sheet of the tickets.
#include "app/models/scanning/scanners.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/wording.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QComboBox>
#include <QDesktopServices>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QUrl>

namespace yelvin::sheets {

namespace {

// "glass, automatic colour, 300 dpi, PDF"
QString summary(const Ticket& ticket) {
    const QString source = ticket.from.source == Source::Glass     ? SheetText::tr("glass")
                           : ticket.from.source == Source::HandFed ? SheetText::tr("sheet by sheet")
                                                                   : SheetText::tr("feeder");
    const QString dpi =
        ticket.how.dpi_auto ? SheetText::tr("automatic resolution") : SheetText::tr("%1 dpi").arg(ticket.how.dpi);
    return QStringList{source, wording::ink(ticket.how.ink), dpi,
                       QString::fromUtf8(format_words(ticket.make.format).data())}
        .join(", ");
}

// The name on the screen of a key in the ticket's file.
QString choice_words(const std::string& key) {
    static const QHash<QString, const char*> names{{"from.source", "source"},
                                                   {"from.flip", "turning of sheets"},
                                                   {"from.paper", "paper"},
                                                   {"from.frames", "frames"},
                                                   {"from.next_sheet_seconds", "countdown"},
                                                   {"from.more", "scanner settings"},
                                                   {"how.ink", "colour"},
                                                   {"how.dpi", "resolution"},
                                                   {"pages.straighten", "straightening"},
                                                   {"pages.turn_upright", "turning"},
                                                   {"pages.drop_blank", "blank sides"},
                                                   {"pages.blank_limit_percent", "blank limit"},
                                                   {"pages.documents", "documents"},
                                                   {"pages.split", "new documents"},
                                                   {"pages.split_every", "pages per document"},
                                                   {"pages.separator", "separators"},
                                                   {"pages.adjust", "corrections"},
                                                   {"read.languages", "text recognition"},
                                                   {"make.format", "format"},
                                                   {"make.per", "files"},
                                                   {"make.jpeg_quality", "JPEG quality"},
                                                   {"make.lines_as_printed", "line breaks in text files"},
                                                   {"make.as_it_looks", "layout of office documents"},
                                                   {"make.searchable", "text in PDFs"},
                                                   {"make.bookmarks", "bookmarks"},
                                                   {"make.pdf_a_level", "PDF/A level"},
                                                   {"make.tiff_coding", "TIFF compression"},
                                                   {"make.password", "password"},
                                                   {"make.permissions", "permissions"},
                                                   {"make.properties", "properties"},
                                                   {"make.stamp", "stamp"},
                                                   {"make.also", "further files"},
                                                   {"save.at_once", "automatic saving"},
                                                   {"then.do", "actions"},
                                                   {"then.program", "program to open with"},
                                                   {"then.clipboard", "clipboard contents"},
                                                   {"then.print", "printing"},
                                                   {"then.mail", "e-mail"},
                                                   {"save.grows", "documents in one file"},
                                                   {"scan_like", "scan as"},
                                                   {"put_like", "make as"},
                                                   {"back.after_minutes", "discarding of changes"},
                                                   {"back.on_close", "discarding of changes"},
                                                   {"save.folder", "folder"},
                                                   {"save.name", "name"}};
    const QString name = QString::fromStdString(key);
    return names.contains(name) ? SheetText::tr(names[name]) : name;
}

// An entry for a name, and its button.
QLineEdit* name_line(PhraseSheet& sheet, const QString& text, const QString& button, const QString& name,
                     const std::function<void(const QString&)>& use) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* edit = new QLineEdit(text, box);
    edit->setObjectName(name);
    edit->setAccessibleName(button);
    edit->setMinimumWidth(200);
    sheet.guard(edit);
    auto* press = theme::link(button, name + "-use", box);
    press->setFixedWidth(118);
    line->addWidget(edit, 1);
    line->addWidget(press);
    const auto take = [&sheet, edit, use] {
        const QString typed = edit->text().trimmed();
        if (typed.isEmpty()) return;
        sheet.finish();
        use(typed);
    };
    QObject::connect(edit, &QLineEdit::returnPressed, &sheet, take);
    QObject::connect(press, &QPushButton::clicked, &sheet, take);
    sheet.add_widget(box);
    return edit;
}

void add_colours(PhraseSheet& sheet, const TicketModels& models) {
    auto* box = new QWidget;
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    line->setSpacing(8);
    for (const char* colour : {"plum", "moss", "amber", "brick", "ink"}) {
        auto* swatch = new QPushButton(box);
        const bool chosen = models.tickets.ticket().colour == colour;
        swatch->setFixedSize(30, 20);
        swatch->setText(chosen ? QString::fromUtf8("✓") : QString());
        swatch->setObjectName(QString("colour:") + colour);
        swatch->setAccessibleName(SheetText::tr(colour));
        swatch->setToolTip(SheetText::tr(colour));
        swatch->setStyleSheet(
            QString("QPushButton { background: %1; color: %2; border: 1px solid %3; border-radius: 3px; "
                    "padding: 0; } QPushButton:focus { border: 2px solid %4; }")
                .arg(theme::ticket_colour(colour).name(), theme::colours().paper.name(),
                     theme::colours().hairline.name(), theme::colours().ink.name()));
        QObject::connect(swatch, &QPushButton::clicked, &sheet, [&sheet, &models, colour] {
            sheet.close();
            models.tickets.recolour(colour);
        });
        line->addWidget(swatch);
    }
    line->addStretch();
    sheet.add_widget(box);
}

// What differs from an ordinary ticket.
QString rules_of(const KeptTicket& kept) {
    const Ticket::Back& back = kept.own.back;
    if (kept.own.fixed) return SheetText::tr("read-only");
    if (!kept.may_write) return SheetText::tr("its file is read-only");
    if (back.after_minutes > 0)
        return SheetText::tr("unsaved changes are discarded after %1 minutes without a scan").arg(back.after_minutes);
    if (back.on_close) return SheetText::tr("unsaved changes are discarded when the window closes");
    return SheetText::tr("when unsaved changes are discarded; whether it is fixed");
}

// Either half may be taken from another ticket.
void add_halves(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket& now = models.tickets.ticket();
    const auto says = [](const std::string& like) {
        return like.empty() ? SheetText::tr("its own choices")
                            : SheetText::tr("as %1").arg(QString::fromStdString(like));
    };
    sheet.add_row(SheetText::tr("scan as …"), says(now.scan_like), false, doors.scan_as);
    sheet.add_row(SheetText::tr("make as …"), says(now.put_like), false, doors.make_as);
    const KeptTicket* chosen = models.tickets.chosen();
    if (chosen && !chosen->trouble.empty())
        sheet.add_advice(QString::fromStdString(chosen->trouble))->setObjectName("ticket-trouble");
}

// When unsaved changes of the ticket are dropped automatically.
void add_back(PhraseSheet& sheet, const TicketModels& models) {
    const KeptTicket* chosen = models.tickets.chosen();
    if (!chosen || !chosen->may_change()) return;
    const Ticket::Back& now = chosen->own.back;
    auto* list = new QComboBox;
    list->setObjectName("going-back");
    list->setAccessibleName(SheetText::tr("when unsaved changes are discarded"));
    list->addItem(SheetText::tr("unsaved changes are kept"), QVariant(0));
    for (const int minutes : {5, 15, 60})
        list->addItem(SheetText::tr("unsaved changes are discarded after %1 minutes without a scan").arg(minutes),
                      minutes);
    constexpr int on_close = -1;
    list->addItem(SheetText::tr("unsaved changes are discarded when the window closes"), on_close);
    const int is = now.after_minutes > 0 ? now.after_minutes : now.on_close ? on_close : 0;
    if (list->findData(is) < 0) list->addItem(SheetText::tr("… after %1 minutes").arg(is), is);
    list->setCurrentIndex(list->findData(is));
    QObject::connect(list, &QComboBox::activated, &sheet, [&models, list] {
        const int wanted = list->currentData().toInt();
        models.tickets.set_back({.after_minutes = std::max(wanted, 0), .on_close = wanted != 0});
    });
    sheet.add_widget(list);
}

void add_fixed(PhraseSheet& sheet, const TicketModels& models) {
    const KeptTicket* chosen = models.tickets.chosen();
    if (!chosen || !chosen->may_write) return;
    auto* box = new QCheckBox(SheetText::tr("fixed: cannot be changed, renamed or removed"));
    box->setObjectName("ticket-is-fixed");
    box->setChecked(chosen->own.fixed);
    QObject::connect(box, &QCheckBox::toggled, &sheet, [&models, &sheet](bool is) {
        models.tickets.set_fixed(is);
        sheet.close();
    });
    sheet.add_widget(box);
}

// Which button of the scanner starts the ticket, if the scanner has any.
void add_scanner_button(PhraseSheet& sheet, const TicketModels& models, const QString& file) {
    const auto& buttons = models.scanners.capabilities().buttons;
    if (!models.scanners.chosen() || buttons.empty()) return;
    const QString scanner = models.scanners.key(), now = models.tickets.scanner_button_of(scanner, file);
    auto* list = new QComboBox;
    list->setObjectName("scanner-button");
    list->setAccessibleName(SheetText::tr("scanner button that starts it"));
    list->addItem(SheetText::tr("no scanner button starts it"), QString());
    for (const std::string& button : buttons) {
        const QString name = QString::fromStdString(button);
        list->addItem(SheetText::tr("scanner button “%1” starts it").arg(name), name);
        if (name == now) list->setCurrentIndex(list->count() - 1);
    }
    QObject::connect(list, &QComboBox::activated, &sheet, [&models, list, scanner, file] {
        models.tickets.set_scanner_button(scanner, list->currentData().toString(), file);
    });
    sheet.add_widget(list);
}

// The changes in the sentence, and what can be done about them.
void add_changes(PhraseSheet& sheet, const TicketModels& models, const KeptTicket* chosen) {
    const bool may_change = !chosen || chosen->may_change();
    if (!may_change)
        sheet
            .add_advice(chosen->own.fixed
                            ? SheetText::tr("It is fixed: your changes apply to your scans but are not saved.")
                            : SheetText::tr("Its file is read-only: your changes are not saved."))
            ->setObjectName("ticket-fixed");
    if (!chosen) {
        sheet.add_row(SheetText::tr("save"),
                      SheetText::tr("as %1").arg(QString::fromStdString(models.tickets.ticket().name)), false,
                      [&models] { models.tickets.keep(); });
        return;
    }
    const auto changed = models.tickets.changed_since_kept();
    if (changed.empty()) return;
    QStringList what;
    for (const std::string& key : changed) what.append(choice_words(key));
    if (may_change)
        sheet.add_row(SheetText::tr("save changes"), what.join(", "), false, [&models] { models.tickets.keep(); });
    sheet.add_row(SheetText::tr("discard changes"), SheetText::tr("back to the saved ticket"), false,
                  [&models] { models.tickets.restore(); });
}

void add_this_ticket(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const KeptTicket* chosen = models.tickets.chosen();
    const bool may_change = !chosen || chosen->may_change();
    sheet.add_heading(SheetText::tr("This ticket"));
    add_changes(sheet, models, chosen);
    add_halves(sheet, models, doors);
    if (may_change) {
        name_line(sheet, QString::fromStdString(models.tickets.ticket().name), SheetText::tr("rename"), "ticket-name",
                  [&models](const QString& name) { models.tickets.rename(name); });
        add_colours(sheet, models);
    }
    name_line(sheet, SheetText::tr("Copy of %1").arg(QString::fromStdString(models.tickets.ticket().name)),
              SheetText::tr("save as new"), "ticket-copy",
              [&models](const QString& name) { models.tickets.keep_as(name); });
    if (!chosen) return;
    const QString file = models.tickets.chosen_file();
    auto* box = new QCheckBox(SheetText::tr("show a button beside Scan that scans with it"));
    box->setObjectName("ticket-as-button");
    box->setChecked(models.tickets.buttons().contains(file));
    QObject::connect(box, &QCheckBox::toggled, &sheet,
                     [&models, file](bool is) { models.tickets.set_button(file, is); });
    sheet.add_widget(box);
    add_scanner_button(sheet, models, file);
    sheet.add_row(SheetText::tr("more options…"), rules_of(*chosen), false, doors.ticket_more);
    if (may_change)
        sheet.add_row(SheetText::tr("remove"), SheetText::tr("you can bring it back until Yelvin is closed"), false,
                      [&models, file] { models.tickets.remove(file); });
}

}

void fill_ticket_more(PhraseSheet& sheet, const TicketModels& models) {
    models.tickets.read_folder();
    sheet.add_heading(SheetText::tr("About %1").arg(QString::fromStdString(models.tickets.ticket().name)));
    add_back(sheet, models);
    add_fixed(sheet, models);
    sheet.add_advice(SheetText::tr("For computers that several people use."));
}

void fill_like(PhraseSheet& sheet, const TicketModels& models, bool scans) {
    const auto half = scans ? Tickets::Half::Scanning : Tickets::Half::Putting;
    models.tickets.read_folder();
    sheet.add_heading(scans ? SheetText::tr("Scan as") : SheetText::tr("Make as"));
    const Ticket& now = models.tickets.ticket();
    const std::string& like = scans ? now.scan_like : now.put_like;
    sheet.add_row(SheetText::tr("its own choices"), SheetText::tr("as in the sentence"), like.empty(),
                  [&models, half] { models.tickets.take_half(half, {}); });
    for (const KeptTicket& kept : models.tickets.kept().tickets) {
        const QString file = QString::fromStdString(kept.file.string());
        if (file == models.tickets.chosen_file()) continue;
        auto* row = sheet.add_row(
            QString::fromStdString(kept.ticket.name), scans ? summary(kept.ticket) : wording::becomes(kept.ticket),
            like == kept.ticket.name, [&models, half, file] { models.tickets.take_half(half, file); });
        row->set_colour(theme::ticket_colour(QString::fromStdString(kept.ticket.colour)));
    }
    sheet.add_advice(SheetText::tr("Once saved, this ticket follows the other one: changes there apply here too."));
}

void fill_tickets(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    models.tickets.read_folder();
    sheet.setAccessibleName(SheetText::tr("tickets"));
    for (const KeptTicket& kept : models.tickets.kept().tickets) {
        const QString file = QString::fromStdString(kept.file.string());
        auto* row =
            sheet.add_row(QString::fromStdString(kept.ticket.name), summary(kept.ticket),
                          file == models.tickets.chosen_file(), [&models, file] { models.tickets.choose(file); });
        row->set_colour(theme::ticket_colour(QString::fromStdString(kept.ticket.colour)));
    }
    for (const DamagedTicket& damaged : models.tickets.kept().damaged) {
        const QString file = QString::fromStdString(damaged.file.string());
        auto* row =
            sheet.add_row(QFileInfo(file).fileName(), SheetText::tr("cannot be used; click to show the file"), false,
                          [file] { QDesktopServices::openUrl(QUrl::fromLocalFile(QFileInfo(file).absolutePath())); });
        row->setToolTip(QString::fromStdString(damaged.error.sentence));
        row->set_colour(theme::colours().brick);
        auto* why = sheet.add_advice(QString::fromStdString(damaged.error.sentence));
        why->setObjectName("damaged-ticket");
    }
    sheet.end_list();
    add_this_ticket(sheet, models, doors);
    for (const QString& name : models.tickets.removed())
        sheet.add_row(SheetText::tr("bring back %1").arg(name), SheetText::tr("removed earlier"), false,
                      [&models, name] { models.tickets.bring_back(name); });
    sheet.add_advice(
        SheetText::tr("Each ticket is a file: drop one on the window to add it, drag its name out to share it."));
}

}
