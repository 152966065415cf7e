#include "core/cabinet/document_table.h"

#include "core/paper_facts/dates_written.h"

#include <algorithm>

namespace yelvin {

std::uint32_t StringPool::number_of(const std::string& value) {
    const auto [at, is_new] = numbers_.try_emplace(value, static_cast<std::uint32_t>(values_.size()));
    if (is_new) values_.push_back(value);
    return at->second;
}

void DocumentTable::take(const DocumentRow& row) {
    const auto [at, is_new] = row_of_.try_emplace(row.id, static_cast<std::uint32_t>(rows_.size()));
    if (is_new) {
        rows_.push_back(row);
    } else {
        DocumentRow& old = rows_[at->second];
        for (auto page = old.first_page; page < old.first_page + old.pages; ++page)
            row_of_page_[static_cast<size_t>(page)] = no_row;
        old = row;
    }
    const auto end = static_cast<size_t>(row.first_page + row.pages);
    if (row_of_page_.size() < end) row_of_page_.resize(end, no_row);
    std::fill_n(row_of_page_.begin() + row.first_page, row.pages, at->second);
}

bool DocumentTable::look(SQLite::Database& database) {
    const long long revision = database.execAndGet("SELECT value FROM counters WHERE name = 'revision'").getInt64();
    const long long taken_away = database.execAndGet("SELECT value FROM counters WHERE name = 'taken away'").getInt64();
    if (revision == revision_ && taken_away == taken_away_) return false;
    if (taken_away != taken_away_) {
        *this = {};
        revision_ = -1;
    }
    SQLite::Statement found(database, "SELECT id, first_page, pages, saved, date, file, ticket, sender FROM papers "
                                      "WHERE revision > ? ORDER BY revision");
    found.bind(1, static_cast<int64_t>(revision_));
    while (found.executeStep()) {
        DocumentRow row;
        row.id = found.getColumn(0).getInt64();
        row.first_page = found.getColumn(1).getInt64();
        row.pages = found.getColumn(2).getInt();
        const auto day = std::chrono::floor<std::chrono::days>(
            std::chrono::sys_seconds(std::chrono::seconds(found.getColumn(3).getInt64())));
        row.saved = number_of_day(day);
        const std::chrono::year_month_day date(day);
        row.month = static_cast<int>(date.year()) * 12 + static_cast<int>(static_cast<unsigned>(date.month())) - 1;
        if (const auto dated = date_of_iso(found.getColumn(4).getString())) row.dated = number_of_day(*dated);
        const std::string file = found.getColumn(5).getString();
        row.folder = folders_.number_of(file.substr(0, std::max<size_t>(1, file.rfind('/'))));
        row.ticket = tickets_.number_of(found.getColumn(6).getString());
        row.sender = senders_.number_of(found.getColumn(7).getString());
        take(row);
    }
    revision_ = revision;
    taken_away_ = taken_away;
    return true;
}

std::optional<size_t> DocumentTable::row_of(long long paper) const {
    const auto at = row_of_.find(paper);
    return at == row_of_.end() ? std::nullopt : std::optional<size_t>(at->second);
}

Bits DocumentTable::rows_with(const Bits& pages) const {
    Bits rows(rows_.size());
    pages.each([&](size_t page) {
        if (page < row_of_page_.size() && row_of_page_[page] != no_row) rows.set(row_of_page_[page]);
    });
    return rows;
}

Bits rows_where(const DocumentTable& table, const std::function<bool(const DocumentRow&)>& fits) {
    Bits out(table.rows().size());
    for (size_t i = 0; i < table.rows().size(); ++i)
        if (fits(table.rows()[i])) out.set(i);
    return out;
}

std::vector<bool> that_fit(const StringPool& values, const std::function<bool(const std::string&)>& fits) {
    std::vector<bool> out(values.size());
    for (std::uint32_t i = 0; i < values.size(); ++i) out[i] = fits(values[i]);
    return out;
}

}
