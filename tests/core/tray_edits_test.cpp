// Edits of several pages at once: no page is lost or doubled, and documents are never empty.
#include "core/tray/tray_edits.h"

#include "core/developing/join.h"
#include "support/support.h"

#include <functional>
#include <random>
#include <set>

namespace yelvin::test {
namespace {

// Documents whose pages are single letters, as in "abc|de".
Tray tray_of(const std::string& shape) {
    Tray tray;
    bool starts = true;
    for (const char letter : shape) {
        if (letter == '|') {
            starts = true;
            continue;
        }
        tray = with_page_added(tray, std::make_shared<const Page>(Page{std::string(1, letter)}), starts);
        starts = false;
    }
    return tray;
}
std::string shape_of(const Tray& tray) {
    std::string out;
    for (const auto& document : tray.documents) {
        if (!out.empty()) out += '|';
        for (const auto& page : document->pages) out += page->id;
    }
    return out;
}
const std::string& document_id(const Tray& tray, size_t index) { return tray.documents[index]->id; }

TEST(TrayEdits, PagesAreRemovedMovedSeparatedAndDuplicatedTogether) {
    const Tray tray = tray_of("abcd|ef|g");
    EXPECT_EQ(shape_of(without_pages(tray, {"a", "c", "g"})), "bd|ef");
    EXPECT_EQ(shape_of(with_pages_moved(tray, {"a", "d", "g"}, document_id(tray, 1), 1)), "bc|eadgf");
    EXPECT_EQ(shape_of(with_pages_moved(tray, {"a", "b"}, document_id(tray, 0), 4)), "cdab|ef|g");
    EXPECT_EQ(shape_of(with_pages_moved(tray, {"b", "d"}, document_id(tray, 0), 3)), "acbd|ef|g");
    EXPECT_EQ(shape_of(with_pages_moved(tray, {"e", "f"}, document_id(tray, 2), 99)), "abcd|gef");
    EXPECT_EQ(shape_of(with_pages_apart(tray, {"b", "e"})), "acd|be|f|g");
    EXPECT_EQ(with_pages_apart(tray, {"e", "f"}), tray) << "they are a document already";
    const Tray doubled = with_pages_doubled(tray, {"f"});
    ASSERT_EQ(doubled.documents[1]->pages.size(), 3U);
    EXPECT_NE(doubled.documents[1]->pages[2]->id, "f");
    EXPECT_EQ(with_pages_moved(tray, {"nobody"}, document_id(tray, 0), 0), tray);
    EXPECT_EQ(with_pages_moved(tray, {"a"}, "nobody", 0), tray);
}

TEST(TrayEdits, KeysMovePagesAcrossDividers) {
    Tray tray = tray_of("ab|cd");
    for (const char* expected : {"ab|dc", "abd|c", "adb|c", "dab|c", "dab|c"}) {
        tray = with_pages_shifted(tray, {"d"}, -1);
        EXPECT_EQ(shape_of(tray), expected);
    }
    for (const char* expected : {"adb|c", "abd|c", "ab|dc", "ab|cd", "ab|cd"}) {
        tray = with_pages_shifted(tray, {"d"}, 1);
        EXPECT_EQ(shape_of(tray), expected);
    }
}

TEST(TrayEdits, DividersMoveAndLeaveNoDocumentEmpty) {
    const Tray tray = tray_of("abc|de");
    const auto moved = [&](size_t to) { return shape_of(with_divider_moved(tray, document_id(tray, 1), to)); };
    EXPECT_EQ(moved(1), "a|bcde");
    EXPECT_EQ(moved(4), "abcd|e");
    EXPECT_EQ(moved(0), "a|bcde");
    EXPECT_EQ(moved(77), "abcd|e");
    EXPECT_EQ(with_divider_moved(tray, document_id(tray, 1), 3), tray);
    EXPECT_EQ(with_divider_moved(tray, document_id(tray, 0), 2), tray) << "nothing is before the first";
}

TEST(TrayEdits, NewScansAreAddedAtTheirTarget) {
    const Tray tray = tray_of("ab|c");
    const auto fresh = std::make_shared<const Page>(Page{"x"});
    EXPECT_EQ(shape_of(with_page_replaced(tray, "a", fresh)), "xb|c");
    EXPECT_EQ(shape_of(with_page_inserted(tray, "b", fresh)), "axb|c");
    EXPECT_EQ(shape_of(with_page_behind(tray, "b", fresh)), "abx|c");
    EXPECT_EQ(shape_of(with_page_inserted(tray, "gone", fresh)), "ab|cx");
}

TEST(TrayEdits, AnEditedDocumentBecomesUnsavedAndOthersStaySaved) {
    Tray tray = tray_of("ab|cd");
    for (const size_t i : {0U, 1U}) tray = with_document_saved(tray, document_id(tray, i), "/somewhere.pdf");
    const Tray edited = with_changed(tray, {"c"}, [](Page& page) { page.recipe.turn_degrees = 90; });
    EXPECT_FALSE(edited.documents[0]->saved_as.empty());
    EXPECT_TRUE(edited.documents[1]->saved_as.empty());
    EXPECT_EQ(with_changed(tray, {"c"}, [](Page&) {}), tray);
}

// Its pages can be cleared from the tray like saved ones, although its file has more pages.
TEST(TrayEdits, MovingADividerMakesBothDocumentsUnsaved) {
    Tray tray = tray_of("abc|de");
    for (const size_t i : {0U, 1U}) tray = with_document_saved(tray, document_id(tray, i), "/somewhere.pdf");
    for (const size_t to : {2U, 4U}) {
        const Tray moved = with_divider_moved(tray, document_id(tray, 1), to);
        for (const auto& document : moved.documents) EXPECT_EQ(document->saved_as, "") << to;
    }
}

TEST(TrayEdits, ADuplicatedPageHasItsOwnId) {
    const auto page = [](const char* id) { return std::make_shared<const Page>(Page{id}); };
    Page stitched{"s"};
    Page inner{"i"};
    inner.pieces = {page("m"), page("n")};
    stitched.pieces = {page("p"), std::make_shared<const Page>(inner)};
    const Tray tray = with_page_added({}, std::make_shared<const Page>(stitched), true);
    const Tray doubled = with_pages_doubled(tray, {"s"});
    std::vector<std::string> ids;
    const std::function<void(const Page&)> collect = [&](const Page& each) {
        ids.push_back(each.id);
        for (const PagePtr& piece : each.pieces) collect(*piece);
    };
    for (const auto& each : doubled.documents[0]->pages) collect(*each);
    EXPECT_EQ(ids.size(), 10U);
    EXPECT_EQ(std::set<std::string>(ids.begin(), ids.end()).size(), 10U);
}

// Whatever edits are made, in whatever order: the set of pages is the same.
TEST(TrayEdits, RandomEditsLoseAndDuplicateNothing) {
    std::mt19937 random(3);
    Tray tray = tray_of("abcd|efg|h|ijk");
    const auto pick = [&](size_t count) { return static_cast<size_t>(random() % count); };
    for (int i = 0; i < 500; ++i) {
        PageIds ids;
        const auto all = page_ids(tray);
        for (size_t n = 0; n <= pick(3); ++n) ids.insert(all[pick(all.size())]);
        const std::string& document = document_id(tray, pick(tray.documents.size()));
        switch (pick(5)) {
        case 0:
            tray = with_pages_moved(tray, ids, document, pick(6));
            break;
        case 1:
            tray = with_pages_shifted(tray, ids, pick(2) ? 1 : -1);
            break;
        case 2:
            tray = with_pages_apart(tray, ids);
            break;
        case 3:
            tray = with_divider_moved(tray, document, pick(9));
            break;
        default:
            tray = without_divider_at(tray, document);
        }
        auto now = page_ids(tray);
        std::ranges::sort(now);
        ASSERT_EQ(now, (std::vector<std::string>{"a", "b", "c", "d", "e", "f", "g", "h", "i", "j", "k"})) << i;
        for (const auto& each : tray.documents) ASSERT_FALSE(each->pages.empty()) << i;
    }
}

TEST(TrayEdits, NumbersAreReadAsPeopleWriteThem) {
    EXPECT_EQ(numbers_in("1-3, 7", 9), (std::set<int>{1, 2, 3, 7}));
    EXPECT_EQ(numbers_in(" 8 - ", 9), (std::set<int>{8, 9}));
    EXPECT_EQ(numbers_in("-2", 9), (std::set<int>{1, 2}));
    EXPECT_EQ(numbers_in("4", 9), (std::set<int>{4}));
    for (const char* wrong : {"", "x", "3-1", "0", "1;2", "1,,2", "12"}) EXPECT_FALSE(numbers_in(wrong, 9)) << wrong;
}

TEST(Joined, PagesAreJoinedSideBySideOrStackedAtTheHighestResolution) {
    const Raster front{cv::Mat(100, 160, CV_8UC1, cv::Scalar(90)), 150, Ink::Grey};
    const Raster back{cv::Mat(200, 320, CV_8UC3, cv::Scalar(10, 20, 30)), 300, Ink::Colour};
    const Raster beside = joined({front, back}, Joined::Beside);
    EXPECT_EQ(beside.pixels.size(), cv::Size(640, 200));
    EXPECT_EQ(beside.dpi, 300);
    EXPECT_EQ(beside.ink, Ink::Colour);
    EXPECT_EQ(beside.pixels.at<cv::Vec3b>(100, 100), cv::Vec3b(90, 90, 90));
    EXPECT_EQ(beside.pixels.at<cv::Vec3b>(100, 400), cv::Vec3b(10, 20, 30));
    EXPECT_EQ(joined({front, back}, Joined::Above).pixels.size(), cv::Size(320, 400));
    const Raster sheet = joined({front, back}, Joined::OnA4);
    EXPECT_NEAR(sheet.size_mm().width, 210, 0.1);
    EXPECT_NEAR(sheet.size_mm().height, 297, 0.1);
    EXPECT_EQ(sheet.pixels.at<cv::Vec3b>(5, 5), cv::Vec3b(255, 255, 255));
    EXPECT_TRUE(joined({}, Joined::Above).empty());
}

}
}
