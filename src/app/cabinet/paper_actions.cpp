#include "app/cabinet/paper_actions.h"

#include "app/cabinet/cabinet_sheets.h"
#include "app/cabinet/result_list.h"
#include "app/keys.h"
#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/cabinet/cabinet_search.h"
#include "app/models/errands/errands.h"
#include "app/models/tray/incoming.h"
#include "app/models/tray/kept_originals.h"
#include "app/models/window/messages.h"
#include "app/theme/parts.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace yelvin {

namespace {

QRect place_of(const QWidget* widget) { return {widget->mapToGlobal(QPoint(0, 0)), widget->size()}; }

}

PaperActions::PaperActions(const CabinetModels& models, ResultList& results, QWidget* parent)
    : QWidget(parent), models_(models), results_(results) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* above = new QHBoxLayout;
    auto* below = new QHBoxLayout;
    open_ = link(above, tr("open"), "cabinet-open", tr("In its default program (Enter)"));
    show_ = link(above, tr("show in folder"), "cabinet-show", tr("Opens its folder in the file manager"));
    back_ = link(above, tr("return to the tray"), "cabinet-back",
                 tr("With its originals if still kept, otherwise as the saved file"));
    rename_ = link(below, tr("rename"), "cabinet-rename", with_key(tr("Renames the file too"), Do::Rename));
    move_ = link(below, tr("move…"), "cabinet-move", tr("Moves the file to another folder"));
    mail_ = link(below, tr("e-mail"), "cabinet-mail", tr("Attaches it to a draft in the e-mail program"));
    searchable_ = link(below, tr("make searchable"), "cabinet-searchable",
                       tr("Reads pages of its PDF that have no text and adds the text to them"));
    away_ = link(below, tr("remove"), "cabinet-away", tr("Removes it from the cabinet; the file stays (Delete)"));
    for (QHBoxLayout* row : {above, below}) {
        row->setSpacing(12);
        row->addStretch();
        column->addLayout(row);
    }
    connect(open_, &QPushButton::clicked, this, &PaperActions::open_chosen);
    connect(show_, &QPushButton::clicked, this, &PaperActions::show_chosen);
    connect(back_, &QPushButton::clicked, this, &PaperActions::take_back_chosen);
    connect(rename_, &QPushButton::clicked, this, &PaperActions::rename_current);
    connect(move_, &QPushButton::clicked, this, &PaperActions::move_chosen);
    connect(mail_, &QPushButton::clicked, this, &PaperActions::mail_chosen);
    connect(searchable_, &QPushButton::clicked, this, &PaperActions::make_searchable);
    connect(away_, &QPushButton::clicked, this, &PaperActions::put_away_chosen);
}

QPushButton* PaperActions::link(QHBoxLayout* row, const QString& words, const char* name, const QString& tip) {
    auto* made = theme::link(words, name, this);
    made->setToolTip(tip);
    row->addWidget(made);
    return made;
}

void PaperActions::refresh() {
    const SearchResult* found = models_.search.current();
    const size_t several = results_.chosen().size();
    for (QPushButton* each : {open_, show_, back_, rename_, move_, mail_, away_}) each->setVisible(found != nullptr);
    searchable_->setVisible(found && !chosen_pictures().isEmpty());
    if (!found) return;
    const bool here = found->paper.place == Place::Here;
    for (QPushButton* each : {open_, show_, back_, move_, mail_}) each->setEnabled(here || several > 1);
    rename_->setEnabled(here && several < 2);
}

std::vector<const SearchResult*> PaperActions::chosen() const {
    std::vector<const SearchResult*> papers;
    const std::vector<long long> ids = results_.chosen();
    for (const SearchResult& each : models_.search.found().best)
        if (std::ranges::find(ids, each.paper.id) != ids.end() && each.paper.place == Place::Here)
            papers.push_back(&each);
    return papers;
}

QStringList PaperActions::chosen_files() const {
    QStringList files;
    for (const SearchResult* each : chosen()) files.append(QString::fromStdString(each->paper.file.string()));
    return files;
}

QStringList PaperActions::chosen_pictures() const {
    QStringList files;
    for (const SearchResult* each : chosen()) {
        const QString file = QString::fromStdString(each->paper.file.string());
        if (each->paper.ticket.empty() && file.endsWith(".pdf", Qt::CaseInsensitive)) files.append(file);
    }
    return files;
}

Outside::Done PaperActions::complain() {
    return {this, [this](const Result<QString>& done) {
                if (!done) models_.messages.complain(done.error());
            }};
}

void PaperActions::open_chosen() {
    const QStringList files = chosen_files();
    if (files.isEmpty()) return models_.messages.complain(tr("The file was moved or deleted, so it cannot be opened."));
    models_.errands.outside().open({}, files, complain());
}

void PaperActions::show_chosen() { models_.errands.outside().show(chosen_files(), complain()); }

void PaperActions::take_back_chosen() {
    QStringList as_files;
    const auto papers = chosen();
    if (papers.empty()) return;
    for (const SearchResult* each : papers) {
        const CabinetPaper& paper = each->paper;
        if (!models_.originals.take_back(paper.document, paper.file, static_cast<size_t>(paper.pages)))
            as_files.append(QString::fromStdString(paper.file.string()));
    }
    if (!as_files.isEmpty()) models_.files.add(as_files);
    emit taken_back();
}

void PaperActions::mail_chosen() {
    MailDraft draft;
    for (const QString& file : chosen_files()) draft.files.push_back(file.toStdString());
    models_.errands.outside().mail(draft, complain());
}

void PaperActions::make_searchable() {
    std::vector<std::filesystem::path> pdfs;
    for (const QString& each : chosen_pictures()) pdfs.emplace_back(each.toStdString());
    models_.keeper.make_searchable(pdfs);
}

void PaperActions::put_away_chosen() { models_.keeper.remove_entries(results_.chosen()); }

void PaperActions::move_chosen() { open_move_sheet(models_.keeper, results_.chosen(), place_of(move_), this); }

void PaperActions::rename_current() {
    if (const SearchResult* found = models_.search.current(); found && found->paper.place == Place::Here)
        open_rename_sheet(models_.keeper, found->paper, place_of(rename_), this);
}

}
