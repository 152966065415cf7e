// The sheets about the actions after saving, and which of them are offered at all.
#include "app/models/errands/errands.h"
#include "app/models/sending/servers.h"
#include "app/models/window/messages.h"
#include "app/sending/servers_sheet.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "core/mail_address.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPointer>
#include <QSpinBox>

#include <algorithm>

namespace yelvin::sheets {

namespace {

bool is_in(const Ticket::Then& then, Errand errand) {
    return std::ranges::find(then.errands, errand) != then.errands.end();
}

// The desktop's programs are added when their list arrives.
void fill_programs(QComboBox& list, const std::vector<Program>& programs, const QString& chosen) {
    list.clear();
    for (const Program& each : programs)
        list.addItem(QString::fromStdString(each.name), QString::fromStdString(each.id));
    if (list.findData(chosen) < 0 && !chosen.isEmpty()) list.addItem(SheetText::tr("%1 (missing)").arg(chosen), chosen);
    if (list.count() == 0) list.addItem(SheetText::tr("no program opens this format"), QString());
    list.setCurrentIndex(std::max(0, list.findData(chosen)));
}

void add_program(PhraseSheet& sheet, const TicketModels& models) {
    const Ticket& now = shown(models);
    auto* list = new QComboBox;
    list->setObjectName("program");
    const QString chosen = QString::fromStdString(now.then.program);
    list->addItem(SheetText::tr("looking…"), chosen);
    const auto take = [&models, list] {
        change(models, [&](Ticket& t) { t.then.program = list->currentData().toString().toStdString(); });
    };
    models.errands.outside().list_programs(std::string(format_mime(make_for(now.make, false).format)),
                                           {list, [list, chosen, take](const std::vector<Program>& programs) {
                                                fill_programs(*list, programs, chosen);
                                                if (list->currentData().toString() != chosen) take();
                                            }});
    QObject::connect(list, &QComboBox::activated, &sheet, take);
    field(sheet, SheetText::tr("program"), list);
}

void add_clipboard(PhraseSheet& sheet, const TicketModels& models) {
    auto* list = new QComboBox;
    list->setObjectName("clipboard-as");
    list->addItems(
        {SheetText::tr("the file"), SheetText::tr("its first page as a picture"), SheetText::tr("its text")});
    list->setCurrentIndex(static_cast<int>(shown(models).then.clipboard));
    QObject::connect(list, &QComboBox::activated, &sheet, [&models](int index) {
        change(models, [&](Ticket& t) { t.then.clipboard = static_cast<ClipboardAs>(index); });
    });
    field(sheet, SheetText::tr("as"), list);
}

void add_print(PhraseSheet& sheet, const TicketModels& models) {
    const PrintHow& now = shown(models).then.print;
    auto* printer = new QComboBox;
    printer->setObjectName("printer");
    printer->addItem(SheetText::tr("the default printer"), QString());
    const QString chosen = QString::fromStdString(now.printer);
    if (!chosen.isEmpty()) printer->addItem(chosen, chosen), printer->setCurrentIndex(1);
    models.errands.outside().list_printers({printer, [printer, chosen](const std::vector<PrinterSaid>& printers) {
                                                for (const PrinterSaid& each : printers) {
                                                    if (each.name != chosen) printer->addItem(each.words, each.name);
                                                }
                                            }});
    QObject::connect(printer, &QComboBox::activated, &sheet, [&models, printer] {
        change(models, [&](Ticket& t) { t.then.print.printer = printer->currentData().toString().toStdString(); });
    });
    field(sheet, SheetText::tr("on"), printer);
    auto* copies = new QSpinBox;
    copies->setObjectName("copies");
    copies->setRange(1, 99);
    copies->setValue(now.copies);
    QObject::connect(copies, &QSpinBox::valueChanged, &sheet,
                     [&models](int count) { change(models, [&](Ticket& t) { t.then.print.copies = count; }); });
    field(sheet, SheetText::tr("copies"), copies);
    const auto choice = [&](const QString& text, const char* name, bool PrintHow::*what) {
        QCheckBox* box = tick(sheet, text, name, now.*what, [&models, what](bool is) {
            change(models, [&](Ticket& t) { t.then.print.*what = is; });
        });
        box->setStyleSheet("QCheckBox { margin-left: 24px; }");
    };
    choice(SheetText::tr("fit to the sheet (off: true size)"), "print-fitted", &PrintHow::fitted);
    choice(SheetText::tr("two pages on a sheet"), "print-two", &PrintHow::two_on_a_sheet);
    choice(SheetText::tr("on both sides"), "print-both-sides", &PrintHow::both_sides);
    choice(SheetText::tr("in grey"), "print-grey", &PrintHow::grey);
    choice(SheetText::tr("show a preview first"), "print-look", &PrintHow::look_first);
}

void add_mail(PhraseSheet& sheet, const TicketModels& models) {
    const MailHow& now = shown(models).then.mail;
    const auto line = [&](const QString& label, const char* name, const QString& text, const QString& hint,
                          auto apply) {
        auto* edit = new QLineEdit(text);
        edit->setObjectName(name);
        edit->setPlaceholderText(hint);
        QObject::connect(edit, &QLineEdit::editingFinished, &sheet, [&models, edit, apply] {
            MailHow wanted = shown(models).then.mail;
            apply(wanted, edit->text());
            if (const auto good = check_addresses(wanted.to); !good) return models.messages.complain(good.error());
            change(models, [&](Ticket& t) { t.then.mail = wanted; });
        });
        field(sheet, label, edit);
    };
    QStringList to;
    for (const std::string& each : now.to) to.append(QString::fromStdString(each));
    line(SheetText::tr("to"), "mail-to", to.join(", "), SheetText::tr("empty: choose in the e-mail program"),
         [](MailHow& mail, const QString& text) {
             mail.to.clear();
             for (const QString& each : text.split(',', Qt::SkipEmptyParts))
                 mail.to.push_back(each.trimmed().toStdString());
         });
    line(SheetText::tr("subject"), "mail-subject", name_pattern(now.subject), SheetText::tr("the document's name"),
         [](MailHow& mail, const QString& text) {
             mail.subject = text.isEmpty() ? std::vector<NamePart>{} : parts_of(text);
         });
    line(SheetText::tr("text"), "mail-words", name_pattern(now.words), SheetText::tr("none"),
         [](MailHow& mail, const QString& text) {
             mail.words = text.isEmpty() ? std::vector<NamePart>{} : parts_of(text);
         });
    auto* limit = new QSpinBox;
    limit->setObjectName("mail-limit");
    limit->setRange(1, 1000);
    limit->setSuffix(SheetText::tr(" MB"));
    limit->setValue(now.limit_mb);
    QObject::connect(limit, &QSpinBox::valueChanged, &sheet,
                     [&models](int mb) { change(models, [&](Ticket& t) { t.then.mail.limit_mb = mb; }); });
    field(sheet, SheetText::tr("up to"), limit);
}

// Where finished files are sent: one of the user's servers, and a folder on it.
void add_send(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const SendHow& now = shown(models).then.send;
    auto* list = new QComboBox;
    list->setObjectName("send-server");
    if (now.server.empty()) list->addItem(SheetText::tr("choose…"), QString());
    for (const Server& each : models.servers.all())
        list->addItem(QString::fromStdString(each.name), QString::fromStdString(each.name));
    const QString chosen = QString::fromStdString(now.server);
    if (!chosen.isEmpty() && list->findData(chosen) < 0)
        list->addItem(SheetText::tr("%1 (from the ticket)").arg(chosen), chosen);
    list->setCurrentIndex(std::max(0, list->findData(chosen)));
    const auto take = [&models](const QString& name) {
        const auto server = models.servers.named(name.toStdString());
        change(models, [&](Ticket& t) {
            t.then.send.server = name.toStdString();
            if (server) t.then.send.address = server->address;
        });
    };
    QObject::connect(list, &QComboBox::activated, &sheet, [list, take] { take(list->currentData().toString()); });
    field(sheet, SheetText::tr("to"), list);
    QWidget* window = sheet.parentWidget();
    const auto edit = [&models, &sheet, window, take, doors](const QString& name) {
        const QRect anchor(sheet.mapToGlobal(QPoint(0, 0)), QSize(1, 1));
        sheet.close();
        open_server_sheet(models.for_sending(), name, anchor, window, [take, doors](const QString& made) {
            take(made);
            doors.then();
        });
    };
    if (models.servers.named(now.server))
        sheet.add_row(SheetText::tr("edit %1…").arg(chosen), SheetText::tr("address, user name, test"), false,
                      [edit, chosen] { edit(chosen); });
    sheet.add_row(SheetText::tr("another server…"), SheetText::tr("by WebDAV or SFTP"), false, [edit] { edit({}); });
    sheet.add_heading(SheetText::tr("Folder on the server"));
    add_chips(sheet, models, ChipRow::For::Folders,
              [](Ticket& t) -> std::vector<NamePart>& { return t.then.send.folder; });
}

// Adds the choices of an action; empty if it has none.
using AddChoices = std::function<void(PhraseSheet& sheet, const TicketModels& models, const Doors& doors)>;

AddChoices choices_of(Errand errand) {
    const auto without_doors = [](void (*add)(PhraseSheet&, const TicketModels&)) -> AddChoices {
        return [add](PhraseSheet& sheet, const TicketModels& models, const Doors&) { add(sheet, models); };
    };
    switch (errand) {
    case Errand::OpenWith:
        return without_doors(add_program);
    case Errand::Clipboard:
        return without_doors(add_clipboard);
    case Errand::Print:
        return without_doors(add_print);
    case Errand::Mail:
        return without_doors(add_mail);
    case Errand::Send:
        return add_send;
    case Errand::Open:
    case Errand::Show:
        break;
    }
    return {};
}

}

// The choices of an action are below it as soon as it is ticked: the sheet is opened again for that.
void fill_then(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket::Then& then = shown(models).then;
    sheet.add_heading(SheetText::tr("After saving, with each file"));
    for (const Errand errand : all_errands()) {
        // An action of the ticket is shown even if the user has hidden it otherwise.
        if (!models.errands.uses(errand) && !is_in(then, errand)) continue;
        const bool on = is_in(then, errand);
        tick(sheet, errand_words(errand), QString("then-%1").arg(static_cast<int>(errand)), on,
             [&models, &sheet, errand, doors](bool is) {
                 change(models, [&](Ticket& t) {
                     std::erase(t.then.errands, errand);
                     if (is) t.then.errands.push_back(errand);
                 });
                 if (choices_of(errand)) sheet.close(), doors.then();
             });
        const AddChoices add_choices = choices_of(errand);
        if (on && add_choices) add_choices(sheet, models, doors);
    }
    sheet.add_heading(SheetText::tr("Saving"));
    tick(sheet, SheetText::tr("save automatically when scanned and read"), "at-once", shown(models).save.at_once,
         [&models](bool is) { change(models, [&](Ticket& t) { t.save.at_once = is; }); });
    sheet.add_row(SheetText::tr("choose actions…"), SheetText::tr("hide those you do not use"), false, doors.uses);
    sheet.add_advice(SheetText::tr("Actions run in the order ticked. The document's tab shows how each went."));
}

void fill_uses(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    sheet.add_heading(SheetText::tr("Actions to show"));
    for (const Errand errand : all_errands())
        tick(sheet, errand_words(errand), QString("use-%1").arg(static_cast<int>(errand)), models.errands.uses(errand),
             [&models, errand](bool is) { models.errands.use(errand, is); });
    sheet.add_row(SheetText::tr("then …"), SheetText::tr("back to the actions of this ticket"), false, doors.then);
    sheet.add_advice(SheetText::tr("Actions without a tick are hidden here and on the tabs of saved documents."));
}

}
