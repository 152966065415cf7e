// What has to be known of every paper to count and sort them at each letter typed, in memory: some 40 bytes each.
// Internal to the cabinet.
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

// Each of the values that papers share, such as senders, stands once.
class Shared {
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

struct ShelfRow {
    long long id = 0, first_page = 0;
    std::int32_t pages = 0;
    std::int32_t saved = no_day, dated = no_day; // days since 1970
    std::int32_t month = 0;                      // of saving: year * 12 + month - 1
    std::uint32_t folder = 0, ticket = 0, sender = 0;
};

class Shelf {
  public:
    // As the database is now; whether anything is other than before.
    bool look(SQLite::Database& database);

    const std::vector<ShelfRow>& rows() const { return rows_; }
    size_t page_count() const { return row_of_page_.size(); } // one more than the highest page's id
    size_t row_of_page(size_t page) const { return row_of_page_[page]; }
    std::optional<size_t> row_of(long long paper) const;
    const Shared& folders() const { return folders_; }
    const Shared& tickets() const { return tickets_; }
    const Shared& senders() const { return senders_; }

    Bits rows_with(const Bits& pages) const;
    static constexpr std::uint32_t no_row = std::numeric_limits<std::uint32_t>::max();

  private:
    std::vector<ShelfRow> rows_;
    std::vector<std::uint32_t> row_of_page_;
    std::unordered_map<long long, std::uint32_t> row_of_;
    Shared folders_, tickets_, senders_;
    long long revision_ = -1, taken_away_ = -1;
    void take(const ShelfRow& row);
};

Bits rows_where(const Shelf& shelf, const std::function<bool(const ShelfRow&)>& fits);
// Whether each of the shared values fits, asked once each.
std::vector<bool> that_fit(const Shared& values, const std::function<bool(const std::string&)>& fits);

}
