// Rows of the tray's database: SQLite's prepared statements, and a page's stored form.
#pragma once

#include "core/tray/tray.h"

#include <sqlite3.h>

namespace yelvin {

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

nlohmann::json page_json(const Page& page);
Page page_from_json(const std::string& id, const nlohmann::json& json); // throws nlohmann::json::exception

}
