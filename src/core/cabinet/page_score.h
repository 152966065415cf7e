// Scoring how well a page matches a query, and choosing the line to show. Internal to core/cabinet. Pure functions.
#pragma once

#include "core/cabinet/finding.h"
#include "core/cabinet/word_sets.h"

namespace yelvin {

// A place on a page where a part of the query matches.
struct TermHit {
    size_t line = 0, first = 0, last = 0; // the line, and its first and last word of the match
    size_t part = 0;
    size_t place = 0; // position among the page's terms
    bool as_typed = false;
};
std::vector<TermHit> hits_on_page(const PageWords& page, const std::vector<const TermMatcher*>& parts);

struct PageScore {
    double score = 0;
    std::vector<ExcerptWord> line; // about a dozen words around the match
    std::pair<size_t, size_t> at;  // line and word where it begins
};
PageScore score_of(const PageWords& page, const std::vector<const TermMatcher*>& parts);

}
