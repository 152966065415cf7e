#include "app/models/saving/password_keeper.h"
#include "app/models/sending/sending.h"
#include "app/models/sending/servers.h"
#include "app/sending/servers_sheet.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"
#include "core/sending/server_check.h"

#include <QCheckBox>
#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QVBoxLayout>

namespace yelvin {

namespace {

constexpr int label_width = 86, field_width = 330;

struct ServerSheetText {
    Q_DECLARE_TR_FUNCTIONS(ServerSheetText)
};

// The form for editing one server, with the result of its test.
class ServerForm : public QWidget {
  public:
    ServerForm(const SendingModels& models, const Server& server, PhraseSheet* sheet,
               std::function<void(const QString&)> chosen)
        : models_(models), before_(server), fingerprint_(server.fingerprint), plain_password_(server.plain_password),
          sheet_(sheet), chosen_(std::move(chosen)) {
        column_ = new QVBoxLayout(this);
        column_->setContentsMargins(0, 0, 0, 0);
        column_->setSpacing(6);
        name_ = line(ServerSheetText::tr("name"), "server-name", server.name,
                     ServerSheetText::tr("your name for it, such as Office"));
        address_ = line(ServerSheetText::tr("address"), "server-address", server.address,
                        "https://files.example/papers, sftp://host/~/papers");
        user_ = line(ServerSheetText::tr("user name"), "server-user", server.user,
                     ServerSheetText::tr("empty: no sign-in"));
        password_ = line(ServerSheetText::tr("password"), "server-password", {},
                         ServerSheetText::tr("from the keyring, or asked for"));
        password_->setEchoMode(QLineEdit::Password);
        kept_ = new QCheckBox(ServerSheetText::tr("remember it in the keyring"));
        kept_->setObjectName("server-keep-password");
        kept_->setChecked(true);
        row({}, kept_);
        key_ = line(ServerSheetText::tr("key file"), "server-key", server.key_file,
                    ServerSheetText::tr("SFTP; empty: SSH agent's keys"));
        wrong_ = new QLabel;
        wrong_->setObjectName("server-wrong");
        wrong_->setProperty("bad", true);
        wrong_->setWordWrap(true);
        wrong_->hide();
        column_->addWidget(wrong_);
        auto* buttons = new QHBoxLayout;
        test_ = theme::button(ServerSheetText::tr("Test"), theme::Kind::Plain, "server-test", this);
        auto* save =
            theme::button(before_.name.empty() ? ServerSheetText::tr("Add server") : ServerSheetText::tr("Save"),
                          theme::Kind::Main, "server-save", this);
        test_->setFixedHeight(save->sizeHint().height());
        buttons->addWidget(test_);
        buttons->addWidget(save);
        if (!before_.name.empty()) {
            auto* remove = theme::link(ServerSheetText::tr("remove"), "server-remove", this);
            buttons->addWidget(remove);
            connect(remove, &QPushButton::clicked, this, [this] {
                models_.passwords.forget(Sending::password_key(before_));
                models_.servers.remove(before_.name);
                sheet_->finish();
            });
        }
        buttons->addStretch();
        column_->addLayout(buttons);
        steps_ = new QVBoxLayout;
        steps_->setSpacing(3);
        column_->addLayout(steps_);
        connect(test_, &QPushButton::clicked, this, [this] { test(); });
        connect(save, &QPushButton::clicked, this, [this] { save_it(); });
        for (QLineEdit* each : {name_, address_, user_, password_, key_})
            connect(each, &QLineEdit::returnPressed, this, [this] { save_it(); });
        connect(address_, &QLineEdit::textEdited, this,
                [this] { // The accepted identity and the offers belong to the former address.
                    fingerprint_.clear();
                    plain_password_ = false;
                    ++round_;
                    theme::clear(steps_);
                    say_tested();
                });
    }
    QLineEdit* first() const { return name_->text().isEmpty() ? name_ : address_; }

  private:
    SendingModels models_;
    Server before_;
    std::string fingerprint_;
    bool plain_password_ = false; // accepted for this address
    int round_ = 0;               // of testing; what comes from an earlier one is not shown
    PhraseSheet* sheet_;
    std::function<void(const QString&)> chosen_;
    QVBoxLayout *column_, *steps_;
    QLineEdit *name_, *address_, *user_, *password_, *key_;
    QCheckBox* kept_;
    QLabel* wrong_;
    QPushButton* test_;

    void row(const QString& label, QWidget* field) {
        auto* line = new QHBoxLayout;
        auto* words = theme::label_for(field, label, this);
        words->setProperty("quiet", true);
        words->setFixedWidth(label_width);
        line->addWidget(words);
        line->addWidget(field, 1);
        column_->addLayout(line);
    }
    QLineEdit* line(const QString& label, const char* name, const std::string& text, const QString& hint) {
        auto* edit = new QLineEdit(QString::fromStdString(text));
        edit->setObjectName(name);
        edit->setAccessibleName(label);
        edit->setPlaceholderText(hint);
        edit->setMinimumWidth(field_width);
        sheet_->guard(edit, QString::fromStdString(before_.name));
        row(label, edit);
        return edit;
    }
    Server typed() const {
        return {name_->text().trimmed().toStdString(), address_->text().trimmed().toStdString(),
                user_->text().trimmed().toStdString(), fingerprint_,
                key_->text().trimmed().toStdString(),  plain_password_};
    }
    bool complain(const QString& words, QLineEdit* at) {
        wrong_->setText(words);
        wrong_->setVisible(!words.isEmpty());
        if (at) at->setFocus();
        sheet_->adjustSize();
        return false;
    }
    bool is_right(bool with_name) {
        const Server server = typed();
        if (const auto address = address_of(server.address); !address)
            return complain(server.address.empty()
                                ? ServerSheetText::tr("Enter an address, such as https://files.example/papers.")
                                : QString::fromStdString(address.error().sentence),
                            address_);
        if (with_name && server.name.empty())
            return complain(ServerSheetText::tr("Enter a name, such as Office."), name_);
        if (with_name && !models_.servers.is_free(server.name, before_.name))
            return complain(ServerSheetText::tr("This name is in use; enter another."), name_);
        complain({}, nullptr);
        return true;
    }

    void test() {
        if (!is_right(false)) return;
        theme::clear(steps_);
        test_->setEnabled(false);
        test_->setText(ServerSheetText::tr("Testing…"));
        const QPointer<ServerForm> here(this);
        const int round = ++round_;
        models_.sending.test(
            typed(), Secret(password_->text().toStdString()),
            [here, round](const ServerStep& step) {
                if (here && here->round_ == round) here->show_step(step);
            },
            [here, round] {
                if (here && here->round_ == round) here->say_tested();
            });
    }
    void say_tested() {
        test_->setEnabled(true);
        test_->setText(ServerSheetText::tr("Test"));
    }
    void show_step(const ServerStep& step) {
        const auto& c = theme::colours();
        auto* line = new QHBoxLayout;
        line->setSpacing(8);
        auto* mark = new QLabel(!step.ok ? "✗" : step.warns ? "!" : "✓", this);
        mark->setStyleSheet(QString("color: %1").arg((!step.ok ? c.brick : step.warns ? c.amber : c.moss).name()));
        auto* label = new QLabel(QString::fromStdString(step.words), this);
        label->setObjectName(QString("server-step-%1").arg(step_name(step.what)));
        label->setProperty("ok", step.ok);
        label->setProperty("warns", step.warns);
        label->setWordWrap(true);
        constexpr int width = label_width + field_width - 20, to_be_sure = 16;
        label->setFont(theme::body());
        label->setFixedSize(width, label->heightForWidth(width - to_be_sure));
        line->addWidget(mark, 0, Qt::AlignTop);
        line->addWidget(label, 1);
        steps_->addLayout(line);
        if (!step.identity.fingerprint.empty()) show_accepting(step.identity);
        if (step.identity.wants_plain_password) show_accepting_plain_password();
        sheet_->adjustSize();
    }
    void show_accepting(const Remote::Identity& shown) {
        auto* print = new QLabel(QString::fromStdString(shown.fingerprint));
        print->setFont(theme::measure());
        print->setTextInteractionFlags(Qt::TextSelectableByMouse);
        steps_->addWidget(print);
        auto* accept = theme::link(ServerSheetText::tr("trust this server from now on"), "server-accept", this);
        steps_->addWidget(accept, 0, Qt::AlignLeft);
        connect(accept, &QPushButton::clicked, this, [this, fingerprint = shown.fingerprint] {
            fingerprint_ = fingerprint;
            test();
        });
    }
    void show_accepting_plain_password() {
        auto* accept = theme::link(ServerSheetText::tr("send the password unencrypted"), "server-accept-plain", this);
        steps_->addWidget(accept, 0, Qt::AlignLeft);
        connect(accept, &QPushButton::clicked, this, [this] {
            plain_password_ = true;
            test();
        });
    }
    void save_it() {
        if (!is_right(true)) return;
        const Server server = typed();
        if (!password_->text().isEmpty() && kept_->isChecked())
            models_.passwords.keep(Sending::password_key(server), Secret(password_->text().toStdString()));
        models_.servers.put(server, before_.name);
        const auto chosen = chosen_;
        sheet_->finish();
        if (chosen) chosen(QString::fromStdString(server.name));
    }
};

}

void open_server_sheet(const SendingModels& models, const QString& name, const QRect& anchor, QWidget* parent,
                       std::function<void(const QString&)> chosen) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("server-sheet");
    const auto server = models.servers.named(name.toStdString());
    sheet->add_heading(server ? name : ServerSheetText::tr("Server"));
    auto* form = new ServerForm(models, server.value_or(Server{}), sheet, std::move(chosen));
    sheet->add_widget(form);
    sheet->add_advice(
        ServerSheetText::tr("Sends by WebDAV or SFTP and never replaces a file: if the name exists, the next "
                            "number is used. The password is not saved in tickets or files."));
    sheet->open_under(anchor);
    form->first()->setFocus();
}

}
