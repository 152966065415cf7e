#include "core/storage/set_aside.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"

#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "jobs/capture.h"
#include "support/support.h"
#include "support/trials.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <opencv2/imgproc.hpp>

#include <sys/wait.h>
#include <unistd.h>

#include <chrono>
#include <csignal>
#include <random>
#include <set>
#include <thread>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

Raster any_page(unsigned seed) { return {noisy(90, 130, CV_8UC3, seed), 200, Ink::Colour}; }
PagePtr page_in(const TempFolder& folder, unsigned seed) {
    return std::make_shared<const Page>(Page{new_id(), *keep_original(folder.path(), any_page(seed))});
}

TEST(TrayStore, SavesDocumentsPagesAndTheirNotices) {
    const TempFolder folder;
    Tray tray;
    {
        auto store = TrayStore::open(folder.path());
        ASSERT_TRUE(store) << store.error().sentence;
        Page page{new_id(), *keep_original(folder.path(), any_page(1)), true, {}, {}, true};
        page.notices.tilt_degrees = -2.25;
        page.notices.tilt_by_text = true;
        page.notices.turn_degrees = 270;
        page.notices.ink = {Ink::Black, 1.5, 0.25, 3.5};
        page.notices.kind = PageKind::Mixed;
        page.notices.regions = {{10, 20, 30, 40, -5}};
        page.recipe = {270, RectMm{1, 2, 3, 4}, -2.25, Ink::Grey};
        tray = with_page_added(tray, std::make_shared<const Page>(page), true);
        tray = with_page_added(tray,
                               std::make_shared<const Page>(
                                   Page{new_id(), *keep_original(folder.path(), any_page(2)), false, {}, {}, false}),
                               true);
        tray = with_document_name(tray, tray.documents[1]->id, "Größe \"quoted\"; DROP TABLE pages");
        ASSERT_TRUE(store->keep(tray));
        const TextLayer text{{{{{"lock", {1, 2, 3, 4}, 91.5}}, {0, 5}, {9, 6}, 4, 1}}, 90, 130};
        ASSERT_TRUE(store->keep_text(page.id, page.recipe, "eng", text));
        const auto reading = store->text(page.id, "eng");
        ASSERT_TRUE(reading);
        EXPECT_EQ(reading->layer, text);
        EXPECT_EQ(reading->read_as, page.recipe);
        EXPECT_FALSE(store->text(page.id, "deu"));
    }
    auto store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "");
    const Tray* back = &loaded->tray;
    ASSERT_EQ(back->documents.size(), 2U);
    EXPECT_EQ(back->documents[1]->name, "Größe \"quoted\"; DROP TABLE pages");
    const Page& before = *tray.documents[0]->pages[0];
    const Page& after = *back->documents[0]->pages[0];
    EXPECT_EQ(after.id, before.id);
    EXPECT_EQ(after.original, before.original);
    EXPECT_EQ(after.recipe, before.recipe);
    EXPECT_EQ(after.notices.tilt_degrees, -2.25);
    EXPECT_EQ(after.notices.turn_degrees, 270);
    EXPECT_EQ(after.notices.ink.least, Ink::Black);
    EXPECT_EQ(after.notices.kind, PageKind::Mixed);
    EXPECT_EQ(after.notices.regions, before.notices.regions);
    EXPECT_TRUE(after.recipe_touched);
    const auto pixels = read_original(folder.path(), after.original);
    ASSERT_TRUE(pixels);
    EXPECT_EQ(cv::norm(pixels->pixels, any_page(1).pixels, cv::NORM_INF), 0);
}

TEST(TrayStore, AddsOriginalsThatHaveNoRow) {
    const TempFolder folder;
    ASSERT_TRUE(TrayStore::open(folder.path()));
    ASSERT_TRUE(keep_original(folder.path(), any_page(1)));
    ASSERT_TRUE(keep_original(folder.path(), any_page(2)));
    {
        auto half = OriginalWriter::begin(folder.path(), 90, 200, Ink::Colour);
        ASSERT_TRUE(half->append(any_page(3).pixels.rowRange(0, 70)));
        // Destroyed without finish(), as when a scan is stopped.
    }
    write_file(folder / "deadbeef.tif.growing", "half a page from a crash");
    auto store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "") << "as after any crash";
    EXPECT_EQ(loaded->tray.page_count(), 2U);
    EXPECT_EQ(loaded->tray.documents.size(), 1U);
    for (const std::string& name : folder.files()) EXPECT_EQ(name.find(".growing"), std::string::npos) << name;
}

TEST(TrayStore, OriginalsAreDeletedOnlyWithTheStepThatReleasesThem) {
    const TempFolder folder;
    auto store = TrayStore::open(folder.path());
    Tray tray = with_page_added({}, page_in(folder, 1), true);
    const Tray both = with_page_added(tray, page_in(folder, 2), false);
    const auto originals = [&] {
        return std::ranges::count_if(folder.files(), [](const std::string& name) { return name.ends_with(".tif"); });
    };
    const TrayHistory leads_back{{{both, "remove page"}}, {}}, forgotten;
    ASSERT_TRUE(store->keep(both, &forgotten));
    ASSERT_TRUE(store->keep(tray, &leads_back));
    EXPECT_EQ(originals(), 2) << "undo still needs it";
    ASSERT_TRUE(store->keep(tray));
    EXPECT_EQ(originals(), 2) << "without a history nothing goes";
    // A new start deletes nothing either; the file is deleted with the first step that drops it from the undo history.
    store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "");
    EXPECT_EQ(originals(), 2);
    ASSERT_TRUE(store->keep(loaded->tray, &forgotten));
    EXPECT_EQ(originals(), 1);
    EXPECT_EQ(TrayStore::open(folder.path())->load()->tray.page_count(), 1U) << "and does not come back";
}

TEST(TrayStore, PiecesStayWithTheirStitchedPage) {
    const TempFolder folder;
    Tray tray;
    std::vector<PagePtr> pieces;
    {
        auto store = TrayStore::open(folder.path());
        ASSERT_TRUE(store);
        for (unsigned i = 0; i < 3; ++i) {
            Page piece{new_id(), *keep_original(folder.path(), any_page(i)), true};
            piece.recipe.turn_degrees = 90;
            pieces.push_back(std::make_shared<const Page>(piece));
        }
        Page picture{new_id(), *keep_original(folder.path(), any_page(9))};
        picture.pieces = pieces;
        tray = with_page_added(tray, std::make_shared<const Page>(picture), true);
        ASSERT_TRUE(store->keep(tray));
    }
    auto store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "");
    const Tray* back = &loaded->tray;
    ASSERT_EQ(back->page_count(), 1U) << "pieces are no pages of their own";
    const Page& picture = *back->documents[0]->pages[0];
    ASSERT_EQ(picture.pieces.size(), 3U);
    for (size_t i = 0; i < 3; ++i) {
        EXPECT_EQ(picture.pieces[i]->id, pieces[i]->id);
        EXPECT_EQ(picture.pieces[i]->recipe, pieces[i]->recipe);
        EXPECT_TRUE(read_original(folder.path(), picture.pieces[i]->original));
    }
    // After being taken out they are pages again, in place of the stitched one.
    const Tray out = with_pieces_taken_out(*back, picture.id);
    EXPECT_EQ(out.page_count(), 3U);
    EXPECT_EQ(out.documents[0]->pages[1]->id, pieces[1]->id);
    EXPECT_EQ(with_pieces_taken_out(out, pieces[0]->id), out) << "it has none";
    const TrayHistory nothing;
    ASSERT_TRUE(store->keep(out, &nothing));
    EXPECT_FALSE(read_original(folder.path(), picture.original)) << "only the picture is gone";
}

TEST(TrayStore, TheHistorySavesEachStateOfAPageOnce) {
    const TempFolder folder;
    auto store = TrayStore::open(folder.path());
    Tray tray;
    for (unsigned i = 0; i < 3; ++i)
        tray = with_page_added(
            tray, std::make_shared<const Page>(Page{new_id(), *keep_original(folder.path(), any_page(i))}), i == 2);
    TrayHistory history;
    for (int i = 0; i < 130; ++i) {
        history.undo.push_back({tray, "tilt " + std::to_string(i)});
        tray = with_changed(tray, {tray.documents[0]->pages[1]->id},
                            [&](Page& page) { page.recipe.tilt_degrees = 0.1 * (i + 1); });
    }
    history.redo.push_back({without_pages(tray, {tray.documents[1]->pages[0]->id}), "remove page"});
    ASSERT_TRUE(store->keep(tray, &history));
    ASSERT_TRUE(store->keep(tray)) << "the history stays as it is";

    auto again = TrayStore::open(folder.path());
    const auto loaded = again->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "");
    const TrayHistory& back = loaded->history;
    ASSERT_EQ(back.undo.size(), most_steps);
    EXPECT_EQ(back.undo.back().name, "tilt 129");
    ASSERT_EQ(back.redo.size(), 1U);
    EXPECT_EQ(back.redo[0].tray.documents.size(), 1U);
    const auto recipe_at = [&](size_t step) { return back.undo[step].tray.documents[0]->pages[1]->recipe; };
    EXPECT_NEAR(recipe_at(most_steps - 1).tilt_degrees, 12.9, 1e-9);
    EXPECT_NEAR(recipe_at(0).tilt_degrees, 3.0, 1e-9);
    EXPECT_EQ(back.undo[3].tray.documents[1]->pages[0], back.undo[9].tray.documents[1]->pages[0])
        << "the same state, shared";
    EXPECT_LT(std::filesystem::file_size(folder / "tray.sqlite"), 600'000U);
    ASSERT_TRUE(again->keep(tray, &back));
    EXPECT_EQ(TrayStore::open(folder.path())->load()->history.undo.size(), most_steps);
}

// The coarse copies of a wide page are written while it arrives. If they are lost, they are made again, equal in every
// pixel.
TEST(TrayStore, LargeOriginalsHaveCoarseCopiesAndRowsAreReadSeparately) {
    const TempFolder folder;
    const Raster page{noisy(6400, 1203, CV_8UC3, 8), 1200, Ink::Colour};
    auto writer = OriginalWriter::begin(folder.path(), page.width_px(), page.dpi, page.ink);
    ASSERT_TRUE(writer);
    for (int top = 0; top < page.height_px(); top += 77)
        ASSERT_TRUE(writer->append(page.pixels.rowRange(top, std::min(page.height_px(), top + 77))));
    const auto original = writer->finish();
    ASSERT_TRUE(original);
    EXPECT_TRUE(is_large(*original));
    const auto quarter = read_coarse(folder.path(), *original, 4);
    ASSERT_TRUE(quarter);
    EXPECT_EQ(quarter->pixels.size(), cv::Size(1600, 300));
    EXPECT_EQ(quarter->dpi, 300);
    cv::Mat expected;
    cv::resize(page.pixels.rowRange(0, 1200), expected, {1600, 300}, 0, 0, cv::INTER_AREA);
    EXPECT_LE(cv::norm(quarter->pixels, expected, cv::NORM_INF), 1); // a half is rounded one way or the other
    std::filesystem::remove(coarse_file(folder.path(), *original, 4));
    const auto anew = read_coarse(folder.path(), *original, 4);
    ASSERT_TRUE(anew);
    EXPECT_EQ(cv::norm(anew->pixels, quarter->pixels, cv::NORM_INF), 0);
    for (const auto& [first, count] : {std::pair(0, 5), {70, 300}, {1190, 900}}) {
        const auto rows = read_own_tiff_rows(folder / original->file, first, count);
        ASSERT_TRUE(rows);
        const int end = std::min(1203, first + count);
        ASSERT_EQ(rows->height_px(), end - first);
        EXPECT_EQ(cv::norm(rows->pixels, page.pixels.rowRange(first, end), cv::NORM_INF), 0);
    }
    TrayStore::open(folder.path())->discard(*original);
    EXPECT_FALSE(std::filesystem::exists(folder / original->file));
    EXPECT_FALSE(std::filesystem::exists(coarse_file(folder.path(), *original, 16)));
}

TEST(TrayStore, ReportsAnUnusableFolder) {
    const TempFolder folder;
    write_file(folder / "file", "x");
    const auto store = TrayStore::open(folder / "file/tray");
    ASSERT_FALSE(store);
    EXPECT_NE(store.error().sentence.find("file/tray"), std::string::npos);
}

// A child process scans page after page until it is killed at a random moment. Everything that it reported as complete
// exists afterwards, and nothing partial.
TEST(TrayStore, SurvivesBeingKilled) {
    std::mt19937 random(2026);
    for (int round = 0; round < trials(10); ++round) {
        const TempFolder folder;
        int ends[2];
        ASSERT_EQ(pipe(ends), 0);
        const pid_t child = fork();
        if (child == 0) {
            close(ends[0]);
            auto store = TrayStore::open(folder.path());
            Tray tray;
            for (unsigned n = 0;; ++n) {
                CaptureSink sink(folder.path());
                sink.on_page = [&](const Captured& captured) {
                    const char whole = 'p'; // reported only now: the page is on disk
                    if (write(ends[1], &whole, 1) != 1) _exit(1);
                    tray = with_page_added(tray, std::make_shared<const Page>(Page{new_id(), captured.original}),
                                           n % 3 == 0);
                    if (!store->keep(tray)) _exit(1);
                };
                const Raster page = any_page(n);
                if (!sink.begin_page({90, 130, 200, Ink::Colour})) _exit(1);
                for (int y = 0; y < 130; y += 10) {
                    if (!sink.strip(page.pixels.rowRange(y, y + 10))) _exit(1);
                }
                if (!sink.end_page()) _exit(1);
            }
        }
        close(ends[1]);
        size_t complete = 0;
        char byte = 0;
        const size_t until = 1 + random() % 12;
        while (complete < until && read(ends[0], &byte, 1) == 1) ++complete;
        std::this_thread::sleep_for(
            std::chrono::microseconds(random() % 4000)); // the moment itself, not a wait for anything
        kill(child, SIGKILL);
        while (read(ends[0], &byte, 1) == 1) ++complete;
        close(ends[0]);
        waitpid(child, nullptr, 0);

        auto store = TrayStore::open(folder.path());
        ASSERT_TRUE(store);
        const auto loaded = store->load();
        ASSERT_TRUE(loaded);
        EXPECT_EQ(loaded->trouble, "");
        EXPECT_GE(loaded->tray.page_count(), complete);
        EXPECT_LE(loaded->tray.page_count(), complete + 1) << "one may have been complete and not yet reported";
        for (const auto& document : loaded->tray.documents) {
            for (const auto& page : document->pages) {
                const auto raster = read_original(folder.path(), page->original);
                ASSERT_TRUE(raster);
                EXPECT_EQ(raster->pixels.size(), cv::Size(90, 130)) << "no half page";
            }
        }
    }
}

// A row that is written again gets a new number, which shows what was written.
TEST(TrayStore, WritesOnlyWhatChanged) {
    const TempFolder folder;
    auto store = TrayStore::open(folder.path());
    ASSERT_TRUE(store) << store.error().sentence;
    Tray tray;
    for (unsigned i = 0; i < 6; ++i) tray = with_page_added(tray, page_in(folder, i), i % 3 == 0);
    TrayHistory history;
    history.undo.push_back({Tray{}, "scan"});
    ASSERT_TRUE(store->keep(tray, &history));
    const auto rows = [&](const char* table) {
        SQLite::Database database((folder / "tray.sqlite").string(), SQLite::OPEN_READONLY, 1000);
        SQLite::Statement row(database, std::string("SELECT rowid FROM ") + table + " ORDER BY rowid");
        std::set<std::int64_t> numbers;
        while (row.executeStep()) numbers.insert(row.getColumn(0).getInt64());
        return numbers;
    };
    const auto written = [](const std::set<std::int64_t>& before, const std::set<std::int64_t>& now) {
        return std::ranges::count_if(now, [&](std::int64_t row) { return !before.contains(row); });
    };
    auto pages = rows("pages"), documents = rows("documents"), steps = rows("steps");
    ASSERT_EQ(pages.size(), 6U);
    // One page turned.
    Page turned = *tray.documents[1]->pages[2];
    turned.recipe.turn_degrees = 90;
    history.undo.push_back({tray, "turn"});
    tray = with_page(tray, std::make_shared<const Page>(turned));
    ASSERT_TRUE(store->keep(tray, &history));
    EXPECT_EQ(written(pages, rows("pages")), 1);
    EXPECT_EQ(written(documents, rows("documents")), 1);
    EXPECT_EQ(written(steps, rows("steps")), 1);
    // A page is moved: the rows of both documents' pages get other places, and none is rewritten.
    pages = rows("pages");
    tray = with_pages_moved(tray, {tray.documents[0]->pages[0]->id}, tray.documents[1]->id, 0);
    tray = without_pages(tray, {tray.documents[0]->pages[0]->id});
    ASSERT_TRUE(store->keep(tray, &history));
    EXPECT_EQ(written(pages, rows("pages")), 0);
    EXPECT_EQ(rows("pages").size(), 5U);
    // A document is moved before another one, which is unchanged but one place further on.
    for (const size_t at : {2, 1}) {
        tray = with_divider_at(tray, tray.documents.at(1)->pages.at(at)->id);
        ASSERT_TRUE(store->keep(tray, &history));
    }
    ASSERT_EQ(tray.documents.size(), 4U);
    store = fail(ErrorKind::Missing, "");
    store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->trouble, "");
    ASSERT_EQ(loaded->tray.documents.size(), tray.documents.size());
    for (size_t d = 0; d < tray.documents.size(); ++d) {
        ASSERT_EQ(loaded->tray.documents[d]->pages.size(), tray.documents[d]->pages.size());
        for (size_t p = 0; p < tray.documents[d]->pages.size(); ++p) {
            EXPECT_EQ(loaded->tray.documents[d]->pages[p]->id, tray.documents[d]->pages[p]->id);
            EXPECT_EQ(loaded->tray.documents[d]->pages[p]->recipe, tray.documents[d]->pages[p]->recipe);
        }
    }
    EXPECT_EQ(loaded->history.undo.size(), 2U);
}

struct StuckFiles : FileSteps { // cannot be removed
    bool are = true;
    int remove(const fs::path& file) override { return are ? EACCES : FileSteps::remove(file); }
};

TEST(TrayStore, AnOriginalThatCouldNotBeDeletedDoesNotComeBack) {
    const TempFolder folder;
    StuckFiles steps;
    auto store = TrayStore::open(folder.path(), steps);
    const PagePtr gone = page_in(folder, 1), stays = page_in(folder, 2);
    Tray tray = with_page_added(with_page_added({}, gone, true), stays, false);
    const TrayHistory none;
    ASSERT_TRUE(store->keep(tray, &none));
    tray = without_pages(tray, {gone->id});
    ASSERT_TRUE(store->keep(tray, &none));
    EXPECT_TRUE(fs::exists(folder / gone->original.file));
    ASSERT_TRUE(store->keep(with_document_name(tray, tray.documents[0]->id, "Again"), &none));
    store = fail(ErrorKind::Missing, "closed");
    steps.are = false;
    const auto loaded = TrayStore::open(folder.path(), steps)->load();
    ASSERT_TRUE(loaded);
    EXPECT_EQ(loaded->tray.page_count(), 1U) << loaded->trouble;
    EXPECT_FALSE(fs::exists(folder / gone->original.file)) << "it goes at the next start";
}

TEST(TrayStore, AnOriginalInUseIsNotDeleted) {
    const TempFolder folder;
    {
        auto store = TrayStore::open(folder.path());
        const PagePtr page = page_in(folder, 1);
        ASSERT_TRUE(store->keep(with_page_added({}, page, true)));
        SQLite::Database(folder / "tray.sqlite", SQLite::OPEN_READWRITE)
            .exec("INSERT INTO going VALUES ('" + page->original.file + "')");
    }
    const auto loaded = TrayStore::open(folder.path())->load();
    ASSERT_TRUE(loaded && loaded->trouble.empty()) << loaded->trouble;
    EXPECT_TRUE(read_original(folder.path(), loaded->tray.documents[0]->pages[0]->original));
}

TEST(TrayStore, AStepWithTheSameNameInTheSamePlaceIsSavedAgain) {
    const TempFolder folder;
    {
        auto store = TrayStore::open(folder.path());
        Tray one = with_page_added({}, page_in(folder, 1), true), two = with_page_added(one, page_in(folder, 2), false);
        TrayHistory history;
        history.undo = {{Tray{}, "scan"}};
        ASSERT_TRUE(store->keep(one, &history));
        history.undo = {{one, "scan"}};
        ASSERT_TRUE(store->keep(two, &history));
    }
    const auto loaded = TrayStore::open(folder.path())->load();
    ASSERT_TRUE(loaded && loaded->history.undo.size() == 1);
    EXPECT_EQ(loaded->history.undo[0].tray.page_count(), 1U);
}

TEST(TrayStore, DataOfAPageThatWasNeverAddedIsDeleted) {
    const TempFolder folder;
    const std::string half = new_id() + ".tif";
    for (const char* end : {growing_suffix, beside_original[0], beside_original[1]})
        write_file(folder / (half + end), "h");
    ASSERT_TRUE(TrayStore::open(folder.path())->load());
    for (const std::string& name : folder.files()) EXPECT_FALSE(name.starts_with(half)) << name;
}

TEST(TrayStore, FilesMovedAsideNeverReplaceOthers) {
    const TempFolder folder;
    fs::create_directory(folder / "aside");
    for (const char* bytes : {"1", "2", "3"}) {
        write_file(folder / "a.tif", bytes);
        ASSERT_TRUE(move_aside(folder / "a.tif", folder / "aside", disk()));
    }
    std::set<std::string> kept;
    for (const auto& each : fs::directory_iterator(folder / "aside")) kept.insert(read_file(each.path()));
    EXPECT_EQ(kept, (std::set<std::string>{"1", "2", "3"}));
}

}
}
