// Reading the rows of a damaged SQLite file page by page, without its schema and its interior pages ("Database File
// Format" of sqlite.org, sections 1.6 and 2.1).
#pragma once

#include <cstdint>
#include <filesystem>
#include <functional>
#include <string>
#include <variant>
#include <vector>

namespace yelvin {

struct SqliteRow {
    std::int64_t id = 0;
    std::vector<std::variant<std::monostate, std::int64_t, double, std::string>> values; // a blob is a string
};

// Calls `each` with every table row that is entirely on one page; longer rows are skipped. `file` is a database or its
// write-ahead log, whose name ends in "-wal". A row may be reported twice, in an older and a newer state. What cannot
// be read is skipped; a file that does not exist has no rows.
void for_rows_in_pages(const std::filesystem::path& file, const std::function<void(const SqliteRow&)>& each);

}
