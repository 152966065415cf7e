// Everything outside of the window answers in time, late, twice, never and wrongly: the keyring, servers, scanners,
// folders. Programs, e-mail and printers are in late_answers_test.cpp, the portal in outside_test.cpp. In each way the
// window is closed at the end, while an answer may still be under way.
#include "app/keyring_stand_in.h"
#include "app/models/sending/sending.h"
#include "app/models/sending/servers.h"
#include "app/silent_folder.h"
#include "app/window_fixture.h"
#include "core/tray/originals.h"
#include "support/servers.h"

#include <QCheckBox>

namespace yelvin::test {
namespace {

class EachWay : public Window, public testing::WithParamInterface<Comes> {
  protected:
    bool comes(Comes way) const { return GetParam() == way; }
    bool comes_at_all() const { return !comes(Comes::Never) && !comes(Comes::Wrongly); }
    const Document& document() const { return *desk_->tray.tray().documents.front(); }
};

class KeyringInEachWay : public EachWay {
  protected:
    KeptPasswords kept_;
    void scan_protected() {
        kept_.answers.come = GetParam();
        keyring_ = [this] { return std::make_unique<KeyringStandIn>(kept_); };
        start();
        desk_->passwords.set_patience(std::chrono::seconds(1));
        scan_quickly();
        choose([](Ticket& t) { t.make.password = true; });
        kept_.passwords[QString::fromStdString(desk_->tickets.ticket().name) + "/open"] = Secret("kept one");
        key("Ctrl+S");
    }
};

TEST_P(KeyringInEachWay, AProtectedDocumentIsSavedAndAsksIfThereIsNoPassword) {
    scan_protected();
    auto* card = part<QFrame>("password-card");
    std::string password = "kept one";
    if (!comes_at_all()) {
        ASSERT_TRUE(wait([&] { return card->isVisible(); }));
        password = "typed one";
        auto* open = card->findChild<QLineEdit*>("password-open");
        open->setFocus();
        QTest::keyClicks(open, QString::fromStdString(password));
        card->findChild<QCheckBox*>("password-kept")->setChecked(true);
        QTest::keyClick(open, Qt::Key_Return);
    }
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest() && kept_.answers.all_told(); }));
    EXPECT_FALSE(card->isVisible());
    EXPECT_EQ(saved_.size(), 1);
    EXPECT_EQ(run({"qpdf", "--check", "--password=" + password, saved_.front().toStdString()}).status, 0);
    EXPECT_EQ(trouble_.contains("The keyring could not save the password"), comes(Comes::Wrongly));
    EXPECT_EQ(QDir(QString::fromStdString(base_.path().string())).entryList({"*.pdf"}).size(), 1);
}

TEST_P(KeyringInEachWay, TheWindowCanBeClosedBeforeTheAnswer) { scan_protected(); }

INSTANTIATE_TEST_SUITE_P(Comes, KeyringInEachWay, in_every_way(), how_it_comes);

class ServerInEachWay : public EachWay {
  protected:
    using State = SendItem::State;
    StandInServer there_;
    void send_something(bool can_move) {
        constexpr const char* ways[] = {"on-time", "late", "twice", "never", "wrongly"};
        std::vector<std::string> manners{"--answers", ways[static_cast<int>(GetParam())]};
        if (!can_move) manners.emplace_back("--cannot-move");
        there_.start(manners);
        start();
        const Server server{"Office", there_.server().address};
        desk_->servers.put(server, {});
        choose([&](Ticket& t) {
            t.then.errands = {Errand::Send};
            t.then.send = {server.name, server.address, {}};
        });
        scan_quickly();
        saved_.clear();
        key("Ctrl+S");
    }
    bool is(State state) const {
        return wait(
            [&] { return desk_->sending.items().size() == 1 && desk_->sending.items().front().state == state; });
    }
    void arrives_once() {
        ASSERT_TRUE(is(State::Sent)) << qPrintable(trouble_);
        ASSERT_EQ(files_within(there_.files()).size(), 1U);
        EXPECT_EQ(read_file(there_.files() / files_within(there_.files()).front()),
                  read_file(saved_.front().toStdString()));
    }
};

TEST_P(ServerInEachWay, AFileArrivesOnceOrIsKeptUntilItCanBeSent) {
    for (const bool can_move : {true, false}) {
        SCOPED_TRACE(can_move ? "moves files" : "cannot move files");
        send_something(can_move);
        if (comes_at_all()) {
            arrives_once();
        } else {
            ASSERT_TRUE(is(comes(Comes::Never) ? State::Sending : State::Failed));
            desk_->sending.pause(desk_->sending.items().front().id);
            ASSERT_TRUE(is(State::Paused)) << "whoever waits for it is let go at once";
            there_.start({});
            desk_->sending.retry(desk_->sending.items().front().id);
            arrives_once();
        }
        std::filesystem::remove_all(there_.files());
        desk_->sending.clear_sent();
        ASSERT_TRUE(wait([&] { return desk_->sending.items().empty(); }));
    }
}

TEST_P(ServerInEachWay, TheWindowCanBeClosedBeforeTheAnswer) {
    send_something(true);
    ASSERT_TRUE(wait([&] { return !desk_->sending.items().empty(); }));
}

INSTANTIATE_TEST_SUITE_P(Comes, ServerInEachWay, in_every_way(), how_it_comes);

class ScannerInEachWay : public EachWay {
  protected:
    void begin_scan(Source source) {
        BenchSetup bench;
        bench.glass = {{original("till-receipt"), 105, 148.5, 0}};
        bench.stack = {{{original("till-receipt")}, {}}};
        bench.answers = static_cast<BenchAnswers>(GetParam());
        bench.seconds_of_silence = 0.4;
        desk_->scanners.set_bench(bench);
        choose([&](Ticket& t) {
            t.from.source = source;
            t.how.dpi = 75;
            t.from.paper = "A6";
            t.read.languages.clear();
            t.pages.turn_upright = false;
        });
        const size_t before = desk_->tray.tray().page_count();
        desk_->scanners.bench().press_button();
        ASSERT_TRUE(wait([&] { return desk_->run.passing() || desk_->tray.tray().page_count() > before; }));
    }
};

TEST_P(ScannerInEachWay, ItsPagesAreInTheTrayAndItCanBeUsedAgain) {
    for (const Source source : {Source::Glass, Source::FeederFront}) {
        SCOPED_TRACE(source == Source::Glass ? "glass" : "feeder");
        start();
        const size_t before = desk_->tray.tray().page_count();
        begin_scan(source);
        if (comes(Comes::Never)) {
            ASSERT_TRUE(wait([&] { return desk_->scanners.silent_for().count() > 0; })) << "it is said";
            desk_->run.stop();
        }
        // A button press that arrives twice starts a second run, of which each picture arrives twice too; then the
        // feeder is empty.
        const size_t all = comes(Comes::Never) ? 0 : !comes(Comes::Twice) ? 1 : source == Source::Glass ? 4 : 2;
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + all && at_rest(); }))
            << desk_->tray.tray().page_count() - before;
        const bool finds_nothing = comes(Comes::Twice) && source != Source::Glass;
        ASSERT_TRUE(wait([&] { return (!finds_nothing || trouble_.contains("empty")) && at_rest(); }));
        for (const auto& each : desk_->tray.tray().documents)
            for (const PagePtr& page : each->pages) {
                EXPECT_TRUE(page->noticed);
                const auto picture = read_original(desk_->tray.store_folder(), page->original);
                ASSERT_TRUE(picture);
                EXPECT_EQ(picture->height_px(), page->original.height_px);
            }
        BenchSetup bench = desk_->scanners.bench().bench();
        bench.answers = BenchAnswers::OnTime;
        desk_->scanners.set_bench(bench);
        const size_t now = desk_->tray.tray().page_count();
        choose([](Ticket& t) { t.from.source = Source::Glass; });
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == now + 1 && at_rest(); }))
            << qPrintable(trouble_);
    }
}

TEST_P(ScannerInEachWay, TheWindowCanBeClosedBeforeTheAnswer) {
    start();
    begin_scan(Source::FeederFront);
}

INSTANTIATE_TEST_SUITE_P(Comes, ScannerInEachWay, in_every_way(), how_it_comes);

// A call of a file system returns once, so no answer comes twice.
class FolderInEachWay : public EachWay {
  protected:
    std::optional<SilentFolder> share_;
    void save_into_share() {
        start();
        scan_quickly();
        choose([&](Ticket& t) {
            t.make.format = Format::Jpeg;
            t.save.folder = (base_ / "share").string();
        });
        if (comes(Comes::OnTime))
            std::filesystem::create_directory(base_ / "share");
        else
            share_.emplace(base_ / "share");
        if (share_ && !share_->is_there()) GTEST_SKIP() << "mounting a file system takes root";
        if (comes(Comes::Wrongly)) share_->break_off();
        key("Ctrl+S");
    }
    void TearDown() override {
        EachWay::TearDown();
        share_.reset();
    }
};

TEST_P(FolderInEachWay, ADocumentWaitsInTheTrayUntilItsFolderResponds) {
    save_into_share();
    if (IsSkipped()) return;
    if (share_) {
        ASSERT_TRUE(wait([&] { return !trouble_.isEmpty(); }));
        EXPECT_TRUE(trouble_.contains("share")) << qPrintable(trouble_);
        EXPECT_TRUE(document().saved_as.empty());
        if (comes(Comes::Never)) return; // the window is closed
        share_->answer();
        if (comes(Comes::Wrongly)) key("Ctrl+S");
    }
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_TRUE(QFileInfo::exists(QString::fromStdString(document().saved_as)));
}

TEST_P(FolderInEachWay, TheWindowCanBeClosedBeforeTheAnswer) { save_into_share(); }

INSTANTIATE_TEST_SUITE_P(Comes, FolderInEachWay,
                         testing::Values(Comes::OnTime, Comes::Late, Comes::Never, Comes::Wrongly), how_it_comes);

}
}
