// The sheets about the names of files and their folders.
#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/save_places.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "app/ticketbar/chip_row.h"
#include "app/ticketbar/sheet_parts.h"

#include <QDir>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QStandardPaths>
#include <QVBoxLayout>

namespace yelvin::sheets {

namespace {

// The document whose values the chips show: the current one, otherwise the first unsaved one.
DocumentPtr shown_document(const TicketModels& models) {
    const auto& documents = models.tray.tray().documents;
    for (const QString& id : models.for_documents)
        if (DocumentPtr document = document_at(models.tray.tray(), id.toStdString())) return document;
    if (const auto place = find_page(models.tray.tray(), models.choice.current_id().toStdString()))
        return documents[place->document];
    return documents.empty() ? nullptr : documents.front();
}

QString becomes(const TicketModels& models, const NamePart& part) {
    const Ticket& ticket = shown(models);
    const DocumentPtr document = shown_document(models);
    const NameValues values = document ? models.papers.values_of(*document, ticket) : NameValues{{}, ticket.name};
    const int number = models.names.number_for(document.get());
    return QString::fromStdString(joined_parts(with_values({part}, values), today(), number));
}

std::vector<PaperFact> facts_of(const PaperFacts& says, NamePart::Kind kind) {
    const auto& fact = kind == NamePart::Kind::PaperDate   ? says.date
                       : kind == NamePart::Kind::Sender    ? says.sender
                       : kind == NamePart::Kind::PaperKind ? says.kind
                       : kind == NamePart::Kind::Number    ? says.number
                       : kind == NamePart::Kind::Heading   ? says.heading
                                                           : std::optional<PaperFact>();
    return fact ? std::vector{*fact} : std::vector<PaperFact>{};
}

// The complete names of the unsaved documents in the tray.
class WaitingNames : public QLabel {
  public:
    WaitingNames(const TicketModels& models, QWidget* parent) : QLabel(parent), models_(models) {
        setObjectName("waiting-names");
        setTextFormat(Qt::PlainText);
        connect(&models_.document_tickets, &DocumentTickets::changed, this, [this] { show_them(); });
        connect(&models_.papers, &Papers::changed, this, [this] { show_them(); });
        show_them();
    }

  private:
    TicketModels models_;
    void show_them() {
        constexpr int most = 8, widest = 500;
        const auto end = [](const Ticket& ticket) {
            return "." + QString::fromUtf8(format_extension(ticket.make.format).data());
        };
        const QFontMetrics metrics(theme::body());
        QStringList lines;
        qsizetype more = 0;
        for (const DocumentPtr& each : models_.tray.tray().documents) {
            if (!each->saved_as.empty() || each->kept_pages().empty()) continue;
            const bool is_one = models_.for_documents.contains(QString::fromStdString(each->id));
            if (models_.for_documents.isEmpty() ? !models_.document_tickets.follows(*each) : !is_one) continue;
            if (lines.size() == most)
                ++more;
            else
                lines.append(metrics.elidedText(models_.names.title_of(*each) + end(models_.document_tickets.of(*each)),
                                                Qt::ElideMiddle, widest));
        }
        if (lines.isEmpty()) lines.append(models_.names.next() + end(models_.tickets.ticket()));
        if (more > 0) lines.append(SheetText::tr("and %1 more").arg(more));
        setText(lines.join('\n'));
    }
};

void set_folder(const TicketModels& models, const QString& folder) {
    change(models, [&](Ticket& t) {
        t.save.where = Ticket::Save::Where::Fixed;
        t.save.folder = shown_folder(folder).toStdString();
    });
}

QStringList offered_folders(const TicketModels& models, const QString& now) {
    QStringList folders{now};
    for (const QString& used : models.places.used(5))
        if (!folders.contains(used)) folders.append(used);
    for (const auto place :
         {QStandardPaths::DocumentsLocation, QStandardPaths::PicturesLocation, QStandardPaths::HomeLocation}) {
        const QString path = QStandardPaths::writableLocation(place);
        if (folders.size() < 6 && !path.isEmpty() && !folders.contains(path) &&
            models.folders.of(path.toStdString()).is != FolderState::Is::Missing)
            folders.append(path);
    }
    return folders;
}

QString advice_on(const QString& folder, const FolderState& state) {
    QString shown = shown_folder(folder);
    switch (state.is) {
    case FolderState::Is::Missing:
        return SheetText::tr("%1 · missing").arg(shown);
    case FolderState::Is::Silent:
        return SheetText::tr("%1 · not responding").arg(shown);
    case FolderState::Is::Unusable:
        return SheetText::tr("%1 · read-only").arg(shown);
    default:
        return shown;
    }
}

void add_folders(PhraseSheet& sheet, const TicketModels& models, const QString& now) {
    const bool fixed = shown(models).save.where == Ticket::Save::Where::Fixed;
    for (const QString& folder : offered_folders(models, now)) {
        const QString name = QDir(folder).dirName();
        sheet.add_row(folder == QDir::homePath() ? SheetText::tr("the home folder")
                      : name.isEmpty()           ? folder
                                                 : name,
                      advice_on(folder, models.folders.of(folder.toStdString())), fixed && folder == now,
                      [&models, folder] { set_folder(models, folder); });
    }
    if (models.folders.of(now.toStdString()).is == FolderState::Is::Missing)
        sheet.add_row(SheetText::tr("create this folder"), shown_folder(now), false, [models, now] {
            models.folders.make(now.toStdString(), [models, now](const FolderState&) { set_folder(models, now); });
        });
}

void add_path(PhraseSheet& sheet, const TicketModels& models, const QString& now) {
    QWidget* window = sheet.parentWidget()->window();
    sheet.add_row(SheetText::tr("another folder…"), SheetText::tr("choose a folder on this computer"), false,
                  [models, window, now] {
                      const QString chosen =
                          QFileDialog::getExistingDirectory(window, SheetText::tr("Choose a folder"), now);
                      if (!chosen.isEmpty()) set_folder(models, chosen);
                  });
    auto* edit = new QLineEdit(shown_folder(now));
    edit->setAccessibleName(SheetText::tr("folder"));
    edit->setObjectName("folder-path");
    edit->setMinimumWidth(320);
    QObject::connect(edit, &QLineEdit::returnPressed, &sheet, [&sheet, &models, edit] {
        const QString typed = edit->text().trimmed();
        sheet.close();
        if (!typed.isEmpty()) set_folder(models, QString::fromStdString(expanded_folder(typed.toStdString()).string()));
    });
    sheet.add_widget(edit);
}

}

namespace {
std::vector<NamePart> parts_now(const TicketModels& models, const PartsOf& which) {
    Ticket ticket = shown(models);
    return which(ticket);
}
}

ChipRow* add_chips(PhraseSheet& sheet, const TicketModels& models, ChipRow::For what, const PartsOf& which) {
    auto* row = new ChipRow(
        what, parts_now(models, which), [&models](const NamePart& part) { return becomes(models, part); }, &sheet);
    QObject::connect(row, &ChipRow::changed, &sheet, [&models, row, which] {
        change(models, [&](Ticket& t) { which(t) = row->parts(); });
        row->show_values();
    });
    QObject::connect(&models.papers, &Papers::changed, row, &ChipRow::show_values);
    QObject::connect(row, &ChipRow::pointed, &sheet, [&models](const NamePart& part, bool is) {
        const DocumentPtr document = shown_document(models);
        const PaperFacts* says = document ? models.papers.says_of(*document) : nullptr;
        if (says) models.papers.point_at(*document, is ? facts_of(*says, part.kind) : std::vector<PaperFact>{});
    });
    QObject::connect(&sheet, &QObject::destroyed, &models.papers, [&models] { models.papers.point_at({}, {}); });
    sheet.add_widget(row);
    return row;
}

void fill_name(PhraseSheet& sheet, const TicketModels& models, const Doors&) {
    sheet.add_heading(SheetText::tr("Name"));
    add_chips(sheet, models, ChipRow::For::Name, [](Ticket& t) -> std::vector<NamePart>& {
        return t.save.name;
    })->focus_first();
    sheet.add_widget(new WaitingNames(models, &sheet));
    if (const size_t count = models.papers.remembered(); count > 0)
        sheet.add_row(SheetText::tr("clear the naming history"),
                      count == 1 ? SheetText::tr("1 document; names are proposed from it")
                                 : SheetText::tr("%1 documents; names are proposed from them").arg(count),
                      false, [&models] { models.papers.forget_all(); });
    sheet.add_advice(
        SheetText::tr("Click a chip for its choices; drag it to move it. Keys: the arrow keys select, with Ctrl they "
                      "move, Delete removes, + adds. A file is never overwritten: the next number is used."));
}

void fill_folder(PhraseSheet& sheet, const TicketModels& models) {
    const QString now = QString::fromStdString(expanded_folder(shown(models).save.folder).string());
    const Ticket::Save& save = shown(models).save;
    using Where = Ticket::Save::Where;
    add_folders(sheet, models, now);
    sheet.add_row(SheetText::tr("ask every time"), SheetText::tr("when a document is saved"),
                  save.where == Where::Asked,
                  [&models] { change(models, [](Ticket& t) { t.save.where = Where::Asked; }); });
    sheet.add_row(SheetText::tr("temporary folder"), SheetText::tr("deleted automatically after a week"),
                  save.where == Where::Temporary,
                  [&models] { change(models, [](Ticket& t) { t.save.where = Where::Temporary; }); });
    add_path(sheet, models, now);
    if (save.where != Where::Temporary) {
        sheet.add_heading(SheetText::tr("Subfolders"));
        add_chips(sheet, models, ChipRow::For::Folders,
                  [](Ticket& t) -> std::vector<NamePart>& { return t.save.within; });
    }
    tick(sheet, SheetText::tr("create the folder if it is missing"), "make-folder", save.make_folder,
         [&models](bool is) { change(models, [&](Ticket& t) { t.save.make_folder = is; }); });
    sheet.add_advice(
        SheetText::tr("Files appear there complete or not at all. While the folder is missing, documents wait in "
                      "the tray and are saved when it is back."));
}

}
