// The tray while one call of the file system after the other fails: it is in the state before or after the step.
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"
#include "failing/each_call.h"
#include "jobs/tray_keeper.h"

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

const Executor here_and_now = [](const Task& task) { task(); };

Raster any_page(unsigned seed) { return {noisy(30, 40, CV_8UC1, seed), 200, Ink::Grey}; }

PagePtr page_in(const fs::path& folder, unsigned seed) {
    return std::make_shared<const Page>(Page{new_id(), *keep_original(folder, any_page(seed))});
}

// Two documents of two pages and of one, the latter saved, and an undo step with a fourth page.
void make_tray(const fs::path& base) {
    auto store = TrayStore::open(base / "tray");
    ASSERT_TRUE(store);
    Tray tray = with_page_added({}, page_in(base / "tray", 1), true);
    tray = with_page_added(tray, page_in(base / "tray", 2), false);
    tray = with_page_added(tray, page_in(base / "tray", 3), true);
    tray = with_document_saved(tray, tray.documents[1]->id, "/home/desk/Leases/a.pdf");
    TrayHistory history;
    history.undo.push_back({with_page_added(tray, page_in(base / "tray", 4), false), "scan"});
    ASSERT_TRUE(store->keep(tray, &history));
}

// The tray as the next start finds it.
Result<LoadedTray> loaded(const fs::path& base) {
    auto keeper = TrayKeeper::open(base / "tray", here_and_now, [](const Error&) {});
    if (!keeper) return std::unexpected(keeper.error());
    return (*keeper)->load();
}

void all_pictures_are_there(const Tray& tray, const fs::path& base) {
    for (const DocumentPtr& document : tray.documents)
        for (const PagePtr& page : document->pages) {
            const auto picture = read_original(base / "tray", page->original);
            EXPECT_TRUE(picture) << picture.error().sentence;
        }
}

TEST(EachCall, FailingWhileAStepIsSavedLeavesTheTrayBeforeOrAfterIt) {
    each_call_fails({make_tray,
                     [](const fs::path& base) -> std::optional<Error> {
                         auto store = TrayStore::open(base / "tray");
                         if (!store) return store.error();
                         auto there = store->load();
                         if (!there) return there.error();
                         if (there->tray.documents.size() != 2) return Error{ErrorKind::BadInput, there->trouble, {}};
                         const Tray& before = there->tray;
                         Tray now = with_document_name(before, before.documents[0]->id, "Renamed");
                         now = without_document(now, before.documents[1]->id); // it is kept beside the tray
                         const TrayHistory none;
                         return error_in(store->keep(now, &none));
                     },
                     [](const fs::path& base, bool succeeded) {
                         const auto now = loaded(base);
                         ASSERT_TRUE(now) << now.error().sentence;
                         all_pictures_are_there(now->tray, base);
                         const auto& documents = now->tray.documents;
                         if (!now->trouble.empty()) { // what was set aside is said, and every picture is in the tray
                             EXPECT_FALSE(succeeded);
                             EXPECT_GE(now->tray.page_count(), 3U) << now->trouble;
                             return;
                         }
                         ASSERT_FALSE(documents.empty());
                         const bool is_behind = documents[0]->name == "Renamed";
                         EXPECT_TRUE(is_behind || !succeeded);
                         EXPECT_EQ(documents.size(), is_behind ? 1U : 2U);
                         EXPECT_EQ(documents[0]->pages.size(), 2U);
                         EXPECT_EQ(now->history.undo.size(), is_behind ? 0U : 1U);
                     }});
}

TEST(EachCall, FailingWhileTheTrayIsLoadedLosesNothing) {
    each_call_fails({[](const fs::path& base) {
                         make_tray(base);
                         write_file(base / "tray/half.tif.growing", "half");
                         write_file(base / "tray/no picture.tif", "no picture"); // is set aside
                     },
                     [](const fs::path& base) -> std::optional<Error> { return error_in(loaded(base)); },
                     [](const fs::path& base, bool) {
                         const auto now = loaded(base);
                         ASSERT_TRUE(now) << now.error().sentence;
                         EXPECT_GE(now->tray.page_count(), 3U);
                         all_pictures_are_there(now->tray, base);
                     }});
}

TEST(EachCall, FailingWithADamagedListKeepsEveryPicture) {
    each_call_fails({[](const fs::path& base) {
                         make_tray(base);
                         for (const char* end : {"-wal", "-shm"})
                             fs::remove(base / ("tray/tray.sqlite" + std::string(end)));
                         write_file(base / "tray/tray.sqlite", std::string(3000, 'x'));
                     },
                     [](const fs::path& base) -> std::optional<Error> { return error_in(loaded(base)); },
                     [](const fs::path& base, bool) {
                         const auto now = loaded(base);
                         ASSERT_TRUE(now) << now.error().sentence;
                         EXPECT_EQ(now->tray.page_count(), 4U) << "each picture, the one of the step too";
                         all_pictures_are_there(now->tray, base);
                     }});
}

TEST(EachCall, FailingWhileAPageIsSavedLeavesNoIncompleteFile) {
    each_call_fails(
        {[](const fs::path& base) { fs::create_directory(base / "tray"); },
         [](const fs::path& base) -> std::optional<Error> {
             const Raster wide{noisy(20, large_width_px, CV_8UC1, 1), 1200, Ink::Grey}; // with coarse copies
             const auto kept = keep_original(base / "tray", wide);
             if (!kept) return kept.error();
             const auto coarse = read_coarse(base / "tray", *kept, 4);
             if (!coarse) return coarse.error();
             return error_in(read_original(base / "tray", *kept));
         },
         [](const fs::path& base, bool succeeded) {
             int whole = 0;
             for (const auto& each : fs::directory_iterator(base / "tray")) {
                 if (each.path().extension() != ".tif") continue;
                 ++whole;
                 EXPECT_TRUE(read_own_tiff(each.path())) << each.path();
             }
             EXPECT_TRUE(whole == 1 || !succeeded);
             const auto now = loaded(base);
             ASSERT_TRUE(now) << now.error().sentence;
             EXPECT_EQ(now->tray.page_count(), static_cast<size_t>(whole));
         }});
}

TEST(EachCall, FailingInKeptDocumentsLeavesEachCompleteOrRemoved) {
    const auto later =
        std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()) + std::chrono::days(99);
    each_call_fails({[](const fs::path& base) {
                         make_tray(base);
                         auto store = TrayStore::open(base / "tray");
                         const auto there = store->load();
                         const TrayHistory none;
                         ASSERT_TRUE(store->keep(without_document(there->tray, there->tray.documents[1]->id), &none));
                     },
                     [later](const fs::path& base) -> std::optional<Error> {
                         auto store = TrayStore::open(base / "tray");
                         if (!store) return store.error();
                         if (const auto there = store->load(); !there || !there->trouble.empty())
                             return there ? Error{ErrorKind::BadInput, there->trouble, {}} : there.error();
                         (void)store->text("no page", "eng");
                         (void)store->read_pages();
                         return error_in(store->delete_expired({}, later));
                     },
                     [](const fs::path& base, bool succeeded) {
                         auto store = TrayStore::open(base / "tray");
                         ASSERT_TRUE(store);
                         const auto there = store->load();
                         ASSERT_TRUE(there);
                         all_pictures_are_there(there->tray, base);
                         if (!there->trouble.empty()) return;
                         EXPECT_LE(store->kept_documents().size(), succeeded ? 0U : 1U);
                         for (const KeptDocument& each : store->kept_documents())
                             for (const PagePtr& page : each.document->pages)
                                 EXPECT_TRUE(read_original(base / "tray", page->original));
                     }});
}

}
}
