// What was found, as a list for other programs.
#pragma once

#include "core/cabinet/finding.h"

namespace yelvin {

// A line a paper, the best first, below one that names the columns: CSV (RFC 4180) in UTF-8.
std::string results_as_csv(std::span<const FoundPaper> papers);

// The words around those that were looked for.
std::string line_words(const FoundPaper& found);

}
