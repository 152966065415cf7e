// The reading half of TrayStore::load(): reads all rows and files and works out what can be used of them, without
// changing anything. Internal to tray_load.cpp.
#pragma once

#include "core/json_text.h"
#include "core/storage/new_id.h"
#include "core/tray/load_trouble.h"
#include "core/tray/rows.h"
#include "core/tray/tray_store.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <algorithm>

namespace yelvin {

// Lists the names in a folder, as far as that is possible.
inline std::vector<std::string> names_in(const std::filesystem::path& folder) {
    std::vector<std::string> names;
    std::error_code failure;
    for (std::filesystem::directory_iterator at(folder, failure), end; !failure && at != end; at.increment(failure))
        names.push_back(at->path().filename().string());
    return names;
}

struct TrayStore::Reading {
    explicit Reading(TrayStore& in) : store(in) {}

    TrayStore& store;
    LoadedTray out;
    std::vector<KeptDocument> kept;
    std::map<PagePtr, long> states;
    std::set<std::string> known, going; // originals that a row names; originals that a committed step deletes
    std::set<std::string> unreadable;   // files to be set aside
    std::set<std::string> missing;      // files that do not exist
    std::map<std::string, std::optional<OwnTiff>> headers;
    std::map<std::string, PagePtr> latest_states; // latest state of each page in the history, by id
    std::vector<std::string> odd_going;
    std::vector<std::string> unnamed_tickets; // tickets that no document names
    bool list_damaged = false, history_lost = false, pages_lost = false;
    bool disk_failed = false; // an error of the disk, which may succeed when repeated
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
            // SQLite says so in messages such as "unable to get the page".
            disk_failed = disk_failed || said.find("error code=") != std::string::npos;
        });
        read_history();
        read_documents();
        read_kept();
        read_tickets();
        each_row("SELECT file FROM going", [&](SQLite::Statement& row) {
            const std::string file = row.getColumn(0).getString();
            if (is_original_name(file))
                going.insert(file);
            else
                odd_going.push_back(file);
        });
    }

    // Adds originals without a row: finished just before a power cut, or named by rows that could not be read.
    void read_folder() {
        std::vector<std::pair<std::filesystem::file_time_type, std::string>> left;
        for (const std::string& name : names_in(store.folder_)) {
            if (!name.ends_with(".tif") || known.contains(name) || going.contains(name)) continue;
            std::error_code failure;
            if (header(name))
                left.emplace_back(std::filesystem::last_write_time(store.folder_ / name, failure), name);
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
            list_damaged = true; // The rows before the error are kept.
            const int code = failure.getErrorCode();
            disk_failed = disk_failed || (code != SQLITE_CORRUPT && code != SQLITE_NOTADB && code != SQLITE_ERROR);
        }
    }

    const std::optional<OwnTiff>& header(const std::string& file) {
        const auto [at, added] = headers.try_emplace(file);
        if (added) at->second = own_tiff_header(store.folder_ / file);
        // Try again, because a disk may fail once.
        if (added && !at->second) at->second = own_tiff_header(store.folder_ / file);
        return at->second;
    }

    // Returns the page as far as its files exist: the page without missing pieces or, if its original is missing, the
    // pieces instead.
    std::vector<PagePtr> usable(const PagePtr& page) {
        std::vector<PagePtr> pieces;
        for (const PagePtr& piece : page->pieces) std::ranges::move(usable(piece), std::back_inserter(pieces));
        const Original& original = page->original;
        known.insert(original.file);
        std::error_code failure;
        const auto& is = header(original.file);
        if (!is) {
            if (std::filesystem::exists(std::filesystem::symlink_status(store.folder_ / original.file, failure)))
                unreadable.insert(original.file);
            else
                missing.insert(original.file);
            return pieces;
        }
        // The database stores the resolution exactly, the TIFF file with less precision.
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
        each_row("SELECT id, name, saved_as, barcode, part_of, in_file, folder, ticket FROM documents ORDER BY "
                 "place",
                 [&](SQLite::Statement& row) {
                     place_of({row.getColumn(0).getString(),
                               row.getColumn(1).getString(),
                               {},
                               row.getColumn(2).getString(),
                               row.getColumn(3).getString(),
                               row.getColumn(4).getString(),
                               static_cast<size_t>(row.getColumn(5).getInt64()),
                               row.getColumn(6).getString(),
                               row.getColumn(7).getString()});
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
        // It is not known which originals that only the history names belong here, so they come back as pages.
        if (pages_lost || list_damaged) known = originals_of_tray();
    }

    // Reads the kept documents. The originals of an invalid one come back as pages.
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
        each_row("SELECT id, name, saved_as, barcode, folder, ticket, left_at, bytes FROM kept ORDER BY left_at, rowid",
                 [&](SQLite::Statement& row) {
                     Document document;
                     int column = 0;
                     for (std::string* each : {&document.id, &document.name, &document.saved_as, &document.barcode,
                                               &document.folder, &document.ticket})
                         *each = row.getColumn(column++).getString();
                     const auto own = pages.extract(document.id);
                     if (!own || odd.contains(document.id) || document.saved_as.empty()) return void(++odd_rows);
                     for (const PagePtr& page : own.mapped())
                         std::ranges::move(usable(page), std::back_inserter(document.pages));
                     if (document.pages.empty()) return;
                     kept.push_back({std::make_shared<const Document>(std::move(document)),
                                     std::chrono::sys_seconds(std::chrono::seconds(row.getColumn(6).getInt64())),
                                     static_cast<std::uint64_t>(row.getColumn(7).getInt64())});
                 });
        odd_rows += static_cast<int>(pages.size()); // of no document
    }

    // Reads the tickets. A document whose ticket is damaged has none.
    void read_tickets() {
        std::set<std::string> named;
        const auto note = [&](const Document& document) {
            named.insert(document.ticket);
            for (const PagePtr& page : document.pages) named.insert(page->ticket);
        };
        const auto note_all = [&](const Tray& tray) {
            for (const DocumentPtr& document : tray.documents) note(*document);
        };
        note_all(out.tray);
        for (const auto* steps : {&out.history.undo, &out.history.redo})
            for (const TrayStep& step : *steps) note_all(step.tray);
        for (const KeptDocument& each : kept) note(*each.document);
        each_row("SELECT id, data FROM tickets", [&](SQLite::Statement& row) {
            const std::string id = row.getColumn(0).getString();
            const auto data = json_from_text(row.getColumn(1).getString());
            auto ticket = data ? ticket_in_use_from_json(*data) : fail(ErrorKind::BadInput, "no JSON");
            if (!ticket)
                ++odd_rows;
            else if (!id.empty())
                out.tickets.emplace(id, std::make_shared<const TicketInUse>(std::move(*ticket)));
        });
        // The ticket that a document's own choices replaced is needed too, to go back to it.
        for (const auto& [id, in_use] : out.tickets)
            if (named.contains(id)) named.insert(in_use->instead_of);
        for (const auto& [id, in_use] : out.tickets)
            if (!named.contains(id)) unnamed_tickets.push_back(id);
        for (const std::string& id : unnamed_tickets) out.tickets.erase(id);
    }

    // Gives a new id to a page that occurs twice.
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

    using StatePages = std::map<long, std::vector<PagePtr>>; // usable() pages by the number of their state

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
            if (next_place[redo] >= 0 && place != next_place[redo]) history_lost = true; // a step in between is missing
            next_place[redo] = place + 1;
            auto tray = tray_of(row.getColumn(2).getString(), pages, used);
            if (tray) {
                side.push_back({std::move(*tray), row.getColumn(1).getString()});
            } else {
                history_lost = true;
                side.clear(); // steps beyond a damaged one cannot be reached
            }
        });
        // Every state belongs to a step; if one does not, its step is missing.
        if (used.size() != pages.size()) history_lost = true;
        if (history_lost || list_damaged) known = originals_of_history();
    }

    std::optional<Tray> tray_of(const std::string& text, const StatePages& pages, std::set<long>& used) {
        const auto documents = json_from_text(text);
        if (!documents || !documents->is_array()) return std::nullopt;
        Tray tray;
        try {
            for (const nlohmann::json& d : *documents) {
                Document document{d.at(0), d.at(1), {}, d.at(2), d.at(3)};
                if (d.size() > 5) document.folder = d.at(5);
                if (d.size() > 6) document.ticket = d.at(6);
                for (const nlohmann::json& id : d.at(4)) {
                    const auto page = pages.find(id.get<long>());
                    if (page == pages.end()) return std::nullopt;
                    std::ranges::copy(page->second, std::back_inserter(document.pages));
                    used.insert(page->first);
                }
                if (!document.pages.empty())
                    tray.documents.push_back(std::make_shared<const Document>(std::move(document)));
            }
        } catch (const nlohmann::json::exception&) {
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

}
