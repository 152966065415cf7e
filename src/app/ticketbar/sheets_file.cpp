// The sheet of file options: what a file permits, what it says about itself, stamps, and further files made of the same
// pages.
#include "app/models/saving/password_keeper.h"
#include "app/theme/phrase_sheet.h"
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
    sheet.add_row(SheetText::tr("file options…"), SheetText::tr("back"), false, doors.file);
}

QString protection_words(const Ticket::Make& make) {
    QStringList out;
    if (make.password) out.append(SheetText::tr("needs a password"));
    if (make.permissions.print == Permissions::Print::None) out.append(SheetText::tr("no printing"));
    if (make.permissions.print == Permissions::Print::Coarse) out.append(SheetText::tr("printing in low resolution"));
    if (!make.permissions.change) out.append(SheetText::tr("no changes"));
    if (!make.permissions.copy) out.append(SheetText::tr("no copying"));
    return out.isEmpty() ? SheetText::tr("none") : out.join(", ");
}

QString properties_words(const Properties& properties) {
    QStringList out;
    if (!properties.title) out.append(SheetText::tr("title: the name"));
    for (const auto& [parts, what] : {std::pair{properties.title.value_or(std::vector<NamePart>{}), "title"},
                                      {properties.author, "author"},
                                      {properties.subject, "subject"},
                                      {properties.keywords, "keywords"}})
        if (!parts.empty()) out.append(SheetText::tr(what));
    return out.isEmpty() ? SheetText::tr("none") : out.join(", ");
}

QString also_words(const FurtherFile& also) {
    QStringList out{QString::fromUtf8(format_words(also.format).data())};
    if (also.ink) out.append(wording::ink(*also.ink));
    if (also.dpi > 0) out.append(SheetText::tr("%1 dpi").arg(also.dpi));
    if (!also.folder.empty()) out.append(SheetText::tr("in %1").arg(QString::fromStdString(also.folder)));
    return out.join(", ");
}

// An entry for a name pattern; its parts are applied with every key.
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
    sheet.add_heading(SheetText::tr("File options"));
    sheet.add_row(SheetText::tr("protection…"), protection_words(now), now.is_protected(), doors.protection);
    sheet.add_row(SheetText::tr("properties…"), properties_words(now.properties), now.properties != Properties{},
                  doors.properties);
    sheet.add_row(SheetText::tr("stamp…"),
                  now.stamp.parts.empty() ? SheetText::tr("none") : name_pattern(now.stamp.parts),
                  !now.stamp.parts.empty(), doors.stamp);
    sheet.add_row(SheetText::tr("further files…"), also.isEmpty() ? SheetText::tr("none") : also.join("; "),
                  !also.isEmpty(), doors.also);
    sheet.add_advice(SheetText::tr("Files contain only what you ask for: no computer name, no user name."));
}

void fill_protection(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Ticket& ticket = shown(models);
    const Ticket::Make& now = ticket.make;
    sheet.add_heading(SheetText::tr("PDF protection"));
    tick(sheet, SheetText::tr("a password is needed to open it"), "protect-open", now.password,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.password = is; }); });
    auto* print =
        choice_of("protect-print",
                  {{SheetText::tr("printing allowed"), static_cast<int>(Permissions::Print::Full)},
                   {SheetText::tr("printing in low resolution"), static_cast<int>(Permissions::Print::Coarse)},
                   {SheetText::tr("no printing"), static_cast<int>(Permissions::Print::None)}},
                  static_cast<int>(now.permissions.print));
    print->setAccessibleName(SheetText::tr("printing"));
    QObject::connect(print, &QComboBox::activated, &sheet, [&models, print] {
        change(models, [&](Ticket& t) {
            t.make.permissions.print = static_cast<Permissions::Print>(print->currentData().toInt());
        });
    });
    sheet.add_widget(print);
    tick(sheet, SheetText::tr("changes allowed"), "protect-change", now.permissions.change,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.permissions.change = is; }); });
    tick(sheet, SheetText::tr("copying allowed"), "protect-copy", now.permissions.copy,
         [&models](bool is) { change(models, [&](Ticket& t) { t.make.permissions.copy = is; }); });
    sheet.add_row(SheetText::tr("delete saved passwords"), SheetText::tr("of this ticket, from the keyring"), false,
                  [&models, whose = QString::fromStdString(ticket.name)] { models.passwords.forget(whose); });
    back_to_file(sheet, doors);
    sheet.add_advice(
        SheetText::tr("You enter passwords when saving; the keyring can remember them. Restrictions need an owner "
                      "password. AES-256; screen readers always have access."));
}

void fill_properties(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Properties& now = shown(models).make.properties;
    sheet.add_heading(SheetText::tr("Document properties"));
    const bool titled = !now.title || !now.title->empty();
    auto* title =
        pattern_field(sheet, SheetText::tr("title"), "property-title", now.title.value_or(std::vector<NamePart>{}),
                      SheetText::tr("the document's name"), [&models](const std::vector<NamePart>& parts) {
                          change(models, [&](Ticket& t) {
                              t.make.properties.title = parts.empty() ? std::nullopt : std::optional(parts);
                          });
                      });
    title->setEnabled(titled);
    for (const auto& [label, name, which] :
         {std::tuple{SheetText::tr("author"), "property-author", &Properties::author},
          {SheetText::tr("subject"), "property-subject", &Properties::subject},
          {SheetText::tr("keywords"), "property-keywords", &Properties::keywords}})
        pattern_field(sheet, label, name, now.*which, SheetText::tr("left out"),
                      [&models, which = which](const std::vector<NamePart>& parts) {
                          change(models, [&](Ticket& t) { t.make.properties.*which = parts; });
                      });
    tick(sheet, SheetText::tr("no title"), "property-untitled", !titled, [&models, title](bool is) {
        title->setEnabled(!is);
        const auto parts = parts_of(title->text());
        change(models, [&](Ticket& t) {
            t.make.properties.title = is              ? std::optional(std::vector<NamePart>{})
                                      : parts.empty() ? std::nullopt
                                                      : std::optional(parts);
        });
    });
    back_to_file(sheet, doors);
    sheet.add_advice(
        SheetText::tr("yyyy, mm and dd become the date, [heading] the heading of the first page, [code] the "
                      "separator text. For PDF, DOCX, ODT, web pages and e-books."));
}

void fill_stamp(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const Stamp& now = shown(models).make.stamp;
    const auto set = [&models](const auto& how) { change(models, [&](Ticket& t) { how(t.make.stamp); }); };
    sheet.add_heading(SheetText::tr("Stamp on every page"));
    pattern_field(sheet, SheetText::tr("text"), "stamp-words", now.parts, SheetText::tr("empty: no stamp"),
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
        places.append({SheetText::tr(text), static_cast<int>(at)});
    auto* at = choice_of("stamp-at", places, static_cast<int>(now.at));
    QObject::connect(at, &QComboBox::activated, &sheet,
                     [set, at] { set([&](Stamp& stamp) { stamp.at = static_cast<At>(at->currentData().toInt()); }); });
    field(sheet, SheetText::tr("position"), at);
    auto* size = new QSpinBox;
    size->setObjectName("stamp-size");
    size->setRange(4, 72);
    size->setSuffix(SheetText::tr(" pt"));
    size->setValue(static_cast<int>(std::lround(now.size_pt)));
    QObject::connect(size, &QSpinBox::valueChanged, &sheet,
                     [set](int pt) { set([&](Stamp& stamp) { stamp.size_pt = pt; }); });
    field(sheet, SheetText::tr("size"), size);
    QList<QPair<QString, QVariant>> colours{{SheetText::tr("ink"), "#26303a"},  {SheetText::tr("black"), "#000000"},
                                            {SheetText::tr("red"), "#a3392b"},  {SheetText::tr("green"), "#3f6f4a"},
                                            {SheetText::tr("blue"), "#2b4fa3"}, {SheetText::tr("grey"), "#808080"}};
    const QString own = QString::fromStdString(now.colour);
    if (std::ranges::none_of(colours, [&](const auto& each) { return each.second == own; })) colours.append({own, own});
    auto* colour = choice_of("stamp-colour", colours, own);
    QObject::connect(colour, &QComboBox::activated, &sheet, [set, colour] {
        set([&](Stamp& stamp) { stamp.colour = colour->currentData().toString().toStdString(); });
    });
    field(sheet, SheetText::tr("colour"), colour);
    tick(sheet, SheetText::tr("turned, along the edge"), "stamp-turned", now.turned,
         [set](bool is) { set([&](Stamp& stamp) { stamp.turned = is; }); });
    tick(sheet, SheetText::tr("continue the counter across documents"), "stamp-across", now.across_documents,
         [set](bool is) { set([&](Stamp& stamp) { stamp.across_documents = is; }); });
    back_to_file(sheet, doors);
    sheet.add_advice(SheetText::tr(
        "Each # is a digit of the page counter; yyyy, mm and dd become the date. The page in the view shows the "
        "stamp. It is text in PDFs, part of the picture in pictures, and absent from text formats."));
}

namespace {

void add_one_more(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    sheet.add_heading(SheetText::tr("Add a file"));
    QList<QPair<QString, QVariant>> formats;
    for (const Format each : all_formats())
        if (each != Format::Auto)
            formats.append({QString::fromUtf8(format_words(each).data()), static_cast<int>(each)});
    auto* format = choice_of("also-format", formats, static_cast<int>(Format::Tiff));
    field(sheet, SheetText::tr("format"), format);
    auto* ink = choice_of("also-ink",
                          {{SheetText::tr("as the pages"), -1},
                           {wording::ink(Ink::Colour), static_cast<int>(Ink::Colour)},
                           {wording::ink(Ink::Grey), static_cast<int>(Ink::Grey)},
                           {wording::ink(Ink::Black), static_cast<int>(Ink::Black)}},
                          -1);
    field(sheet, SheetText::tr("colour"), ink);
    QList<QPair<QString, QVariant>> fine{{SheetText::tr("as the pages"), 0}};
    for (const int dpi : {75, 100, 150, 200, 300}) fine.append({SheetText::tr("at most %1 dpi").arg(dpi), dpi});
    auto* dpi = choice_of("also-dpi", fine, 0);
    field(sheet, SheetText::tr("resolution"), dpi);
    auto* folder = new QLineEdit;
    folder->setObjectName("also-folder");
    folder->setPlaceholderText(SheetText::tr("the same folder"));
    field(sheet, SheetText::tr("folder"), folder);
    sheet.add_row(SheetText::tr("add"), SheetText::tr("saved with each document, from the same pages"), false,
                  [=, &models] {
                      FurtherFile made{static_cast<Format>(format->currentData().toInt()), std::nullopt,
                                       dpi->currentData().toInt(), folder->text().trimmed().toStdString()};
                      if (const int chosen = ink->currentData().toInt(); chosen >= 0)
                          made.ink = static_cast<Ink>(chosen);
                      change(models, [&](Ticket& t) { t.make.also.push_back(made); });
                      doors.also();
                  });
}

}

void fill_also(PhraseSheet& sheet, const TicketModels& models, const Doors& doors) {
    const auto& now = shown(models).make.also;
    sheet.add_heading(SheetText::tr("Further files from the same pages"));
    for (size_t i = 0; i < now.size(); ++i)
        sheet.add_row(also_words(now[i]), SheetText::tr("click to remove"), true, [&models, doors, i] {
            change(models, [&](Ticket& t) {
                if (i < t.make.also.size()) t.make.also.erase(t.make.also.begin() + static_cast<std::ptrdiff_t>(i));
            });
            doors.also();
        });
    add_one_more(sheet, models, doors);
    back_to_file(sheet, doors);
    sheet.add_advice(
        SheetText::tr("For example colour for reading, and black and white for the archive. Either all files of a "
                      "document are saved or none."));
}

}
