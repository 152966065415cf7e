#include "core/storage/new_id.h"
#include "core/tray/tray.h"
#include "core/tray/tray_edits.h"

#include <gtest/gtest.h>

#include <random>
#include <set>

namespace yelvin::test {
namespace {

PagePtr page(const std::string& id) {
    return std::make_shared<const Page>(Page{id, {id + ".tif", 100, 200, 300, Ink::Grey}, false, {}, {}, false});
}

// The ids, with documents divided by bars: "a b|c".
std::string shape(const Tray& tray) {
    std::string out;
    for (const auto& document : tray.documents) {
        if (!out.empty()) out += "|";
        for (const auto& each : document->pages) out += (each == document->pages.front() ? "" : " ") + each->id;
    }
    return out;
}

Tray tray_of(const std::string& text) {
    Tray tray;
    bool starts = true;
    for (const char c : text) {
        if (c == '|')
            starts = true;
        else if (c != ' ') {
            tray = with_page_added(tray, page(std::string(1, c)), starts);
            starts = false;
        }
    }
    return tray;
}

TEST(Tray, EditsReturnANewTrayAndKeepTheOldOne) {
    const Tray before = tray_of("abc|de");
    EXPECT_EQ(shape(with_page_added(before, page("f"), false)), "a b c|d e f");
    EXPECT_EQ(shape(with_page_added(before, page("f"), true)), "a b c|d e|f");
    EXPECT_EQ(shape(without_pages(before, {"b"})), "a c|d e");
    EXPECT_EQ(shape(without_pages(without_pages(before, {"d"}), {"e"})), "a b c") << "an empty document goes";
    EXPECT_EQ(shape(with_divider_at(before, "b")), "a|b c|d e");
    EXPECT_EQ(shape(with_divider_at(before, "a")), "a b c|d e") << "there is one already";
    EXPECT_EQ(shape(without_divider_at(before, before.documents[1]->id)), "a b c d e");
    EXPECT_EQ(shape(without_divider_at(before, before.documents[0]->id)), "a b c|d e");
    EXPECT_EQ(shape(without_document(before, before.documents[0]->id)), "d e");
    EXPECT_EQ(shape(without_pages(before, {"nobody"})), "a b c|d e");
    EXPECT_EQ(shape(before), "a b c|d e");
}

TEST(Tray, PagesMoveWithinAndBetweenDocuments) {
    const Tray tray = tray_of("abc|d");
    const std::string first = tray.documents[0]->id, second = tray.documents[1]->id;
    EXPECT_EQ(shape(with_pages_moved(tray, {"a"}, first, 3)), "b c a|d");
    EXPECT_EQ(shape(with_pages_moved(tray, {"a"}, first, 2)), "b a c|d");
    EXPECT_EQ(shape(with_pages_moved(tray, {"a"}, first, 0)), "a b c|d");
    EXPECT_EQ(shape(with_pages_moved(tray, {"c"}, first, 0)), "c a b|d");
    EXPECT_EQ(shape(with_pages_moved(tray, {"b"}, second, 0)), "a c|b d");
    EXPECT_EQ(shape(with_pages_moved(tray, {"b"}, second, 99)), "a c|d b");
    EXPECT_EQ(shape(with_pages_moved(tray, {"d"}, first, 1)), "a d b c") << "the emptied document goes";
    EXPECT_EQ(shape(with_pages_moved(tray, {"d"}, second, 1)), "a b c|d");
}

TEST(Tray, EditsKeepEveryPageExactlyOnce) {
    std::mt19937 random(11);
    Tray tray = tray_of("abcd|efg|h|ij");
    for (int i = 0; i < 400; ++i) {
        const std::string id(1, static_cast<char>('a' + random() % 10));
        const std::string document = tray.documents[random() % tray.documents.size()]->id;
        switch (random() % 3) {
        case 0:
            tray = with_pages_moved(tray, {id}, document, random() % 6);
            break;
        case 1:
            tray = with_divider_at(tray, id);
            break;
        default:
            tray = without_divider_at(tray, document);
        }
        std::set<std::string> ids;
        for (const auto& each : tray.documents) {
            ASSERT_FALSE(each->pages.empty());
            for (const auto& p : each->pages) ids.insert(p->id);
        }
        ASSERT_EQ(ids.size(), 10U);
        ASSERT_EQ(tray.page_count(), 10U);
    }
}

TEST(Tray, ChangingADocumentMakesItUnsaved) {
    Tray tray = tray_of("ab|c");
    const std::string id = tray.documents[0]->id;
    tray = with_document_saved(tray, id, "/somewhere/lease.pdf");
    EXPECT_EQ(tray.documents[0]->saved_as, "/somewhere/lease.pdf");
    Page turned_page = *page_at(tray, "a");
    turned_page.recipe.turn_degrees = 90;
    EXPECT_TRUE(with_page(tray, std::make_shared<const Page>(turned_page)).documents[0]->saved_as.empty());
    EXPECT_TRUE(without_pages(tray, {"a"}).documents[0]->saved_as.empty());
    EXPECT_TRUE(with_pages_moved(tray, {"c"}, id, 0).documents[0]->saved_as.empty());
    Page looked_at = *page_at(tray, "a");
    looked_at.noticed = true;
    EXPECT_FALSE(with_page(tray, std::make_shared<const Page>(looked_at)).documents[0]->saved_as.empty())
        << "looking changes nothing";
    EXPECT_EQ(with_document_name(tray, id, "Lease").documents[0]->name, "Lease");
}

TEST(Tray, IdsAreUnique) {
    std::set<std::string> ids;
    for (int i = 0; i < 1000; ++i) ids.insert(new_id());
    EXPECT_EQ(ids.size(), 1000U);
}

}
}
