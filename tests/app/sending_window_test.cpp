// Sending in the real window: a server is added and tested, and files are sent, fail, are corrected and arrive, over a
// restart.
#include "app/keyring_stand_in.h"
#include "app/models/sending/sending.h"
#include "app/models/sending/servers.h"
#include "app/sending/servers_sheet.h"
#include "support/servers.h"
#include "window_fixture.h"

#include <QCheckBox>
#include <QTimer>
#include <QTranslator>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

using State = SendItem::State;

class SendingWindow : public Window {
  protected:
    KeptPasswords kept_;
    StandInServer there_;
    SendingWindow() {
        keyring_ = [this] { return std::make_unique<KeyringStandIn>(kept_); };
    }
    std::vector<std::string> signed_in(std::vector<std::string> more = {}) const {
        more.insert(more.end(), {"--user", "heron", "--password-file", there_.password_file().string()});
        return more;
    }
    const std::vector<SendItem>& items() const { return desk_->sending.items(); }
    bool all_are(State is) const {
        return !items().empty() &&
               std::ranges::all_of(items(), [is](const SendItem& each) { return each.state == is; });
    }
    // Finds a widget in the sheet that is open.
    template <class W>
    W* in_sheet(const char* name) const {
        QApplication::processEvents();
        QWidget* sheet = QApplication::activePopupWidget();
        return sheet ? sheet->findChild<W*>(name) : nullptr;
    }
    void click(const char* name) {
        auto* button = in_sheet<QAbstractButton>(name);
        ASSERT_TRUE(button) << name;
        QTest::mouseClick(button, Qt::LeftButton, {}, QPoint(6, button->height() / 2));
    }
    void type(const char* name, const std::string& text) {
        auto* edit = in_sheet<QLineEdit>(name);
        ASSERT_TRUE(edit) << name;
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QString::fromStdString(text));
    }
    void press_row(const QString& words) {
        QApplication::processEvents();
        for (auto* row : QApplication::activePopupWidget()->findChildren<SheetRow*>())
            if (row->text() == words) return QTest::mouseClick(row, Qt::LeftButton);
        FAIL() << "no row " << qPrintable(words);
    }
    void close_sheets() {
        while (QWidget* sheet = QApplication::activePopupWidget()) sheet->close();
        QApplication::processEvents(); // a sheet that is gone leaves no window active for a moment
        window_->activateWindow();
        ASSERT_TRUE(wait([&] { return QGuiApplication::focusWindow() == window_->windowHandle(); }));
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void save() {
        saved_.clear();
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    }
    void send_to(const Server& server) {
        desk_->servers.put(server, {});
        choose([&](Ticket& t) {
            t.then.errands = {Errand::Send};
            t.then.send = {server.name, server.address, {}};
        });
    }
};

// Puts every text of the program in brackets.
class OtherLanguage : public QTranslator {
  public:
    OtherLanguage() { QCoreApplication::installTranslator(this); }
    bool isEmpty() const override { return false; }
    QString translate(const char*, const char* text, const char*, int) const override {
        return QString("[%1]").arg(text);
    }
};

TEST(SendingKeys, APasswordIsFoundInEveryLanguage) {
    const Server server{.name = "office", .user = "heron"};
    const QString key = Sending::password_key(server), shown = Sending::user_at(server);
    EXPECT_EQ(shown, "heron at office");
    const OtherLanguage other;
    EXPECT_EQ(Sending::password_key(server), key);
    EXPECT_EQ(Sending::user_at(server), "[heron at office]");
}

TEST_F(SendingWindow, TextTypedInTheServerSheetSurvivesAClickOutsideAndOneEsc) {
    there_.start(signed_in());
    start();
    desk_->errands.use(Errand::Send, true);
    part<TicketBar>()->open_phrase("then");
    click("then-6");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("send-server") != nullptr; }));
    press_row("another server…");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("server-test") != nullptr; }));
    type("server-name", "Office");
    type("server-address", there_.server().address);
    QPointer<QWidget> sheet = QApplication::activePopupWidget();
    QTest::mouseClick(sheet, Qt::LeftButton, {}, QPoint(-40, -40));
    ASSERT_TRUE(sheet && sheet->isVisible());
    EXPECT_EQ(in_sheet<QLineEdit>("server-name")->text(), "Office");
    // A server without a certificate is a warning.
    click("server-test");
    ASSERT_TRUE(wait([&] { return in_sheet<QLabel>("server-step-certificate") != nullptr; }));
    EXPECT_TRUE(in_sheet<QLabel>("server-step-certificate")->property("warns").toBool());
    // The result of the test does not apply to another address.
    type("server-address", there_.server().address + "elsewhere");
    const auto* step = in_sheet<QLabel>("server-step-certificate");
    EXPECT_FALSE(step && step->isVisible());
    QTest::keyClick(in_sheet<QLineEdit>("server-address"), Qt::Key_Escape);
    ASSERT_TRUE(sheet && sheet->isVisible());
    EXPECT_EQ(in_sheet<QLineEdit>("server-name")->text(), "Office");
    EXPECT_TRUE(in_sheet<QLabel>("escape-again"));
    // Another program comes to the front, which closes sheets. When the sheet is opened again, what was typed is there,
    // except the password.
    type("server-password", "Coot 3");
    const auto open_again = [&] {
        close_sheets();
        open_server_sheet({desk_->servers, desk_->sending, desk_->passwords, desk_->messages}, {}, {}, window_.get(),
                          {});
        sheet = QApplication::activePopupWidget();
        EXPECT_TRUE(sheet);
    };
    open_again();
    EXPECT_EQ(in_sheet<QLineEdit>("server-name")->text(), "Office");
    EXPECT_EQ(in_sheet<QLineEdit>("server-password")->text(), "");
    QTest::keyClick(in_sheet<QLineEdit>("server-address"), Qt::Key_Escape);
    QTest::keyClick(in_sheet<QLineEdit>("server-address"), Qt::Key_Escape);
    EXPECT_TRUE(wait([&] { return !sheet || !sheet->isVisible(); }));
    open_again();
    EXPECT_EQ(in_sheet<QLineEdit>("server-name")->text(), "") << "given up is given up";
    close_sheets();
}

TEST_F(SendingWindow, AServerIsAddedTestedAndReceivesAFile) {
    there_.start(signed_in({"--tls", "its own"}));
    start();
    scan_quickly();
    desk_->errands.use(Errand::Send, true);
    part<TicketBar>()->open_phrase("then");
    click("then-6");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("send-server") != nullptr; })) << "its choices stand under it";
    press_row("another server…");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("server-test") != nullptr; }));
    click("server-save");
    EXPECT_TRUE(in_sheet<QLabel>("server-wrong")->text().contains("Enter an address"));
    type("server-name", "Office");
    type("server-address", there_.server().address);
    type("server-user", "heron");
    type("server-password", std::string(there_.sign_in().password.letters()));
    click("server-test");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("server-accept") != nullptr; })) << "nobody vouches for it";
    EXPECT_FALSE(in_sheet<QLabel>("server-step-certificate")->property("ok").toBool());
    click("server-accept");
    ASSERT_TRUE(wait([&] { return in_sheet<QLabel>("server-step-writing") != nullptr; }));
    EXPECT_TRUE(in_sheet<QLabel>("server-step-writing")->property("ok").toBool());
    click("server-save");
    ASSERT_TRUE(wait([&] { return in_sheet<QWidget>("send-server") != nullptr; })) << "back to actions";
    close_sheets();
    EXPECT_EQ(desk_->tickets.ticket().then.send.server, "Office");
    EXPECT_EQ(desk_->tickets.ticket().then.send.address, there_.server().address);
    save();
    ASSERT_TRUE(wait([&] { return all_are(State::Sent); })) << qPrintable(trouble_);
    const auto arrived = files_within(there_.files());
    ASSERT_EQ(arrived.size(), 1U);
    EXPECT_EQ(read_file(there_.files() / arrived[0]), read_file(saved_[0].toStdString()));
    const std::string document = desk_->tray.tray().documents[0]->id;
    ASSERT_TRUE(wait([&] {
        const auto states = desk_->errands.of(document);
        return states.size() == 1 && states[0].is == ErrandState::Is::Done;
    }));
    // The password is in the keyring and in none of our files.
    EXPECT_EQ(kept_.passwords.size(), 1U);
    const std::string password(there_.sign_in().password.letters());
    for (const auto& each : fs::recursive_directory_iterator(base_.path())) {
        if (!each.is_regular_file()) continue;
        EXPECT_EQ(read_file(each.path()).find(password), std::string::npos) << each.path();
    }
}

TEST_F(SendingWindow, AFailureIsShownAndCorrectedAndTheFileArrivesOnceAfterARestart) {
    start();
    send_to({"Office", there_.server().address});
    there_.stop();
    scan_quickly();
    save();
    ASSERT_TRUE(wait([&] { return all_are(State::Waiting) && !items()[0].why.empty(); }));
    EXPECT_EQ(part<QPushButton>("sending")->text(), "sending 1…");
    const std::string document = desk_->tray.tray().documents[0]->id;
    EXPECT_EQ(desk_->errands.of(document).at(0).is, ErrandState::Is::Runs);
    // The window never waits for a server that does not answer.
    start();
    ASSERT_EQ(items().size(), 1U);
    there_.start({"--refuse"});
    desk_->sending.retry(items()[0].id);
    ASSERT_TRUE(wait([&] { return all_are(State::Failed); }));
    EXPECT_TRUE(trouble_.contains("denied access")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->errands.of(document).at(0).is, ErrandState::Is::Failed);
    press("sending");
    auto* state = in_sheet<QLabel>(qPrintable(QString("sending-state-%1").arg(items()[0].id)));
    ASSERT_TRUE(state);
    EXPECT_TRUE(state->text().startsWith("not sent:")) << qPrintable(state->text());
    there_.start({});
    click(qPrintable(QString("sending-again-%1").arg(items()[0].id)));
    ASSERT_TRUE(wait([&] { return all_are(State::Sent); }));
    close_sheets();
    EXPECT_EQ(files_within(there_.files()).size(), 1U);
    EXPECT_EQ(part<QPushButton>("sending")->text(), "sent");
    desk_->sending.clear_sent();
    ASSERT_TRUE(wait([&] { return items().empty(); }));
    EXPECT_FALSE(part<QPushButton>("sending")->isVisible());
}

// The password in the keyring is wrong: the user is asked, with the reason, and the new one is saved.
TEST_F(SendingWindow, AsksForThePasswordIfTheKeyringsIsWrong) {
    there_.start(signed_in({"--digest"}));
    kept_.passwords["heron at Office/open"] = Secret("Coot 3");
    start();
    send_to({"Office", there_.server().address, "heron"});
    scan_quickly();
    save();
    ASSERT_TRUE(wait([&] {
        auto* wrong = part<QLabel>("password-wrong");
        return wrong->isVisible() && wrong->text().contains("refused to sign in heron");
    }));
    auto* password = part<QLineEdit>("password-open");
    password->setFocus();
    QTest::keyClicks(password, QString::fromStdString(std::string(there_.sign_in().password.letters())));
    part<QCheckBox>("password-kept")->setChecked(true);
    press("password-use");
    ASSERT_TRUE(wait([&] { return all_are(State::Sent); })) << qPrintable(trouble_);
    EXPECT_EQ(kept_.passwords.size(), 1U);
    // From then on it is in the keyring, and the user is not asked.
    window_->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    start();
    send_to({"Office", there_.server().address, "heron"});
    scan_quickly();
    key("Ctrl+Shift+S");
    ASSERT_TRUE(wait([&] { return items().size() == 2 && all_are(State::Sent); })) << qPrintable(trouble_);
    EXPECT_EQ(files_within(there_.files()).size(), 2U);
}

TEST_F(SendingWindow, AsksAgainAfterACancelledPasswordAndReportsAFailureOnce) {
    there_.start(signed_in({"--digest"}));
    start();
    send_to({"Office", there_.server().address, "heron"});
    scan_quickly();
    save();
    auto* card = part<QFrame>("password-card");
    ASSERT_TRUE(wait([&] { return card->isVisible(); }));
    desk_->passwords.give_up();
    ASSERT_TRUE(wait([&] { return trouble_.contains("still needs a password"); }));
    EXPECT_FALSE(card->isVisible());
    desk_->sending.retry(items()[0].id);
    ASSERT_TRUE(wait([&] { return card->isVisible(); })) << "somebody asked for it";
    for (const char* words : {"wrong", "wrong again"}) { // each is tried, and said to be none
        desk_->passwords.give({Secret(words), {}}, false);
        ASSERT_TRUE(wait([&] { return card->isVisible(); }));
        EXPECT_FALSE(card->findChild<QLabel*>("password-wrong")->text().isEmpty()) << words;
    }
    desk_->passwords.give({there_.sign_in().password, {}}, false);
    ASSERT_TRUE(wait([&] { return all_are(State::Sent); })) << qPrintable(trouble_);
    EXPECT_TRUE(kept_.passwords.empty()) << "nobody asked to keep it";
    // A failure is reported once, and not at each start.
    there_.start({"--refuse"});
    start();
    desk_->edits.rename_document(QString::fromStdString(desk_->tray.tray().documents[0]->id), "again");
    save();
    ASSERT_TRUE(wait([&] { return items().size() == 2 && items()[1].state == State::Failed; }));
    EXPECT_TRUE(trouble_.contains("was not sent"));
    trouble_.clear();
    QSignalSpy looked(&desk_->sending, &Sending::changed);
    desk_->sending.pause(items()[0].id); // which has arrived: nothing changes but that everybody looks again
    ASSERT_TRUE(wait([&] { return looked.count() > 0; }));
    EXPECT_EQ(trouble_, "");
    start();
    desk_->sending.clear_sent();
    ASSERT_TRUE(wait([&] { return items().size() == 1; }));
    EXPECT_EQ(trouble_, "");
}

TEST_F(SendingWindow, WaitingFilesAreSentWhenTheirTimeComes) {
    there_.start({"--busy", "1"});
    start();
    send_to({"Office", there_.server().address});
    scan_quickly();
    save();
    ASSERT_TRUE(wait([&] { return all_are(State::Waiting) && items()[0].tries == 1; }));
    there_.start({});
    EXPECT_TRUE(wait([&] { return all_are(State::Sent); })) << "nobody presses anything";
}

TEST_F(SendingWindow, TrustAppliesOnlyToTheServerThatShowedTheCertificate) {
    there_.start(signed_in()); // it takes the password unencrypted
    start();
    kept_.passwords["heron at Office/open"] = there_.sign_in().password;
    send_to({"Office", there_.server().address, "heron"});
    scan_quickly();
    save();
    ASSERT_TRUE(wait([&] { return all_are(State::Failed); }));
    desk_->servers.put({"Office", "http://elsewhere.example/", "heron"}, "Office");
    desk_->servers.put({"Store", "http://store.example/"}, {});
    desk_->sending.accept_identity(items()[0].id);
    EXPECT_FALSE(desk_->servers.named("Office")->plain_password) << "it is another server by now";
    ASSERT_TRUE(wait([&] { return all_are(State::Sent); })) << qPrintable(trouble_);
    // Two servers cannot have the same name.
    desk_->servers.put({"Store", "http://new.example/"}, "Office");
    ASSERT_EQ(desk_->servers.all().size(), 1U);
    EXPECT_EQ(desk_->servers.named("Store")->address, "http://new.example/");
}

}
}
