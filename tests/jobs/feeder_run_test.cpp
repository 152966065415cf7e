// From the feeder to the store: nothing blocks, memory does not grow, and nothing is lost whenever the power fails.
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_store.h"
#include "jobs/capture.h"
#include "jobs/page_work.h"
#include "jobs/pass.h"
#include "jobs/queued_sink.h"
#include "jobs/reader_pool.h"
#include "support/support.h"

#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <random>

namespace yelvin::test {
namespace {

cv::Mat strip_of(int rows, uchar level) { return {rows, 40, CV_8UC1, cv::Scalar(level)}; }

// Receives the pictures in order; can be held up, and can fail.
struct Recorder : PageSink {
    std::vector<std::string> seen;
    std::optional<size_t> fails_at;
    std::function<void()> before_each;

    Result<void> note(std::string what) {
        if (before_each) before_each();
        if (fails_at && seen.size() >= *fails_at) return fail(ErrorKind::DiskFull, "The disk is full.");
        seen.push_back(std::move(what));
        return {};
    }
    Result<void> begin_page(const PageStart& start) override { return note("begin " + std::to_string(start.sheet)); }
    Result<void> strip(const cv::Mat& rows) override { return note("rows " + std::to_string(rows.at<uchar>(0, 0))); }
    Result<void> end_page() override { return note("end"); }
};

TEST(QueuedSink, PassesEverythingOnInOrder) {
    Recorder behind;
    {
        QueuedSink queue(behind);
        for (int page = 1; page <= 3; ++page) {
            ASSERT_TRUE(queue.begin_page({40, 0, 75, Ink::Grey, page}));
            for (int i = 0; i < 4; ++i) ASSERT_TRUE(queue.strip(strip_of(8, static_cast<uchar>(10 * page + i))));
            ASSERT_TRUE(queue.end_page());
        }
        ASSERT_TRUE(queue.finish());
        EXPECT_EQ(behind.seen.size(), 18U);
    }
    EXPECT_EQ(behind.seen[0], "begin 1");
    EXPECT_EQ(behind.seen[4], "rows 13");
    EXPECT_EQ(behind.seen[5], "end");
    EXPECT_EQ(behind.seen[17], "end");
}

TEST(QueuedSink, TheFeederWaitsForASlowDiskOnlyWhenTheQueueIsFull) {
    Recorder behind;
    std::mutex gate;
    gate.lock(); // the disk does not answer
    behind.before_each = [&] { const std::scoped_lock pass(gate); };
    QueuedSink queue(behind, 10 * 8 * 40);
    ASSERT_TRUE(queue.begin_page({40, 0, 75, Ink::Grey}));
    for (int i = 0; i < 10; ++i) ASSERT_TRUE(queue.strip(strip_of(8, 1))) << "taken at once";
    std::atomic<bool> through = false;
    std::thread feeder([&] {
        EXPECT_TRUE(queue.strip(strip_of(8, 2))); // the eleventh has to wait: memory does not grow
        through = true;
    });
    std::this_thread::yield();
    EXPECT_FALSE(through);
    gate.unlock();
    feeder.join();
    ASSERT_TRUE(queue.finish());
    EXPECT_EQ(behind.seen.size(), 12U);
}

TEST(QueuedSink, AnErrorOfTheNextSinkIsReturned) {
    Recorder behind;
    behind.fails_at = 2;
    QueuedSink queue(behind);
    ASSERT_TRUE(queue.begin_page({40, 0, 75, Ink::Grey}));
    Result<void> put;
    for (int i = 0; put && i < 100000; ++i) put = queue.strip(strip_of(8, 1));
    ASSERT_FALSE(put) << "the scanner is told";
    EXPECT_EQ(put.error().kind, ErrorKind::DiskFull);
    EXPECT_EQ(queue.finish(), put);
    EXPECT_EQ(behind.seen.size(), 2U);
}

TEST(TwoSheets, AreDetectedByTheirLength) {
    EXPECT_FALSE(looks_like_two_sheets({}, 900)) << "nothing to compare with";
    const std::vector<int> alike{880, 877, 881};
    EXPECT_FALSE(looks_like_two_sheets(alike, 885));
    EXPECT_TRUE(looks_like_two_sheets(alike, 1420));
    const std::vector<int> mixed{300, 880, 420, 877, 310};
    EXPECT_FALSE(looks_like_two_sheets(mixed, 882)) << "sheets as long have been there before";
    EXPECT_TRUE(looks_like_two_sheets(mixed, 1400));
}

TEST(Capture, EndsAtASuspiciousSheetAndKeepsItsPage) {
    const TempFolder folder;
    BenchSetup bench;
    bench.stack = std::vector<StackSheet>(6);
    bench.faults = {{ErrorKind::TwoSheets, 4, false}};
    SimulatedScanner scanner(bench);
    CaptureSink capture(folder.path());
    std::vector<Captured> pages;
    capture.on_page = [&](const Captured& page) { pages.push_back(page); };
    QueuedSink queue(capture);
    LengthWatch watch(queue, true);
    const auto done = scanner.scan({Source::FeederFront, {}, 50, Ink::Grey, true}, watch, {});
    ASSERT_TRUE(queue.finish());
    EXPECT_EQ(scanner.sheets_waiting(), 1) << "nothing further is pulled";
    ASSERT_FALSE(done);
    EXPECT_EQ(done.error().kind, ErrorKind::TwoSheets);
    ASSERT_EQ(pages.size(), 4U);
    EXPECT_GT(pages[3].original.height_px, 1.4 * pages[2].original.height_px);
    EXPECT_TRUE(read_original(folder.path(), pages[3].original));
}

TEST(FeederRun, OnlyTheLengthOfFrontsIsCompared) {
    const TempFolder folder;
    CaptureSink capture(folder.path());
    LengthWatch watch(capture, true);
    const auto side = [&](bool back, int rows) -> Result<void> {
        PageStart start{10, rows, 50, Ink::Grey};
        start.back = back;
        if (auto begun = watch.begin_page(start); !begun) return begun;
        if (auto taken = watch.strip(cv::Mat(rows, 10, CV_8UC1, cv::Scalar(200))); !taken) return taken;
        return watch.end_page();
    };
    for (int sheet = 0; sheet < 3; ++sheet) {
        EXPECT_TRUE(side(false, 100));
        EXPECT_TRUE(side(true, 190)) << "a device that pads its backs";
    }
    EXPECT_EQ(watch.lengths_px, (std::vector<int>{100, 100, 100}));
    EXPECT_FALSE(side(false, 200));
}

// A child process scans a two-sided stack into a store until it is killed at a random moment.
TEST(FeederRun, SurvivesBeingKilledAtAnyMoment) {
    std::mt19937 random(7);
    for (int round = 0; round < 10; ++round) {
        const TempFolder folder;
        int ends[2];
        ASSERT_EQ(pipe(ends), 0);
        const pid_t child = fork();
        if (child == 0) {
            close(ends[0]);
            auto store = TrayStore::open(folder.path());
            Tray tray;
            BenchSetup bench;
            bench.stack = std::vector<StackSheet>(500);
            SimulatedScanner scanner(bench);
            CaptureSink capture(folder.path());
            capture.on_page = [&](const Captured& captured) {
                const char whole = captured.back ? 'b' : 'f';
                if (write(ends[1], &whole, 1) != 1) _exit(1);
                Page page{new_id(), captured.original};
                page.sheet = captured.sheet;
                page.back = captured.back;
                tray = with_page_added(tray, std::make_shared<const Page>(page), tray.documents.empty());
                if (!store->keep(tray)) _exit(1);
            };
            QueuedSink queue(capture);
            (void)scanner.scan({Source::FeederBoth, {}, 50, Ink::Grey, true}, queue, {});
            _exit(0);
        }
        close(ends[1]);
        size_t complete = 0;
        char byte = 0;
        const size_t until = 1 + random() % 12;
        while (complete < until && read(ends[0], &byte, 1) == 1) ++complete;
        std::this_thread::sleep_for(std::chrono::microseconds(random() % 9000)); // the moment itself, not a wait
        kill(child, SIGKILL);
        while (read(ends[0], &byte, 1) == 1) ++complete;
        close(ends[0]);
        waitpid(child, nullptr, 0);
        ASSERT_GE(complete, until);

        auto store = TrayStore::open(folder.path());
        ASSERT_TRUE(store);
        const auto loaded = store->load();
        ASSERT_TRUE(loaded);
        EXPECT_EQ(loaded->trouble, "");
        const Tray* tray = &loaded->tray;
        EXPECT_GE(tray->page_count(), complete) << "every completed page is there";
        EXPECT_LE(tray->page_count(), complete + 1);
        const int height = read_original(folder.path(), tray->documents[0]->pages[0]->original)->height_px();
        for (const auto& document : tray->documents) {
            for (const auto& page : document->pages) {
                const auto raster = read_original(folder.path(), page->original);
                ASSERT_TRUE(raster);
                EXPECT_EQ(raster->height_px(), height) << "no half page";
            }
        }
        for (const std::string& name : folder.files()) EXPECT_EQ(name.find(".growing"), std::string::npos) << name;
    }
}

struct Fed : testing::Test {
    ReaderPool readers;
    Ticket ticket;
    Raster fed(const StackSheet& sheet, double dpi = 150) {
        BenchSetup bench;
        bench.stack = {sheet};
        SimulatedScanner scanner(bench);
        RasterSink sink;
        EXPECT_TRUE(scanner.scan({Source::FeederFront, {}, dpi, Ink::Colour, true}, sink, {}));
        return sink.pages.front();
    }
};

TEST_F(Fed, ACrookedSheetIsCroppedStraightenedAndTurnedUpright) {
    StackSheet sheet{{original("till-receipt")}, {}, 2.1};
    sheet.upside_down = true;
    const Raster picture = fed(sheet, 200);
    const Notices notices = noticed(picture, ticket, readers, {true, false});
    ASSERT_TRUE(notices.sheet);
    EXPECT_NEAR(*notices.tilt_degrees, 2.1, 0.15);
    EXPECT_EQ(notices.turn_degrees, 180);
    const Recipe recipe = recipe_for(notices, picture, ticket, {true, false});
    const SizePx px = developed_size(recipe, {picture.width_px(), picture.height_px()}, picture.dpi);
    const SizeMm truth = *original_size(original("till-receipt"));
    EXPECT_NEAR(px_to_mm(px.width, picture.dpi), truth.width, 1);
    EXPECT_NEAR(px_to_mm(px.height, picture.dpi), truth.height, 1);
}

TEST_F(Fed, NothingIsChangedIfTheTicketAsksForNoCorrections) {
    ticket.pages.straighten = false;
    ticket.pages.turn_upright = false;
    ticket.how.ink = Ink::Colour;
    const Raster picture = fed({{original("till-receipt")}, {}, 2.1});
    const Notices notices = noticed(picture, ticket, readers, {true, false});
    const Recipe recipe = recipe_for(notices, picture, ticket, {true, false});
    EXPECT_EQ(recipe.tilt_degrees, 0);
    EXPECT_EQ(recipe.turn_degrees, 0);
    ASSERT_TRUE(recipe.crop) << "the roller is not the page";
    EXPECT_GT(recipe.crop->width, original_size(original("till-receipt"))->width + 2) << "all of the crooked sheet";
}

TEST_F(Fed, BacksOfANotepadAreTurnedEvenWithoutText) {
    ticket.from.flip = Flip::Notepad;
    const Raster blank = fed({});
    EXPECT_EQ(recipe_for({}, blank, ticket, {true, true}).turn_degrees, 180);
    EXPECT_EQ(recipe_for({}, blank, ticket, {true, false}).turn_degrees, 0) << "the front stays";
    Notices read;
    read.turn_degrees = 0;
    EXPECT_EQ(recipe_for(read, blank, ticket, {true, true}).turn_degrees, 0) << "its text knows better";
    ticket.from.flip = Flip::Book;
    EXPECT_EQ(recipe_for({}, blank, ticket, {true, true}).turn_degrees, 0);
}

TEST_F(Fed, TheRequestFollowsTheTicket) {
    ticket.from.source = Source::FeederBoth;
    ticket.from.more["test:0"]["lamp"] = 3.0;
    EXPECT_TRUE(request_for(ticket, "test:0", {}).cut_to_sheet);
    EXPECT_EQ(std::get<double>(request_for(ticket, "test:0", {}).more.at("lamp")), 3);
    EXPECT_TRUE(request_for(ticket, "another", {}).more.empty()) << "a scanner's own options are its own";
    ticket.from.paper = "A4";
    EXPECT_FALSE(request_for(ticket, "test:0", {0, 0, 210, 297}).cut_to_sheet);
    ticket.from.source = Source::Glass;
    ticket.from.paper = "auto";
    EXPECT_FALSE(request_for(ticket, "test:0", {}).cut_to_sheet);
}

TEST(GlassRun, AFailedScanEndsThePassAndIsReported) {
    const TempFolder folder;
    SimulatedScanner scanner;
    BenchSetup bench;
    bench.faults = {{ErrorKind::Busy, 1}}; // of the first of two scans
    scanner.set_bench(bench);
    PassPlan plan;
    plan.ticket.how.dpi = 75;
    const RectMm area{0, 0, 50, 50};
    plan.frames = {{}, {}};
    plan.jobs = {GlassPass{area, {0}}, GlassPass{area, {1}}};
    int pictures = 0;
    PassEvents events;
    events.picture = [&](const Original&, const std::vector<OnGlass>&) { ++pictures; };
    const PassEnd end = carry_out(scanner, plan, folder.path(), events, {});
    ASSERT_FALSE(end.outcome);
    EXPECT_EQ(end.outcome.error().kind, ErrorKind::Busy);
    EXPECT_EQ(pictures, 0) << "no further scan begins";
}

}
}
