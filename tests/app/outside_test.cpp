// The desktop's programs, e-mail program and printers: recorders take their place, and the printed page is measured.
#include "app/comes.h"
#include "app/errands/desktop_entry.h"
#include "app/errands/painting.h"
#include "app/errands/portal_mail.h"
#include "app/errands/system_outside.h"
#include "app/models/threads/pools.h"
#include "app/window_fixture.h"
#include "support/ink_on.h"

#pragma push_macro("signals")
#undef signals // a word of Qt's that GIO uses as a name
#include <gio/gdesktopappinfo.h>
#pragma pop_macro("signals")

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusMetaType>
#include <QDBusObjectPath>
#include <QDBusUnixFileDescriptor>
#include <QProcess>
#include <QStandardPaths>

namespace yelvin::test {
namespace {

TEST(Printing, PagesArePrintedAtTrueSize) {
    const TempFolder folder;
    // A5 with a frame whose outer edges are 100 by 150 mm, in the middle.
    const SizeMm size{148, 210};
    Raster page{cv::Mat(scanned_px(size.height, 300), scanned_px(size.width, 300), CV_8UC1, cv::Scalar(255)), 300,
                Ink::Grey};
    const auto px = [](double mm) { return static_cast<int>(std::lround(mm_to_px(mm, 300))); };
    page.pixels(cv::Rect(px(24), px(30), px(100), px(150))).setTo(0);
    PrintJob job{"A page", {}, {size, size, size}, [&](size_t) -> Result<Raster> { return page; }};
    const auto made = [&](const PrintHow& how) {
        job.how = how;
        const auto file = print_to_pdf(job, QString::fromStdString(folder.path().string()));
        EXPECT_TRUE(file) << (file ? "" : file.error().sentence);
        return file ? file->toStdString() : std::string();
    };
    const auto pages_in = [](const std::string& file) {
        const std::string about = run({"pdfinfo", file}).out;
        EXPECT_NE(about.find("(A4)"), std::string::npos) << about;
        return std::stoi(about.substr(about.find("Pages:") + 6));
    };
    const std::string plain = made({});
    EXPECT_EQ(pages_in(plain), 3);
    const cv::Rect2d at = ink_on(plain, 2, folder);
    constexpr double off = 0.3;
    EXPECT_NEAR(at.width, 100, off);
    EXPECT_NEAR(at.height, 150, off);
    EXPECT_NEAR(at.x, (210 - 148) / 2.0 + 24, off);
    EXPECT_NEAR(at.y, (297 - 210) / 2.0 + 30, off);
    PrintHow how;
    how.copies = 2;
    how.both_sides = true;
    EXPECT_EQ(pages_in(made(how)), 7) << "three sides and an empty back, and three sides";
    how = {};
    how.two_on_a_sheet = true;
    const std::string two = made(how);
    EXPECT_EQ(pages_in(two), 2);
    EXPECT_NEAR(ink_on(two, 2, folder).width, 150 * (297 / 2.0 - 6) / 148, 3) << "on its side, on half of the sheet";
    how = {};
    how.fitted = true;
    const double larger = ink_on(made(how), 1, folder).height / 150;
    EXPECT_NEAR(larger, (210 - 2 * 4) / 148.0, 0.05);
}

// The real connection to the desktop, with recorders as programs.
class OutsidePrograms : public testing::Test {
  protected:
    TempFolder home_;
    Pools pools_;
    std::unique_ptr<SystemOutside> outside_;
    std::optional<Result<QString>> said_;
    QObject asking_;
    QByteArray path_ = qgetenv("PATH");

    void SetUp() override {
        std::filesystem::create_directories(home_ / "bin");
        write_file(home_ / "lease.pdf", "%PDF-1.4");
        qputenv("PATH", QByteArray((home_ / "bin").c_str()) + ":" + path_);
        outside_ =
            std::make_unique<SystemOutside>(SystemOutside::Folders{QString::fromStdString((home_ / "Drafts").string()),
                                                                   QString::fromStdString(home_.path().string()),
                                                                   QString::fromStdString((home_ / "Copies").string())},
                                            pools_.errands());
    }
    void TearDown() override {
        pools_.stop();
        outside_.reset();
        qputenv("PATH", path_);
    }
    void program(const std::string& name, const std::string& script) {
        write_file(home_ / ("bin/" + name), "#!/bin/sh\n" + script);
        std::filesystem::permissions(home_ / ("bin/" + name), std::filesystem::perms::owner_all);
    }
    Outside::Done done() {
        said_.reset();
        return {&asking_, [this](const Result<QString>& how) { said_ = how; }};
    }
    bool told() {
        return QTest::qWaitFor([&] { return said_.has_value(); }, patience_ms);
    }
    MailDraft draft() { return {{"Keeper <keeper@example.org>"}, "Ä lease", "Words", {home_ / "lease.pdf"}}; }
};

TEST_F(OutsidePrograms, XdgEmailGetsTheFilesAndWithoutItADraftIsSaved) {
    program("xdg-email", "for word; do echo \"$word\"; done > " + (home_ / "asked").string());
    outside_->mail(draft(), done());
    ASSERT_TRUE(told());
    ASSERT_TRUE(*said_) << said_->error().sentence;
    EXPECT_EQ(read_file(home_ / "asked"), "--utf8\n--subject\nÄ lease\n--body\nWords\n--attach\n" +
                                              (home_ / "lease.pdf").string() + "\nkeeper@example.org\n");
    program("xdg-email", "exit 3"); // it found no mail program
    outside_->mail(draft(), done());
    ASSERT_TRUE(told());
    ASSERT_FALSE(*said_);
    EXPECT_NE(said_->error().sentence.find("It was saved as"), std::string::npos);
    EXPECT_TRUE(read_file(home_ / "Drafts/Ä lease.eml").find("X-Unsent: 1") != std::string::npos);
}

TEST_F(OutsidePrograms, ACrashingProgramIsReportedAndAnotherOpensTheFile) {
    const QStringList files{QString::fromStdString((home_ / "lease.pdf").string())};
    outside_->open("nowhere.desktop", files, done());
    ASSERT_TRUE(told());
    EXPECT_EQ(said_->error().sentence, "The program nowhere.desktop was not found; choose another one.");
    program("falls", "kill -SEGV $$");
    program("opens", "echo \"$1\" > " + (home_ / "opened").string() + "; sleep 5 > /dev/null 2>&1");
    outside_->open("falls.desktop", files, done());
    ASSERT_TRUE(told());
    ASSERT_FALSE(*said_);
    EXPECT_NE(said_->error().sentence.find("falls did not start or closed at once"), std::string::npos);
    outside_->open("opens.desktop", files, done());
    ASSERT_TRUE(told());
    EXPECT_TRUE(*said_);
    EXPECT_EQ(read_file(home_ / "opened"), files.front().toStdString() + "\n");
}

// A portal on the test's own bus, which records the requests.
class PortalStandIn : public QObject {
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.portal.Email")
  public:
    QVariantMap options;
    QByteArray attached;
    uint answers = 0;
    Comes come = Comes::OnTime; // wrongly: with a number that has no meaning
    explicit PortalStandIn(const QDBusConnection& bus) : bus_(bus) {}

  public slots:
    QDBusObjectPath ComposeEmail(const QString&, const QVariantMap& asked, const QDBusMessage& message) {
        options = asked;
        const auto files = qdbus_cast<QList<QDBusUnixFileDescriptor>>(asked["attachment_fds"]);
        for (const QDBusUnixFileDescriptor& each : files) {
            QFile file;
            if (file.open(each.fileDescriptor(), QIODevice::ReadOnly)) attached += file.readAll();
        }
        const QString request = "/org/freedesktop/portal/desktop/request/" +
                                message.service().mid(1).replace('.', '_') + "/" + asked["handle_token"].toString();
        QDBusMessage response = QDBusMessage::createSignal(request, "org.freedesktop.portal.Request", "Response");
        response.setArguments({come == Comes::Wrongly ? 77U : answers, QVariantMap()});
        constexpr int at_once_ms = 20, late_ms = 500;
        for (int i = come == Comes::Never ? 2 : come == Comes::Twice ? 0 : 1; i < 2; ++i)
            QTimer::singleShot(come == Comes::Late ? late_ms : at_once_ms, this,
                               [this, response] { bus_.send(response); });
        return QDBusObjectPath(request);
    }

  private:
    QDBusConnection bus_;
};

// The test's own bus, with a service and a client.
class PrivateBus {
  public:
    PrivateBus() {
        daemon_.start("dbus-daemon", {"--session", "--nofork", "--print-address"});
        EXPECT_TRUE(daemon_.waitForReadyRead(10'000)) << qPrintable(daemon_.errorString());
        const QString address = QString::fromUtf8(daemon_.readLine()).trimmed();
        server = QDBusConnection::connectToBus(address, "server");
        client = QDBusConnection::connectToBus(address, "client");
        EXPECT_TRUE(server.isConnected() && client.isConnected());
    }
    ~PrivateBus() {
        for (const char* name : {"server", "client"}) QDBusConnection::disconnectFromBus(name);
        daemon_.kill();
        daemon_.waitForFinished();
    }
    QDBusConnection server{"none"}, client{"none"};

  private:
    QProcess daemon_;
};

TEST(Portal, GetsTheFilesOfAnEmail) {
    PrivateBus bus;
    QObject parent;
    std::optional<PortalSaid> said;
    const auto ask = [&](const MailDraft& draft) {
        said.reset();
        compose_by_portal(draft, bus.client, &parent, [&](PortalSaid how) { said = how; });
        return QTest::qWaitFor([&] { return said.has_value(); }, patience_ms);
    };
    const TempFolder folder;
    write_file(folder / "lease.pdf", "the lease");
    const MailDraft draft{{"a@example.org", "b@example.org"}, "Ä lease", "Words", {folder / "lease.pdf"}};
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::NotThere) << "nobody has that name on the bus yet";
    PortalStandIn portal(bus.server);
    ASSERT_TRUE(bus.server.registerObject("/org/freedesktop/portal/desktop", &portal, QDBusConnection::ExportAllSlots));
    ASSERT_TRUE(bus.server.registerService("org.freedesktop.portal.Desktop"));
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::Composed);
    EXPECT_EQ(portal.options["subject"], "Ä lease");
    EXPECT_EQ(portal.options["body"], "Words");
    EXPECT_EQ(portal.options["addresses"].toStringList(), (QStringList{"a@example.org", "b@example.org"}));
    EXPECT_EQ(portal.attached, "the lease");
    portal.answers = 1;
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::GivenUp);
    portal.options.clear();
    ASSERT_TRUE(ask({{}, "Ä lease", "Words", {folder / "lease.pdf", folder / "gone.pdf"}}));
    EXPECT_EQ(*said, PortalSaid::FileGone);
    EXPECT_TRUE(portal.options.isEmpty()) << "no e-mail is begun without a file that belongs to it";
}

class PortalInEachWay : public testing::TestWithParam<Comes> {};

TEST_P(PortalInEachWay, TheCallerGetsOneAnswerAndNoneAfterItIsDestroyed) {
    PrivateBus bus;
    PortalStandIn portal(bus.server);
    portal.come = GetParam();
    ASSERT_TRUE(bus.server.registerObject("/org/freedesktop/portal/desktop", &portal, QDBusConnection::ExportAllSlots));
    ASSERT_TRUE(bus.server.registerService("org.freedesktop.portal.Desktop"));
    std::vector<PortalSaid> said;
    const auto note = [&](PortalSaid how) { said.push_back(how); };
    auto gone = std::make_unique<QObject>();
    QObject parent;
    compose_by_portal({{}, "Of nobody", {}, {}}, bus.client, gone.get(), note, std::chrono::seconds(1));
    gone.reset();
    compose_by_portal({{}, "A lease", {}, {}}, bus.client, &parent, note, std::chrono::seconds(1));
    ASSERT_TRUE(QTest::qWaitFor([&] { return !said.empty() && portal.options["subject"] == "A lease"; }, patience_ms));
    // When a further request is answered, everything else on the bus has arrived too.
    portal.come = Comes::OnTime;
    const size_t before = said.size();
    compose_by_portal({{}, "Another", {}, {}}, bus.client, &parent, note);
    ASSERT_TRUE(QTest::qWaitFor([&] { return said.size() > before; }, patience_ms));
    EXPECT_EQ(said, (std::vector{GetParam() == Comes::Wrongly ? PortalSaid::NotThere : PortalSaid::Composed,
                                 PortalSaid::Composed}));
}

INSTANTIATE_TEST_SUITE_P(Comes, PortalInEachWay, in_every_way(), how_it_comes);

class FileManagerStandIn : public QObject {
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.FileManager1")
  public:
    QStringList shown;

  public slots:
    void ShowItems(const QStringList& uris, const QString&) { shown = uris; }
};

TEST_F(OutsidePrograms, TheFileManagerSelectsTheFileOrItsAbsenceIsReported) {
    PrivateBus bus;
    const QString home = QString::fromStdString(home_.path().string());
    SystemOutside outside({home, home, home}, pools_.errands(), bus.client);
    write_file(home_ / "Ä lease #2.pdf", "%PDF-1.4");
    const QStringList files{home + "/Ä lease #2.pdf"};
    outside.show(files, done()); // nobody has that name on the bus yet, and no program shows folders
    ASSERT_TRUE(told());
    ASSERT_FALSE(*said_);
    EXPECT_EQ(said_->error().sentence, "No file manager was found. The file is in " + home_.path().string() + ".");
    FileManagerStandIn manager;
    ASSERT_TRUE(bus.server.registerObject("/org/freedesktop/FileManager1", &manager, QDBusConnection::ExportAllSlots));
    ASSERT_TRUE(bus.server.registerService("org.freedesktop.FileManager1"));
    outside.show(files, done());
    ASSERT_TRUE(told());
    EXPECT_TRUE(*said_);
    EXPECT_EQ(manager.shown, (QStringList{"file://" + home + "/%C3%84%20lease%20%232.pdf"}));
}

// The desktop's own readers of desktop entries (GIO, desktop-file-utils) understand what we write.
TEST(DesktopEntry, HasAnActionForEachTicketWithAButton) {
    const TempFolder folder;
    std::filesystem::create_directories(folder / "applications");
    std::filesystem::copy_file(std::filesystem::path(YELVIN_SOURCES).parent_path() / "packaging/yelvin.desktop",
                               folder / "applications/yelvin.desktop");
    const QByteArray before = qgetenv("XDG_DATA_DIRS");
    qputenv("XDG_DATA_DIRS", QByteArray(folder.path().c_str()));
    const QString own = QStandardPaths::writableLocation(QStandardPaths::ApplicationsLocation) + "/yelvin.desktop";
    Messages messages;
    LastChoices last(QString::fromStdString(folder.path().string()));
    {
        Tickets tickets(messages, last, QString::fromStdString(folder.path().string()));
        keep_desktop_entry(tickets, [](const std::function<void()>& task) { task(); });
        EXPECT_FALSE(QFile::exists(own)) << "there is no button yet";
        const QString name = "50 % \"grey\" $cost `a\\b`";
        tickets.keep_as(name);
        tickets.set_button(tickets.chosen_file(), true);
        ASSERT_TRUE(QFile::exists(own));
        const auto checked = run({"desktop-file-validate", own.toStdString()});
        EXPECT_EQ(checked.status, 0) << checked.out;
        // GIO starts the entry, with a program in our place that records its arguments.
        std::string entry = read_file(own.toStdString());
        EXPECT_NE(entry.find("Actions=ticket1;scan;"), std::string::npos) << entry;
        const std::string asked = (folder / "asked").string();
        write_file(folder / "asks", "#!/bin/sh\nfor word; do printf '%s\\n' \"$word\"; done > " + asked + "\n");
        std::filesystem::permissions(folder / "asks", std::filesystem::perms::owner_all);
        for (size_t at = 0; (at = entry.find("Exec=yelvin", at)) != std::string::npos;)
            entry.replace(at + 5, 6, (folder / "asks").string());
        write_file(folder / "tried.desktop", entry);
        GDesktopAppInfo* info = g_desktop_app_info_new_from_filename((folder / "tried.desktop").c_str());
        ASSERT_TRUE(info);
        g_desktop_app_info_launch_action(info, "ticket1", nullptr);
        g_object_unref(info);
        EXPECT_TRUE(QTest::qWaitFor([&] { return std::filesystem::exists(asked) && !read_file(asked).empty(); }));
        EXPECT_EQ(read_file(asked), "--scan\n--ticket\n" + name.toStdString() + "\n");
        tickets.set_button(tickets.chosen_file(), false);
        EXPECT_FALSE(QFile::exists(own)) << "the installed one serves again";
        write_file(own.toStdString(), "[Desktop Entry]\n"); // the user's
        tickets.set_button(tickets.chosen_file(), true);
        EXPECT_EQ(read_file(own.toStdString()), "[Desktop Entry]\n");
    }
    QFile::remove(own);
    qputenv("XDG_DATA_DIRS", before);
    if (before.isEmpty()) qunsetenv("XDG_DATA_DIRS");
}

TEST_F(OutsidePrograms, WithoutAPrinterThePagesAreSavedAsPdf) {
    const Raster page{cv::Mat(300, 200, CV_8UC1, cv::Scalar(200)), 75, Ink::Grey};
    outside_->print({"Lease", {}, {{67, 101}}, [page](size_t) -> Result<Raster> { return page; }}, done());
    ASSERT_TRUE(told());
    ASSERT_TRUE(*said_) << said_->error().sentence;
    EXPECT_TRUE((*said_)->startsWith("No printer was found; the document was printed to the file "))
        << qPrintable(**said_);
    EXPECT_TRUE(std::filesystem::exists(home_ / "Lease.pdf"));
    PrintHow elsewhere;
    elsewhere.printer = "attic";
    outside_->print({"Lease", elsewhere, {{67, 101}}, [page](size_t) -> Result<Raster> { return page; }}, done());
    ASSERT_TRUE(told());
    EXPECT_EQ(said_->error().sentence, "The printer attic was not found; choose another one.");
}

}
}

#include "outside_test.moc"
