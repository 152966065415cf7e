// When something goes wrong: what the window says, what the user can do about it, and that no page is lost.
#include "app/one_window.h"
#include "app/window/news_bar.h"
#include "app/window_fixture.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "support/trials.h"

#include <QCryptographicHash>
#include <QDir>
#include <QLocalSocket>
#include <QProcess>
#include <QStandardPaths>

#include <fcntl.h>
#include <sys/file.h>
#include <sys/mount.h>
#include <sys/resource.h>

#include <csignal>
#include <future>
#include <set>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

class Trouble : public Window {
  protected:
    QString news() const { return part<QLabel>("news-words")->property("plain").toString(); }
    QString offer() const {
        const auto* button = part<QPushButton>("news-offer");
        return button->isVisible() ? button->text() : QString();
    }
    void close() {
        window_.reset();
        desk_.reset();
    }
    std::set<std::string> originals() const {
        std::set<std::string> names;
        for (const auto& entry : fs::directory_iterator(base_ / "tray")) {
            if (entry.path().extension() == ".tif") names.insert(entry.path().filename().string());
        }
        return names;
    }
    void page_in_store(const std::string& id) const {
        auto store = TrayStore::open(base_ / "tray");
        ASSERT_TRUE(store && store->load());
        const Raster page{noisy(300, 400, CV_8UC1, 1), 75, Ink::Grey};
        ASSERT_TRUE(store->keep(
            with_page_added({}, std::make_shared<const Page>(Page{id, *keep_original(base_ / "tray", page)}), true)));
    }
};

TEST_F(Trouble, FilesMovedAsideAreReportedAndCanBeShown) {
    start();
    scan_quickly();
    scan_quickly("membership-card-front");
    close();
    const auto pictures = originals();
    ASSERT_EQ(pictures.size(), 2U);
    write_file(base_ / "tray/tray.sqlite", std::string(20'000, '\0'));
    fs::remove(base_ / "tray/tray.sqlite-wal");
    write_file(base_ / "tray/cut.tif", "half");
    start();
    ASSERT_TRUE(wait([&] { return !news().isEmpty(); }));
    EXPECT_TRUE(news().startsWith("Part of the out tray could not be read: the list was damaged"))
        << qPrintable(news());
    EXPECT_TRUE(news().contains("1 file is incomplete")) << qPrintable(news());
    EXPECT_TRUE(news().contains("2 pages were found again")) << qPrintable(news());
    EXPECT_EQ(offer(), "show");
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    EXPECT_EQ(originals(), pictures);
    scan_quickly(); // and it goes on
    start();
    EXPECT_EQ(desk_->tray.tray().page_count(), 3U);
    EXPECT_TRUE(part<QWidget>("news")->isHidden()) << "it is said once";
}

TEST_F(Trouble, AnOutTrayThatCannotBeOpenedIsReportedAndANewOneCanBeStarted) {
    start();
    scan_quickly();
    close();
    const auto pictures = originals();
    fs::remove(base_ / "tray/tray.sqlite");
    fs::create_directories(base_ / "tray/tray.sqlite/in the way");
    DeskPlaces places = demo::places(QString::fromStdString(base_.path().string()));
    desk_ = std::make_unique<Desk>(places);
    window_ = std::make_unique<MainWindow>(desk_->for_window());
    QSignalSpy fresh(&desk_->tray, &OutTray::fresh_tray_wanted);
    window_->show();
    ASSERT_TRUE(wait([&] { return !news().isEmpty(); }));
    EXPECT_TRUE(news().contains("cannot be opened")) << qPrintable(news());
    EXPECT_EQ(offer(), "start a new out tray");
    key("Ctrl+Return");
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
    press("news-offer");
    ASSERT_EQ(fresh.count(), 1);
    desk_->choose_fresh_tray(); // as main() does, which then opens the next desk
    start();
    scan_quickly();
    EXPECT_EQ(desk_->tray.store_folder(), base_ / "tray 2");
    start();
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U) << "it stays the one in use";
    EXPECT_EQ(originals(), pictures) << "the old one is untouched";
    EXPECT_TRUE(fs::is_directory(base_ / "tray/tray.sqlite/in the way"));
}

TEST_F(Trouble, SavingTheTrayIsRetried) {
    std::signal(SIGXFSZ, SIG_IGN); // NOLINT(concurrency-mt-unsafe)
    start();
    scan_quickly();
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    rlimit limit = before;
    limit.rlim_cur = 1; // as on a full disk: nothing can be written any more
    setrlimit(RLIMIT_FSIZE, &limit);
    desk_->edits.rename_document(QString::fromStdString(desk_->tray.tray().documents[0]->id), "Harbour dues");
    const bool said = wait([&] { return news().contains("could not be saved"); });
    setrlimit(RLIMIT_FSIZE, &before);
    EXPECT_TRUE(said) << qPrintable(news());
    close(); // the end tries once more, if five seconds were not over yet
    start();
    EXPECT_EQ(desk_->tray.tray().documents[0]->name, "Harbour dues");
}

TEST_F(Trouble, AFullDiskIsReportedAndNoDocumentIsCleared) {
    start();
    scan_quickly();
    const fs::path full = base_ / "full";
    fs::create_directories(full);
    if (mount("tmpfs", full.c_str(), "tmpfs", 0, "size=4k") != 0)
        GTEST_SKIP() << "this user may not mount a file system of its own";
    choose([&](Ticket& ticket) { ticket.save.folder = full.string(); });
    desk_->saving.save_all();
    const bool said = wait([&] { return !news().isEmpty() && at_rest(); });
    const bool empty = fs::is_empty(full);
    umount(full.c_str());
    ASSERT_TRUE(said);
    EXPECT_TRUE(news().contains("is full")) << qPrintable(news());
    EXPECT_TRUE(empty);
    EXPECT_TRUE(saved_.isEmpty());
    EXPECT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty());
}

TEST_F(Trouble, EveryFailedDocumentIsReportedWithItsReason) {
    start();
    for (int i = 0; i < 3; ++i) {
        desk_->tray.set_next_page_starts_document(true);
        scan_quickly();
    }
    const auto& documents = desk_->tray.tray().documents;
    for (const size_t lost : {0U, 2U}) fs::remove(base_ / "tray" / documents[lost]->pages[0]->original.file);
    desk_->edits.rename_document(QString::fromStdString(documents[0]->id), "Dues of May");
    desk_->edits.rename_document(QString::fromStdString(documents[2]->id), "Dues of June");
    desk_->saving.save_all();
    ASSERT_TRUE(wait([&] { return !desk_->saving.at_work(); }));
    EXPECT_TRUE(news().startsWith("2 of 3 documents could not be saved.")) << qPrintable(news());
    EXPECT_TRUE(news().contains("Dues of May:") && news().contains("Dues of June:")) << qPrintable(news());
    EXPECT_EQ(saved_.size(), 1);
}

TEST_F(Trouble, NoExceptionEscapesFromAnEventOrATask) {
    start();
    QMetaObject::invokeMethod(
        window_.get(), [] { throw std::runtime_error("deep inside"); }, Qt::QueuedConnection);
    ASSERT_TRUE(wait([&] { return news().contains("An internal error occurred"); }));
    EXPECT_FALSE(news().contains("deep inside")) << "that is for the log";
    desk_->pools.pages()([] { throw std::bad_alloc(); });
    ASSERT_TRUE(wait([&] { return news().contains("Not enough memory"); })) << qPrintable(news());
    scan_quickly();
}

TEST_F(Trouble, APageThatCrashedTheProgramIsNotCheckedAgain) {
    fs::create_directories(base_ / "tray");
    page_in_store("cafe");
    write_file(base_ / "tray/being looked at", "cafe\n");
    DeskPlaces places = demo::places(QString::fromStdString(base_.path().string()));
    places.crashed_before = true;
    QString said;
    {
        Desk desk(places);
        QObject::connect(&desk.messages, &Messages::trouble, [&](const QString& sentence) { said = sentence; });
        ASSERT_TRUE(wait([&] { return desk.tray.is_loaded() && desk.looking.in_work() == 0 && !said.isEmpty(); }));
        EXPECT_TRUE(said.contains("crashed while checking a page")) << qPrintable(said);
        EXPECT_FALSE(desk.tray.page("cafe")->noticed);
    }
    start(false);
    EXPECT_EQ(desk_->looking.in_work(), 0) << "at later starts too";
    EXPECT_FALSE(desk_->tray.page("cafe")->noticed);
    // Without a crash, a page that was being analysed is simply analysed again.
    close();
    page_in_store("beef");
    write_file(base_ / "tray/being looked at", "beef\n");
    start(false);
    EXPECT_TRUE(wait([&] { return desk_->tray.page("beef")->noticed; }));
}

TEST_F(Trouble, AnInvalidTrayIsRejectedWhenItIsMade) {
    start();
    scan_quickly();
    const Tray before = desk_->tray.tray();
    Tray twice = before;
    twice.documents.push_back(std::make_shared<const Document>(Document{new_id(), {}, before.documents[0]->pages}));
    desk_->tray.edit(twice, "a wrong step");
    EXPECT_EQ(desk_->tray.tray(), before);
    EXPECT_FALSE(news().isEmpty());
    // A stitched page and its copy each have their own pieces.
    Page stitched = *before.documents[0]->pages[0];
    stitched.id = new_id();
    stitched.pieces = before.documents[0]->pages;
    desk_->tray.edit(
        Tray{{std::make_shared<const Document>(Document{new_id(), {}, {std::make_shared<const Page>(stitched)}})}},
        "stitch");
    desk_->tray.edit(with_pages_doubled(desk_->tray.tray(), {stitched.id}), "double");
    for (const std::string& id : page_ids(desk_->tray.tray()))
        desk_->tray.edit(with_pieces_taken_out(desk_->tray.tray(), id), "unstitch page");
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    trouble_.clear();
    start();
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

TEST_F(Trouble, ALateResultDoesNotRestoreARemovedPage) {
    start();
    for (int i = 0; i < 2; ++i) scan_quickly();
    const auto before = originals();
    desk_->choice.choose({page_id(0, 0).toStdString(), page_id(0, 1).toStdString()});
    desk_->edits.join(Joined::Above);
    desk_->tray.edit(without_pages(desk_->tray.tray(), {page_id(0, 1).toStdString()}), "remove page");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    start();
    EXPECT_EQ(originals(), before);
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
}

TEST_F(Trouble, AsksAboutASilentScannerAndKeepsWaiting) {
    start();
    const auto silent_for = [&](double seconds) {
        BenchSetup bench = desk_->scanners.bench().bench();
        bench.glass = {{original("till-receipt"), 105, 148.5, 0}};
        bench.faults = {{ErrorKind::NoAnswer, 1}};
        bench.seconds_of_silence = seconds;
        desk_->scanners.set_bench(bench);
    };
    choose([](Ticket& t) {
        t.how.dpi = 75;
        t.read.languages.clear();
    });
    const auto* card = part<QFrame>("silence-card");
    EXPECT_FALSE(card->isVisible());
    silent_for(2);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return card->isVisible(); }));
    EXPECT_TRUE(part<QLabel>("silence-card-words")->text().startsWith("Simulated scanner has sent nothing for 1 s."))
        << qPrintable(part<QLabel>("silence-card-words")->text());
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); })) << "it goes on by itself";
    EXPECT_FALSE(card->isVisible());
    constexpr double for_ever = 1e6;
    silent_for(for_ever);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return card->isVisible(); }));
    press("silence-card-wait");
    EXPECT_FALSE(card->isVisible());
    ASSERT_TRUE(wait([&] { return card->isVisible(); })) << "asked again when it lasts";
    press("silence-card-stop");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_FALSE(card->isVisible());
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_) << "who stops it knows";
    silent_for(for_ever); // a preview is asked about as well
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return card->isVisible(); }));
    press("silence-card-stop");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    scan_quickly(); // and the scanner works
}

// A scanner that connects when the test allows it.
class Slow : public Scanner {
  public:
    explicit Slow(std::string name) : name_(std::move(name)) {}
    std::string name() const override { return name_; }
    std::string kind() const override { return "network"; }
    Result<void> prepare() override {
        const auto answer = connected.get_future().get();
        if (answer && throws) throw std::runtime_error("deep inside");
        return answer;
    }
    Capabilities capabilities() const override { return {.sources = {Source::Glass}, .inks = {Ink::Grey}}; }
    ScannerState state() const override { return ScannerState::Ready; }
    Result<void> scan(const ScanRequest&, PageSink&, std::stop_token) override { return {}; }
    std::promise<Result<void>> connected;
    bool throws = false;

  private:
    std::string name_;
};

TEST_F(Trouble, UsesTheScannerChosenLastAndStopsConnectingToOthers) {
    start(false);
    const auto add = [&](const char* name) {
        auto scanner = std::make_shared<Slow>(name);
        desk_->scanners.add(scanner);
        desk_->scanners.use(name);
        return scanner;
    };
    const auto first = add("First"), second = add("Second");
    EXPECT_EQ(desk_->scanners.connecting_to(), "Second");
    second->connected.set_value({});
    ASSERT_TRUE(wait([&] { return desk_->scanners.chosen(); }));
    first->connected.set_value({});
    const auto throwing = std::make_shared<Slow>("Third");
    throwing->throws = true;
    throwing->connected.set_value({});
    desk_->scanners.add(throwing);
    desk_->scanners.use("Third");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty(); }));
    EXPECT_EQ(desk_->scanners.connecting_to(), "");
    EXPECT_EQ(desk_->scanners.key(), "Second") << "neither a late answer nor a failure takes its place";
    trouble_.clear();
    desk_->scanners.set_connect_limit(std::chrono::milliseconds(100));
    const auto never = add("Never");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty(); }));
    EXPECT_TRUE(trouble_.contains("Never is not responding")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->scanners.connecting_to(), "");
    never->connected.set_value({}); // its thread ends
}

// ---- one window

class TwoStarts : public Trouble {
  protected:
    std::unique_ptr<OneWindow> one_;
    QStringList handed_;
    int asked_ = 0;

    void SetUp() override {
        start();
        one_ = OneWindow::become_or_hand_over(tray_folder(), {}, std::chrono::seconds(1));
        ASSERT_TRUE(one_);
        QObject::connect(one_.get(), &OneWindow::asked_for, [this](const Wish& wish) {
            const QStringList& files = wish.files;
            ++asked_;
            handed_ += files;
            window_->come_forward();
            window_->fulfil(wish);
        });
    }
    void TearDown() override {
        one_.reset();
        Trouble::TearDown();
    }
    QString tray_folder() const { return QString::fromStdString((base_ / "tray").string()); }
    // Starts another Yelvin on the same tray and returns how it ended.
    int start_again(const QStringList& files, const QString& from = {}, const char* more = "") {
        QProcess second;
        if (!from.isEmpty()) second.setWorkingDirectory(from);
        second.start(YELVIN_WINDOW,
                     QStringList{"--data", QString::fromStdString(base_.path().string()) + more} + files);
        EXPECT_TRUE(wait([&] { return second.state() == QProcess::NotRunning; }));
        return second.exitStatus() == QProcess::NormalExit ? second.exitCode() : -1;
    }
};

TEST_F(TwoStarts, TheSecondStartRaisesTheWindowAndHandsOverItsFiles) {
    write_file(base_ / "dues.png", *encode_png({noisy(200, 300, CV_8UC1, 3), 75, Ink::Grey}));
    window_->showMinimized();
    EXPECT_EQ(start_again({"dues.png"}, QString::fromStdString(base_.path().string())), 0);
    EXPECT_EQ(handed_, QStringList{QString::fromStdString((base_ / "dues.png").string())}) << "found from anywhere";
    EXPECT_FALSE(window_->isMinimized());
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(start_again({}, {}, "/tray/.."), 0) << "the same folder by another name";
    EXPECT_EQ(asked_, 2);
}

// A program that got no answer in time repeats its request. The answer does not wait for the work.
TEST_F(TwoStarts, ARequestIsAnsweredOnceBeforeItIsCarriedOut) {
    const QString hash =
        QCryptographicHash::hash(QDir(tray_folder()).canonicalPath().toUtf8(), QCryptographicHash::Sha1)
            .toHex()
            .left(16);
    const QString name = QStandardPaths::writableLocation(QStandardPaths::RuntimeLocation) + "/yelvin-" + hash;
    QLocalSocket socket;
    bool answered_before = false;
    QObject::connect(one_.get(), &OneWindow::asked_for,
                     [&] { answered_before = socket.bytesAvailable() > 0 || socket.waitForReadyRead(patience_ms); });
    for (int i = 0; i < 2; ++i) {
        socket.connectToServer(name);
        ASSERT_TRUE(socket.waitForConnected(patience_ms));
        socket.write("{\"id\": \"one\", \"files\": []}\n");
        ASSERT_TRUE(wait([&] { return socket.canReadLine(); })) << i;
        EXPECT_EQ(socket.readAll(), "taken\n") << i;
        socket.disconnectFromServer();
    }
    EXPECT_TRUE(answered_before);
    EXPECT_EQ(asked_, 1);
}

// Starts it as an action of the desktop entry does.
TEST_F(TwoStarts, TheSecondStartCanRequestAScanWithATicket) {
    lay("till-receipt", 0);
    choose([](Ticket& t) {
        t.name = "Quick look";
        t.how.dpi = 75;
        t.from.paper = "A6";
        t.read.languages.clear();
    });
    desk_->tickets.keep_as("Quick look");
    choose([](Ticket& t) { t.how.dpi = 600; });
    ASSERT_TRUE(desk_->tickets.choose_named("Photographs"));
    EXPECT_EQ(start_again({"--ticket", "quick look", "--scan"}), 0);
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->tickets.ticket().name, "Quick look");
    EXPECT_EQ(desk_->tray.tray().documents[0]->pages[0]->original.dpi, 75);
    EXPECT_EQ(start_again({"--ticket", "No such", "--scan"}), 0);
    EXPECT_TRUE(trouble_.contains("no ticket named No such")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
}

TEST_F(TwoStarts, RepeatedStartsDuringAScanOpenOneWindowAndLoseNothing) {
    choose([](Ticket& t) {
        t.how.dpi = 75;
        t.read.languages.clear();
        t.from.source = Source::FeederFront;
        t.pages.drop_blank = t.pages.turn_upright = false;
    });
    BenchSetup bench;
    const int starts = trials(4);
    for (int i = 0; i < starts; ++i) bench.stack.push_back({{original("lease-1")}, {}});
    desk_->scanners.set_bench(bench);
    desk_->run.start();
    for (int i = 0; i < starts; ++i) EXPECT_EQ(start_again({}), 0);
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(asked_, starts);
    EXPECT_EQ(desk_->tray.tray().page_count(), static_cast<size_t>(starts));
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
    one_.reset();
    start();
    EXPECT_EQ(desk_->tray.tray().page_count(), static_cast<size_t>(starts));
}

// Output on a terminal needs no window system.
TEST(WithoutADisplay, HelpAndVersionWork) {
    const auto without = [](const char* option) {
        return run({"env", "-u", "DISPLAY", "-u", "WAYLAND_DISPLAY", "-u", "QT_QPA_PLATFORM", YELVIN_WINDOW, option});
    };
    const Ran help = without("--help"), version = without("--version");
    EXPECT_EQ(help.status, 0) << help.err;
    EXPECT_NE(help.out.find("--ticket"), std::string::npos) << help.out;
    EXPECT_EQ(version.status, 0) << version.err;
    EXPECT_TRUE(version.out.starts_with("yelvin ")) << version.out;
}

}
}
