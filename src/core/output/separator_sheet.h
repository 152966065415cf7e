// Separator sheets to print: a large code that the feeder run finds, and words that say what the sheet is for.
#pragma once

#include "core/error.h"

#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

// A PDF with one A4 page for each text; a text becomes part of the name of the document behind its sheet, an empty one
// only separates. A text too long for a code is an Error that names it.
Result<void> write_separator_sheets(const std::filesystem::path& file, const std::vector<std::string>& texts);

}
