// What becomes of a stack's pages.
#include "core/tray/stack.h"

#include <gtest/gtest.h>

namespace yelvin {
namespace {

// A page as a run brings it: sheet and side, ink found, a barcode.
PagePtr side(int sheet, bool back, double ink, const char* barcode = "") {
    Page page{std::to_string(sheet) + (back ? "b" : "a")};
    page.sheet = sheet;
    page.back = back;
    page.noticed = true;
    page.notices.ink_percent = ink;
    page.notices.writing = ink > 1;
    if (*barcode) page.notices.barcodes = {barcode};
    return std::make_shared<const Page>(page);
}
std::string words(const std::vector<Verdict>& verdicts) {
    std::string out;
    for (const Verdict& v : verdicts)
        out += std::string(v.starts_document ? "|" : "") + (v.barcode.empty() ? "" : "[" + v.barcode + "]") +
               (v.dropped == Dropped::No      ? "p"
                : v.dropped == Dropped::Blank ? "-"
                                              : "x");
    return out;
}
std::string ids(const std::vector<PagePtr>& pages) {
    std::string out;
    for (const PagePtr& page : pages) out += page->id + std::to_string(page->sheet) + (page->back ? "B " : "F ");
    return out;
}

TEST(Stack, BlankSidesAreDroppedByTheMeasuredInk) {
    const std::vector<PagePtr> pages{side(1, false, 5), side(1, true, 0.1), side(2, false, 5), side(2, true, 0.2)};
    EXPECT_EQ(words(judged(pages, {true, 0.15})), "p-pp");
    EXPECT_EQ(words(judged(pages, {true, 0.3})), "p-p-");
    EXPECT_EQ(words(judged(pages, {false, 0.3})), "pppp");
    EXPECT_EQ(words(judged(pages, {true, 0})), "pppp");
}

TEST(Stack, WritingHasToBeMeantToGo) {
    const Notices number{.ink_percent = 0.003, .writing = true};
    EXPECT_FALSE(number.blank(0.15));
    EXPECT_TRUE(number.blank(0.2)) << "somebody moved the limit up";
}

TEST(Stack, ABlankSheetDividesAndABlankBackDoesNot) {
    const std::vector<PagePtr> pages{side(1, false, 5), side(1, true, 0),  side(2, false, 0),
                                     side(2, true, 0),  side(3, false, 5), side(3, true, 5)};
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::BlankSheet})), "p-xx|pp");
    EXPECT_EQ(words(judged(pages, {false, 0.15, SplitAt::BlankSheet})), "ppxx|pp");
}

TEST(Stack, SeparatorsNameWhatFollowsThem) {
    const std::vector<PagePtr> pages{side(1, false, 9, "YELVIN DIVIDER Top Lock"),
                                     side(1, true, 0),
                                     side(2, false, 5),
                                     side(2, true, 0),
                                     side(3, false, 9, "4006381333931"),
                                     side(3, true, 5),
                                     side(4, false, 0),
                                     side(4, true, 9, "YELVIN DIVIDER"),
                                     side(5, false, 5)};
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::Separator})), "xx|[Top Lock]p-ppxx|p")
        << "a bill's own barcode divides nothing";
    EXPECT_EQ(words(judged(pages, {false, 0.15, SplitAt::Separator, 1, "40063"})),
              "xx|[Top Lock]ppxxxx|[4006381333931]p")
        << "unless it was said to";
}

TEST(Stack, EverySoManyPagesCountsBlankOnes) {
    std::vector<PagePtr> pages;
    for (int sheet = 1; sheet <= 4; ++sheet) {
        pages.push_back(side(sheet, false, 5));
        pages.push_back(side(sheet, true, sheet == 1 ? 0 : 5));
    }
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::Every, 4})), "p-pp|pppp");
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::Every, 2})), "p-|pp|pp|pp");
}

TEST(Stack, WhatAPersonDecidedStays) {
    Page kept = *side(1, false, 0);
    kept.dropped_by_hand = true;
    const std::vector<PagePtr> pages{std::make_shared<const Page>(kept)};
    EXPECT_EQ(words(judged(pages, {true, 0.15})), "p");
}

TEST(Stack, VerdictsBecomeDocumentsAndSlips) {
    const std::vector<PagePtr> pages{side(1, false, 5), side(2, false, 9, "YELVIN DIVIDER Heron"), side(3, false, 5),
                                     side(4, false, 0)};
    Tray tray;
    std::vector<std::string> names;
    for (const PagePtr& page : pages) {
        tray = with_page_added(tray, page, false);
        names.push_back(page->id);
    }
    const StackRules rules{true, 0.15, SplitAt::Separator};
    tray = with_verdicts(tray, names, judged(pages, rules));
    ASSERT_EQ(tray.documents.size(), 2U);
    EXPECT_EQ(tray.documents[1]->barcode, "Heron");
    EXPECT_EQ(tray.page_count(), 2U);
    EXPECT_EQ(tray.documents[0]->pages[1]->dropped, Dropped::Separator);
    EXPECT_EQ(tray.documents[1]->kept_pages().size(), 1U);
    const Tray back = with_page_dropped(tray, "4a", Dropped::No);
    EXPECT_EQ(back.page_count(), 3U);
    EXPECT_TRUE(page_at(back, "4a")->dropped_by_hand);
    EXPECT_EQ(with_verdicts(back, names, judged(pages, rules)).documents.size(), 2U) << "twice is as good as once";
}

TEST(Stack, BacksInReverseFindTheirFronts) {
    const std::vector<PagePtr> fronts{side(1, false, 5), side(2, false, 5), side(3, false, 5)};
    const std::vector<PagePtr> backs{side(1, true, 5), side(2, true, 5),
                                     side(3, true, 5)}; // as they came: of sheets 3, 2, 1
    EXPECT_EQ(ids(interleaved(fronts, backs, 0)), "1a1F 3b1B 2a2F 2b2B 3a3F 1b3B ");
}

TEST(Stack, AMissingSideLeavesAGapWhereItIsSaid) {
    const std::vector<PagePtr> fronts{side(1, false, 5), side(2, false, 5), side(3, false, 5)};
    const std::vector<PagePtr> backs{side(1, true, 5), side(2, true, 5)};
    EXPECT_EQ(ids(interleaved(fronts, backs, 0)), "1a1F 2a2F 2b2B 3a3F 1b3B ") << "the first sheet has no back";
    EXPECT_EQ(ids(interleaved(fronts, backs, 1)), "1a1F 2b1B 2a2F 3a3F 1b3B ");
    EXPECT_EQ(ids(interleaved(fronts, backs, 2)), "1a1F 2b1B 2a2F 1b2B 3a3F ");
    EXPECT_EQ(ids(interleaved(fronts, backs, 99)), "1a1F 2b1B 2a2F 1b2B 3a3F ");
    const std::vector<PagePtr> one{fronts[0]};
    EXPECT_EQ(ids(interleaved(one, backs, 0)), "2b1B 1a2F 1b2B ") << "a front is missing";
}

}
}
