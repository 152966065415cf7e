// Stores with any kind of damage: the program starts, every picture that existed still exists, and what was set aside
// is reported.
#include "core/saving/safe_file.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"
#include "support/support.h"
#include "support/trials.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <map>
#include <random>
#include <set>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

Raster any_page(unsigned seed) { return {noisy(60, 90, CV_8UC1, seed), 200, Ink::Grey}; }

// Six pages in three documents, one of them stitched from three pieces; undo steps with two removed pages; OCR results.
class DamagedStore : public testing::Test {
  protected:
    TempFolder base_;
    const fs::path whole_ = base_ / "whole";
    Tray tray_;
    TrayHistory history_;

    PagePtr page(unsigned seed) const {
        return std::make_shared<const Page>(Page{new_id(), *keep_original(whole_, any_page(seed)), true});
    }

    void SetUp() override {
        auto store = TrayStore::open(whole_);
        ASSERT_TRUE(store) << store.error().sentence;
        for (unsigned i = 0; i < 7; ++i) step(with_page_added(tray_, page(i), i % 2 == 0), "scan");
        Page stitched = *page(20);
        for (unsigned i = 0; i < 3; ++i) stitched.pieces.push_back(page(30 + i));
        step(with_page_added(tray_, std::make_shared<const Page>(stitched), false), "stitch");
        step(without_pages(tray_, {tray_.documents[0]->pages[0]->id}), "remove page");
        step(without_pages(tray_, {tray_.documents[1]->pages[0]->id}), "remove page");
        ASSERT_TRUE(store->keep(tray_, &history_));
        const Page& read = *tray_.documents[0]->pages[0];
        ASSERT_TRUE(store->keep_text(read.id, read.recipe, "eng", {{{{{"lock", {1, 2, 3, 4}, 91}}}}, 60, 90}));
    }
    void step(const Tray& next, const char* name) {
        history_.undo.push_back({tray_, name});
        tray_ = next;
    }

    // A copy of the store with `damage` applied.
    fs::path damaged(const std::string& name, const std::function<void(const fs::path&)>& damage) const {
        fs::path store = base_ / name / "tray";
        fs::create_directories(store.parent_path());
        fs::copy(whole_, store, fs::copy_options::recursive | fs::copy_options::copy_symlinks);
        damage(store);
        return store;
    }

    // Returns the contents of all files whose names end in .tif, in the store and beside it, as often as they exist.
    static std::multiset<std::string> pictures_in(const fs::path& folder) {
        std::multiset<std::string> contents;
        for (const auto& entry : fs::recursive_directory_iterator(folder)) {
            if (entry.is_regular_file() && entry.path().extension() == ".tif") contents.insert(read_file(entry.path()));
        }
        return contents;
    }

    static Result<TrayStore> opened(const fs::path& store) {
        auto open = TrayStore::open(store);
        if (!open && open.error().kind == ErrorKind::BadInput) open = TrayStore::open_afresh(store);
        return open;
    }

    // Starts with the store, makes a step and starts again. Returns what the first start reported.
    static LoadedTray started(const fs::path& store) {
        const auto before = pictures_in(store.parent_path());
        LoadedTray first;
        {
            auto open = opened(store);
            EXPECT_TRUE(open) << open.error().sentence;
            if (!open) return first;
            auto loaded = open->load();
            EXPECT_TRUE(loaded) << loaded.error().sentence;
            if (!loaded) return first;
            first = std::move(*loaded);
            EXPECT_EQ(pictures_in(store.parent_path()), before) << "the start deletes nothing";
            for (const DocumentPtr& document : first.tray.documents) {
                for (const PagePtr& each : document->pages)
                    EXPECT_TRUE(own_tiff_header(store / each->original.file)) << "every page has its picture";
            }
            if (!first.set_aside.empty()) {
                EXPECT_TRUE(fs::is_directory(first.set_aside));
                EXPECT_NE(first.trouble.find(first.set_aside.string()), std::string::npos) << first.trouble;
            }
            auto history = first.history;
            history.undo.push_back({first.tray, "add files"});
            const Tray more = with_page_added(
                first.tray, std::make_shared<const Page>(Page{new_id(), *keep_original(store, any_page(99))}), true);
            EXPECT_TRUE(open->keep(more, &history));
        }
        const auto open = opened(store);
        EXPECT_TRUE(open);
        const auto again = TrayStore(std::move(*opened(store))).load();
        EXPECT_TRUE(again);
        if (!again) return first;
        EXPECT_EQ(again->trouble, "") << "said once: what can be read was kept anew";
        EXPECT_EQ(again->tray.page_count(), first.tray.page_count() + 1);
        const auto after = pictures_in(store.parent_path());
        EXPECT_TRUE(std::ranges::includes(after, before)) << "nor does the first step";
        return first;
    }

    static void run_sql(const fs::path& store, const std::string& sql) {
        SQLite::Database(store / "tray.sqlite", SQLite::OPEN_READWRITE).exec(sql);
    }
    fs::path original_of(const fs::path& store, const Page& of) const { return store / of.original.file; }
};

TEST_F(DamagedStore, AnIntactStoreReportsNothing) {
    const LoadedTray loaded = started(damaged("copy", [](const fs::path&) {}));
    EXPECT_EQ(loaded.trouble, "");
    EXPECT_EQ(page_ids(loaded.tray), page_ids(tray_));
    EXPECT_EQ(loaded.history.undo.size(), history_.undo.size());
}

TEST_F(DamagedStore, AnInvalidListIsMovedAsideAndThePagesAreRecovered) {
    const auto garbage = damaged("garbage", [](const fs::path& store) {
        write_file(store / "tray.sqlite", std::string(5000, 'g'));
        fs::remove(store / "tray.sqlite-wal");
    });
    const LoadedTray loaded = started(garbage);
    EXPECT_NE(loaded.trouble.find("the list was damaged"), std::string::npos) << loaded.trouble;
    EXPECT_EQ(loaded.tray.page_count(), 11U) << "all pictures, of whatever step";
    EXPECT_EQ(read_file(loaded.set_aside / "tray.sqlite"), std::string(5000, 'g')) << "untouched";
    EXPECT_EQ(
        started(damaged("gone", [](const fs::path& store) { fs::remove(store / "tray.sqlite"); })).tray.page_count(),
        11U);
}

TEST_F(DamagedStore, InvalidRowsAffectNoOthers) {
    const std::string deep = "{\"original\":" + std::string(30'000, '[') + std::string(30'000, ']') + "}";
    const std::string id = tray_.documents[0]->pages[0]->id;
    const auto with_original = [](const std::string& original) {
        return "UPDATE pages SET data = json_set(data, " + original + ") WHERE place = 0";
    };
    for (const std::string& sql :
         {std::string("UPDATE pages SET data = 5 WHERE place = 0"),
          std::string("UPDATE pages SET data = x'00ff'"),
          std::string("UPDATE pages SET data = NULL; DELETE FROM states"),
          with_original("'$.original.width', 2000000000"),
          with_original("'$.original.height', 'tall'"),
          with_original("'$.original.file', '../../etc/passwd'"),
          with_original("'$.original.ink', 77"),
          with_original("'$.original.file', '" + std::string(300, 'n') + ".tif'"),
          with_original("'$.recipe.crop', 3"),
          "UPDATE pages SET data = '" + deep + "' WHERE id = '" + id + "'",
          std::string("UPDATE pages SET document = 'nowhere'"),
          std::string("DELETE FROM documents"),
          std::string("UPDATE documents SET id = place"),
          std::string("DELETE FROM steps WHERE place = 3"),
          std::string("UPDATE steps SET documents = '[[1]]'; UPDATE pages SET data = '{}' WHERE place = 1"),
          std::string("DELETE FROM states WHERE id % 2"),
          std::string("UPDATE states SET data = 'x' WHERE id = 2"),
          std::string("INSERT INTO going VALUES ('../whole/x.tif')"),
          std::string("DROP TABLE states"),
          std::string("DROP TABLE pages")}) {
        SCOPED_TRACE(sql.substr(0, 90));
        static int number = 0;
        const LoadedTray loaded =
            started(damaged("rows" + std::to_string(++number), [&](const fs::path& store) { run_sql(store, sql); }));
        EXPECT_NE(loaded.trouble, "");
        EXPECT_GE(loaded.tray.page_count(), tray_.page_count());
    }
}

TEST_F(DamagedStore, MissingOrIncompletePicturesAffectNoOthers) {
    const Page& stitched = *tray_.documents.back()->pages.back();
    ASSERT_EQ(stitched.pieces.size(), 3U);
    const LoadedTray gone =
        started(damaged("gone", [&](const fs::path& store) { fs::remove(original_of(store, stitched)); }));
    EXPECT_EQ(gone.tray.page_count(), tray_.page_count() + 2) << "its three pieces stand in its place";
    EXPECT_NE(gone.trouble.find("is missing"), std::string::npos) << gone.trouble;

    const Page& plain = *tray_.documents[0]->pages[0];
    fs::path cut_file;
    const LoadedTray cut = started(damaged("cut", [&](const fs::path& store) {
        cut_file = original_of(store, plain);
        fs::resize_file(cut_file, fs::file_size(cut_file) / 2);
        write_file(store / "foreign.tif", "no picture at all");
        fs::create_symlink("/nowhere", store / "dangling.tif");
    }));
    EXPECT_NE(cut.trouble.find("files are incomplete"), std::string::npos) << cut.trouble;
    EXPECT_FALSE(page_at(cut.tray, plain.id));
    EXPECT_TRUE(fs::exists(cut.set_aside / plain.original.file));
    EXPECT_TRUE(fs::exists(cut.set_aside / "foreign.tif"));
    EXPECT_TRUE(fs::is_symlink(cut.set_aside / "dangling.tif"));
}

TEST_F(DamagedStore, AStoreThatCannotBeOpenedIsNotChanged) {
    const auto newer = damaged("newer", [](const fs::path& store) { run_sql(store, "PRAGMA user_version = 99"); });
    const std::string before = read_file(newer / "tray.sqlite");
    const auto refused = TrayStore::open(newer);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().kind, ErrorKind::Unsupported);
    EXPECT_NE(refused.error().sentence.find("newer version of Yelvin"), std::string::npos);
    EXPECT_EQ(read_file(newer / "tray.sqlite"), before);
    const auto folder = damaged("folder", [](const fs::path& store) {
        fs::remove(store / "tray.sqlite");
        fs::create_directories(store / "tray.sqlite");
    });
    const auto not_a_file = TrayStore::open(folder);
    ASSERT_FALSE(not_a_file);
    EXPECT_EQ(not_a_file.error().kind, ErrorKind::NotWritable);
    EXPECT_EQ(pictures_in(folder).size(), 11U);
}

TEST_F(DamagedStore, NoDamageLosesAPicture) {
    std::mt19937 random(411);
    const int all = trials(60);
    int said = 0;
    for (int i = 0; i < all; ++i) {
        SCOPED_TRACE(i);
        const auto store = damaged("trial" + std::to_string(i), [&](const fs::path& in) {
            run_sql(in, "PRAGMA wal_checkpoint(TRUNCATE)");
            std::vector<fs::path> pictures;
            for (const auto& entry : fs::directory_iterator(in)) {
                if (entry.path().extension() == ".tif") pictures.push_back(entry.path());
            }
            std::ranges::sort(pictures);
            for (unsigned blow = 0; blow <= random() % 3; ++blow) {
                const auto kind = random() % 6;
                const fs::path file = kind < 4 ? in / "tray.sqlite" : pictures[random() % pictures.size()];
                std::string bytes = read_file(file);
                if (bytes.empty()) continue;
                switch (kind) {
                case 0: // bits
                case 4:
                    for (unsigned bit = 0; bit <= random() % 20; ++bit)
                        bytes[random() % bytes.size()] ^= static_cast<char>(1U << random() % 8);
                    break;
                case 1: // a page of the database
                    for (size_t at = random() % (bytes.size() / 4096 + 1) * 4096,
                                end = std::min(bytes.size(), at + 4096);
                         at < end; ++at)
                        bytes[at] = 0;
                    break;
                case 2: // a part
                    for (size_t at = random() % bytes.size(), end = std::min(bytes.size(), at + 600); at < end; ++at)
                        bytes[at] = static_cast<char>(random());
                    break;
                default: // the end
                    bytes.resize(random() % bytes.size());
                }
                write_file(file, bytes);
            }
        });
        said += !started(store).trouble.empty();
        fs::remove_all(store.parent_path());
    }
    EXPECT_GT(said, all / 3) << "the blows hit something";
}

}
}
