// A run, decided by events alone: both sides in two passes, and the decisions about the pages that have arrived.
#include "core/tray/tray_edits.h"
#include "jobs/run_script.h"

namespace yelvin {
namespace {

// ---- fronts, then backs

TEST(ScanRun, FewerBacksThanFrontsAreCorrectedByEnteringTheSheet) {
    Bench bench(two_pass_plan());
    bench.bring({3});
    bench.go_on();
    bench.bring({2});
    ASSERT_EQ(bench.waits(), For::Counts);
    EXPECT_EQ(bench.run.waiting().fronts, 3);
    EXPECT_EQ(bench.run.waiting().backs, 2);
    EXPECT_EQ(bench.order(), "1F 1B 2F 2B 3F ");
    bench.carry(bench.run.set_gap(1, bench.tray));
    EXPECT_EQ(bench.order(), "1F 2F 2B 3F 3B ") << "the tray follows";
    bench.go_on();
    EXPECT_TRUE(bench.run.ended());
    EXPECT_EQ(bench.order(), "1F 2F 2B 3F 3B ");
}

TEST(ScanRun, MoreBacksThanFrontsLoseNoPage) {
    Bench bench(two_pass_plan());
    bench.bring({2});
    bench.go_on();
    bench.bring({3});
    ASSERT_EQ(bench.waits(), For::Counts);
    EXPECT_EQ(page_ids(bench.tray).size(), 5U);
    bench.carry(bench.run.set_gap(2, bench.tray));
    EXPECT_EQ(bench.order(), "1F 1B 2B 3F 3B ");
    bench.end();
    EXPECT_EQ(bench.order(), "1F 1B 2B 3F 3B ") << "as it was left";
}

TEST(ScanRun, ADividerAddedBetweenThePassesStaysAndNoPageIsDuplicated) {
    Bench bench(two_pass_plan());
    bench.bring({3});
    bench.tray = with_divider_at(bench.tray, "p2"); // while the run waits for the backs
    bench.go_on();
    bench.bring({3});
    EXPECT_EQ(bench.order(), "1F 1B|2F 2B 3F 3B ");
    bench.expect_no_page_twice();
}

TEST(ScanRun, ScanningTheBacksAgainIsOneUndoStepAndKeepsEditsMadeMeanwhile) {
    Bench bench(two_pass_plan());
    bench.bring({3});
    bench.go_on();
    bench.bring({2});
    ASSERT_EQ(bench.waits(), For::Counts);
    bench.tray = with_document_name(bench.tray, bench.tray.documents.front()->id, "Leases");
    bench.tray = without_pages(bench.tray, {"p1"}); // the user sorts it out
    bench.logged();
    bench.again();
    EXPECT_EQ(bench.logged(), "step; put back 2; pass; ") << "it can be undone";
    EXPECT_EQ(bench.names(), "p2 p3 ");
    EXPECT_EQ(bench.tray.documents.front()->name, "Leases");
    bench.bring({3});
    EXPECT_TRUE(bench.run.ended());
    EXPECT_EQ(bench.names(), "p8 p2 p7 p3 p6 ") << "the back of the sheet that lost its front stays";
    EXPECT_EQ(bench.tray.documents.front()->name, "Leases");
}

TEST(ScanRun, TheLengthOfFrontsIsNotComparedWithBacks) {
    Bench bench(two_pass_plan());
    const std::vector<int> lengths = {1800, 1810};
    bench.carry(bench.run.pass_ended({std::unexpected(fault(ErrorKind::Jam)), lengths}, bench.tray, 4));
    EXPECT_TRUE(bench.run.ended()) << "before the first sheet there is nothing to put right";
    Bench both(two_pass_plan());
    both.bring({1, fault(ErrorKind::Jam)});
    both.go_on();
    both.carry(both.run.pass_ended({std::unexpected(fault(ErrorKind::Jam)), lengths}, both.tray, 4));
    both.go_on();
    EXPECT_EQ(both.last_pass.lengths_px, lengths) << "the same stack goes on";
    both.carry(both.run.pass_ended({{}, lengths}, both.tray, 4));
    ASSERT_EQ(both.waits(), For::Backs);
    both.go_on();
    EXPECT_TRUE(both.last_pass.lengths_px.empty());
}

TEST(ScanRun, AScanCanEndWithFrontsOnly) {
    Bench bench(two_pass_plan());
    bench.bring({2});
    bench.logged();
    bench.end();
    EXPECT_EQ(bench.order(), "1F 2F ");
    EXPECT_EQ(bench.logged(), "end; ");
}

// ---- judging

TEST(ScanRun, BlankSidesAreLeftOutWhenTheirSheetsAreCompleteAndDecidedOnce) {
    RunPlan plan = stack_plan(true);
    plan.pass.ticket.pages.drop_blank = true;
    Bench bench(plan);
    bench.bring({3, fault(ErrorKind::Jam)});
    EXPECT_FALSE(bench.judged()) << "nothing was looked at";
    bench.notice_all(0);
    EXPECT_FALSE(bench.judged()) << "the run is not over";
    EXPECT_EQ(bench.tray.page_count(), 0U);
    bench.go_on();
    bench.bring({2});
    bench.notice_all(0);
    bench.tray = with_page_dropped(bench.tray, "p1", Dropped::No); // brought back by hand
    EXPECT_TRUE(bench.judged());
    EXPECT_EQ(bench.tray.page_count(), 1U) << "what a person brought back stays";
}

TEST(ScanRun, ADividerThatTheUserRemovedDoesNotComeBack) {
    RunPlan plan = stack_plan();
    plan.pass.ticket.pages.split = SplitAt::Every;
    plan.pass.ticket.pages.split_every = 2;
    Bench bench(plan);
    bench.bring({4, fault(ErrorKind::Jam)});
    bench.notice_all(5);
    bench.judged();
    ASSERT_EQ(bench.order(), "1F 2F|3F 4F ");
    bench.tray = without_divider_at(bench.tray, bench.tray.documents[1]->id);
    bench.judged();
    EXPECT_EQ(bench.order(), "1F 2F 3F 4F ");
    bench.go_on();
    bench.bring({2});
    bench.notice_all(5);
    EXPECT_TRUE(bench.judged());
    EXPECT_EQ(bench.order(), "1F 2F 3F 4F|5F 6F ") << "the later ones are divided as the ticket says";
}

TEST(ScanRun, BacksScannedAgainAreCountedFromTheFirstSheet) {
    Bench bench(two_pass_plan());
    bench.bring({3});
    bench.go_on();
    bench.bring({2});
    ASSERT_EQ(bench.waits(), For::Counts);
    bench.again();
    bench.bring({0, fault(ErrorKind::Jam)});
    EXPECT_EQ(bench.run.waiting().sheet, 1);
}

TEST(ScanRun, ADoubtfulSideWaitsForItsOtherSide) {
    RunPlan plan = stack_plan(true);
    plan.pass.ticket.pages.drop_blank = true;
    Bench bench(plan);
    bench.bring({6});
    ASSERT_EQ(bench.order(), "1F 1B 2F 2B 3F 3B ");
    bench.notice_all(5);
    const auto set = [&](const std::string& id, bool in_doubt, double ink_percent) {
        Page seen = *page_at(bench.tray, id);
        seen.notices.in_doubt = in_doubt;
        seen.notices.ink_percent = ink_percent;
        bench.tray = with_page(bench.tray, std::make_shared<const Page>(seen));
    };
    set("p2", false, 0);
    set("p4", true, 2);
    set("p6", false, 0);
    bench.logged();
    EXPECT_FALSE(bench.judged());
    EXPECT_EQ(bench.logged(), "look at p4 by p3; ");
    EXPECT_EQ(page_at(bench.tray, "p2")->dropped, Dropped::Blank) << "the sheet before is decided";
    EXPECT_EQ(page_at(bench.tray, "p6")->dropped, Dropped::No) << "those after wait";
    EXPECT_FALSE(bench.judged());
    EXPECT_EQ(bench.logged(), "") << "it is asked for once";
    set("p4", false, 0);
    EXPECT_TRUE(bench.judged());
    EXPECT_EQ(page_at(bench.tray, "p4")->dropped, Dropped::Blank);
    EXPECT_EQ(page_at(bench.tray, "p6")->dropped, Dropped::Blank);
}

TEST(ScanRun, ARemovedPageDoesNotBlockTheDecisionAboutItsSheet) {
    RunPlan plan = stack_plan();
    plan.pass.ticket.pages.drop_blank = true;
    Bench bench(plan);
    bench.bring({4});
    bench.tray = without_pages(bench.tray, {"p2"});
    bench.notice_all(0);
    EXPECT_TRUE(bench.judged());
    EXPECT_EQ(bench.tray.page_count(), 0U) << bench.names();
}

TEST(ScanRun, InTwoPassesBlankSidesAreDecidedAfterTheSecond) {
    RunPlan plan = two_pass_plan();
    plan.pass.ticket.pages.split = SplitAt::Every;
    plan.pass.ticket.pages.split_every = 2;
    Bench bench(plan);
    bench.bring({2});
    bench.notice_all(5);
    RunActions early;
    EXPECT_FALSE(bench.run.judge(bench.tray, early));
    EXPECT_TRUE(early.empty());
    bench.go_on();
    bench.bring({2});
    bench.notice_all(5);
    RunActions actions;
    EXPECT_TRUE(bench.run.judge(bench.tray, actions));
    bench.carry(std::move(actions));
    EXPECT_EQ(bench.order(), "1F 1B|2F 2B ");
}

}
}
