#include "app/tray/add_sheet.h"

#include "app/models/saving/saving.h"
#include "app/models/threads/apart.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QRadioButton>
#include <QSpinBox>

namespace yelvin {

namespace {

struct AddingText {
    Q_DECLARE_TR_FUNCTIONS(AddingText)
};

QLineEdit* add_file_line(PhraseSheet& sheet, const QString& document) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* file = new QLineEdit(row);
    file->setObjectName("add-file");
    file->setAccessibleName(AddingText::tr("PDF"));
    file->setPlaceholderText(AddingText::tr("PDF"));
    file->setMinimumWidth(300);
    auto* choose = theme::link(AddingText::tr("choose…"), "add-choose", row);
    line->addWidget(file, 1);
    line->addWidget(choose);
    sheet.add_widget(row);
    sheet.guard(file, document);
    QObject::connect(choose, &QPushButton::clicked, &sheet, [file, &sheet, window = sheet.parentWidget()->window()] {
        const QPointer<QLineEdit> there(file);
        const QString chosen = sheet.asked_by([window] {
            return QFileDialog::getOpenFileName(window, AddingText::tr("Choose a PDF"), QDir::homePath(),
                                                AddingText::tr("PDF (*.pdf)"));
        });
        if (there && !chosen.isEmpty()) there->setText(chosen);
    });
    return file;
}

}

PhraseSheet* open_add_sheet(Saving& saving, const std::string& document_id, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("add-sheet");
    sheet->add_heading(AddingText::tr("Add pages to a PDF"));
    QLineEdit* file = add_file_line(*sheet, QString::fromStdString(document_id));
    auto* places = new QWidget;
    auto* line = new QHBoxLayout(places);
    line->setContentsMargins(0, 0, 0, 0);
    auto* end = new QRadioButton(AddingText::tr("at its end"), places);
    auto* start = new QRadioButton(AddingText::tr("at its start"), places);
    auto* behind = new QRadioButton(AddingText::tr("after page"), places);
    auto* page = new QSpinBox(places);
    end->setObjectName("add-end");
    start->setObjectName("add-start");
    behind->setObjectName("add-behind");
    page->setObjectName("add-page");
    page->setAccessibleName(AddingText::tr("after which page"));
    page->setRange(1, 99999);
    end->setChecked(true);
    for (QWidget* each : std::initializer_list<QWidget*>{end, start, behind, page}) line->addWidget(each);
    line->addStretch();
    sheet->add_widget(places);
    QObject::connect(page, &QSpinBox::valueChanged, behind, [behind] { behind->setChecked(true); });
    auto* wrong = new QLabel;
    wrong->setObjectName("add-wrong");
    wrong->setStyleSheet(QString("color: %1").arg(theme::colours().brick.name()));
    wrong->hide();
    sheet->add_widget(wrong);
    auto* add = theme::button(AddingText::tr("Add"), theme::Kind::Main, "add-use", sheet);
    sheet->add_widget(add);
    sheet->add_advice(
        AddingText::tr("Its pages, bookmarks, attachments, properties and protection stay. The PDF is replaced "
                       "only when the new one is complete."));
    const auto use = [=, &saving] {
        QString name = file->text().trimmed();
        if (name.startsWith("~/")) name = QDir::homePath() + name.mid(1);
        AddTo to{QFileInfo(name).absoluteFilePath().toStdString()};
        if (start->isChecked()) to.behind = 0;
        if (behind->isChecked()) to.behind = page->value();
        const auto look = [name]() -> Result<void> {
            if (QFileInfo(name).isFile()) return {};
            return fail(ErrorKind::Missing, AddingText::tr("This file does not exist; choose another.").toStdString());
        };
        const auto seen = [=, &saving](const Result<void>& there) {
            if (!sheet->isVisible()) return; // given up
            if (there) {
                sheet->finish();
                return saving.add(document_id, to);
            }
            wrong->setText(QString::fromStdString(there.error().sentence));
            wrong->show();
            file->setFocus();
        };
        apart(sheet, "looking for a PDF", look, seen, patience_with(to.file));
    };
    QObject::connect(add, &QPushButton::clicked, sheet, use);
    QObject::connect(file, &QLineEdit::returnPressed, sheet, use);
    sheet->open_under(anchor);
    file->setFocus();
    return sheet;
}

}
