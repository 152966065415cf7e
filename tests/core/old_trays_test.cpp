// Trays of earlier versions, one for each version of the database that was ever released: they open, nothing in them is
// lost, and their documents have no ticket yet.
#include "core/tray/rows.h"
#include "core/tray/tray_edits.h"
#include "core/tray/tray_store.h"

#include "core/tray/originals.h"
#include "support/support.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

namespace yelvin::test {
namespace {

constexpr const char* pages = "CREATE TABLE pages (id TEXT PRIMARY KEY, document TEXT, place INTEGER, data TEXT);";
constexpr const char* history = "CREATE TABLE states (id INTEGER PRIMARY KEY, page TEXT, data TEXT);"
                                "CREATE TABLE steps (side INTEGER, place INTEGER, name TEXT, documents TEXT);";
constexpr const char* going = "CREATE TABLE going (file TEXT PRIMARY KEY);";
constexpr const char* texts = "CREATE TABLE texts (page TEXT PRIMARY KEY, recipe TEXT, languages TEXT, layer TEXT);";
constexpr const char* readings = "CREATE TABLE readings (page TEXT, languages TEXT, recipe TEXT, layer TEXT, PRIMARY "
                                 "KEY (page, languages));";
constexpr const char* kept =
    "CREATE TABLE kept (id TEXT PRIMARY KEY, name TEXT, saved_as TEXT, barcode TEXT, folder TEXT, left_at INTEGER, "
    "bytes INTEGER);"
    "CREATE TABLE kept_pages (document TEXT, place INTEGER, id TEXT, data TEXT, PRIMARY KEY (document, place));";

std::vector<std::pair<int, std::string>> all_versions() {
    const std::string with_barcode = "CREATE TABLE documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as "
                                     "TEXT, barcode TEXT); INSERT INTO documents VALUES ('d1', 0, 'Lease', '', '');";
    const std::string with_part =
        "CREATE TABLE documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT, "
        "barcode TEXT, part_of TEXT DEFAULT '', in_file INTEGER DEFAULT 0); INSERT INTO "
        "documents VALUES ('d1', 0, 'Lease', '', '', '', 0);";
    const std::string with_folder =
        "CREATE TABLE documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT, barcode TEXT, part_of "
        "TEXT DEFAULT '', in_file INTEGER DEFAULT 0, folder TEXT DEFAULT ''); INSERT INTO documents VALUES ('d1', 0, "
        "'Lease', '', '', '', 0, '/home/desk/Leases');";
    return {{0, std::string("CREATE TABLE documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT); "
                            "INSERT INTO documents VALUES ('d1', 0, 'Lease', '');") +
                    pages + texts},
            {0, with_barcode + pages + history + texts},
            {1, with_barcode + pages + history + going + texts},
            {2, with_barcode + pages + history + going + readings},
            {3, with_part + pages + history + going + readings},
            {4, with_folder + pages + history + going + readings},
            {5, with_folder + pages + history + going + readings + kept}};
}

TEST(OldTrays, OpenWithAllTheirContents) {
    for (const auto& [version, schema] : all_versions()) {
        SCOPED_TRACE(fmt::format("version {}: {}", version, schema));
        const TempFolder folder;
        const Raster picture{noisy(90, 130, CV_8UC1, 3), 200, Ink::Grey};
        const Page page{"p1", keep_original(folder.path(), picture).value()};
        const bool has_steps = schema.find("steps") != std::string::npos;
        const bool has_kept = schema.find("kept") != std::string::npos;
        {
            SQLite::Database database((folder / "tray.sqlite").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
            database.exec(schema);
            const auto insert = [&](const std::string& sql) {
                SQLite::Statement row(database, sql);
                row.bind(1, row_of(page));
                row.exec();
            };
            insert("INSERT INTO pages VALUES ('p1', 'd1', 0, ?)");
            if (has_steps) {
                insert("INSERT INTO states VALUES (1, 'p1', ?)");
                const char* documents = version < 4 ? R"([["d1", "Before", "", "", [1]]])"
                                                    : R"([["d1", "Before", "", "", [1], "/home/desk/Leases"]])";
                database.exec(fmt::format("INSERT INTO steps VALUES (0, 0, 'rename', '{}')", documents));
            }
            if (has_kept) {
                const Page gone{"p2", keep_original(folder.path(), picture).value()};
                SQLite::Statement row(database, "INSERT INTO kept_pages VALUES ('d2', 0, 'p2', ?)");
                row.bind(1, row_of(gone));
                row.exec();
                database.exec("INSERT INTO kept VALUES ('d2', 'Bill', '/home/desk/Bill.pdf', '', '', 1790000000, 9)");
            }
            database.exec(fmt::format("PRAGMA user_version = {}", version));
        }
        for (const bool again : {false, true}) { // as it was brought up to date, too
            auto store = TrayStore::open(folder.path());
            ASSERT_TRUE(store) << store.error().sentence;
            const auto loaded = store->load();
            ASSERT_TRUE(loaded) << loaded.error().sentence;
            EXPECT_EQ(loaded->trouble, "");
            ASSERT_EQ(loaded->tray.documents.size(), 1U);
            const Document& document = *loaded->tray.documents[0];
            EXPECT_EQ(document.name, "Lease");
            EXPECT_EQ(document.ticket, again ? "t1" : "");
            EXPECT_EQ(document.folder, version < 4 ? "" : "/home/desk/Leases");
            EXPECT_EQ(document.pages.at(0)->id, "p1");
            ASSERT_EQ(loaded->history.undo.size(), has_steps ? 1U : 0U);
            if (has_steps) {
                EXPECT_EQ(loaded->history.undo[0].tray.documents.at(0)->name, "Before");
            }
            EXPECT_EQ(store->kept_documents().size(), has_kept ? 1U : 0U);
            EXPECT_EQ(loaded->tickets.size(), again ? 1U : 0U);
            ASSERT_TRUE(store->keep_ticket("t1", {Ticket{}, "", ""}));
            ASSERT_TRUE(store->keep(with_document_ticket(loaded->tray, "d1", "t1"), &loaded->history));
        }
    }
}

TEST(OldTrays, UnusedTicketsAreDeletedAndADamagedOneIsReported) {
    const TempFolder folder;
    const Raster picture{noisy(90, 130, CV_8UC1, 3), 200, Ink::Grey};
    Ticket lease;
    lease.name = "Leases";
    {
        auto store = TrayStore::open(folder.path());
        ASSERT_TRUE(store && store->load());
        Tray tray = with_page_added(
            {}, std::make_shared<const Page>(Page{"p1", keep_original(folder.path(), picture).value()}), true);
        tray = with_document_ticket(tray, tray.documents[0]->id, "own");
        for (const char* id : {"own", "before", "unused"})
            ASSERT_TRUE(store->keep_ticket(
                id, {lease, "/tickets/leases.json", std::string(id) == "own" ? "before" : std::string()}));
        ASSERT_TRUE(store->keep(tray));
    }
    {
        auto store = TrayStore::open(folder.path());
        const auto loaded = store->load();
        ASSERT_TRUE(loaded && loaded->trouble.empty());
        ASSERT_EQ(loaded->tickets.size(), 2U) << "what its own choices stand in the place of, too";
        EXPECT_EQ(loaded->tickets.at("own")->ticket.name, "Leases");
        EXPECT_EQ(loaded->tickets.at("own")->instead_of, "before");
        EXPECT_EQ(loaded->tickets.at("before")->file, "/tickets/leases.json");
    }
    SQLite::Database database((folder / "tray.sqlite").string(), SQLite::OPEN_READWRITE);
    EXPECT_EQ(database.execAndGet("SELECT count(*) FROM tickets").getInt(), 2);
    database.exec("UPDATE tickets SET data = '{\"ticket\": {\"how\": {\"dpi\": \"fast\"}}}' WHERE id = 'own'");
    auto store = TrayStore::open(folder.path());
    const auto loaded = store->load();
    ASSERT_TRUE(loaded);
    EXPECT_NE(loaded->trouble, "");
    EXPECT_EQ(loaded->tray.documents.size(), 1U) << "the document stays";
    EXPECT_FALSE(loaded->tickets.contains("own"));
}

}
}
