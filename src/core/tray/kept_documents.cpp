// Which kept documents expire, and how TrayStore stores them.
#include "core/tray/originals.h"
#include "core/tray/rows.h"
#include "core/tray/tray_store.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <algorithm>
#include <utility>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::set<std::string> originals_in(const Document& document) {
    std::set<std::string> files;
    for (const PagePtr& page : document.pages)
        for_originals(*page, [&](const std::string& file) { files.insert(file); });
    return files;
}

bool has_document(const Tray& tray, const std::string& id) { return document_at(tray, id) != nullptr; }

bool has_page_of(const Tray& tray, const Document& document) {
    return std::ranges::any_of(document.pages,
                               [&](const PagePtr& page) { return find_page(tray, page->id).has_value(); });
}

}

std::vector<bool> expired_by_rule(std::span<const KeptDocument> kept, const KeepingRule& rule,
                                  std::chrono::sys_seconds now) {
    std::vector<bool> goes(kept.size(), true);
    std::uint64_t bytes = 0;
    for (size_t i = kept.size(); i-- > 0;) {
        bytes += kept[i].bytes;
        // As soon as the total exceeds the limit, this document and all older ones are deleted, even small ones.
        if (bytes > rule.most_bytes) break;
        goes[i] = now - kept[i].left >= rule.longest;
    }
    return goes;
}

std::uint64_t TrayStore::bytes_of(const Document& document) const {
    std::uint64_t bytes = 0;
    for (const std::string& file : originals_in(document)) {
        const auto add = [&](const std::string& name) {
            std::error_code none;
            const auto size = fs::file_size(folder_ / name, none);
            if (!none) bytes += size;
        };
        add(file);
        for (const char* each : beside_original) add(file + each);
    }
    return bytes;
}

std::vector<KeptDocument> TrayStore::kept_beside(const Tray& tray) const {
    std::vector<KeptDocument> kept = kept_;
    for (const DocumentPtr& before : in_database_.documents) {
        if (before->saved_as.empty() || has_document(tray, before->id)) continue;
        std::erase_if(kept, [&](const KeptDocument& each) { return each.document->id == before->id; });
        kept.push_back(
            {before, std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()), bytes_of(*before)});
    }
    std::erase_if(kept, [&](const KeptDocument& each) {
        return has_document(tray, each.document->id) || has_page_of(tray, *each.document);
    });
    return kept;
}

void TrayStore::write_kept(const std::vector<KeptDocument>& kept) {
    const auto stays = [&](const KeptDocument& each) {
        return std::ranges::any_of(kept, [&](const KeptDocument& other) { return other.document == each.document; });
    };
    const auto is_new = [&](const KeptDocument& each) {
        return std::ranges::none_of(kept_, [&](const KeptDocument& other) { return other.document == each.document; });
    };
    SQLite::Statement remove(*database_, "DELETE FROM kept WHERE id = ?");
    SQLite::Statement remove_pages(*database_, "DELETE FROM kept_pages WHERE document = ?");
    for (const KeptDocument& each : kept_) {
        if (stays(each)) continue;
        for (SQLite::Statement* statement : {&remove, &remove_pages}) {
            statement->reset();
            statement->bind(1, each.document->id);
            statement->exec();
        }
    }
    SQLite::Statement row(*database_, "INSERT OR REPLACE INTO kept VALUES (?, ?, ?, ?, ?, ?, ?, ?)");
    SQLite::Statement page_row(*database_, "INSERT OR REPLACE INTO kept_pages VALUES (?, ?, ?, ?)");
    for (const KeptDocument& each : kept) {
        if (!is_new(each)) continue;
        const Document& document = *each.document;
        row.reset();
        row.bind(1, document.id);
        row.bind(2, document.name);
        row.bind(3, document.saved_as);
        row.bind(4, document.barcode);
        row.bind(5, document.folder);
        row.bind(6, static_cast<int64_t>(each.left.time_since_epoch().count()));
        row.bind(7, static_cast<int64_t>(each.bytes));
        row.bind(8, document.ticket);
        row.exec();
        for (size_t place = 0; place < document.pages.size(); ++place) {
            page_row.reset();
            page_row.bind(1, document.id);
            page_row.bind(2, static_cast<int64_t>(place));
            page_row.bind(3, document.pages[place]->id);
            page_row.bind(4, row_of(*document.pages[place]));
            page_row.exec();
        }
    }
}

std::set<std::string> TrayStore::led_to() const {
    std::set<std::string> files = held_;
    const auto add = [&](const std::string& file) { files.insert(file); };
    for (const auto& [page, id] : states_) for_originals(*page, add);
    for (const DocumentPtr& document : in_database_.documents) files.merge(originals_in(*document));
    return files;
}

Result<void> TrayStore::delete_expired(const KeepingRule& rule, std::chrono::sys_seconds now) {
    const std::vector<bool> goes = expired_by_rule(kept_, rule, now);
    if (std::ranges::find(goes, true) == goes.end()) return {};
    std::vector<KeptDocument> stay;
    std::set<std::string> gone;
    for (size_t i = 0; i < kept_.size(); ++i) {
        if (goes[i])
            gone.merge(originals_in(*kept_[i].document));
        else
            stay.push_back(kept_[i]);
    }
    for (const KeptDocument& each : stay)
        for (const std::string& file : originals_in(*each.document)) gone.erase(file);
    for (const std::string& file : led_to()) gone.erase(file);
    try {
        SQLite::Transaction commit(*database_, SQLite::TransactionBehavior::IMMEDIATE);
        write_kept(stay);
        note_going(gone);
        forget_readings();
        commit.commit();
    } catch (const std::exception& failure) {
        return failed(failure);
    }
    kept_ = std::move(stay);
    for (const std::string& file : gone) remove_file_of(file);
    return {};
}

}
