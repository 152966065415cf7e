// What becomes of the pages of a stack.
#include "core/tray/stack.h"

#include "core/tray/tray_edits.h"

#include <gtest/gtest.h>

namespace yelvin {
namespace {

// A page as a run delivers it: sheet and side, ink found, a barcode.
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
// "1a1F 3b1B|2a2F": ids with their sheets and sides, documents divided by bars.
std::string ids(const Tray& tray) {
    std::string out;
    for (const DocumentPtr& document : tray.documents) {
        if (!out.empty()) out.back() = '|';
        for (const PagePtr& page : document->pages)
            out += page->id + std::to_string(page->sheet) + (page->back ? "B " : "F ");
    }
    return out;
}

// A tray with fronts 1a, 2a, … followed by the backs 1b, 2b, …, as two passes deliver them.
struct TwoPasses {
    Tray tray;
    std::vector<std::string> fronts, backs;
    TwoPasses(int front_count, int back_count) {
        for (int sheet = 1; sheet <= front_count; ++sheet) fronts.push_back(add(side(sheet, false, 5)));
        for (int sheet = 1; sheet <= back_count; ++sheet) backs.push_back(add(side(sheet, true, 5)));
    }
    std::string add(const PagePtr& page) {
        tray = with_page_added(tray, page, false);
        return page->id;
    }
    std::string paired(size_t gap) const { return ids(with_sides_paired(tray, fronts, backs, gap)); }
};

TEST(Stack, BlankSidesAreLeftOutByTheirMeasuredInk) {
    const std::vector<PagePtr> pages{side(1, false, 5), side(1, true, 0.1), side(2, false, 5), side(2, true, 0.2)};
    EXPECT_EQ(words(judged(pages, {true, 0.15})), "p-pp");
    EXPECT_EQ(words(judged(pages, {true, 0.3})), "p-p-");
    EXPECT_EQ(words(judged(pages, {false, 0.3})), "pppp");
    EXPECT_EQ(words(judged(pages, {true, 0})), "pppp");
}

TEST(Stack, WritingIsLeftOutOnlyWithAHigherLimit) {
    const Notices number{.ink_percent = 0.003, .writing = true};
    EXPECT_FALSE(number.blank(0.15));
    EXPECT_TRUE(number.blank(0.2)) << "somebody moved the limit up";
}

TEST(Stack, ABlankSheetDividesDocumentsAndABlankBackDoesNot) {
    const std::vector<PagePtr> pages{side(1, false, 5), side(1, true, 0),  side(2, false, 0),
                                     side(2, true, 0),  side(3, false, 5), side(3, true, 5)};
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::BlankSheet})), "p-xx|pp");
    EXPECT_EQ(words(judged(pages, {false, 0.15, SplitAt::BlankSheet})), "ppxx|pp");
}

TEST(Stack, SeparatorsNameTheNextDocument) {
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

TEST(Stack, DocumentsByPageCountIncludeBlankPages) {
    std::vector<PagePtr> pages;
    for (int sheet = 1; sheet <= 4; ++sheet) {
        pages.push_back(side(sheet, false, 5));
        pages.push_back(side(sheet, true, sheet == 1 ? 0 : 5));
    }
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::Every, 4})), "p-pp|pppp");
    EXPECT_EQ(words(judged(pages, {true, 0.15, SplitAt::Every, 2})), "p-|pp|pp|pp");
}

TEST(Stack, EachSheetIsADocumentAndABlankOneIsNone) {
    const StackRules each{.each_sheet = true}, without_blank{.drop_blank = true, .each_sheet = true};
    const std::vector<PagePtr> pages{side(1, false, 0), side(1, true, 0), side(2, false, 5), side(2, true, 5),
                                     side(3, false, 0), side(3, true, 0), side(4, false, 5), side(4, true, 0)};
    EXPECT_EQ(words(judged(pages, each)), "pp|pp|pp|pp");
    EXPECT_EQ(words(judged(pages, without_blank)), "--pp--|p-") << "slips alone are no document";
    StackRules separated = each;
    separated.split = SplitAt::Separator;
    const std::vector<PagePtr> stack{side(1, false, 5), side(2, false, 9, "YELVIN DIVIDER Heron"), side(3, false, 5),
                                     side(4, false, 5)};
    EXPECT_EQ(words(judged(stack, separated)), "px|[Heron]p|p");
}

TEST(Stack, DecisionsOfTheUserStay) {
    Page kept = *side(1, false, 0);
    kept.dropped_by_hand = true;
    const std::vector<PagePtr> pages{std::make_shared<const Page>(kept)};
    EXPECT_EQ(words(judged(pages, {true, 0.15})), "p");
}

TEST(Stack, DecisionsBecomeDocumentsAndSlips) {
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

TEST(Stack, BacksInReverseOrderAreAssignedToTheirFronts) {
    EXPECT_EQ(TwoPasses(3, 3).paired(0), "1a1F 3b1B 2a2F 2b2B 3a3F 1b3B ");
}

TEST(Stack, AMissingSideLeavesAGapAtItsSheet) {
    const TwoPasses two(3, 2);
    EXPECT_EQ(two.paired(0), "1a1F 2a2F 2b2B 3a3F 1b3B ") << "the first sheet has no back";
    EXPECT_EQ(two.paired(1), "1a1F 2b1B 2a2F 3a3F 1b3B ");
    EXPECT_EQ(two.paired(2), "1a1F 2b1B 2a2F 1b2B 3a3F ");
    EXPECT_EQ(two.paired(99), "1a1F 2b1B 2a2F 1b2B 3a3F ");
    EXPECT_EQ(TwoPasses(1, 2).paired(0), "2b1B 1a2F 1b2B ") << "a front is missing";
    EXPECT_EQ(TwoPasses(0, 2).paired(0), "1b1B 2b2B ") << "nothing to pair with";
}

TEST(Stack, BacksFollowTheirFrontsAndNoPageIsDuplicated) {
    TwoPasses two(3, 3);
    two.tray = with_divider_at(two.tray, "2a"); // between the passes
    two.tray = with_divider_at(two.tray, "3a");
    EXPECT_EQ(two.paired(0), "1a1F 3b1B|2a2F 2b2B|3a3F 1b3B ");
    EXPECT_EQ(ids(with_sides_paired(with_sides_paired(two.tray, two.fronts, two.backs, 0), two.fronts, two.backs, 0)),
              two.paired(0))
        << "twice is as good as once";
    two.tray = without_pages(two.tray, {"2a"}); // its back stays, behind the sheet before it
    EXPECT_EQ(two.paired(0), "1a1F 3b1B 2b2B|3a3F 1b3B ");
}

}
}
