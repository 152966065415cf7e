// What pages of PDFs bring along for a PDF that is made of them, kept beside their original in the store; it goes with
// it: the drawing of a page that was drawn and not scanned, the pictures of a scan with their bytes as they came.
#pragma once

#include "core/tray/tray.h"

#include <filesystem>

namespace yelvin {

// `pdf`: of that page alone.
Result<void> keep_drawing(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf);

// Empty where it has none, or where anything was changed on the page: then a picture of it goes into files. That an
// automatic ink took colours away from a page without any is no change.
std::string drawing_of(const std::filesystem::path& store_folder, const Page& page, bool ink_is_automatic);

// Keeps the result of PageFile::pictures() beside the original of a scanned page. Errors: those of replace_file().
Result<void> keep_pictures(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf);

// Returns the PDF that keep_pictures() stored, or an empty string if there is none or if the page's recipe changes any
// pixel of the original.
std::string pictures_of(const std::filesystem::path& store_folder, const Page& page);

}
