// What is stored for the next start: choices, documents that were waiting to be saved, files that were handed out.
#include "app/models/saving/copies_folder.h"
#include "app/models/saving/pending_saves.h"
#include "app/models/threads/pools.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "support/support.h"

#include <sys/stat.h>

#include <QTest>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

TEST(LastChoices, AreSavedOnAnotherThreadWhenChangesEnd) {
    const TempFolder folder;
    const QString settings = QString::fromStdString((folder / "settings").string());
    const fs::path file = folder / "settings/last.json";
    std::vector<Task> tasks;
    {
        LastChoices last(settings, [&](const Task& task) { tasks.push_back(task); });
        for (int i = 1; i <= 20; ++i) last.set("tray-height", 100 + i);
        EXPECT_TRUE(tasks.empty()) << "something changes still";
        ASSERT_TRUE(QTest::qWaitFor([&] { return !tasks.empty(); }));
        EXPECT_FALSE(fs::exists(file)) << "whoever sets a choice does not write it";
        ASSERT_EQ(tasks.size(), 1U);
        tasks.front()();
        EXPECT_EQ(LastChoices(settings).get("tray-height", 0), 120);
        struct stat about {};
        ASSERT_EQ(::stat(file.c_str(), &about), 0);
        EXPECT_EQ(about.st_mode & 0777, 0600U);
        last.set("stamp", 7);
        last.keep_now();
        EXPECT_EQ(tasks.size(), 2U) << "what must not be forgotten does not wait";
        last.set("stamp", 8);
    }
    EXPECT_EQ(LastChoices(settings).get("stamp", 0), 8) << "at the end what is left is written";
    EXPECT_EQ(folder.files(), std::vector<std::string>{"settings"}) << "nothing half-written stays";
}

TEST(PendingSaves, AreRestoredAtTheNextStartAndADamagedListIsIgnored) {
    const TempFolder folder;
    int tasks = 0;
    std::vector<Task> later;
    PendingSaves pending(folder.path(), [&](const Task& task) { ++tasks, later.push_back(task); });
    Ticket maps;
    maps.name = "Maps";
    const auto shared = std::make_shared<const Ticket>(maps);
    for (int i = 0; i < 100; ++i) pending.note("document " + std::to_string(i), shared);
    EXPECT_EQ(tasks, 1) << "a hundred at once are one list";
    later.front()();
    const auto left = PendingSaves::left_in(folder.path());
    ASSERT_EQ(left.size(), 100U);
    EXPECT_EQ(left.at("document 7")->name, "Maps");
    EXPECT_EQ(left.at("document 7"), left.at("document 8")) << "a ticket that is shared stays one";
    for (int i = 0; i < 100; ++i) pending.forget("document " + std::to_string(i));
    later.back()();
    EXPECT_TRUE(folder.files().empty());
    for (const char* damaged :
         {"", "{", "[]", "7", R"({"tickets": 3, "documents": []})",
          R"({"tickets": [], "documents": [{"document": 7}]})",
          R"({"tickets": [{"how": {"dpi": "fast"}}], "documents": [{"document": "a", "ticket": 0}]})",
          R"({"tickets": [], "documents": [{"document": "a", "ticket": 99999999999}]})"}) {
        write_file(folder / "saving.json", damaged);
        EXPECT_TRUE(PendingSaves::left_in(folder.path()).empty()) << damaged;
    }
}

TEST(CopiesFolder, OnlyOldCopiesAreDeleted) {
    const TempFolder folder;
    const auto old = fs::file_time_type::clock::now() - std::chrono::hours(8 * 24);
    const auto fresh = new_copies_folder(folder.path());
    ASSERT_TRUE(fresh);
    for (const char* name : {"copies-old", "other"}) {
        fs::create_directory(folder / name);
        write_file(folder / name / "letter.pdf", "letter");
        fs::last_write_time(folder / name, old);
    }
    write_file(folder / "copies-file", "no folder");
    fs::last_write_time(folder / "copies-file", old);
    forget_old_copies(folder.path());
    EXPECT_FALSE(fs::exists(folder / "copies-old"));
    EXPECT_TRUE(fs::exists(*fresh));
    EXPECT_TRUE(fs::exists(folder / "other/letter.pdf"));
    EXPECT_TRUE(fs::exists(folder / "copies-file"));
    forget_old_copies(folder / "nowhere");
}

// A task that waits for a folder that never answers keeps its pages longer than the window exists.
TEST(OutTray, CanBeDestroyedBeforeTheHoldersOfItsPages) {
    const TempFolder folder;
    std::shared_ptr<void> closed;
    bool told = false;
    {
        Messages messages;
        Pools pools;
        OutTray tray(messages, pools, QString::fromStdString((folder / "tray").string()));
        const auto page = std::make_shared<const Page>(Page{"a page", {}});
        closed = tray.keep_closed({page});
        std::shared_ptr<void> let_go = tray.keep_closed({page});
        QObject::connect(&tray, &OutTray::changed, [&] { told = true; });
        let_go.reset();
        QCoreApplication::processEvents();
        EXPECT_TRUE(told) << "as long as it is there it hears of it";
        pools.stop();
    }
    told = false;
    closed.reset();
    QCoreApplication::processEvents();
    EXPECT_FALSE(told);
}

}
}
