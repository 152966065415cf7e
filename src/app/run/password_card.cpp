#include "app/run/password_card.h"

#include "app/models/saving/password_keeper.h"
#include "app/theme/theme.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace yelvin {

namespace {

// Returns what was typed, and removes it from the entry.
Secret taken_from(QLineEdit& entry) {
    QByteArray bytes = entry.text().toUtf8();
    Secret password(std::string_view(bytes.constData(), static_cast<size_t>(bytes.size())));
    bytes.fill('\0');
    entry.setText(QString(entry.text().size(), ' ')); // Overwrites the letters in memory before they are released.
    entry.clear();
    return password;
}

}

PasswordCard::PasswordCard(PasswordKeeper& keeper, QWidget* parent)
    : QuestionCard("password-card", parent), keeper_(keeper) {
    auto* fields = new QWidget(this);
    auto* line = new QHBoxLayout(fields);
    line->setContentsMargins(0, 4, 0, 0);
    const auto entry = [&](const char* name) {
        auto* made = new QLineEdit(fields);
        made->setObjectName(name);
        made->setInputMethodHints(Qt::ImhHiddenText | Qt::ImhNoPredictiveText | Qt::ImhSensitiveData);
        made->setMaximumWidth(200);
        connect(made, &QLineEdit::returnPressed, this, &PasswordCard::give);
        line->addWidget(made, 1);
        return made;
    };
    const auto tick = [&](const QString& text, const char* name) {
        auto* made = new QCheckBox(text, fields);
        made->setObjectName(name);
        line->addWidget(made);
        return made;
    };
    open_ = entry("password-open");
    owner_ = entry("password-owner");
    shown_ = tick(tr("show"), "password-shown");
    shown_->setToolTip(tr("Shows what you type"));
    kept_ = tick(tr("remember"), "password-kept");
    kept_->setToolTip(tr("Saves it in the keyring"));
    line->addStretch(1);
    add_below(fields);
    wrong_ = new QLabel(this);
    wrong_->setObjectName("password-wrong");
    wrong_->setWordWrap(true);
    wrong_->setStyleSheet(QString("color: %1").arg(theme::colours().brick.name()));
    add_below(wrong_);
    connect(add_link(tr("cancel"), "password-leave"), &QPushButton::clicked, this, &PasswordCard::give_up);
    use_ = add_button({}, "password-use");
    connect(use_, &QPushButton::clicked, this, &PasswordCard::give);
    connect(shown_, &QCheckBox::toggled, this, [this](bool on) {
        for (QLineEdit* each : {open_, owner_}) each->setEchoMode(on ? QLineEdit::Normal : QLineEdit::Password);
    });
    connect(&keeper_, &PasswordKeeper::question_changed, this, &PasswordCard::refresh);
    refresh();
}

void PasswordCard::refresh() {
    const PasswordKeeper::Question* question = keeper_.asked();
    for (QLineEdit* each : {open_, owner_}) (void)taken_from(*each);
    appear(question != nullptr);
    if (!question) return;
    const bool protects = question->what == PasswordKeeper::For::Protecting;
    words()->setText(
        protects ? tr("Passwords for the files of %1. A lost password cannot be recovered.").arg(question->whose)
                 : tr("Password of %1").arg(question->whose));
    const auto name = [](QLineEdit* entry, const QString& words) {
        entry->setPlaceholderText(words);
        entry->setAccessibleName(words);
    };
    name(open_, protects ? tr("password") : tr("password"));
    name(owner_, tr("owner password"));
    open_->setVisible(question->open);
    owner_->setVisible(question->owner);
    shown_->setChecked(false);
    kept_->setChecked(false);
    for (QLineEdit* each : {open_, owner_}) each->setEchoMode(QLineEdit::Password);
    say_wrong(question->wrong);
    use_->setMinimumWidth(0);
    use_->setText(protects                                        ? tr("Save protected")
                  : question->what == PasswordKeeper::For::Server ? tr("Sign in")
                                                                  : tr("Open"));
    use_->setMinimumWidth(use_->sizeHint().width());
}

void PasswordCard::say_wrong(const QString& words) {
    wrong_->setText(words);
    wrong_->setVisible(!words.isEmpty());
}

void PasswordCard::give() {
    const PasswordKeeper::Question* question = keeper_.asked();
    if (!question) return;
    const bool open = question->open, owner = question->owner;
    for (QLineEdit* each : {open ? open_ : nullptr, owner ? owner_ : nullptr}) {
        if (!each || !each->text().isEmpty()) continue;
        say_wrong(tr("Enter a password."));
        return each->setFocus();
    }
    if (open && owner && open_->text() == owner_->text()) {
        say_wrong(tr("The two passwords must be different."));
        return owner_->setFocus();
    }
    const Passwords given{open ? taken_from(*open_) : Secret(), owner ? taken_from(*owner_) : Secret()};
    keeper_.give(given, kept_->isChecked());
}

void PasswordCard::give_up() { keeper_.give_up(); }

}
