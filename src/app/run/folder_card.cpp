#include "app/run/folder_card.h"

#include "app/models/saving/save_places.h"

#include <QCompleter>
#include <QDir>
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QStringListModel>

namespace yelvin {

FolderCard::FolderCard(SavePlaces& places, QWidget* parent) : QuestionCard("folder-card", parent), places_(places) {
    words()->setText(tr("Save in which folder?"));
    folder_ = new QLineEdit(this);
    folder_->setObjectName("folder-path");
    folder_->setAccessibleName(tr("folder"));
    folder_->setPlaceholderText(tr("path, such as ~/Documents/Bills"));
    folder_->setMinimumWidth(320);
    used_ = new QStringListModel(this);
    auto* completer = new QCompleter(used_, this);
    completer->setFilterMode(Qt::MatchContains);
    folder_->setCompleter(completer);
    add(folder_);
    connect(add_link(tr("choose…"), "folder-choose"), &QPushButton::clicked, this, &FolderCard::choose_on_disk);
    connect(add_link(tr("do not save"), "folder-leave"), &QPushButton::clicked, this, &FolderCard::give_up);
    connect(add_button(tr("Save here"), "folder-use"), &QPushButton::clicked, this, &FolderCard::give);
    connect(folder_, &QLineEdit::returnPressed, this, &FolderCard::give);
    connect(&places_, &SavePlaces::question_changed, this, &FolderCard::refresh);
    refresh();
}

void FolderCard::refresh() {
    const bool was_asked = !isHidden();
    appear(places_.asks());
    if (isHidden() || was_asked) return; // Keep what the user is typing.
    QStringList used;
    for (const QString& folder : places_.used()) used.append(shown_folder(folder));
    used_->setStringList(used);
    folder_->setText(used.value(0));
}

void FolderCard::choose_on_disk() {
    const QPointer<FolderCard> here(this);
    const QString chosen = QFileDialog::getExistingDirectory(window(), tr("Choose a folder"), QDir::homePath());
    if (here && !chosen.isEmpty()) folder_->setText(shown_folder(chosen));
}

void FolderCard::give() {
    const QString folder = folder_->text().trimmed();
    if (folder.isEmpty()) return folder_->setFocus();
    places_.give(folder);
}

void FolderCard::give_up() { places_.give_up(); }

}
