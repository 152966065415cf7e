// The desktop's programs, mail program and printers: recorders in their place, and what is printed measured on the
// paper.
#include "app/errands/painting.h"
#include "app/errands/portal_mail.h"
#include "app/errands/system_outside.h"
#include "app/window_fixture.h"

#include <opencv2/imgproc.hpp>

#include <QDBusConnection>
#include <QDBusMessage>
#include <QDBusMetaType>
#include <QDBusObjectPath>
#include <QDBusUnixFileDescriptor>
#include <QProcess>
#include <QThreadPool>

namespace yelvin::test {
namespace {

// Where ink begins and ends on a page of a PDF, in mm, as poppler draws it.
cv::Rect2d ink_on(const std::filesystem::path& pdf, int page, const TempFolder& folder) {
    const std::string out = (folder / "seen").string(), number = std::to_string(page);
    EXPECT_EQ(
        run({"pdftoppm", "-r", "200", "-gray", "-png", "-singlefile", "-f", number, "-l", number, pdf.string(), out})
            .status,
        0);
    const auto seen = read_page(out + ".png");
    EXPECT_TRUE(seen);
    cv::Mat points;
    cv::Mat grey = seen->raster.pixels;
    if (grey.channels() == 3) cv::cvtColor(seen->raster.pixels, grey, cv::COLOR_BGR2GRAY);
    cv::findNonZero(grey < 128, points);
    const cv::Rect box = cv::boundingRect(points);
    const double mm = 25.4 / 200;
    return {box.x * mm, box.y * mm, box.width * mm, box.height * mm};
}

TEST(Printing, PagesComeOutAsLargeAsTheyAre) {
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

// The desktop's own, with recorders in its place.
class OutsidePrograms : public testing::Test {
  protected:
    TempFolder home_;
    QThreadPool pool_;
    std::unique_ptr<SystemOutside> outside_;
    std::optional<Result<QString>> said_;
    QByteArray path_ = qgetenv("PATH");

    void SetUp() override {
        std::filesystem::create_directories(home_ / "bin");
        write_file(home_ / "lease.pdf", "%PDF-1.4");
        qputenv("PATH", QByteArray((home_ / "bin").c_str()) + ":" + path_);
        outside_ =
            std::make_unique<SystemOutside>(SystemOutside::Folders{QString::fromStdString((home_ / "Drafts").string()),
                                                                   QString::fromStdString(home_.path().string())},
                                            [this](Task task) { pool_.start(std::move(task)); });
    }
    void TearDown() override {
        pool_.waitForDone();
        outside_.reset();
        qputenv("PATH", path_);
    }
    void program(const std::string& name, const std::string& script) {
        write_file(home_ / ("bin/" + name), "#!/bin/sh\n" + script);
        std::filesystem::permissions(home_ / ("bin/" + name), std::filesystem::perms::owner_all);
    }
    Outside::Done done() {
        said_.reset();
        return [this](const Result<QString>& how) { said_ = how; };
    }
    bool told() {
        return QTest::qWaitFor([&] { return said_.has_value(); }, patience_ms);
    }
    MailDraft draft() { return {{"Keeper <keeper@example.org>"}, "Ä lease", "Words", {home_ / "lease.pdf"}}; }
};

TEST_F(OutsidePrograms, XdgEmailIsGivenTheFilesAndADraftIsKeptWithoutIt) {
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
    EXPECT_NE(said_->error().sentence.find("The message is kept as"), std::string::npos);
    EXPECT_TRUE(read_file(home_ / "Drafts/Ä lease.eml").find("X-Unsent: 1") != std::string::npos);
}

TEST_F(OutsidePrograms, AProgramThatFallsIsSaidAndAnotherOpensTheFile) {
    const QStringList files{QString::fromStdString((home_ / "lease.pdf").string())};
    outside_->open("nowhere.desktop", files, done());
    ASSERT_TRUE(told());
    EXPECT_EQ(said_->error().sentence, "The program nowhere.desktop is no longer here; choose another one.");
    program("falls", "kill -SEGV $$");
    program("opens", "echo \"$1\" > " + (home_ / "opened").string() + "; sleep 5 > /dev/null 2>&1");
    outside_->open("falls.desktop", files, done());
    ASSERT_TRUE(told());
    ASSERT_FALSE(*said_);
    EXPECT_NE(said_->error().sentence.find("falls could not open the file"), std::string::npos);
    outside_->open("opens.desktop", files, done());
    ASSERT_TRUE(told());
    EXPECT_TRUE(*said_);
    EXPECT_EQ(read_file(home_ / "opened"), files.front().toStdString() + "\n");
}

// A portal on a bus of the test's own, which writes down what it is asked for.
class PortalStandIn : public QObject {
    Q_OBJECT
    Q_CLASSINFO("D-Bus Interface", "org.freedesktop.portal.Email")
  public:
    QVariantMap options;
    QByteArray attached;
    uint answers = 0;
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
        response.setArguments({answers, QVariantMap()});
        QTimer::singleShot(20, this, [this, response] { bus_.send(response); });
        return QDBusObjectPath(request);
    }

  private:
    QDBusConnection bus_;
};

TEST(Portal, IsGivenTheFilesOfAnEmail) {
    QProcess daemon;
    daemon.start("dbus-daemon", {"--session", "--nofork", "--print-address"});
    ASSERT_TRUE(daemon.waitForReadyRead(10'000)) << qPrintable(daemon.errorString());
    const QString address = QString::fromUtf8(daemon.readLine()).trimmed();
    QDBusConnection server = QDBusConnection::connectToBus(address, "portal"),
                    client = QDBusConnection::connectToBus(address, "client");
    ASSERT_TRUE(server.isConnected() && client.isConnected());
    QObject parent;
    std::optional<PortalSaid> said;
    const auto ask = [&](const MailDraft& draft) {
        said.reset();
        compose_by_portal(draft, client, &parent, [&](PortalSaid how) { said = how; });
        return QTest::qWaitFor([&] { return said.has_value(); }, patience_ms);
    };
    const TempFolder folder;
    write_file(folder / "lease.pdf", "the lease");
    const MailDraft draft{{"a@example.org", "b@example.org"}, "Ä lease", "Words", {folder / "lease.pdf"}};
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::NotThere) << "nobody has that name on the bus yet";
    PortalStandIn portal(server);
    ASSERT_TRUE(server.registerObject("/org/freedesktop/portal/desktop", &portal, QDBusConnection::ExportAllSlots));
    ASSERT_TRUE(server.registerService("org.freedesktop.portal.Desktop"));
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::Composed);
    EXPECT_EQ(portal.options["subject"], "Ä lease");
    EXPECT_EQ(portal.options["body"], "Words");
    EXPECT_EQ(portal.options["addresses"].toStringList(), (QStringList{"a@example.org", "b@example.org"}));
    EXPECT_EQ(portal.attached, "the lease");
    portal.answers = 1;
    ASSERT_TRUE(ask(draft));
    EXPECT_EQ(*said, PortalSaid::GivenUp);
    QDBusConnection::disconnectFromBus("portal");
    QDBusConnection::disconnectFromBus("client");
    daemon.kill();
    daemon.waitForFinished();
}

TEST_F(OutsidePrograms, WithoutAPrinterThePagesGoIntoAPdf) {
    const Raster page{cv::Mat(300, 200, CV_8UC1, cv::Scalar(200)), 75, Ink::Grey};
    outside_->print({"Lease", {}, {{67, 101}}, [page](size_t) -> Result<Raster> { return page; }}, done());
    ASSERT_TRUE(told());
    ASSERT_TRUE(*said_) << said_->error().sentence;
    EXPECT_TRUE((*said_)->startsWith("No printer is here: it was printed into ")) << qPrintable(**said_);
    EXPECT_TRUE(std::filesystem::exists(home_ / "Lease.pdf"));
    PrintHow elsewhere;
    elsewhere.printer = "attic";
    outside_->print({"Lease", elsewhere, {{67, 101}}, [page](size_t) -> Result<Raster> { return page; }}, done());
    ASSERT_TRUE(told());
    EXPECT_EQ(said_->error().sentence, "The printer attic is not there; choose another one.");
}

}
}

#include "outside_test.moc"
