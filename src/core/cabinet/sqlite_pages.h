// The rows of an SQLite file, found page by page without its schema and without the pages that lead to others: what is
// left when SQLite itself cannot find its way any more. By "Database File Format" of sqlite.org, sections 1.6 and 2.1.
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
    std::vector<std::variant<std::monostate, std::int64_t, double, std::string>> values; // a blob's bytes as a string
};

// Calls `each` with every row of a table that stands whole on one page; longer ones are left out. `file` is a database,
// or its write-ahead log, whose name ends in "-wal". A row may come twice, in an older and a newer state. What cannot
// be read is passed over; a file that is not there has no rows.
void for_rows_in_pages(const std::filesystem::path& file, const std::function<void(const SqliteRow&)>& each);

}
