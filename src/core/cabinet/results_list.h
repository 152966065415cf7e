// Search results as a list for other programs. Pure functions.
#pragma once

#include "core/cabinet/finding.h"

namespace yelvin {

// Returns CSV (RFC 4180) in UTF-8: a line with the names of the columns and one for each document, the best first.
std::string results_as_csv(std::span<const SearchResult> papers);

// Returns the excerpt of a result as text.
std::string line_words(const SearchResult& found);

}
