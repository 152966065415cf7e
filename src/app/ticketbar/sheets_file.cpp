// What a file lets others do, says of itself and carries on its pages, and which further files are made of the same
// pages.
#include "app/models/saving/password_keeper.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/sheet_parts.h"
#include "app/ticketbar/wording.h"

#include <QComboBox>
#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>

namespace yelvin::sheets {

namespace {

void back_to_file(PhraseSheet& sheet, const Doors& doors) {
    sheet.add_row(words("file options…"), words("back"), false, doors.file);
}

QString protection_words(const Ticket::Make& make) {
    QStringList out;
    if (make.password) out.append(words("needs a password"));
    if (make.permissions.print == Permissions::Print::None) out.append(words("no printing"));
    if (make.permissions.print == Permissions::Print::Coarse) out.append(words("printing in low resolution"));
    if (!make.permissions.change) out.append(words("no changes"));
    if (!make.permissions.copy) out.append(words("no copying"));
    return out.isEmpty() ? words("none") : out.join(", ");
}

QString properties_words(const Properties& properties) {
    QStringList out;
    if (!properties.title) out.append(words("title: the name"));
    for (const auto& [parts, what] : {std::pair{properties.title.value_or(std::vector<NamePart>{}), "title"},
                                      {properties.author, "author"},
                                      {properties.subject, "subject"},
                                      {properties.keywords, "keywords"}})
        if (!parts.empty()) out.append(words(what));
    return out.isEmpty() ? words("none") : out.join(", ");
}

QString also_words(const FurtherFile& also) {
    QStringList out{QString::fromUtf8(format_words(also.format).data())};
    if (also.ink) out.append(wording::ink(*also.ink));
    if (also.dpi > 0) out.append(words("%1 dpi").arg(also.dpi));
    if (!also.folder.empty()) out.append(words("in %1").arg(QString::fromStdString(also.folder)));
    return out.join(", ");
}

// A pattern as it is typed for names; what it becomes is taken over with every key.
QLineEdit* pattern_field(PhraseSheet& sheet, const QString& label, const char* name, const std::vector<NamePart>& now,
                         const QString& hint, const std::function<void(const std::vector<NamePart>&)>& apply) {
    auto* edit = new QLineEdit(name_pattern(now));
    edit->setObjectName(name);
    edit->setPlaceholderText(hint);
    edit->setMinimumWidth(280);
    QObject::connect(edit, &QLineEdit::textChanged, &sheet, [apply](const QString& text) { apply(parts_of(text)); });
    field(sheet, label, edit);
    return edit;
}

QComboBox* choice_of(const char* name, const QList<QPair<QString, QVariant>>& entries, const QVariant& now) {
    auto* list = new QComboBox;
    list->setObjectName(name);
    for (const auto& [text, value] : entries) list->addItem(text, value);
    list->setCurrentIndex(std::max(0, list->findData(now)));
    return list;
}

}

void fill_file(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket::Make& now = shown(models).make;
    QStringList also;
    for (const FurtherFile& each : now.also) also.append(also_words(each));
    sheet.add_heading(words("File options"));
    sheet.add_row(words("protection…"), protection_words(now), now.is_protected(), doors.protection);
    sheet.add_row(words("properties…"), properties_words(now.properties), now.properties != Properties{},
                  doors.properties);
    sheet.add_row(words("stamp…"), now.stamp.parts.empty() ? words("none") : name_pattern(now.stamp.parts),
                  !now.stamp.parts.empty(), doors.stamp);
    sheet.add_row(words("further files…"), also.isEmpty() ? words("none") : also.join("; "), !also.isEmpty(),
                  doors.also);
    sheet.add_advice(words("Files contain only what you ask for: no computer name, no user name."));
}

void fill_protection(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket& ticket = shown(models);
    const Ticket::Make& now = ticket.make;
    sheet.add_heading(words("PDF protection"));
    tick(sheet, words("a password is needed to open it"), "protect-open", now.password,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.password = is; }); });
    auto* print = choice_of("protect-print",
                            {{words("printing allowed"), static_cast<int>(Permissions::Print::Full)},
                             {words("printing in low resolution"), static_cast<int>(Permissions::Print::Coarse)},
                             {words("no printing"), static_cast<int>(Permissions::Print::None)}},
                            static_cast<int>(now.permissions.print));
    print->setAccessibleName(words("printing"));
    QObject::connect(print, &QComboBox::activated, &sheet, [&models, print] {
        change(models, [&](Ticket& t) {
            t.make.permissions.print = static_cast<Permissions::Print>(print->currentData().toInt());
        });
    });
    sheet.add_widget(print);
    tick(sheet, words("changes allowed"), "protect-change", now.permissions.change,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.permissions.change = is; }); });
    tick(sheet, words("copying allowed"), "protect-copy", now.permissions.copy,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.permissions.copy = is; }); });
    sheet.add_row(words("delete saved passwords"), words("of this ticket, from the keyring"), false,
                  [&models, whose = QString::fromStdString(ticket.name)] { models.passwords.forget(whose); });
    back_to_file(sheet, doors);
    sheet.add_advice(words("You enter passwords when saving; the keyring can remember them. Restrictions need an owner "
                           "password. AES-256; screen readers always have access."));
}

void fill_properties(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Properties& now = shown(models).make.properties;
    sheet.add_heading(words("Document properties"));
    const bool titled = !now.title || !now.title->empty();
    auto* title = pattern_field(sheet, words("title"), "property-title", now.title.value_or(std::vector<NamePart>{}),
                                words("the document's name"), [&models](const std::vector<NamePart>& parts) {
                                    change(models, [&](Ticket& t) {
                                        t.make.properties.title = parts.empty() ? std::nullopt : std::optional(parts);
                                    });
                                });
    title->setEnabled(titled);
    for (const auto& [label, name, which] : {std::tuple{words("author"), "property-author", &Properties::author},
                                             {words("subject"), "property-subject", &Properties::subject},
                                             {words("keywords"), "property-keywords", &Properties::keywords}})
        pattern_field(sheet, label, name, now.*which, words("left out"),
                      [&models, which = which](const std::vector<NamePart>& parts) {
                          change(models, [&](Ticket& t) { t.make.properties.*which = parts; });
                      });
    tick(sheet, words("no title"), "property-untitled", !titled, [&models, title](bool is) {
        title->setEnabled(!is);
        const auto parts = parts_of(title->text());
        change(models, [&](Ticket& t) {
            t.make.properties.title = is              ? std::optional(std::vector<NamePart>{})
                                      : parts.empty() ? std::nullopt
                                                      : std::optional(parts);
        });
    });
    back_to_file(sheet, doors);
    sheet.add_advice(words("yyyy, mm and dd become the date, [heading] the heading of the first page, [code] the "
                           "separator text. For PDF, DOCX, ODT, web pages and e-books."));
}

void fill_stamp(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Stamp& now = shown(models).make.stamp;
    const auto set = [&models](const auto& how) { change(models, [&](Ticket& t) { how(t.make.stamp); }); };
    sheet.add_heading(words("Stamp on every page"));
    pattern_field(sheet, words("text"), "stamp-words", now.parts, words("empty: no stamp"),
                  [set](const std::vector<NamePart>& parts) { set([&](Stamp& stamp) { stamp.parts = parts; }); })
        ->setFocus();
    using At = Stamp::At;
    QList<QPair<QString, QVariant>> places;
    for (const auto& [text, at] : {std::pair{"top left", At::TopLeft},
                                   {"top centre", At::Top},
                                   {"top right", At::TopRight},
                                   {"bottom left", At::BottomLeft},
                                   {"bottom centre", At::Bottom},
                                   {"bottom right", At::BottomRight}})
        places.append({words(text), static_cast<int>(at)});
    auto* at = choice_of("stamp-at", places, static_cast<int>(now.at));
    QObject::connect(at, &QComboBox::activated, &sheet,
                     [set, at] { set([&](Stamp& stamp) { stamp.at = static_cast<At>(at->currentData().toInt()); }); });
    field(sheet, words("position"), at);
    auto* size = new QSpinBox;
    size->setObjectName("stamp-size");
    size->setRange(4, 72);
    size->setSuffix(words(" pt"));
    size->setValue(static_cast<int>(std::lround(now.size_pt)));
    QObject::connect(size, &QSpinBox::valueChanged, &sheet,
                     [set](int pt) { set([&](Stamp& stamp) { stamp.size_pt = pt; }); });
    field(sheet, words("size"), size);
    QList<QPair<QString, QVariant>> colours{{words("ink"), "#26303a"},  {words("black"), "#000000"},
                                            {words("red"), "#a3392b"},  {words("green"), "#3f6f4a"},
                                            {words("blue"), "#2b4fa3"}, {words("grey"), "#808080"}};
    const QString own = QString::fromStdString(now.colour);
    if (std::ranges::none_of(colours, [&](const auto& each) { return each.second == own; })) colours.append({own, own});
    auto* colour = choice_of("stamp-colour", colours, own);
    QObject::connect(colour, &QComboBox::activated, &sheet, [set, colour] {
        set([&](Stamp& stamp) { stamp.colour = colour->currentData().toString().toStdString(); });
    });
    field(sheet, words("colour"), colour);
    tick(sheet, words("turned, along the edge"), "stamp-turned", now.turned,
         [set](bool is) { set([&](Stamp& stamp) { stamp.turned = is; }); });
    tick(sheet, words("continue the counter across documents"), "stamp-across", now.across_documents,
         [set](bool is) { set([&](Stamp& stamp) { stamp.across_documents = is; }); });
    back_to_file(sheet, doors);
    sheet.add_advice(
        words("Each # is a digit of the page counter; yyyy, mm and dd become the date. The page in the view shows the "
              "stamp. It is text in PDFs, part of the picture in pictures, and absent from text formats."));
}

namespace {

void add_one_more(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    sheet.add_heading(words("Add a file"));
    QList<QPair<QString, QVariant>> formats;
    for (const Format each : all_formats())
        if (each != Format::Auto)
            formats.append({QString::fromUtf8(format_words(each).data()), static_cast<int>(each)});
    auto* format = choice_of("also-format", formats, static_cast<int>(Format::Tiff));
    field(sheet, words("format"), format);
    auto* ink = choice_of("also-ink",
                          {{words("as the pages"), -1},
                           {wording::ink(Ink::Colour), static_cast<int>(Ink::Colour)},
                           {wording::ink(Ink::Grey), static_cast<int>(Ink::Grey)},
                           {wording::ink(Ink::Black), static_cast<int>(Ink::Black)}},
                          -1);
    field(sheet, words("colour"), ink);
    QList<QPair<QString, QVariant>> fine{{words("as the pages"), 0}};
    for (const int dpi : {75, 100, 150, 200, 300}) fine.append({words("at most %1 dpi").arg(dpi), dpi});
    auto* dpi = choice_of("also-dpi", fine, 0);
    field(sheet, words("resolution"), dpi);
    auto* folder = new QLineEdit;
    folder->setObjectName("also-folder");
    folder->setPlaceholderText(words("the same folder"));
    field(sheet, words("folder"), folder);
    sheet.add_row(words("add"), words("saved with each document, from the same pages"), false, [=, &models] {
        FurtherFile made{static_cast<Format>(format->currentData().toInt()), std::nullopt, dpi->currentData().toInt(),
                         folder->text().trimmed().toStdString()};
        if (const int chosen = ink->currentData().toInt(); chosen >= 0) made.ink = static_cast<Ink>(chosen);
        change(models, [&](Ticket& t) { t.make.also.push_back(made); });
        doors.also();
    });
}

}

void fill_also(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const auto& now = shown(models).make.also;
    sheet.add_heading(words("Further files from the same pages"));
    for (size_t i = 0; i < now.size(); ++i)
        sheet.add_row(also_words(now[i]), words("click to remove"), true, [&models, doors, i] {
            change(models, [&](Ticket& t) {
                if (i < t.make.also.size()) t.make.also.erase(t.make.also.begin() + static_cast<std::ptrdiff_t>(i));
            });
            doors.also();
        });
    add_one_more(sheet, models, doors);
    back_to_file(sheet, doors);
    sheet.add_advice(words("For example colour for reading, and black and white for the archive. Either all files of a "
                           "document are saved or none."));
}

}
