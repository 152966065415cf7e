// Saved documents that leave the tray are kept with their originals for some time.
#include "core/tray/tray_store.h"

#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "support/support.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

using std::chrono::days;
using std::chrono::sys_seconds;

class KeptDocuments : public ::testing::Test {
  protected:
    TempFolder folder;
    std::optional<TrayStore> store;
    Tray tray;
    TrayHistory history;
    void SetUp() override { open(); }
    LoadedTray open() {
        store.reset();
        store.emplace(std::move(*TrayStore::open(folder.path())));
        auto loaded = store->load();
        EXPECT_TRUE(loaded);
        return std::move(*loaded);
    }
    PagePtr page(unsigned seed) {
        return std::make_shared<const Page>(
            Page{new_id(), *keep_original(folder.path(), {noisy(90, 130, CV_8UC3, seed), 200, Ink::Colour})});
    }
    // Adds a saved document with so many pages at the end of the tray.
    std::string add_saved(const std::string& file, int pages) {
        for (int i = 0; i < pages; ++i) tray = with_page_added(tray, page(static_cast<unsigned>(next_++)), i == 0);
        const std::string id = tray.documents.back()->id;
        tray = with_document_saved(tray, id, file);
        keep();
        return id;
    }
    void keep() { ASSERT_TRUE(store->keep(tray, &history)); } // without a step that leads back
    void leave(const std::string& id) {
        tray = without_document(tray, id);
        keep();
    }
    bool there(const PagePtr& page) const { return fs::exists(folder / page->original.file); }
    static sys_seconds now() { return std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()); }

  private:
    int next_ = 1;
};

TEST_F(KeptDocuments, ASavedDocumentSurvivesARestartWithItsTextAndCanBeReturned) {
    const std::string id = add_saved("/home/desk/Leases/a.pdf", 2);
    const DocumentPtr saved = tray.documents[0];
    const TextLayer text{{{{{"lock", {1, 2, 3, 4}, 91.5}}, {0, 5}, {9, 6}, 4, 1}}, 90, 130};
    ASSERT_TRUE(store->keep_text(saved->pages[0]->id, {}, "eng", text));
    leave(id);
    for (const PagePtr& each : saved->pages) EXPECT_TRUE(there(each)) << "no step leads back to it";
    const LoadedTray loaded = open();
    EXPECT_EQ(loaded.trouble, "");
    EXPECT_TRUE(loaded.tray.documents.empty()) << "its originals are no pages found again";
    ASSERT_EQ(store->kept_documents().size(), 1U);
    const KeptDocument& kept = store->kept_documents()[0];
    EXPECT_EQ(kept.document->id, id);
    EXPECT_EQ(kept.document->saved_as, "/home/desk/Leases/a.pdf");
    ASSERT_EQ(kept.document->pages.size(), 2U);
    EXPECT_EQ(kept.document->pages[1]->original, saved->pages[1]->original);
    EXPECT_EQ(kept.bytes, fs::file_size(folder / saved->pages[0]->original.file) +
                              fs::file_size(folder / saved->pages[1]->original.file));
    EXPECT_LE(now() - kept.left, std::chrono::minutes(5));
    tray.documents.push_back(kept.document);
    keep();
    EXPECT_TRUE(store->kept_documents().empty());
    EXPECT_EQ(open().tray.documents.size(), 1U);
    EXPECT_TRUE(store->text(saved->pages[0]->id, "eng"));
}

TEST_F(KeptDocuments, UnsavedOrPartlyRemovedDocumentsAreNotKept) {
    const std::string id = add_saved("/home/desk/a.pdf", 1);
    tray = with_page(tray, std::make_shared<const Page>(*tray.documents[0]->pages[0]));
    const PagePtr unsaved = page(70);
    tray = with_page_added(tray, unsaved, true);
    keep();
    leave(tray.documents[1]->id);
    EXPECT_FALSE(there(unsaved));
    // It was joined to the document before it, so its page is still in the tray.
    const std::string other = add_saved("/home/desk/b.pdf", 1);
    const PagePtr moved = tray.documents[1]->pages[0];
    tray = without_divider_at(tray, other);
    keep();
    EXPECT_TRUE(store->kept_documents().empty());
    EXPECT_TRUE(there(moved));
    EXPECT_EQ(tray.documents[0]->id, id);
}

TEST_F(KeptDocuments, AreDeletedByAgeAndSizeWithOnlyUnreferencedOriginals) {
    const std::string first = add_saved("/home/desk/a.pdf", 1), second = add_saved("/home/desk/b.pdf", 1);
    const PagePtr a = tray.documents[0]->pages[0], b = tray.documents[1]->pages[0];
    leave(first);
    history.undo.push_back({tray, "put away"}); // leads back to the second
    leave(second);
    const std::uint64_t bytes = store->kept_documents()[0].bytes + store->kept_documents()[1].bytes;
    const KeepingRule rule{days(30), bytes};
    ASSERT_TRUE(store->delete_expired(rule, now() + days(29)));
    EXPECT_EQ(store->kept_documents().size(), 2U);
    // One byte above the limit: the document that left first is deleted.
    ASSERT_TRUE(store->delete_expired({days(30), bytes - 1}, now()));
    ASSERT_EQ(store->kept_documents().size(), 1U);
    EXPECT_FALSE(there(a));
    EXPECT_TRUE(there(b));
    ASSERT_TRUE(store->delete_expired(rule, now() + days(31)));
    EXPECT_TRUE(store->kept_documents().empty());
    EXPECT_TRUE(there(b)) << "undo leads back to it";
    history.undo.clear();
    keep();
    EXPECT_FALSE(there(b));
    EXPECT_EQ(open().trouble, "");
}

TEST_F(KeptDocuments, TheRuleOfDeletionIsSimple) {
    const sys_seconds start = std::chrono::sys_days(std::chrono::year(2026) / 11 / 1);
    const std::vector<KeptDocument> kept{
        {nullptr, start, 10}, {nullptr, start + days(10), 90}, {nullptr, start + days(20), 10}};
    using Goes = std::vector<bool>;
    EXPECT_EQ(expired_by_rule(kept, {days(30), 110}, start + days(29)), (Goes{false, false, false}));
    EXPECT_EQ(expired_by_rule(kept, {days(30), 110}, start + days(30)), (Goes{true, false, false}));
    EXPECT_EQ(expired_by_rule(kept, {days(30), 109}, start + days(29)), (Goes{true, false, false}));
    EXPECT_EQ(expired_by_rule(kept, {days(30), 50}, start + days(29)), (Goes{true, true, false}))
        << "not the small older one";
    EXPECT_EQ(expired_by_rule(kept, {days(0), 1000}, start + days(20)), (Goes{true, true, true}));
    EXPECT_EQ(expired_by_rule({}, {days(0), 0}, start), Goes{});
}

TEST_F(KeptDocuments, ADamagedListReturnsItsPages) {
    const std::string whole = add_saved("/home/desk/a.pdf", 1), damaged = add_saved("/home/desk/b.pdf", 2);
    const std::vector<PagePtr> pages = tray.documents[1]->pages;
    leave(whole);
    leave(damaged);
    store.reset();
    {
        SQLite::Database database((folder / "tray.sqlite").string(), SQLite::OPEN_READWRITE);
        SQLite::Statement spoil(database, "UPDATE kept_pages SET data = '{' WHERE document = ? AND place = 1");
        spoil.bind(1, damaged);
        spoil.exec();
    }
    const LoadedTray loaded = open();
    EXPECT_NE(loaded.trouble, "");
    ASSERT_EQ(loaded.tray.documents.size(), 1U);
    EXPECT_EQ(loaded.tray.documents[0]->pages.size(), 2U) << "found again";
    for (const PagePtr& each : pages) EXPECT_TRUE(there(each));
    ASSERT_EQ(store->kept_documents().size(), 1U);
    EXPECT_EQ(store->kept_documents()[0].document->id, whole);
    EXPECT_EQ(open().trouble, "");
    EXPECT_EQ(store->kept_documents().size(), 1U);
}

}
}
