// Reading a store that anything may have happened to. Rows and files are read first and nothing is touched; only then
// what was not understood is set aside, and what was is kept anew.
#include "core/json_text.h"
#include "core/tray/load_trouble.h"
#include "core/tray/rows.h"
#include "core/tray/set_aside.h"
#include "core/tray/tray_store.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <algorithm>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin {

namespace {

// Names in a folder; those that can be listed.
std::vector<std::string> names_in(const fs::path& folder) {
    std::vector<std::string> names;
    std::error_code failure;
    for (fs::directory_iterator at(folder, failure), end; !failure && at != end; at.increment(failure))
        names.push_back(at->path().filename().string());
    return names;
}

}

struct TrayStore::Reading {
    explicit Reading(TrayStore& in) : store(in) {}

    TrayStore& store;
    LoadedTray out;
    std::vector<KeptDocument> kept;
    std::map<PagePtr, long> states;
    std::set<std::string> known, going; // originals that are accounted for; that a step let go
    std::set<std::string> unreadable;   // files to be set aside
    std::set<std::string> missing;      // files that are not there
    std::map<std::string, std::optional<OwnTiff>> headers;
    std::map<std::string, PagePtr> latest_states; // of the history, by page
    std::vector<std::string> odd_going;
    bool list_damaged = false, history_lost = false, pages_lost = false;
    bool disk_failed = false; // the list is perhaps not damaged, but the disk did not give it
    int odd_rows = 0, found = 0;

    bool perfect() const {
        return !list_damaged && !history_lost && !pages_lost && missing.empty() && odd_rows == 0 && odd_going.empty() &&
               unreadable.empty();
    }

    void read_rows() {
        if (store.afresh_) {
            list_damaged = true;
            return;
        }
        each_row("PRAGMA quick_check", [&](SQLite::Statement& row) {
            const std::string said = row.getColumn(0).getString();
            if (said == "ok") return;
            list_damaged = true;
            disk_failed = disk_failed || said.find("error code=") != std::string::npos; // "unable to get the page"
        });
        read_history();
        read_documents();
        read_kept();
        each_row("SELECT file FROM going", [&](SQLite::Statement& row) {
            const std::string file = row.getColumn(0).getString();
            if (is_original_name(file))
                going.insert(file);
            else
                odd_going.push_back(file);
        });
    }

    // Files that no row knows: completed when the power went, or of rows that could not be read.
    void read_folder() {
        std::vector<std::pair<fs::file_time_type, std::string>> left;
        for (const std::string& name : names_in(store.folder_)) {
            if (!name.ends_with(".tif") || known.contains(name) || going.contains(name)) continue;
            std::error_code failure;
            if (header(name))
                left.emplace_back(fs::last_write_time(store.folder_ / name, failure), name);
            else
                unreadable.insert(name);
        }
        std::ranges::sort(left);
        for (const auto& [time, name] : left) {
            const OwnTiff& is = *header(name);
            out.tray = with_page_added(
                out.tray,
                std::make_shared<const Page>(Page{new_id(), {name, is.width_px, is.height_px, is.dpi, is.ink}}),
                found++ == 0);
        }
    }

    LoadTrouble trouble() const {
        return {list_damaged,
                history_lost,
                static_cast<int>(missing.size()),
                static_cast<int>(unreadable.size()),
                odd_rows + static_cast<int>(odd_going.size()),
                found};
    }

  private:
    template <class Each>
    void each_row(const char* sql, const Each& each) {
        try {
            SQLite::Statement row(*store.database_, sql);
            while (row.executeStep()) each(row);
        } catch (const SQLite::Exception& failure) {
            list_damaged = true; // the rows that came before it count
            const int code = failure.getErrorCode();
            disk_failed = disk_failed || (code != SQLITE_CORRUPT && code != SQLITE_NOTADB && code != SQLITE_ERROR);
        }
    }

    const std::optional<OwnTiff>& header(const std::string& file) {
        const auto [at, added] = headers.try_emplace(file);
        if (added) at->second = own_tiff_header(store.folder_ / file);
        if (added && !at->second) at->second = own_tiff_header(store.folder_ / file); // a disk may fail once
        return at->second;
    }

    // The page as it can be shown: itself, without pieces that are gone; where its picture is gone, its pieces.
    std::vector<PagePtr> usable(const PagePtr& page) {
        std::vector<PagePtr> pieces;
        for (const PagePtr& piece : page->pieces) std::ranges::move(usable(piece), std::back_inserter(pieces));
        const Original& original = page->original;
        known.insert(original.file);
        std::error_code failure;
        const auto& is = header(original.file);
        if (!is) {
            if (fs::exists(fs::symlink_status(store.folder_ / original.file, failure)))
                unreadable.insert(original.file);
            else
                missing.insert(original.file);
            return pieces;
        }
        // A database keeps what it was given to the last bit, a file its resolution as a smaller number.
        const bool as_said = is->width_px == original.width_px && is->height_px == original.height_px &&
                             is->ink == original.ink && std::abs(is->dpi - original.dpi) < 0.01 * original.dpi;
        if (as_said && pieces == page->pieces) return {page};
        Page changed = *page;
        changed.pieces = std::move(pieces);
        if (!as_said) {
            ++odd_rows;
            changed.original = {original.file, is->width_px, is->height_px, is->dpi, is->ink};
        }
        return {std::make_shared<const Page>(std::move(changed))};
    }

    PagePtr page_of(const std::string& id, const std::string& text) {
        const auto data = json_from_text(text);
        if (!data) return nullptr;
        try {
            return std::make_shared<const Page>(page_from_json(id, *data));
        } catch (const std::exception&) {
            return nullptr;
        }
    }

    void read_documents() {
        std::vector<Document> documents;
        std::map<std::string, size_t> places;
        const auto place_of = [&](Document document) {
            const auto [at, added] = places.try_emplace(document.id, documents.size());
            if (added) documents.push_back(std::move(document));
            return at->second;
        };
        each_row("SELECT id, name, saved_as, barcode, part_of, in_file, folder FROM documents ORDER BY place",
                 [&](SQLite::Statement& row) {
                     place_of({row.getColumn(0).getString(),
                               row.getColumn(1).getString(),
                               {},
                               row.getColumn(2).getString(),
                               row.getColumn(3).getString(),
                               row.getColumn(4).getString(),
                               static_cast<size_t>(row.getColumn(5).getInt64()),
                               row.getColumn(6).getString()});
                 });
        std::set<std::string> ids;
        each_row("SELECT id, document, data FROM pages ORDER BY place", [&](SQLite::Statement& row) {
            const std::string id = row.getColumn(0).getString(), document = row.getColumn(1).getString();
            PagePtr page = page_of(id, row.getColumn(2).getString());
            if (!page) {
                ++odd_rows;
                page = latest_states[id]; // as an earlier step had it
            }
            if (!page) {
                pages_lost = true;
                return;
            }
            if (!places.contains(document)) ++odd_rows;
            Document& into = documents[place_of({document.empty() ? new_id() : document})];
            for (const PagePtr& each : usable(page)) into.pages.push_back(with_own_ids(each, ids));
        });
        for (Document& document : documents) {
            if (document.id.empty()) document.id = new_id();
            if (!document.pages.empty())
                out.tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
        }
        // Which of the pictures that only history leads to belong here nobody can tell: they come back as pages.
        if (pages_lost || list_damaged) known = originals_of_tray();
    }

    // Saved documents that left. One that makes no sense gives its pictures back as pages.
    void read_kept() {
        std::map<std::string, std::vector<PagePtr>> pages;
        std::set<std::string> odd;
        each_row("SELECT id, document, data FROM kept_pages ORDER BY document, place", [&](SQLite::Statement& row) {
            const std::string document = row.getColumn(1).getString();
            if (const PagePtr page = page_of(row.getColumn(0).getString(), row.getColumn(2).getString()))
                pages[document].push_back(page);
            else
                odd.insert(document);
        });
        each_row("SELECT id, name, saved_as, barcode, folder, left_at, bytes FROM kept ORDER BY left_at, rowid",
                 [&](SQLite::Statement& row) {
                     Document document;
                     int column = 0;
                     for (std::string* each :
                          {&document.id, &document.name, &document.saved_as, &document.barcode, &document.folder})
                         *each = row.getColumn(column++).getString();
                     const auto own = pages.extract(document.id);
                     if (!own || odd.contains(document.id) || document.saved_as.empty()) return void(++odd_rows);
                     for (const PagePtr& page : own.mapped())
                         std::ranges::move(usable(page), std::back_inserter(document.pages));
                     if (document.pages.empty()) return;
                     kept.push_back({std::make_shared<const Document>(std::move(document)),
                                     std::chrono::sys_seconds(std::chrono::seconds(row.getColumn(5).getInt64())),
                                     static_cast<std::uint64_t>(row.getColumn(6).getInt64())});
                 });
        odd_rows += static_cast<int>(pages.size()); // of no document
    }

    // A page that stands there twice gets another name.
    PagePtr with_own_ids(const PagePtr& page, std::set<std::string>& taken) {
        Page changed = *page;
        bool same = taken.insert(page->id).second;
        if (!same) {
            ++odd_rows;
            changed.id = new_id();
            taken.insert(changed.id);
        }
        for (PagePtr& piece : changed.pieces) {
            const PagePtr own = with_own_ids(piece, taken);
            same = same && own == piece;
            piece = own;
        }
        return same ? page : std::make_shared<const Page>(std::move(changed));
    }

    using StatePages = std::map<long, std::vector<PagePtr>>; // by the number of the state; as they can be shown

    void read_history() {
        StatePages pages;
        each_row("SELECT id, page, data FROM states ORDER BY id", [&](SQLite::Statement& row) {
            const PagePtr page = page_of(row.getColumn(1).getString(), row.getColumn(2).getString());
            if (!page) {
                history_lost = true;
                return;
            }
            const long id = row.getColumn(0).getInt64();
            pages.emplace(id, usable(page));
            latest_states[page->id] = page;
            states.emplace(page, id);
        });
        std::set<long> used;
        int next_place[2] = {-1, -1};
        each_row("SELECT side, name, documents, place FROM steps ORDER BY side, place", [&](SQLite::Statement& row) {
            const bool redo = row.getColumn(0).getInt() == 1;
            auto& side = redo ? out.history.redo : out.history.undo;
            const int place = row.getColumn(3).getInt();
            if (next_place[redo] >= 0 && place != next_place[redo]) history_lost = true; // one between is gone
            next_place[redo] = place + 1;
            auto tray = tray_of(row.getColumn(2).getString(), pages, used);
            if (tray) {
                side.push_back({std::move(*tray), row.getColumn(1).getString()});
            } else {
                history_lost = true;
                side.clear(); // a step that cannot be taken ends what lies behind it
            }
        });
        // Every state belongs to a step; one that does not had a step that is gone.
        if (used.size() != pages.size()) history_lost = true;
        if (history_lost || list_damaged) known = originals_of_history();
    }

    std::optional<Tray> tray_of(const std::string& text, const StatePages& pages, std::set<long>& used) {
        const auto documents = json_from_text(text);
        if (!documents || !documents->is_array()) return std::nullopt;
        Tray tray;
        try {
            for (const json& d : *documents) {
                Document document{d.at(0), d.at(1), {}, d.at(2), d.at(3)};
                if (d.size() > 5) document.folder = d.at(5);
                for (const json& id : d.at(4)) {
                    const auto page = pages.find(id.get<long>());
                    if (page == pages.end()) return std::nullopt;
                    std::ranges::copy(page->second, std::back_inserter(document.pages));
                    used.insert(page->first);
                }
                if (!document.pages.empty())
                    tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
            }
        } catch (const json::exception&) {
            return std::nullopt;
        }
        if (!contradiction_in(tray).empty()) return std::nullopt;
        return tray;
    }

    static void collect(const Tray& tray, std::set<std::string>& files) {
        for (const DocumentPtr& document : tray.documents) {
            for (const PagePtr& page : document->pages)
                for_originals(*page, [&](const std::string& file) { files.insert(file); });
        }
    }

    std::set<std::string> originals_of_tray() const {
        std::set<std::string> files = unreadable;
        collect(out.tray, files);
        return files;
    }

    std::set<std::string> originals_of_history() const {
        std::set<std::string> files = unreadable;
        for (const auto* steps : {&out.history.undo, &out.history.redo}) {
            for (const TrayStep& step : *steps) collect(step.tray, files);
        }
        return files;
    }
};

Result<LoadedTray> TrayStore::load() {
    for (const std::string& name : names_in(folder_)) {
        if (!name.ends_with(growing_suffix)) continue; // a page that nobody was told is there
        steps_->remove(folder_ / name);
        const std::string original = name.substr(0, name.size() - std::string_view(growing_suffix).size());
        for (const char* each : beside_original) steps_->remove(folder_ / (original + each));
    }
    auto begun = std::make_unique<Reading>(*this);
    begun->read_rows();
    // What a disk fails to give once is no damage: only what fails again is taken for lost.
    if (begun->disk_failed) {
        begun = std::make_unique<Reading>(*this);
        begun->read_rows();
    }
    Reading& reading = *begun;
    reading.read_folder();
    if (reading.perfect()) {
        states_ = std::move(reading.states);
        kept_ = std::move(reading.kept);
        in_database_ = reading.out.tray;
        for (const std::string& file : reading.going) {
            if (!reading.known.contains(file)) remove_file_of(file); // its step was taken, the power went before this
        }
        const auto hold = [&](const std::string& file) { held_.insert(file); };
        for (const DocumentPtr& document : reading.out.tray.documents) {
            for (const PagePtr& page : document->pages) for_originals(*page, hold);
        }
        return std::move(reading.out);
    }
    if (!afresh_) {
        if (auto aside = set_database_aside(reading.list_damaged); !aside) return std::unexpected(aside.error());
        if (reading.list_damaged) {
            if (auto connected = connect(); !connected) return std::unexpected(connected.error());
        }
    }
    afresh_ = false;
    for (const std::string& file : reading.unreadable) {
        const auto into = set_aside_folder();
        if (!into) return std::unexpected(into.error());
        if (auto moved = moved_aside(folder_ / file, *into, *steps_); !moved) return std::unexpected(moved.error());
    }
    // Nothing is let go of: the database knows no states now.
    try {
        database_->exec("DELETE FROM steps; DELETE FROM states; DELETE FROM kept; DELETE FROM kept_pages;");
        written_.reset();
        steps_written_.reset();
        removed_ = reading.odd_going;
        kept_.clear();
        write_kept(reading.kept);
        kept_ = std::move(reading.kept);
    } catch (const std::exception& failure) {
        return failed(failure);
    }
    states_.clear();
    held_.clear();
    if (auto kept = keep(reading.out.tray, &reading.out.history); !kept) return std::unexpected(kept.error());
    reading.out.trouble = trouble_words(reading.trouble(), set_aside_);
    reading.out.set_aside = set_aside_;
    return std::move(reading.out);
}

}
