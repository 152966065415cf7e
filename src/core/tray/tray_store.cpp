#include "core/tray/tray_store.h"

#include "core/saving/safe_file.h"

#include <fmt/format.h>
#include <sqlite3.h>

#include <set>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

constexpr const char* growing_suffix = ".growing";

class Statement {
  public:
    Statement(sqlite3* database, const char* sql) { sqlite3_prepare_v2(database, sql, -1, &statement_, nullptr); }
    ~Statement() { sqlite3_finalize(statement_); }
    Statement(const Statement&) = delete;
    Statement& operator=(const Statement&) = delete;
    Statement& bind(int at, const std::string& text) {
        sqlite3_bind_text(statement_, at, text.data(), static_cast<int>(text.size()), SQLITE_TRANSIENT);
        return *this;
    }
    Statement& bind(int at, size_t number) {
        sqlite3_bind_int64(statement_, at, static_cast<sqlite3_int64>(number));
        return *this;
    }
    bool next() { return sqlite3_step(statement_) == SQLITE_ROW; }
    bool run() {
        const int code = sqlite3_step(statement_);
        sqlite3_reset(statement_);
        return code == SQLITE_DONE || code == SQLITE_ROW;
    }
    std::string text(int column) const {
        const auto* bytes = reinterpret_cast<const char*>(sqlite3_column_text(statement_, column));
        return bytes ? std::string(bytes, static_cast<size_t>(sqlite3_column_bytes(statement_, column)))
                     : std::string{};
    }

  private:
    sqlite3_stmt* statement_ = nullptr;
};

json page_json(const Page& page) {
    return {{"original",
             {{"file", page.original.file},
              {"width", page.original.width_px},
              {"height", page.original.height_px},
              {"dpi", page.original.dpi},
              {"ink", static_cast<int>(page.original.ink)}}},
            {"noticed", page.noticed},
            {"notices", to_json(page.notices)},
            {"recipe", to_json(page.recipe)},
            {"touched", page.recipe_touched},
            {"sheet", page.sheet},
            {"back", page.back},
            {"dropped", static_cast<int>(page.dropped)},
            {"dropped_by_hand", page.dropped_by_hand}};
}

Page page_from_json(const std::string& id, const json& j) {
    const json& o = j.at("original");
    return {id,
            {o.at("file"), o.at("width"), o.at("height"), o.at("dpi"), static_cast<Ink>(o.at("ink").get<int>())},
            j.value("noticed", false),
            notices_from_json(j.value("notices", json::object())),
            recipe_from_json(j.value("recipe", json::object())),
            j.value("touched", false),
            j.value("sheet", 0),
            j.value("back", false),
            static_cast<Dropped>(j.value("dropped", 0)),
            j.value("dropped_by_hand", false)};
}

constexpr const char* schema = R"sql(
    PRAGMA journal_mode = WAL;
    PRAGMA synchronous = NORMAL;
    CREATE TABLE IF NOT EXISTS documents (id TEXT PRIMARY KEY, place INTEGER, name TEXT, saved_as TEXT, barcode TEXT);
    CREATE TABLE IF NOT EXISTS pages (id TEXT PRIMARY KEY, document TEXT, place INTEGER, data TEXT);
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
                known.insert(page.original.file);
                if (fs::exists(folder_ / page.original.file))
                    document.pages.push_back(std::make_shared<const Page>(std::move(page)));
            } catch (const json::exception&) {
                continue; // its original is taken in again below
            }
        }
        if (!document.pages.empty()) tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
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

Result<void> TrayStore::keep(const Tray& tray) {
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
    return run("COMMIT");
}

void TrayStore::remove_unused(const Tray& tray, const std::vector<Tray>& also_keep) {
    std::set<std::string> used;
    const auto collect = [&](const Tray& in) {
        for (const auto& document : in.documents) {
            for (const auto& page : document->pages) used.insert(page->original.file);
        }
    };
    collect(tray);
    for (const Tray& other : also_keep) collect(other);
    std::error_code failure;
    for (const auto& entry : fs::directory_iterator(folder_, failure)) {
        if (entry.path().extension() == ".tif" && !used.contains(entry.path().filename().string()))
            fs::remove(entry.path(), failure);
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

Result<OriginalWriter> OriginalWriter::begin(const fs::path& store_folder, int width_px, double dpi, Ink ink) {
    Original original{new_id() + ".tif", width_px, 0, dpi, ink};
    fs::path growing = store_folder / (original.file + growing_suffix);
    auto rows = TiffRowWriter::create(growing, width_px, dpi, ink);
    if (!rows) return std::unexpected(rows.error());
    return OriginalWriter(std::move(*rows), std::move(growing), std::move(original));
}

OriginalWriter::~OriginalWriter() {
    std::error_code failure;
    if (!growing_.empty()) fs::remove(growing_, failure);
}

Result<Original> OriginalWriter::finish() {
    original_.height_px = rows_.rows_written();
    if (auto done = rows_.finish(); !done) return std::unexpected(done.error());
    const fs::path whole = growing_.parent_path() / original_.file;
    if (auto moved = sync_and_rename(growing_, whole); !moved) return std::unexpected(moved.error());
    growing_.clear();
    return original_;
}

Result<Original> keep_original(const fs::path& store_folder, const Raster& raster) {
    auto writer = OriginalWriter::begin(store_folder, raster.width_px(), raster.dpi, raster.ink);
    if (!writer) return std::unexpected(writer.error());
    if (auto done = writer->append(raster.pixels); !done) return std::unexpected(done.error());
    return writer->finish();
}

Result<Raster> read_original(const fs::path& store_folder, const Original& original) {
    return read_own_tiff(store_folder / original.file);
}

}
