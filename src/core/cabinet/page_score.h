// How well one page says what was asked for, and its line that says it. Internal to the cabinet.
#pragma once

#include "core/cabinet/finding.h"
#include "core/cabinet/word_sets.h"

namespace yelvin {

// Where the meant words stand on a page; each part of a question has its number.
struct Stands {
    size_t line = 0, first = 0, last = 0; // words of the line
    size_t part = 0;
    size_t place = 0; // among the page's terms
    bool as_typed = false;
};
std::vector<Stands> standing(const PageWords& page, const std::vector<const Meant*>& parts);

struct PageScore {
    double score = 0;
    std::vector<ShownWord> line;  // about a dozen words
    std::pair<size_t, size_t> at; // line and word where the words begin
};
PageScore score_of(const PageWords& page, const std::vector<const Meant*>& parts);

}
