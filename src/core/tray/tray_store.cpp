#include "core/tray/tray_store.h"

#include "core/developing/recipe_json.h"
#include "core/tray/rows.h"

#include <fmt/format.h>

#include <set>

namespace fs = std::filesystem;
using nlohmann::json;
using namespace nlohmann::literals;

namespace yelvin {

namespace {

constexpr const char* schema = R"sql(
    PRAGMA journal_mode = WAL;
    PRAGMA synchronous = NORMAL;
    CREATE TABLE IF NOT EXISTS documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT, barcode TEXT);
    CREATE TABLE IF NOT EXISTS pages (id TEXT PRIMARY KEY, document TEXT, place INTEGER, data TEXT);
    CREATE TABLE IF NOT EXISTS states (id INTEGER PRIMARY KEY, page TEXT, data TEXT);
    CREATE TABLE IF NOT EXISTS steps (side INTEGER, place INTEGER, name TEXT, documents TEXT);
    CREATE TABLE IF NOT EXISTS texts (page TEXT PRIMARY KEY, recipe TEXT, languages TEXT, layer TEXT);
)sql";

}

void TrayStore::Close::operator()(sqlite3* database) const { sqlite3_close(database); }

std::unexpected<Error> TrayStore::failed() const {
    const int code = sqlite3_errcode(database_.get());
    return fail(code == SQLITE_FULL ? ErrorKind::DiskFull : ErrorKind::NotWritable,
                fmt::format("The out tray could not be kept in {}: {}. Make room or check the folder; the scanned "
                            "pages are still there.",
                            folder_.string(),
                            code == SQLITE_FULL ? "the disk is full" : sqlite3_errmsg(database_.get())));
}

Result<void> TrayStore::run(const char* sql) {
    if (sqlite3_exec(database_.get(), sql, nullptr, nullptr, nullptr) != SQLITE_OK) return failed();
    return {};
}

Result<TrayStore> TrayStore::open(const fs::path& folder) {
    std::error_code failure;
    fs::create_directories(folder, failure);
    if (failure)
        return fail(ErrorKind::NotWritable, fmt::format("The folder {} for scanned pages cannot be made: {}.",
                                                        folder.string(), failure.message()));
    TrayStore store;
    store.folder_ = folder;
    sqlite3* database = nullptr;
    const int code = sqlite3_open((folder / "tray.sqlite").c_str(), &database);
    store.database_.reset(database);
    if (code != SQLITE_OK) return store.failed();
    sqlite3_busy_timeout(database, 2000);
    if (auto made = store.run(schema); !made) return std::unexpected(made.error());
    // A tray kept before documents had barcodes gets the column; where it is there already this fails and changes
    // nothing.
    sqlite3_exec(database, "ALTER TABLE documents ADD COLUMN barcode TEXT DEFAULT ''", nullptr, nullptr, nullptr);
    for (const auto& entry : fs::directory_iterator(folder, failure)) {
        if (entry.path().extension() == growing_suffix) fs::remove(entry.path(), failure);
    }
    return store;
}

Result<Tray> TrayStore::load() {
    Tray tray;
    std::set<std::string> known;
    Statement documents(database_.get(), "SELECT id, name, saved_as, barcode FROM documents ORDER BY place");
    while (documents.next()) {
        Document document{documents.text(0), documents.text(1), {}, documents.text(2), documents.text(3)};
        Statement pages(database_.get(), "SELECT id, data FROM pages WHERE document = ? ORDER BY place");
        pages.bind(1, document.id);
        while (pages.next()) {
            const json data = json::parse(pages.text(1), nullptr, false);
            if (data.is_discarded()) continue;
            try {
                Page page = page_from_json(pages.text(0), data);
                for_originals(page, [&](const std::string& file) { known.insert(file); });
                if (fs::exists(folder_ / page.original.file))
                    document.pages.push_back(std::make_shared<const Page>(std::move(page)));
            } catch (const json::exception&) {
                continue; // its original is taken in again below
            }
        }
        if (!document.pages.empty()) tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
    }
    // What only the history refers to is no page that was left behind.
    Statement states(database_.get(), "SELECT data FROM states");
    while (states.next()) {
        const json data = json::parse(states.text(0), nullptr, false);
        if (!data.is_object()) continue;
        known.insert(data.value("/original/file"_json_pointer, std::string()));
        for (const json& piece : data.value("pieces", json::array()))
            known.insert(piece.value("/original/file"_json_pointer, std::string()));
    }
    // Completed, but not in the database yet when the power went: they belong behind the last document they were
    // scanned into.
    std::vector<fs::path> found;
    std::error_code failure;
    for (const auto& entry : fs::directory_iterator(folder_, failure)) {
        if (entry.path().extension() == ".tif" && !known.contains(entry.path().filename().string()))
            found.push_back(entry.path());
    }
    std::ranges::sort(found, {}, [](const fs::path& file) { return fs::last_write_time(file); });
    bool first = true;
    for (const fs::path& file : found) {
        const auto raster = read_own_tiff(file);
        if (!raster) continue;
        Original original{file.filename().string(), raster->width_px(), raster->height_px(), raster->dpi, raster->ink};
        tray = with_page_added(tray, std::make_shared<const Page>(Page{new_id(), std::move(original)}), first);
        first = false;
    }
    return tray;
}

Result<void> TrayStore::keep(const Tray& tray, const TrayHistory* history) {
    if (auto begun = run("BEGIN IMMEDIATE; DELETE FROM documents; DELETE FROM pages;"); !begun) return begun;
    Statement document_row(database_.get(),
                           "INSERT INTO documents (id, place, name, saved_as, barcode) VALUES (?, ?, ?, ?, ?)");
    Statement page_row(database_.get(), "INSERT INTO pages VALUES (?, ?, ?, ?)");
    for (size_t d = 0; d < tray.documents.size(); ++d) {
        const Document& document = *tray.documents[d];
        bool fine = document_row.bind(1, document.id)
                        .bind(2, d)
                        .bind(3, document.name)
                        .bind(4, document.saved_as)
                        .bind(5, document.barcode)
                        .run();
        for (size_t p = 0; p < document.pages.size(); ++p) {
            const Page& page = *document.pages[p];
            fine =
                page_row.bind(1, page.id).bind(2, document.id).bind(3, p).bind(4, page_json(page).dump()).run() && fine;
        }
        if (!fine) {
            auto error = failed();
            sqlite3_exec(database_.get(), "ROLLBACK", nullptr, nullptr, nullptr);
            return error;
        }
    }
    if (history) {
        if (auto kept = keep_steps(tray, *history); !kept) {
            sqlite3_exec(database_.get(), "ROLLBACK", nullptr, nullptr, nullptr);
            states_.clear();
            return kept;
        }
    }
    return run("COMMIT");
}

Result<long> TrayStore::keep_state(const PagePtr& page) {
    if (const auto at = states_.find(page); at != states_.end()) return at->second;
    Statement row(database_.get(), "INSERT INTO states (page, data) VALUES (?, ?)");
    if (!row.bind(1, page->id).bind(2, page_json(*page).dump()).run()) return std::unexpected(failed().error());
    return states_[page] = static_cast<long>(sqlite3_last_insert_rowid(database_.get()));
}

Result<void> TrayStore::keep_steps(const Tray& tray, const TrayHistory& history) {
    // The first time, what an earlier run left goes: all of it is in `history`.
    if (auto cleared = run(states_.empty() ? "DELETE FROM steps; DELETE FROM states;" : "DELETE FROM steps;"); !cleared)
        return cleared;
    std::set<PagePtr> used;
    for (const bool redo : {false, true}) {
        const auto& steps = redo ? history.redo : history.undo;
        for (size_t place = steps.size() > most_steps ? steps.size() - most_steps : 0; place < steps.size(); ++place) {
            json documents = json::array();
            for (const DocumentPtr& document : steps[place].tray.documents) {
                json pages = json::array();
                for (const PagePtr& page : document->pages) {
                    const auto state = keep_state(page);
                    if (!state) return std::unexpected(state.error());
                    pages.push_back(*state);
                    used.insert(page);
                }
                documents.push_back({document->id, document->name, document->saved_as, document->barcode, pages});
            }
            Statement row(database_.get(), "INSERT INTO steps VALUES (?, ?, ?, ?)");
            if (!row.bind(1, size_t{redo}).bind(2, place).bind(3, steps[place].name).bind(4, documents.dump()).run())
                return failed();
        }
    }
    Statement remove(database_.get(), "DELETE FROM states WHERE id = ?");
    std::set<std::string> gone;
    for (auto at = states_.begin(); at != states_.end();) {
        if (used.contains(at->first)) {
            ++at;
            continue;
        }
        remove.bind(1, static_cast<size_t>(at->second)).run();
        for_originals(*at->first, [&](const std::string& file) { gone.insert(file); });
        at = states_.erase(at);
    }
    // Nothing leads back to these originals any more.
    const auto stays = [&](const std::string& file) { gone.erase(file); };
    for (const PagePtr& page : used) for_originals(*page, stays);
    for (const DocumentPtr& document : tray.documents) {
        for (const PagePtr& page : document->pages) for_originals(*page, stays);
    }
    std::error_code failure;
    for (const std::string& file : gone) {
        for (const char* copy : {"", ".by4", ".by16"}) fs::remove(folder_ / (file + copy), failure);
    }
    return {};
}

TrayHistory TrayStore::load_history() {
    TrayHistory history;
    std::map<long, PagePtr> pages;
    Statement states(database_.get(), "SELECT id, page, data FROM states");
    while (states.next()) {
        const json data = json::parse(states.text(2), nullptr, false);
        try {
            pages[std::stol(states.text(0))] = std::make_shared<const Page>(page_from_json(states.text(1), data));
        } catch (const std::exception&) {
            continue; // the steps that need it are left out below
        }
    }
    Statement steps(database_.get(), "SELECT side, name, documents FROM steps ORDER BY side, place");
    while (steps.next()) {
        TrayStep step{{}, steps.text(1)};
        bool whole = true;
        try {
            for (const json& d : json::parse(steps.text(2))) {
                Document document{d.at(0), d.at(1), {}, d.at(2), d.at(3)};
                for (const json& id : d.at(4)) {
                    const auto page = pages.find(id.get<long>());
                    whole = whole && page != pages.end() && fs::exists(folder_ / page->second->original.file);
                    if (whole) document.pages.push_back(page->second);
                }
                step.tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
            }
        } catch (const json::exception&) {
            whole = false;
        }
        auto& side = steps.text(0) == "1" ? history.redo : history.undo;
        if (whole)
            side.push_back(std::move(step));
        else
            side.clear(); // a step that cannot be taken ends what lies behind it
    }
    return history;
}

void TrayStore::remove_unused(const Tray& tray, const TrayHistory& history) {
    std::set<std::string> used;
    const auto collect = [&](const Tray& in) {
        for (const auto& document : in.documents) {
            for (const auto& page : document->pages)
                for_originals(*page, [&](const std::string& file) { used.insert(file); });
        }
    };
    collect(tray);
    for (const auto* steps : {&history.undo, &history.redo}) {
        for (const TrayStep& step : *steps) collect(step.tray);
    }
    std::error_code failure;
    for (const auto& entry : fs::directory_iterator(folder_, failure)) {
        const fs::path& file = entry.path();
        const bool original = file.extension() == ".tif", coarse = file.extension().string().starts_with(".by");
        if ((original && !used.contains(file.filename().string())) || (coarse && !used.contains(file.stem().string())))
            fs::remove(file, failure);
    }
}

Result<void> TrayStore::keep_text(const std::string& page_id, const Recipe& recipe, const std::string& languages,
                                  const TextLayer& layer) {
    Statement row(database_.get(), "INSERT OR REPLACE INTO texts VALUES (?, ?, ?, ?)");
    if (!row.bind(1, page_id).bind(2, to_json(recipe).dump()).bind(3, languages).bind(4, to_json(layer).dump()).run())
        return failed();
    return {};
}

std::optional<TextLayer> TrayStore::text(const std::string& page_id, const Recipe& recipe,
                                         const std::string& languages) {
    Statement row(database_.get(), "SELECT layer FROM texts WHERE page = ? AND recipe = ? AND languages = ?");
    row.bind(1, page_id).bind(2, to_json(recipe).dump()).bind(3, languages);
    if (!row.next()) return std::nullopt;
    const json layer = json::parse(row.text(0), nullptr, false);
    return layer.is_discarded() ? std::nullopt : std::optional(text_layer_from_json(layer));
}

}
