// Separator sheets to print: a large barcode that a run recognises, and words that say what the sheet is for. May be
// called on any thread.
#pragma once

#include "core/error.h"

#include <filesystem>
#include <string>
#include <vector>

namespace yelvin {

// Writes a PDF with one A4 page for each text. Blocks on the disk. A text becomes part of the name of the document
// behind its sheet; an empty one only separates. Errors: BadInput for a text that is too long for a barcode;
// NotWritable.
Result<void> write_separator_sheets(const std::filesystem::path& file, const std::vector<std::string>& texts);

}
