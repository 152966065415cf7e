// Printing through a real CUPS: the test starts its own scheduler, which writes what a printer would receive into a
// file.
#include "app/errands/system_outside.h"
#include "app/models/threads/pools.h"
#include "app/window_fixture.h"
#include "support/ink_on.h"

#include <QProcess>

#include <regex>

namespace yelvin::test {
namespace {

// The queue is CUPS' own generic PDF printer with A4 sheets.
class PrivateCups {
  public:
    const TempFolder folder;

    PrivateCups() {
        std::filesystem::permissions(folder.path(), std::filesystem::perms(0711)); // filters run as somebody else
        for (const char* each : {"root", "spool", "cache", "state", "log"}) {
            std::filesystem::create_directories(folder / each);
            std::filesystem::permissions(folder / each, std::filesystem::perms::all);
        }
        const std::string at = folder.path().string();
        write_file(folder / "cupsd.conf",
                   "Listen " + at +
                       "/sock\nBrowsing Off\nDefaultAuthType None\nWebInterface No\n"
                       "PageLogFormat %j sides=%{sides} copies=%{copies}\n"
                       "<Location />\nOrder allow,deny\nAllow all\n</Location>\n"
                       "<Policy default>\n<Limit All>\nOrder allow,deny\nAllow all\n</Limit>\n</Policy>\n");
        write_file(folder / "cups-files.conf", "ServerRoot " + at + "/root\nRequestRoot " + at + "/spool\nTempDir " +
                                                   at + "/spool\nCacheDir " + at + "/cache\nStateDir " + at +
                                                   "/state\nAccessLog " + at + "/log/access\nErrorLog " + at +
                                                   "/log/error\nPageLog " + at + "/log/page\nFileDevice Yes\n");
        scheduler_.start("cupsd", {"-f", "-c", QString::fromStdString(at) + "/cupsd.conf", "-s",
                                   QString::fromStdString(at) + "/cups-files.conf"});
        scheduler_.waitForStarted();
        qputenv("CUPS_SERVER", QByteArray::fromStdString(at + "/sock"));
    }
    ~PrivateCups() {
        qputenv("CUPS_SERVER", before_);
        scheduler_.terminate();
        scheduler_.waitForFinished();
    }
    bool has_printer(const std::string& name) {
        const auto added = [&] {
            return scheduler_.state() == QProcess::NotRunning ||
                   run({"lpadmin", "-p", name, "-E", "-v", "file:" + sent().string(), "-P",
                        "/usr/share/ppd/cupsfilters/Generic-PDF_Printer-PDF.ppd", "-o", "PageSize=A4"})
                           .status == 0;
        };
        return QTest::qWaitFor(added, patience_ms) && scheduler_.state() == QProcess::Running;
    }
    std::string said() {
        return scheduler_.readAllStandardError().toStdString() + scheduler_.errorString().toStdString();
    }
    std::filesystem::path sent() const { return folder / "sent.pdf"; }
    std::string page_log() const { return read_file(folder / "log/page"); }
    std::string error_log() const { return read_file(folder / "log/error"); }
    bool is_idle() const { return run({"lpstat", "-o"}).out.empty(); }

  private:
    QProcess scheduler_;
    QByteArray before_ = qgetenv("CUPS_SERVER");
};

TEST(RealCups, PrintsAtTrueSizeInCopiesAndOnBothSides) {
    PrivateCups cups;
    if (!cups.has_printer("office"))
        GTEST_SKIP() << "CUPS does not start for this user: the sheets are measured in PDFs alone\n"
                     << cups.said() << cups.error_log();
    const QString home = QString::fromStdString(cups.folder.path().string());
    Pools pools;
    SystemOutside outside({home, home, home}, pools.errands());
    std::vector<PrinterSaid> printers;
    bool listed = false;
    QObject asking;
    outside.list_printers({&asking, [&](const std::vector<PrinterSaid>& those) { printers = those, listed = true; }});
    ASSERT_TRUE(QTest::qWaitFor([&] { return listed; }, patience_ms));
    ASSERT_EQ(printers.size(), 1U);
    EXPECT_EQ(printers[0].name, "office");
    EXPECT_NEAR(printers[0].sheet.height, 297, 0.5);

    // A5 with a frame whose outer edges are 100 by 150 mm.
    const SizeMm size{148, 210};
    Raster page{cv::Mat(scanned_px(size.height, 300), scanned_px(size.width, 300), CV_8UC1, cv::Scalar(255)), 300,
                Ink::Grey};
    const auto px = [](double mm) { return static_cast<int>(std::lround(mm_to_px(mm, 300))); };
    page.pixels(cv::Rect(px(24), px(30), px(100), px(150))).setTo(0);
    PrintHow how;
    how.printer = "office";
    how.copies = 2;
    how.both_sides = true;
    std::optional<Result<QString>> said;
    outside.print({"Lease", how, {size, size, size}, [&](size_t) -> Result<Raster> { return page; }},
                  {&asking, [&](const Result<QString>& result) { said = result; }});
    ASSERT_TRUE(QTest::qWaitFor([&] { return said.has_value(); }, patience_ms));
    ASSERT_TRUE(*said) << said->error().sentence;
    ASSERT_TRUE(QTest::qWaitFor([&] { return cups.is_idle() && std::filesystem::exists(cups.sent()); }, patience_ms))
        << cups.error_log();
    const std::string about = run({"pdfinfo", cups.sent().string()}).out;
    const int pages = std::stoi(about.substr(about.find("Pages:") + 6));
    EXPECT_NE(about.find("(A4)"), std::string::npos) << about;
    const std::string log = cups.page_log();
    EXPECT_NE(log.find("sides=two-sided-long-edge"), std::string::npos) << log;
    // Either the printer makes the copies, or they are in the file, with an empty back after the third side.
    EXPECT_TRUE(pages == 8 || pages == 7 || (pages == 3 && log.find("copies=2") != std::string::npos)) << pages << log;
    constexpr double off = 0.3;
    const cv::Rect2d at = ink_on(cups.sent(), 2, cups.folder);
    EXPECT_NEAR(at.width, 100, off);
    EXPECT_NEAR(at.height, 150, off);
    EXPECT_NEAR(at.x, (210 - 148) / 2.0 + 24, off);
    EXPECT_NEAR(at.y, (297 - 210) / 2.0 + 30, off);
    pools.stop();
}

}
}
