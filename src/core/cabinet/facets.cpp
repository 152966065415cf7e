#include "core/cabinet/facets.h"

#include <algorithm>
#include <functional>
#include <initializer_list>
#include <map>

namespace yelvin {

Narrowed narrowed(const Bits& rows, const SearchFilter& filter, const DocumentTable& table) {
    const auto all = [&](auto fits) { return rows_where(table, fits); };
    const auto is = [](const StringPool& values, const std::optional<std::string>& wanted) {
        return that_fit(values, [&](const std::string& value) { return !wanted || value == *wanted; });
    };
    const auto folders = is(table.folders(), filter.folder), tickets = is(table.tickets(), filter.ticket),
               senders = is(table.senders(), filter.sender);
    const Bits month = all([&](const DocumentRow& row) { return !filter.month || row.month == *filter.month; });
    const Bits folder = all([&](const DocumentRow& row) { return folders[row.folder]; });
    const Bits ticket = all([&](const DocumentRow& row) { return tickets[row.ticket]; });
    const Bits sender = all([&](const DocumentRow& row) { return senders[row.sender]; });
    const auto with = [&](std::initializer_list<const Bits*> each) {
        Bits out = rows;
        for (const Bits* bits : each) out &= *bits;
        return out;
    };
    return {with({&month, &folder, &ticket, &sender}), with({&folder, &ticket, &sender}),
            with({&month, &ticket, &sender}), with({&month, &folder, &sender}), with({&month, &folder, &ticket})};
}

void count_facets(const Narrowed& rows, const DocumentTable& table, SearchResults& found) {
    found.papers = static_cast<int>(rows.all.count());
    found.of = static_cast<int>(table.rows().size());
    std::map<int, int, std::greater<>> months;
    rows.but_month.each([&](size_t i) { ++months[table.rows()[i].month]; });
    for (const auto& [month, papers] : months) found.months.push_back({month, papers});
    const auto counted = [&](const Bits& of, const StringPool& values, std::uint32_t DocumentRow::*which) {
        std::vector<int> sums(values.size());
        of.each([&](size_t i) { ++sums[table.rows()[i].*which]; });
        std::vector<FacetCount<std::string>> out;
        for (std::uint32_t i = 0; i < sums.size(); ++i)
            if (sums[i] > 0) out.push_back({values[i], sums[i]});
        std::ranges::sort(out, [](const auto& a, const auto& b) {
            return a.papers != b.papers ? a.papers > b.papers : a.what < b.what;
        });
        return out;
    };
    found.folders = counted(rows.but_folder, table.folders(), &DocumentRow::folder);
    found.tickets = counted(rows.but_ticket, table.tickets(), &DocumentRow::ticket);
    found.senders = counted(rows.but_sender, table.senders(), &DocumentRow::sender);
}

}
