// Queries for documents by folder, using the tables' indices.
#include "core/cabinet/cabinet_inside.h"

namespace fs = std::filesystem;

namespace yelvin {

Result<std::vector<CabinetPaper>> Cabinet::papers_in(const fs::path& folder) const {
    return inside_->asked([&] {
        const std::string begin = folder.string() + "/", end = folder.string() + static_cast<char>('/' + 1);
        return inside_->papers("WHERE file > ?1 AND file < ?2 AND instr(substr(file, length(?1) + 1), '/') = 0",
                               [&](auto& row) {
                                   row.bind(1, begin);
                                   row.bind(2, end);
                               });
    });
}

Result<std::vector<CabinetPaper>> Cabinet::papers_from(long long id, int most) const {
    return inside_->asked([&] {
        return inside_->papers("WHERE id >= ? ORDER BY id LIMIT ?", [&](auto& row) {
            row.bind(1, static_cast<int64_t>(id));
            row.bind(2, most);
        });
    });
}

Result<std::vector<CabinetPaper>> Cabinet::latest_here(int most) const {
    return inside_->asked([&] {
        return inside_->papers("WHERE place = 0 ORDER BY id DESC LIMIT ?", [&](auto& row) { row.bind(1, most); });
    });
}

Result<std::vector<CabinetPaper>> Cabinet::papers_not_here() const {
    return inside_->asked([&] { return inside_->papers("WHERE place <> 0 ORDER BY id", [](auto&) {}); });
}

Result<std::vector<FolderSeen>> Cabinet::places() const {
    return inside_->asked([&] {
        std::vector<FolderSeen> out;
        SQLite::Statement rows(*inside_->database, "SELECT folder, changed FROM places ORDER BY folder");
        while (rows.executeStep()) out.push_back({rows.getColumn(0).getString(), rows.getColumn(1).getInt64()});
        return out;
    });
}

Result<void> Cabinet::note_places(const std::vector<FolderSeen>& seen) {
    if (seen.empty()) return {};
    return inside_->changed([&] {
        SQLite::Statement row(*inside_->database, "INSERT OR REPLACE INTO places VALUES (?, ?)");
        for (const FolderSeen& each : seen) {
            row.bind(1, each.folder.string());
            row.bind(2, each.changed_ns);
            row.exec();
            row.reset();
        }
    });
}

Result<std::int64_t> Cabinet::number(const char* name) const {
    return inside_->asked([&]() -> std::int64_t {
        SQLite::Statement row(*inside_->database, "SELECT value FROM counters WHERE name = ?");
        row.bind(1, name);
        return row.executeStep() ? row.getColumn(0).getInt64() : 0;
    });
}

Result<void> Cabinet::set_number(const char* name, std::int64_t value) {
    return inside_->changed([&] {
        SQLite::Statement row(*inside_->database, "INSERT OR REPLACE INTO counters VALUES (?, ?)");
        row.bind(1, name);
        row.bind(2, value);
        row.exec();
    });
}

}
