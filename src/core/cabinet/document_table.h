// The facts of all documents that are needed to count and sort them at each typed letter, in memory: about 40 bytes
// each. Internal to core/cabinet.
#pragma once

#include "core/cabinet/bits.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <chrono>
#include <cstdint>
#include <functional>
#include <limits>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace yelvin {

// Stores strings that documents share, such as senders, once, and numbers them.
class StringPool {
  public:
    std::uint32_t number_of(const std::string& value);
    const std::string& operator[](std::uint32_t number) const { return values_[number]; }
    size_t size() const { return values_.size(); }

  private:
    std::vector<std::string> values_;
    std::unordered_map<std::string, std::uint32_t> numbers_;
};

inline constexpr std::int32_t no_day = std::numeric_limits<std::int32_t>::min();

inline std::int32_t number_of_day(std::chrono::sys_days day) {
    return static_cast<std::int32_t>(day.time_since_epoch().count());
}

struct DocumentRow {
    long long id = 0, first_page = 0;
    std::int32_t pages = 0;
    std::int32_t saved = no_day, dated = no_day; // days since 1970
    std::int32_t month = 0;                      // of saving: year * 12 + month - 1
    std::uint32_t folder = 0, ticket = 0, sender = 0;
};

class DocumentTable {
  public:
    // Updates the table from the database. Returns whether anything changed.
    bool look(SQLite::Database& database);

    const std::vector<DocumentRow>& rows() const { return rows_; }
    size_t page_count() const { return row_of_page_.size(); } // the highest page id plus one
    std::optional<size_t> row_of(long long paper) const;
    const StringPool& folders() const { return folders_; }
    const StringPool& tickets() const { return tickets_; }
    const StringPool& senders() const { return senders_; }

    Bits rows_with(const Bits& pages) const;
    static constexpr std::uint32_t no_row = std::numeric_limits<std::uint32_t>::max();

  private:
    std::vector<DocumentRow> rows_;
    std::vector<std::uint32_t> row_of_page_;
    std::unordered_map<long long, std::uint32_t> row_of_;
    StringPool folders_, tickets_, senders_;
    long long revision_ = -1, taken_away_ = -1;
    void take(const DocumentRow& row);
};

Bits rows_where(const DocumentTable& table, const std::function<bool(const DocumentRow&)>& fits);
// Calls `fits` once for each string and returns the results by number.
std::vector<bool> that_fit(const StringPool& values, const std::function<bool(const std::string&)>& fits);

}
