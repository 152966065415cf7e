// A run, decided by events alone: the usual courses, and every fault in every pass.
#include "jobs/run_script.h"

namespace yelvin {
namespace {

// ---- the usual courses

TEST(ScanRun, AStackIsScannedInOnePassAndAddedInOneUndoStep) {
    Bench bench(stack_plan());
    EXPECT_TRUE(bench.run.passing());
    bench.bring({3});
    EXPECT_EQ(bench.order(), "1F 2F 3F ");
    EXPECT_EQ(bench.logged(), "pass; step; end; ");
    EXPECT_TRUE(bench.run.ended());
    EXPECT_EQ(bench.run.progress().pages, 3);
    EXPECT_NEAR(bench.run.progress().pages_a_minute, 60, 1e-9) << "a page a second, by the test's clock";
    EXPECT_EQ(bench.tray.documents.size(), 1U);
}

TEST(ScanRun, FramesKeepTheirOrderWhicheverJobScansThem) {
    RunPlan plan;
    plan.starts_document = true;
    Bench bench(plan);
    const auto frame = [](size_t number) { return std::pair(number, Page{"frame " + std::to_string(number)}); };
    bench.carry(bench.run.pages_in({frame(1), frame(3)}, Clock::time_point{}));
    EXPECT_EQ(bench.names(), "") << "they wait for the first";
    bench.carry(bench.run.pages_in({frame(0)}, Clock::time_point{}));
    EXPECT_EQ(bench.names(), "frame 0 frame 1 ");
    bench.end_pass(fault(ErrorKind::Offline)); // the job with frame 2 broke off
    EXPECT_EQ(bench.names(), "frame 0 frame 1 frame 3 ") << "what is in stays";
    EXPECT_TRUE(bench.run.ended()) << "on the glass there is nothing to put back";
    EXPECT_NE(bench.logged().find("say "), std::string::npos);
}

TEST(ScanRun, HandFedSheetsAreScannedByCountdownOrOnRequest) {
    RunPlan plan = stack_plan();
    plan.hand_fed = true;
    plan.pass.ticket.from.next_sheet_seconds = 3;
    Bench bench(plan);
    EXPECT_EQ(bench.last_pass.sheets, 1);
    bench.bring({1});
    ASSERT_EQ(bench.waits(), For::NextSheet);
    EXPECT_EQ(bench.run.waiting().seconds_left, 3);
    EXPECT_FALSE(bench.run.second_passed());
    bench.run.pause_countdown(true);
    EXPECT_FALSE(bench.run.second_passed());
    EXPECT_EQ(bench.run.waiting().seconds_left, 2) << "it stands still";
    bench.run.pause_countdown(false);
    EXPECT_FALSE(bench.run.second_passed());
    EXPECT_TRUE(bench.run.second_passed());
    bench.go_on();
    EXPECT_FALSE(bench.run.second_passed()) << "not while a sheet is on its way";
    bench.bring({0, fault(ErrorKind::FeederEmpty)}); // it was not fed in time
    ASSERT_EQ(bench.waits(), For::Fault);
    EXPECT_NE(bench.run.waiting().fault.sentence.find("empty after sheet 1"), std::string::npos);
    bench.go_on();
    bench.bring({1});
    EXPECT_EQ(bench.order(), "1F 2F ");
    bench.end();
    EXPECT_TRUE(bench.run.ended());
    EXPECT_EQ(bench.tray.documents.size(), 1U);
}

TEST(ScanRun, AFaultLosesNoPagesScannedOneByOneOnTheGlass) {
    RunPlan plan;
    plan.hand_fed = true;
    plan.pass.ticket.from.next_sheet_seconds = 0;
    Bench bench(plan);
    bench.carry(bench.run.pages_in({{0, Page{"first"}}}, Clock::time_point{}));
    bench.end_pass();
    EXPECT_EQ(bench.run.waiting().seconds_left, -1) << "it asks";
    plan.pass.frames = {Frame::upright({0, 0, 50, 50})};
    bench.plan = plan;
    bench.go_on();
    EXPECT_EQ(bench.last_pass.frames.size(), 1U) << "as the glass is now";
    bench.end_pass(fault(ErrorKind::LidOpen));
    EXPECT_EQ(bench.waits(), For::Fault) << "the run is not over";
    bench.go_on();
    EXPECT_TRUE(bench.run.passing());
}

TEST(ScanRun, TheFirstSheetIsATestScannedWithTheCurrentChoices) {
    Bench bench(stack_plan(true), ScanRun::Kind::FirstSheet);
    EXPECT_EQ(bench.last_pass.sheets, 1);
    bench.bring({2});
    ASSERT_EQ(bench.waits(), For::FirstSheet);
    EXPECT_EQ(bench.run.waiting().sheets_left, 4);
    bench.logged();
    bench.plan.pass.ticket.how.dpi = 600;
    bench.again();
    EXPECT_EQ(bench.logged(), "step; put back 0; pass; ");
    EXPECT_EQ(bench.order(), "") << "without the page it gave";
    EXPECT_EQ(bench.last_pass.ticket.how.dpi, 600);
    bench.bring({2});
    bench.go_on();
    EXPECT_EQ(bench.last_pass.sheets, 0) << "now all of them";
    bench.bring({4});
    EXPECT_EQ(bench.order(), "1F 1B 2F 2B 3F 3B ");
}

// ---- faults

struct FaultCase {
    ErrorKind kind;
    bool can_go_on;
};

class EveryFault : public testing::TestWithParam<FaultCase> {};

INSTANTIATE_TEST_SUITE_P(ScanRun, EveryFault,
                         testing::Values(FaultCase{ErrorKind::Jam, true}, FaultCase{ErrorKind::TwoSheets, true},
                                         FaultCase{ErrorKind::FeederEmpty, true}, FaultCase{ErrorKind::LidOpen, true},
                                         FaultCase{ErrorKind::Busy, true}, FaultCase{ErrorKind::Offline, true},
                                         FaultCase{ErrorKind::NoMemory, true}, FaultCase{ErrorKind::Device, true},
                                         FaultCase{ErrorKind::DiskFull, true}, FaultCase{ErrorKind::NotWritable, true},
                                         FaultCase{ErrorKind::AccessDenied, false},
                                         FaultCase{ErrorKind::WrongSetting, false},
                                         FaultCase{ErrorKind::Unsupported, false},
                                         FaultCase{ErrorKind::Internal, false}),
                         [](const auto& info) { return "Kind" + std::to_string(static_cast<int>(info.param.kind)); });

// After so many sides of the only pass, of the fronts, or of the backs.
TEST_P(EveryFault, InTheOnlyPassLosesNoCompleteSheet) {
    for (const int sides : {1, 2, 3}) {
        Bench bench(stack_plan(true));
        bench.bring({sides, fault(GetParam().kind)});
        const std::string there = bench.order();
        EXPECT_EQ(there, sides == 1 ? "1F " : sides == 2 ? "1F 1B " : "1F 1B 2F ");
        if (!GetParam().can_go_on) {
            EXPECT_TRUE(bench.run.ended());
            continue;
        }
        ASSERT_EQ(bench.waits(), For::Fault);
        EXPECT_EQ(bench.run.waiting().sheet, sides / 2 + 1) << "the one to be put back";
        bench.go_on();
        EXPECT_EQ(bench.order(), sides / 2 == 1 ? "1F 1B " : "") << "a half sheet is scanned again, both its sides";
        bench.bring({4});
        EXPECT_EQ(bench.order(), sides / 2 == 1 ? "1F 1B 2F 2B 3F 3B " : "1F 1B 2F 2B ");
        EXPECT_TRUE(bench.run.ended());
    }
}

TEST_P(EveryFault, AmongTheFrontsOrAmongTheBacksLosesNoSheet) {
    Bench bench(two_pass_plan());
    bench.bring({1, fault(GetParam().kind)});
    if (!GetParam().can_go_on) {
        EXPECT_TRUE(bench.run.ended());
        EXPECT_EQ(bench.order(), "1F ");
        return;
    }
    bench.go_on();
    bench.bring({2});
    ASSERT_EQ(bench.waits(), For::Backs);
    bench.go_on();
    bench.bring({1, fault(GetParam().kind)}); // the back of sheet 3 is in
    ASSERT_EQ(bench.waits(), For::Fault);
    bench.go_on();
    bench.bring({2});
    EXPECT_EQ(bench.order(), "1F 1B 2F 2B 3F 3B ");
    EXPECT_EQ(bench.names(), "p1 p6 p2 p5 p3 p4 ") << "backs come the last sheet's first";
}

TEST_P(EveryFault, BeforeTheFirstBackStillWaitsForTheBacks) {
    Bench bench(two_pass_plan());
    bench.bring({2});
    bench.go_on();
    bench.bring({0, fault(GetParam().kind)});
    EXPECT_FALSE(bench.run.ended()) << "the fronts are in: the run is not lost";
    EXPECT_TRUE(bench.waits() == For::Backs || bench.waits() == For::Fault);
    bench.go_on();
    bench.bring({2});
    EXPECT_EQ(bench.order(), "1F 1B 2F 2B ");
    EXPECT_TRUE(bench.run.ended());
}

TEST_P(EveryFault, AtTheFirstSheetIsReportedAndEndsTheScan) {
    Bench bench(stack_plan());
    bench.end_pass(fault(GetParam().kind));
    EXPECT_TRUE(bench.run.ended());
    EXPECT_NE(bench.logged().find("say "), std::string::npos);
    EXPECT_EQ(bench.order(), "");
}

TEST(ScanRun, AsksAboutASheetThatIsTooLong) {
    for (const bool both : {false, true}) {
        Bench bench(stack_plan(both));
        bench.bring({both ? 5 : 3, two_by_length}); // the suspect's front is in
        ASSERT_EQ(bench.waits(), For::Fault);
        EXPECT_TRUE(bench.run.waiting().can_keep);
        EXPECT_EQ(bench.run.waiting().sheet, 3);
        bench.logged();
        bench.go_on(); // it was two: both are put back
        EXPECT_EQ(bench.logged(), "step; put back 0; pass; ");
        EXPECT_EQ(bench.order(), both ? "1F 1B 2F 2B " : "1F 2F ");
        bench.bring({both ? 4 : 2});
        EXPECT_EQ(bench.order(), both ? "1F 1B 2F 2B 3F 3B 4F 4B " : "1F 2F 3F 4F ");
    }
    Bench kept(stack_plan());
    kept.bring({3, two_by_length});
    kept.carry(kept.run.keep_long_sheet());
    EXPECT_TRUE(kept.last_pass.lengths_px.empty()) << "one as long as this is nothing to ask about any more";
    kept.bring({1});
    EXPECT_EQ(kept.order(), "1F 2F 3F 4F ");
    // A sheet whose front alone has arrived counts as one.
    Bench sides(stack_plan(true));
    sides.bring({5, two_by_length});
    sides.carry(sides.run.keep_long_sheet());
    sides.bring({2});
    EXPECT_EQ(sides.order(), "1F 1B 2F 2B 3F 4F 4B ");
    // If the back of a suspected double sheet has arrived, both sides are removed.
    Bench whole(stack_plan(true));
    whole.bring({6, two_by_length});
    whole.go_on();
    EXPECT_EQ(whole.order(), "1F 1B 2F 2B ");
}

TEST(ScanRun, StoppingKeepsScannedPagesAndAssignsBacksToTheirFronts) {
    Bench bench(stack_plan());
    bench.bring({2, stopped().error()});
    EXPECT_TRUE(bench.run.ended());
    EXPECT_EQ(bench.order(), "1F 2F ");
    Bench two(two_pass_plan());
    two.bring({3});
    two.go_on();
    two.bring({1, stopped().error()}); // of the last sheet
    EXPECT_TRUE(two.run.ended());
    EXPECT_EQ(two.order(), "1F 2F 3F 3B ");
    Bench jammed(two_pass_plan());
    jammed.bring({3});
    jammed.go_on();
    jammed.bring({2, fault(ErrorKind::Jam)});
    jammed.end(); // finish here
    EXPECT_EQ(jammed.order(), "1F 2F 2B 3F 3B ");
}

TEST(ScanRun, BlankSidesAreDecidedWhenBothSidesAreScanned) {
    RunPlan plan = stack_plan(true);
    plan.pass.ticket.pages.split = SplitAt::BlankSheet;
    Bench bench(plan);
    const auto comes = [&](const char* id, bool back, double ink_percent) {
        Page page{id};
        page.sheet = 1;
        page.back = back;
        page.noticed = true;
        page.notices.ink_percent = ink_percent;
        page.notices.writing = ink_percent > 1;
        bench.run.sheet_begins(1, back);
        bench.carry(bench.run.page_in(page, std::nullopt, Clock::time_point{}));
    };
    comes("front", false, 0);
    EXPECT_FALSE(bench.judged()) << "a blank front may have a back with print";
    comes("back", true, 5);
    bench.end_pass();
    EXPECT_TRUE(bench.judged());
    EXPECT_NE(page_at(bench.tray, "front")->dropped, Dropped::Separator);
    EXPECT_EQ(page_at(bench.tray, "back")->dropped, Dropped::No);
}

}
}
