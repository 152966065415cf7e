// The power fails or the program is killed at any moment of scanning, editing, saving and clearing: no page that was
// reported complete is lost, no partial file has a final name, and the store reports no damage.
#include "core/output/document_writer.h"
#include "core/raster/image_file.h"
#include "core/saving/safe_file.h"
#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"
#include "support/support.h"
#include "support/trials.h"

#include <sys/wait.h>
#include <unistd.h>

#include <csignal>
#include <map>
#include <random>
#include <thread>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

Raster any_page(unsigned seed) { return {noisy(60, 90, CV_8UC1, seed), 200, Ink::Grey}; }

Result<SavedFile> save_tiff(const fs::path& folder, const std::string& name, const std::vector<Raster>& pages,
                            FileSteps& steps) {
    return save_file(
        folder, [&](int) { return name; },
        [&](const fs::path& growing) -> Result<void> {
            const auto writer = new_document_writer(growing, Format::Tiff, {});
            for (const Raster& page : pages) {
                if (auto added = writer->append(*encode_page(page, {}, Format::Tiff, 90)); !added) return added;
            }
            return writer->finish();
        },
        steps);
}

// What a disk holds for certain: contents as far as they were synced, names as far as their folder was.
struct Disk {
    using Files = std::map<fs::path, std::string>;
    Files synced; // contents, by the name they had then
    Files named;
    std::vector<std::pair<fs::path, fs::path>> pending; // from, to; to empty: removed

    void sync_folder(const fs::path& folder) {
        std::erase_if(pending, [&](const auto& step) {
            if (step.first.parent_path() != folder) return false;
            apply(step);
            return true;
        });
    }
    void apply(const std::pair<fs::path, fs::path>& step) {
        if (!step.second.empty()) named[step.second] = synced[step.first]; // empty where it was never synced
        named.erase(step.first);
    }
};

// Carries out every step, and remembers what the disk would hold if the power failed right after it.
class Journal : public FileSteps {
  public:
    struct Moment {
        std::string what;
        Disk disk;
        std::string database, log; // a commit is on disk when it returns
        std::vector<std::string> complete;
        std::vector<fs::path> saved;
        size_t pages = 0; // at least so many in the tray
    };
    std::vector<Moment> moments;
    std::vector<std::string> complete; // originals that were reported and are still wanted
    std::vector<fs::path> saved;
    size_t pages = 0;

    explicit Journal(fs::path store) : store_(std::move(store)) {}
    void mark(const std::string& what) {
        moments.push_back({what, disk_, read_file(store_ / "tray.sqlite"), read_file(store_ / "tray.sqlite-wal"),
                           complete, saved, pages});
    }
    int sync(const fs::path& file) override {
        mark("before syncing");
        const int code = FileSteps::sync(file);
        disk_.synced[file] = read_file(file);
        mark("synced");
        return code;
    }
    int sync_folder(const fs::path& folder) override {
        const int code = FileSteps::sync_folder(folder);
        disk_.sync_folder(folder);
        mark("folder synced");
        return code;
    }
    int rename_to_new(const fs::path& growing, const fs::path& wanted) override {
        const int code = FileSteps::rename_to_new(growing, wanted);
        if (code == 0) disk_.pending.emplace_back(growing, wanted);
        mark("named");
        return code;
    }
    int rename(const fs::path& from, const fs::path& to) override {
        const int code = FileSteps::rename(from, to);
        disk_.pending.emplace_back(from, to);
        mark("renamed");
        return code;
    }
    int remove(const fs::path& file) override {
        const int code = FileSteps::remove(file);
        disk_.pending.emplace_back(file, fs::path());
        mark("removed");
        return code;
    }

  private:
    fs::path store_;
    Disk disk_;
};

// The disk as it is found afterwards. `names_kept`: names count although their folder was not synced.
void play(const Journal::Moment& moment, bool names_kept, const fs::path& from, const fs::path& into) {
    Disk disk = moment.disk;
    if (names_kept) {
        for (const auto& step : disk.pending) disk.apply(step);
    }
    for (const char* folder : {"tray", "out"}) fs::create_directories(into / folder);
    for (const auto& [name, contents] : disk.named) write_file(into / fs::relative(name, from), contents);
    write_file(into / "tray/tray.sqlite", moment.database);
    if (!moment.log.empty()) write_file(into / "tray/tray.sqlite-wal", moment.log);
}

void expect_all_is_there(const Journal::Moment& moment, const fs::path& from, const fs::path& into) {
    auto store = TrayStore::open(into / "tray");
    ASSERT_TRUE(store) << store.error().sentence;
    const auto loaded = store->load();
    ASSERT_TRUE(loaded) << loaded.error().sentence;
    EXPECT_EQ(loaded->trouble, "");
    EXPECT_GE(loaded->tray.page_count(), moment.pages);
    for (const std::string& file : moment.complete)
        EXPECT_TRUE(read_original(into / "tray", {file})) << file << " was reported complete";
    for (const auto& entry : fs::directory_iterator(into / "tray")) {
        if (entry.path().extension() != ".tif") continue;
        EXPECT_TRUE(read_own_tiff(entry.path())) << "half a page";
    }
    for (const fs::path& file : moment.saved) EXPECT_TRUE(fs::exists(into / fs::relative(file, from))) << file;
    for (const auto& entry : fs::directory_iterator(into / "out")) {
        if (entry.path().extension() != ".tif") continue;
        EXPECT_EQ(count_pages(entry.path()).value_or(0), 2) << entry.path();
    }
}

TEST(PowerCut, LosesNothingThatWasReportedSaved) {
    const TempFolder base;
    const fs::path tray_folder = base / "tray", out = base / "out";
    fs::create_directories(out);
    Journal journal(tray_folder);
    auto store = TrayStore::open(tray_folder, journal);
    ASSERT_TRUE(store && store->load());
    Tray tray;
    TrayHistory history;
    const auto step = [&](const Tray& next) {
        history.undo.push_back({tray, "step"});
        tray = next;
        ASSERT_TRUE(store->keep(tray, &history));
        journal.pages = tray.page_count();
        journal.mark("kept");
    };
    for (unsigned i = 0; i < 3; ++i) { // scanned
        const auto original = keep_original(tray_folder, any_page(i), journal);
        ASSERT_TRUE(original);
        journal.complete.push_back(original->file);
        journal.pages = tray.page_count() + 1;
        journal.mark("reported");
        step(with_page_added(tray, std::make_shared<const Page>(Page{new_id(), *original}), i == 0));
    }
    step(with_changed(tray, {tray.documents[0]->pages[1]->id}, [](Page& page) { page.recipe.turn_degrees = 90; }));
    const auto saved = save_tiff(out, "Lease.tif", {any_page(1), any_page(2)}, journal);
    ASSERT_TRUE(saved) << saved.error().sentence;
    journal.saved.push_back(saved->path);
    step(with_document_saved(tray, tray.documents[0]->id, saved->path));
    step(without_document(tray, tray.documents[0]->id)); // put away …
    history = {};
    ASSERT_TRUE(store->keep(tray, &history)); // … kept as a saved document …
    journal.mark("kept aside");
    journal.complete.clear();
    ASSERT_TRUE(
        store->delete_expired({std::chrono::days(0), 0}, std::chrono::sys_days(std::chrono::year(2030) / 1 / 1)));
    journal.mark("emptied"); // … and let go of
    EXPECT_FALSE(fs::exists(tray_folder / "x.tif"));

    ASSERT_GT(journal.moments.size(), 30U);
    int played = 0;
    for (const Journal::Moment& moment : journal.moments) {
        for (const bool names_kept : {false, true}) {
            SCOPED_TRACE(moment.what + " " + std::to_string(played));
            const fs::path into = base / ("played" + std::to_string(played++));
            play(moment, names_kept, base.path(), into);
            expect_all_is_there(moment, base.path(), into);
        }
    }
}

// ---- killed

// Scans, edits and saves without end. Reports what is done by a letter: (p)age complete, (s)aved.
[[noreturn]] void work_until_killed(const fs::path& base, int told) {
    auto store = TrayStore::open(base / "tray");
    if (!store || !store->load()) _exit(2);
    Tray tray;
    TrayHistory history;
    const auto step = [&](const Tray& next) {
        history.undo.push_back({tray, "step"});
        tray = next;
        if (!store->keep(tray, &history)) _exit(3);
    };
    for (unsigned n = 0;; ++n) {
        const auto original = keep_original(base / "tray", any_page(n));
        if (!original || write(told, "p", 1) != 1) _exit(4);
        step(with_page_added(tray, std::make_shared<const Page>(Page{new_id(), *original}), n % 4 == 0));
        step(with_changed(tray, {tray.documents.back()->pages.back()->id},
                          [&](Page& page) { page.recipe.tilt_degrees = 0.1 * n; }));
        const auto saved =
            save_tiff(base / "out", "Lease " + std::to_string(n) + ".tif", {any_page(n), any_page(n + 1)}, disk());
        if (!saved || write(told, "s", 1) != 1) _exit(5);
    }
}

TEST(Killed, LosesNothingThatWasReportedSaved) {
    std::mt19937 random(1905);
    for (int round = 0; round < trials(12); ++round) {
        SCOPED_TRACE(round);
        const TempFolder base;
        fs::create_directories(base / "out");
        int ends[2];
        ASSERT_EQ(pipe(ends), 0);
        const pid_t child = fork();
        if (child == 0) {
            close(ends[0]);
            work_until_killed(base.path(), ends[1]);
        }
        close(ends[1]);
        size_t pages = 0, saved = 0;
        const auto hear = [&] {
            char letter = 0;
            if (read(ends[0], &letter, 1) != 1) return false;
            ++(letter == 'p' ? pages : saved);
            return true;
        };
        const size_t until = 1 + random() % 12;
        while (pages + saved < until && hear()) {
        }
        std::this_thread::sleep_for(std::chrono::microseconds(random() % 20'000)); // the moment itself, not a wait
        kill(child, SIGKILL);
        while (hear()) {
        }
        close(ends[0]);
        waitpid(child, nullptr, 0);

        const auto loaded = TrayStore::open(base / "tray")->load();
        ASSERT_TRUE(loaded);
        EXPECT_EQ(loaded->trouble, "");
        EXPECT_GE(loaded->tray.page_count(), pages);
        EXPECT_LE(loaded->tray.page_count(), pages + 1);
        for (const DocumentPtr& document : loaded->tray.documents) {
            for (const PagePtr& page : document->pages) EXPECT_TRUE(read_original(base / "tray", page->original));
        }
        size_t files = 0;
        for (const auto& entry : fs::directory_iterator(base / "out")) {
            if (entry.path().extension() != ".tif") continue;
            ++files;
            EXPECT_EQ(count_pages(entry.path()).value_or(0), 2) << entry.path();
        }
        EXPECT_GE(files, saved);
        remove_left_behind(base / "out");
        for (const auto& entry : fs::directory_iterator(base / "out"))
            EXPECT_NE(entry.path().extension(), ".part") << "what the killed one left half is gone";
    }
}

}
}
