#include "app/cabinet/cabinet_sheets.h"

#include "app/cabinet/paper_words.h"
#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/saving/save_places.h"
#include "app/models/threads/apart.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QDateTime>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>

namespace yelvin {

namespace {

struct CabinetSheetText {
    Q_DECLARE_TR_FUNCTIONS(CabinetSheetText)
};

QString whole_path(QString typed) {
    typed = typed.trimmed();
    if (typed == "~" || typed.startsWith("~/")) typed = QDir::homePath() + typed.mid(1);
    return typed.isEmpty() ? typed : QFileInfo(typed).absoluteFilePath();
}

QLineEdit* add_folder_line(PhraseSheet& sheet) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* folder = new QLineEdit(row);
    folder->setObjectName("cabinet-folder");
    folder->setAccessibleName(CabinetSheetText::tr("folder"));
    folder->setPlaceholderText(CabinetSheetText::tr("a folder, such as ~/Documents/Bills"));
    folder->setMinimumWidth(300);
    auto* choose = theme::link(CabinetSheetText::tr("choose…"), "cabinet-choose", row);
    line->addWidget(folder, 1);
    line->addWidget(choose);
    sheet.add_widget(row);
    sheet.guard(folder);
    QObject::connect(choose, &QPushButton::clicked, &sheet, [folder, &sheet, window = sheet.parentWidget()->window()] {
        const QPointer<QLineEdit> there(folder);
        const QString chosen = sheet.asked_by([window] {
            return QFileDialog::getExistingDirectory(window, CabinetSheetText::tr("Choose a folder"), QDir::homePath());
        });
        if (there && !chosen.isEmpty()) there->setText(chosen);
    });
    return folder;
}

QLabel* add_wrong(PhraseSheet& sheet) {
    auto* wrong = new QLabel;
    wrong->setObjectName("cabinet-wrong");
    wrong->setProperty("bad", true);
    wrong->hide();
    sheet.add_widget(wrong);
    return wrong;
}

// Calls `then` with the typed folder if it exists and the sheet is still open; otherwise shows an error in `wrong`.
void when_there(PhraseSheet* sheet, QLineEdit* edit, QLabel* wrong, const std::function<void(const QString&)>& then) {
    const QString folder = whole_path(edit->text());
    const auto look = [folder]() -> Result<void> {
        if (!folder.isEmpty() && QFileInfo(folder).isDir()) return {};
        return fail(ErrorKind::Missing,
                    CabinetSheetText::tr("This folder does not exist; choose another.").toStdString());
    };
    const auto seen = [=](const Result<void>& there) {
        if (!sheet->isVisible()) return; // The user closed the sheet meanwhile.
        if (there) return then(folder);
        wrong->setText(QString::fromStdString(there.error().sentence));
        wrong->show();
        edit->setFocus();
    };
    apart(sheet, "looking for a folder", look, seen, patience_with(folder.toStdString()));
}

}

PhraseSheet* open_rename_sheet(CabinetKeeper& keeper, const CabinetPaper& paper, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("cabinet-rename-sheet");
    sheet->add_heading(CabinetSheetText::tr("Name of the document and its file"));
    auto* name = new QLineEdit(paper_name(paper));
    name->setObjectName("cabinet-name");
    name->setAccessibleName(CabinetSheetText::tr("name"));
    name->setMinimumWidth(320);
    sheet->add_widget(name);
    sheet->add_advice(CabinetSheetText::tr("If the name exists, the next number is used."));
    QObject::connect(name, &QLineEdit::returnPressed, sheet, [sheet, name, &keeper, id = paper.id] {
        keeper.rename(id, name->text());
        sheet->close();
    });
    sheet->open_under(anchor);
    name->setFocus();
    name->selectAll();
    return sheet;
}

PhraseSheet* open_move_sheet(CabinetKeeper& keeper, const std::vector<long long>& ids, const QRect& anchor,
                             QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("cabinet-move-sheet");
    sheet->add_heading(ids.size() == 1 ? CabinetSheetText::tr("Move its file to")
                                       : CabinetSheetText::tr("Move %1 files to").arg(ids.size()));
    QLineEdit* folder = add_folder_line(*sheet);
    QLabel* wrong = add_wrong(*sheet);
    auto* move = theme::button(CabinetSheetText::tr("Move"), theme::Kind::Main, "cabinet-use", sheet);
    sheet->add_widget(move);
    const auto use = [=, &keeper] {
        when_there(sheet, folder, wrong, [=, &keeper](const QString& to) {
            sheet->finish();
            keeper.move(ids, to);
        });
    };
    QObject::connect(move, &QPushButton::clicked, sheet, use);
    QObject::connect(folder, &QLineEdit::returnPressed, sheet, use);
    sheet->open_under(anchor);
    folder->setFocus();
    return sheet;
}

void open_older_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent) {
    struct Age {
        const char* words;
        int years;
    };
    static constexpr Age ages[] = {{"older than one year", 1},
                                   {"older than two years", 2},
                                   {"older than five years", 5},
                                   {"older than ten years", 10}};
    std::vector<std::chrono::sys_seconds> than;
    for (const Age& age : ages) {
        const QDateTime then = QDateTime::currentDateTime().addYears(-age.years);
        than.emplace_back(std::chrono::seconds(then.toSecsSinceEpoch()));
    }
    keeper.count_older(
        than, [&keeper, than, anchor, parent = QPointer<QWidget>(parent)](const std::vector<int>& papers) {
            if (!parent) return;
            auto* sheet = new PhraseSheet(parent);
            sheet->setObjectName("cabinet-older-sheet");
            sheet->add_heading(CabinetSheetText::tr("Remove older entries"));
            bool many = false;
            for (size_t i = 0; i < papers.size(); ++i) {
                many = many || papers[i] > CabinetKeeper::most_undone;
                const QString count = papers[i] == 0   ? CabinetSheetText::tr("none")
                                      : papers[i] == 1 ? CabinetSheetText::tr("1 document")
                                                       : CabinetSheetText::tr("%1 documents").arg(papers[i]);
                auto* row = sheet->add_row(CabinetSheetText::tr(ages[i].words), count, false,
                                           [&keeper, before = than[i]] { keeper.put_away_older(before); });
                row->setEnabled(papers[i] > 0);
            }
            sheet->add_advice(CabinetSheetText::tr(
                "The cabinet no longer finds these documents. The files stay and can be added again."));
            if (many)
                sheet->add_advice(CabinetSheetText::tr("Removing more than %1 at once cannot be undone.")
                                      .arg(CabinetKeeper::most_undone));
            sheet->open_under(anchor);
        });
}

PhraseSheet* open_take_in_sheet(CabinetKeeper& keeper, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("cabinet-take-in-sheet");
    sheet->add_heading(CabinetSheetText::tr("Add a folder"));
    QLineEdit* folder = add_folder_line(*sheet);
    auto* read = new QCheckBox(CabinetSheetText::tr("read files that have no text"));
    read->setObjectName("cabinet-read-missing");
    read->setChecked(true);
    sheet->add_widget(read);
    auto* improve = new QCheckBox(CabinetSheetText::tr("and add the text to PDFs, so that any program finds it"));
    improve->setObjectName("cabinet-make-searchable");
    sheet->add_widget(improve);
    QObject::connect(read, &QCheckBox::toggled, improve, &QCheckBox::setEnabled);
    QLabel* wrong = add_wrong(*sheet);
    auto* take = theme::button(CabinetSheetText::tr("Add folder"), theme::Kind::Main, "cabinet-use", sheet);
    sheet->add_widget(take);
    const auto use = [=, &keeper] {
        when_there(sheet, folder, wrong, [=, &keeper](const QString& from) {
            sheet->finish();
            keeper.watch_folder(from, !read->isChecked()     ? WithoutText::Leave
                                      : improve->isChecked() ? WithoutText::MakeSearchable
                                                             : WithoutText::Read);
        });
    };
    QObject::connect(take, &QPushButton::clicked, sheet, use);
    QObject::connect(folder, &QLineEdit::returnPressed, sheet, use);
    sheet->add_advice(CabinetSheetText::tr(
        "Finds the PDFs and pictures in this folder and its subfolders by their text, later ones too. Files "
        "change only if text is added to PDFs; the old file stays until the new one is complete."));
    if (!keeper.folders().empty()) sheet->add_heading(CabinetSheetText::tr("Added folders"));
    for (const WatchedFolder& each : keeper.folders()) {
        const QString path = QString::fromStdString(each.folder.string());
        sheet->add_row(QDir(path).dirName(),
                       CabinetSheetText::tr("%1; click to stop watching. Its entries stay").arg(shown_folder(path)),
                       true, [&keeper, path] { keeper.unwatch_folder(path); });
    }
    sheet->open_under(anchor);
    folder->setFocus();
    return sheet;
}

}
