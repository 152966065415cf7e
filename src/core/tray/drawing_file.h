// Pages of PDFs that were drawn and not scanned keep their drawing beside their original in the store; it goes with it.
#pragma once

#include "core/tray/tray.h"

#include <filesystem>

namespace yelvin {

// `pdf`: of that page alone.
Result<void> keep_drawing(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf);

// Empty where it has none, or where anything was changed on the page: then a picture of it goes into files. That an
// automatic ink took colours away from a page without any is no change.
std::string drawing_of(const std::filesystem::path& store_folder, const Page& page, bool ink_is_automatic);

}
