// Runs through the feeder in the real window: what can go wrong at a scanner is reported and can be put right.
#include "app/run/run_card.h"
#include "app/window_fixture.h"

#include <QComboBox>
#include <QSpinBox>

namespace yelvin::test {
namespace {

using For = Waiting::For;

// The simulated scanner without its feeder.
class GlassOnly : public Scanner {
  public:
    explicit GlassOnly(SimulatedScanner& bench) : bench_(bench) {}
    std::string name() const override { return "Glass only"; }
    std::string kind() const override { return "simulated"; }
    Capabilities capabilities() const override {
        Capabilities can = bench_.capabilities();
        can.sources = {Source::Glass};
        return can;
    }
    ScannerState state() const override { return bench_.state(); }
    Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) override {
        return bench_.scan(request, sink, stop);
    }

  private:
    SimulatedScanner& bench_;
};

class Run : public Window {
  protected:
    // A stack of leases at 75 dpi.
    void load(int sheets, std::vector<BenchFault> faults = {}, Source source = Source::FeederFront) {
        BenchSetup bench;
        for (int i = 0; i < sheets; ++i) bench.stack.push_back({{original("lease-1")}, {original("lease-2")}});
        bench.faults = std::move(faults);
        desk_->scanners.set_bench(bench);
        choose([&](Ticket& t) {
            t.from.source = source;
            t.how.dpi = 75;
            t.read.languages.clear();
            t.pages.turn_upright = false;
        });
    }
    bool ended() const { return at_rest() && desk_->run.waiting().what == For::Nothing; }
    bool waits(For what) {
        return wait([&] { return at_rest() && desk_->run.waiting().what == what; });
    }
    QString said() const { return part<QLabel>("run-words")->text(); }
    // "1F 1B 2F": sheets and sides in the order of the tray.
    std::string order() const {
        std::string out;
        for (const auto& document : desk_->tray.tray().documents) {
            for (const auto& page : document->pages) out += std::to_string(page->sheet) + (page->back ? "B " : "F ");
        }
        return out;
    }
};

TEST_F(Run, EveryFaultIsReportedAndTheScanContinuesWithoutLoss) {
    const std::pair<ErrorKind, const char*> faults[] = {
        {ErrorKind::Jam, "Paper jam in Simulated scanner at sheet 2. Open it, take the sheet out, put sheet 2 back"},
        {ErrorKind::TwoSheets, "pulled two sheets at once at sheet 2"},
        {ErrorKind::FeederEmpty, "is empty after sheet 1"},
        {ErrorKind::LidOpen, "The lid of Simulated scanner was opened at sheet 2"},
        {ErrorKind::Busy, "is in use by another program"},
        {ErrorKind::Offline, "stopped responding at sheet 2. Check its cable"},
        {ErrorKind::NoMemory, "ran out of memory at sheet 2"},
        {ErrorKind::Device, "reported a fault at sheet 2"}};
    start();
    for (const auto& [kind, words] : faults) {
        desk_->tray.edit({}, "empty");
        load(3, {{kind, 2}}, Source::FeederBoth);
        press("scan");
        ASSERT_TRUE(waits(For::Fault)) << words;
        EXPECT_TRUE(part<RunCard>("run")->isVisible());
        EXPECT_TRUE(said().contains(words)) << qPrintable(said());
        EXPECT_EQ(order(), "1F 1B ") << words;
        EXPECT_EQ(part<QPushButton>("scan")->text(), "Go on");
        press("run-main");
        ASSERT_TRUE(wait([&] { return ended(); })) << words;
        EXPECT_EQ(order(), "1F 1B 2F 2B 3F 3B ") << words;
        EXPECT_EQ(desk_->tray.tray().documents.size(), 1U);
        EXPECT_FALSE(part<RunCard>("run")->isVisible());
    }
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

TEST_F(Run, AFaultCanEndTheScanAndKeepItsPages) {
    start();
    load(3, {{ErrorKind::Jam, 3}});
    key("Ctrl+Return");
    ASSERT_TRUE(waits(For::Fault));
    key("Esc");
    EXPECT_TRUE(ended());
    EXPECT_EQ(order(), "1F 2F ");
    key("Ctrl+Z");
    EXPECT_EQ(order(), "") << "one press of Scan is one step";
    key("Ctrl+Shift+Z");
    EXPECT_EQ(order(), "1F 2F ");
}

TEST_F(Run, AnEmptyFeederIsReportedAndEndsTheScan) {
    start();
    load(0);
    press("scan");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty() && ended(); }));
    EXPECT_TRUE(trouble_.contains("Put paper in, then scan")) << qPrintable(trouble_);
}

TEST_F(Run, AsksAboutTwoSheetsThatTheScannerMissed) {
    start();
    load(5, {{ErrorKind::TwoSheets, 3, false}});
    press("scan");
    ASSERT_TRUE(waits(For::Fault));
    EXPECT_TRUE(said().contains("Sheet 3 is much longer")) << qPrintable(said());
    EXPECT_EQ(order(), "1F 2F 3F ");
    press("run-main"); // both are put back
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(order(), "1F 2F 3F 4F 5F ");
    const auto& pages = desk_->tray.tray().documents.front()->pages;
    EXPECT_NEAR(pages[2]->original.height_px, pages[0]->original.height_px, 3) << "one sheet again";

    desk_->tray.edit({}, "empty");
    load(5, {{ErrorKind::TwoSheets, 3, false}});
    press("scan");
    ASSERT_TRUE(waits(For::Fault));
    press("run-second"); // it is one long sheet
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(order(), "1F 2F 3F 4F ");
}

TEST_F(Run, StoppingKeepsScannedSheets) {
    start();
    load(20);
    BenchSetup bench = desk_->scanners.bench().bench();
    bench.real_pace = true;
    bench.seconds_for_a4 = 0.6;
    desk_->scanners.set_bench(bench);
    QSignalSpy growing(&desk_->run, &Scanning::page_growing);
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() >= 1 && growing.size() > 2; }))
        << "pages grow as they arrive";
    EXPECT_TRUE(part<QLabel>("run-title")->text().startsWith("Sheet "))
        << qPrintable(part<QLabel>("run-title")->text());
    press("run-main");
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_GE(desk_->tray.tray().page_count(), 1U);
    EXPECT_LT(desk_->tray.tray().page_count(), 20U);
    EXPECT_TRUE(trouble_.isEmpty());
}

TEST_F(Run, FrontsThenBacksAreInterleaved) {
    start();
    desk_->scanners.use("Simulated feeder");
    load(3, {}, Source::FeederBoth);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("both sides in two passes"));
    press("scan");
    ASSERT_TRUE(waits(For::Backs));
    EXPECT_TRUE(said().contains("3 sheets scanned, fronts only. Turn the whole stack over")) << qPrintable(said());
    press("run-main"); // the simulated stack is turned over by itself
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(order(), "1F 1B 2F 2B 3F 3B ");
    EXPECT_EQ(desk_->tray.tray().documents.size(), 1U);
}

TEST_F(Run, DifferentNumbersOfFrontsAndBacksAreCorrected) {
    start();
    desk_->scanners.use("Simulated feeder");
    load(3, {}, Source::FeederBoth);
    press("scan");
    ASSERT_TRUE(waits(For::Backs));
    BenchSetup turned; // one sheet less than there were
    for (int i = 0; i < 2; ++i) turned.stack.push_back({{original("lease-2")}, {}});
    desk_->scanners.set_bench(turned);
    press("run-main");
    ASSERT_TRUE(waits(For::Counts));
    EXPECT_TRUE(said().contains("There are 3 fronts but 2 backs")) << qPrintable(said());
    EXPECT_EQ(order(), "1F 1B 2F 2B 3F ");
    part<QSpinBox>("run-gap")->setValue(1);
    EXPECT_EQ(order(), "1F 2F 2B 3F 3B ") << "the tray follows";
    press("run-second"); // scan the backs again: put back, with the missing one
    ASSERT_TRUE(waits(For::Counts));
    EXPECT_EQ(desk_->tray.tray().page_count(), 5U);
    part<QSpinBox>("run-gap")->setValue(2);
    press("run-main");
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(order(), "1F 1B 2F 3F 3B ");
}

TEST_F(Run, HandFedSheetsAreScannedByCountdownOrOnRequest) {
    start();
    load(4, {}, Source::HandFed);
    desk_->run.set_clock(false);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("sheet by sheet"));
    press("scan");
    ASSERT_TRUE(waits(For::NextSheet));
    auto* title = part<QLabel>("run-title");
    EXPECT_EQ(title->text(), "Next sheet in 6 s") << "the customary six seconds";
    desk_->run.tick();
    EXPECT_EQ(title->text(), "Next sheet in 5 s");
    press("run-second");
    desk_->run.tick();
    EXPECT_EQ(title->text(), "Paused at 5 s") << "it stands still";
    press("run-second");
    for (int i = 0; i < 5; ++i) desk_->run.tick();
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2; }));
    ASSERT_TRUE(waits(For::NextSheet));
    press("run-main"); // do not wait
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 3; }));
    ASSERT_TRUE(waits(For::NextSheet));
    press("run-third"); // that was the last
    EXPECT_TRUE(ended());
    EXPECT_EQ(order(), "1F 2F 3F ");
    EXPECT_EQ(desk_->tray.tray().documents.size(), 1U);
    choose([](Ticket& t) { t.from.next_sheet_seconds = 0; });
    press("scan");
    ASSERT_TRUE(waits(For::NextSheet));
    EXPECT_EQ(title->text(), "Next sheet?");
}

TEST_F(Run, TheGlassCanBeViewedWhileAHandFedScanWaits) {
    start();
    BenchSetup bench;
    bench.glass = {{original("till-receipt"), 52, 74, 0}};
    bench.real_pace = true;
    bench.seconds_for_a4 = 1.5;
    desk_->scanners.set_bench(bench);
    choose([](Ticket& t) {
        t.from.source = Source::HandFed;
        t.from.paper = "A6";
        t.how.dpi = 75;
        t.read.languages.clear();
        t.pages.turn_upright = false;
    });
    // A scanner that has only a glass: pages are laid on it one after the other.
    desk_->scanners.add(std::make_shared<GlassOnly>(desk_->scanners.bench()));
    desk_->scanners.use("Glass only");
    ASSERT_TRUE(wait([&] { return desk_->scanners.key() == "Glass only"; }));
    desk_->run.set_clock(false);
    press("scan");
    ASSERT_TRUE(waits(For::NextSheet));
    const int left = desk_->run.waiting().seconds_left;
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return desk_->glass.previewing(); }));
    for (int i = 0; i < 20; ++i) desk_->run.tick();
    EXPECT_EQ(desk_->run.waiting().seconds_left, left) << "the countdown stands still meanwhile";
    desk_->run.go_on(); // at once: the preview gives way
    EXPECT_TRUE(desk_->run.passing()) << "it waits for the scanner, the window for nothing";
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2; }));
    ASSERT_TRUE(waits(For::NextSheet));
    desk_->glass.start_preview();
    ASSERT_TRUE(wait([&] { return desk_->glass.previewing(); }));
    desk_->run.go_on();
    key("Esc"); // what has not begun does not begin
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

TEST_F(Run, ADividerBetweenThePassesStays) {
    start();
    desk_->scanners.use("Simulated feeder");
    load(3, {}, Source::FeederBoth);
    press("scan");
    ASSERT_TRUE(waits(For::Backs));
    desk_->choice.set_current(page_id(0, 1));
    key("Ctrl+D");
    press("run-main");
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(shape(), "2|4");
    EXPECT_EQ(order(), "1F 1B 2F 2B 3F 3B ");
    start(); // after a restart everything is there: the tray could be kept
    EXPECT_EQ(shape(), "2|4");
}

TEST_F(Run, TheFirstSheetIsATest) {
    start();
    load(3, {}, Source::FeederBoth);
    key("Alt+1");
    EXPECT_EQ(part<QPushButton>("tab-glass")->text(), "Feeder");
    key("Ctrl+L");
    ASSERT_TRUE(waits(For::FirstSheet));
    EXPECT_EQ(order(), "1F 1B ");
    choose([](Ticket& t) { t.how.ink = Ink::Grey; });
    press("run-second"); // again, in grey
    ASSERT_TRUE(waits(For::FirstSheet));
    EXPECT_EQ(order(), "1F 1B ");
    EXPECT_EQ(desk_->choice.current()->original.ink, Ink::Grey);
    press("run-main");
    ASSERT_TRUE(wait([&] { return ended(); }));
    EXPECT_EQ(order(), "1F 1B 2F 2B 3F 3B ");
}

TEST_F(Run, AdjustShowsTheSelectedPageWhileScanning) {
    start();
    load(3, {{ErrorKind::NoAnswer, 3}});
    BenchSetup bench = desk_->scanners.bench().bench();
    bench.seconds_of_silence = 1e6;
    desk_->scanners.set_bench(bench);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && desk_->looking.in_work() == 0; }));
    ASSERT_TRUE(desk_->run.passing());
    const auto cut = [&](size_t page, double width_mm) {
        desk_->choice.set_current(page_id(0, page));
        const Page& now = *desk_->choice.current();
        const Region frame{60, 80, width_mm, 90, now.recipe.tilt_degrees};
        desk_->edits.set_recipe(page_id(0, page), with_frame(now.recipe, frame, now.original.size_mm()), "crop");
    };
    cut(0, 40);
    cut(1, 70);
    auto* width = part<QDoubleSpinBox>("crop:2");
    EXPECT_NEAR(width->value(), 70, 0.06);
    desk_->choice.set_current(page_id(0, 0));
    EXPECT_NEAR(width->value(), 40, 0.06);
    width->setValue(50);
    EXPECT_NEAR(frame_of(desk_->choice.current()->recipe, desk_->choice.current()->original.size_mm()).h_mm, 90, 0.1)
        << "its own height, not another page's";
    key("Esc");
    ASSERT_TRUE(wait([&] { return ended(); }));
}

TEST_F(Run, EscFirstEndsTypingAName) {
    start();
    load(2, {{ErrorKind::NoAnswer, 2}});
    BenchSetup bench = desk_->scanners.bench().bench();
    bench.seconds_of_silence = 1e6;
    desk_->scanners.set_bench(bench);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && desk_->looking.in_work() == 0; }));
    window_->tray_strip().rename_current();
    auto* name = part<QLineEdit>("rename");
    ASSERT_TRUE(name);
    const std::string before = desk_->tray.tray().documents[0]->name;
    QTest::keyClicks(name, "Not after all");
    QTest::keyClick(name, Qt::Key_Escape);
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_FALSE(part<QLineEdit>("rename"));
    QTest::mouseClick(part<PageView>("page"), Qt::LeftButton); // a press elsewhere names nothing any more
    EXPECT_EQ(desk_->tray.tray().documents[0]->name, before);
    EXPECT_TRUE(desk_->run.passing());
    key("Esc");
    ASSERT_TRUE(wait([&] { return ended(); }));
}

TEST_F(Run, TheButtonOfTheScannerStartsTheTicket) {
    start();
    load(2);
    desk_->scanners.bench().press_button();
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && ended(); }));
}

TEST_F(Run, EachButtonOfTheScannerStartsATicket) {
    start();
    load(2);
    const std::string before = desk_->tickets.ticket().name;
    choose([](Ticket& t) { t.how.ink = Ink::Black; });
    desk_->tickets.keep_as("Copies in black");
    part<TicketBar>()->open_phrase("tickets");
    QApplication::processEvents();
    auto* list = QApplication::activePopupWidget()->findChild<QComboBox*>("scanner-button");
    ASSERT_TRUE(list);
    list->setFocus();
    for (int i = 0; i < 2; ++i) QTest::keyClick(list, Qt::Key_Down);
    EXPECT_EQ(list->currentData().toString(), "copy");
    QApplication::activePopupWidget()->close();
    desk_->tickets.choose_named(QString::fromStdString(before));
    load(2);
    desk_->scanners.bench().press_button("copy");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && ended(); }));
    EXPECT_EQ(desk_->tickets.ticket().name, "Copies in black");
    EXPECT_EQ(desk_->choice.current()->original.ink, Ink::Black);
    for (const char* without_effect : {"adjust:brightness", "adjust:paper_white", "adjust:sharpen"})
        EXPECT_FALSE(part<QSlider>(without_effect)->isEnabled()) << "a black page has no tones: " << without_effect;
    EXPECT_TRUE(part<QSlider>("adjust:specks_mm")->isEnabled());
}

TEST_F(Run, AFailedPreviewStartsNoScanAndATargetAppliesToOneScan) {
    start();
    BenchSetup bench;
    bench.glass = {{original("till-receipt"), 105, 148.5, 0}};
    bench.faults = {{ErrorKind::Offline, 1}};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& t) {
        t.from.source = Source::Glass;
        t.from.paper = "auto";
        t.how.dpi_auto = true;
        t.read.languages.clear();
        t.pages.turn_upright = false;
    });
    key("Ctrl+Return"); // looks first at what lies there
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty() && at_rest(); }));
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
    choose([](Ticket& t) {
        t.how.dpi_auto = false;
        t.how.dpi = 75;
    });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && ended(); }));
    desk_->choice.set_current(page_id(0, 0));
    desk_->run.scan_at_current(Landing::How::Before);
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && ended(); }));
    EXPECT_FALSE(desk_->tray.landing()) << "the next run's pages come to the end again";
    // A run that waits for its next sheet ends when something else is scanned.
    load(2);
    choose([](Ticket& t) {
        t.from.source = Source::HandFed;
        t.from.next_sheet_seconds = 0;
    });
    key("Ctrl+Return");
    ASSERT_TRUE(waits(For::NextSheet));
    QSignalSpy ends(&desk_->run, &Scanning::run_ended);
    desk_->run.scan_piece();
    EXPECT_EQ(ends.count(), 1) << "the one that waited";
    desk_->run.stop();
    ASSERT_TRUE(wait([&] { return ended(); }));
}

}
}
