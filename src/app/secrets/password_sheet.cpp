#include "app/secrets/password_sheet.h"

#include "app/models/password_keeper.h"
#include "app/theme/parts.h"
#include "app/ticketbar/phrase_sheet.h"
#include "core/output/protection.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>

#include <memory>

namespace yelvin {

namespace {

QString said(const char* text) { return QCoreApplication::translate("Passwords", text); }

// What was typed, and no trace of it in the field.
Secret taken_from(QLineEdit* edit) {
    if (!edit) return {};
    QByteArray bytes = edit->text().toUtf8();
    Secret password(std::string_view(bytes.constData(), static_cast<size_t>(bytes.size())));
    bytes.fill('\0');
    edit->setText(QString(edit->text().size(), ' ')); // over the letters, and then away
    edit->clear();
    return password;
}

QLineEdit* add_field(PhraseSheet& sheet, const QString& label, const char* name) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* words = new QLabel(label, row);
    words->setMinimumWidth(120);
    auto* edit = new QLineEdit(row);
    edit->setObjectName(name);
    edit->setAccessibleName(label);
    edit->setEchoMode(QLineEdit::Password);
    edit->setMinimumWidth(240);
    edit->setInputMethodHints(Qt::ImhHiddenText | Qt::ImhNoPredictiveText | Qt::ImhSensitiveData);
    words->setBuddy(edit);
    line->addWidget(words);
    line->addWidget(edit, 1);
    sheet.add_widget(row);
    return edit;
}

QCheckBox* add_tick(PhraseSheet& sheet, const QString& words, const char* name) {
    auto* box = new QCheckBox(words);
    box->setObjectName(name);
    sheet.add_widget(box);
    return box;
}

}

PhraseSheet* open_password_sheet(PasswordKeeper& keeper, const QRect& anchor, QWidget* parent) {
    const PasswordKeeper::Question question = *keeper.asked();
    const bool protecting = question.what == PasswordKeeper::For::Protecting;
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("password-sheet");
    sheet->setAccessibleName(said("passwords"));
    sheet->add_heading(protecting ? said("Passwords for the files of %1").arg(question.whose)
                                  : said("The password of %1").arg(question.whose));
    QLineEdit* open = question.open
                          ? add_field(*sheet, protecting ? said("to open it") : said("password"), "password-open")
                          : nullptr;
    QLineEdit* owner = question.owner ? add_field(*sheet, said("its owner's"), "password-owner") : nullptr;
    auto* shown = add_tick(*sheet, said("show what is typed"), "password-shown");
    auto* kept = add_tick(*sheet, said("keep it in this desktop's keyring"), "password-kept");
    auto* wrong = new QLabel(question.wrong);
    wrong->setObjectName("password-wrong");
    wrong->setWordWrap(true);
    wrong->setStyleSheet(QString("color: %1").arg(theme::colours().brick.name()));
    sheet->add_widget(wrong); // first: what is shown on its own is a window
    wrong->setVisible(!question.wrong.isEmpty());
    auto* done = theme::button(protecting                                     ? said("Save protected")
                               : question.what == PasswordKeeper::For::Server ? said("Sign in")
                                                                              : said("Open it"),
                               theme::Kind::Main, "password-use", sheet);
    sheet->add_widget(done);
    if (protecting)
        sheet->add_advice(said("A lost password cannot be brought back by anybody. The owner's lifts what the file "
                               "forbids; neither is written into the ticket."));
    QObject::connect(shown, &QCheckBox::toggled, sheet, [open, owner](bool on) {
        for (QLineEdit* edit : {open, owner})
            if (edit) edit->setEchoMode(on ? QLineEdit::Normal : QLineEdit::Password);
    });
    const auto answered = std::make_shared<bool>(false);
    const auto use = [&keeper, sheet, open, owner, kept, wrong, answered] {
        for (QLineEdit* edit : {open, owner}) {
            if (!edit || !edit->text().isEmpty()) continue;
            wrong->setText(said("A password is missing."));
            wrong->show();
            return edit->setFocus();
        }
        if (open && owner && open->text() == owner->text()) {
            wrong->setText(said("Both passwords are the same: who opens the file would be its owner."));
            wrong->show();
            return owner->setFocus();
        }
        const Passwords given{taken_from(open), taken_from(owner)};
        *answered = true;
        const bool keep = kept->isChecked();
        sheet->close();
        keeper.give(given, keep);
    };
    QObject::connect(done, &QPushButton::clicked, sheet, use);
    for (QLineEdit* edit : {open, owner})
        if (edit) QObject::connect(edit, &QLineEdit::returnPressed, sheet, use);
    QObject::connect(sheet, &QObject::destroyed, &keeper, [&keeper, answered] {
        if (!*answered) keeper.give_up();
    });
    sheet->open_under(anchor);
    (open ? open : owner)->setFocus();
    return sheet;
}

}
