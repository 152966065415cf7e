// Parsing what the user types to find a document: words, "exact words", -not, from:, in:, and dates in words. A pure
// function.
#pragma once

#include "core/cabinet/typed_dates.h"

#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

struct QueryPart {
    enum class Is { Words, Exact, From, In, When };
    Is is = Is::Words;
    std::vector<std::string> words; // as typed; one for Words, several for the others
    bool excluded = false;          // matching documents are excluded
    bool goes_on = false;           // the last word, which may be incomplete: matches as a prefix
    DateSpan when;
    bool or_words = false; // When: the words themselves match as well
    bool operator==(const QueryPart&) const = default;
};

struct SearchQuery {
    std::vector<QueryPart> parts;
    bool is_empty() const; // matches all documents
    bool operator==(const SearchQuery&) const = default;
};

SearchQuery parse_query(std::string_view typed, std::chrono::year_month_day today);

}
