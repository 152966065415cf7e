#include "app/window/folder_question.h"

#include "app/models/save_places.h"
#include "app/ticketbar/phrase_sheet.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QLineEdit>
#include <QPointer>

#include <memory>

namespace yelvin {

namespace {
QString words(const char* text) { return QCoreApplication::translate("FolderQuestion", text); }
}

void open_folder_question(SavePlaces& places, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("folder-question");
    const auto answered = std::make_shared<bool>(false);
    const auto give = [&places, answered](const QString& folder) {
        *answered = true;
        places.give(folder);
    };
    sheet->add_heading(words("Save it in which folder?"));
    for (const QString& folder : places.used())
        sheet->add_row(QDir(folder).dirName(), shown_folder(folder), false, [give, folder] { give(folder); });
    sheet->add_row(
        words("another folder …"), words("choose on this computer"), false, [&places, give, answered, parent] {
            *answered = true;
            const QString chosen = QFileDialog::getExistingDirectory(parent, words("Where it goes"), QDir::homePath());
            chosen.isEmpty() ? places.give_up() : give(chosen);
        });
    auto* edit = new QLineEdit;
    edit->setObjectName("folder-path");
    edit->setAccessibleName(words("folder"));
    edit->setPlaceholderText(words("or its path, such as ~/Documents/Bills"));
    edit->setMinimumWidth(300);
    QObject::connect(edit, &QLineEdit::returnPressed, sheet, [sheet, edit, give] {
        const QString typed = edit->text().trimmed();
        if (typed.isEmpty()) return;
        give(typed);
        sheet->close();
    });
    sheet->add_widget(edit);
    QObject::connect(sheet, &QObject::destroyed, &places, [&places, answered] {
        if (!*answered) places.give_up();
    });
    sheet->open_under(anchor);
}

}
