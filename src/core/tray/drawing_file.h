// Contents of PDF pages that go into a new PDF unchanged: the drawing of a page that was drawn and not scanned, and the
// compressed pictures of a scanned page. They are files beside the original in the store and are deleted with it.
//
// The functions block on the disk and may be called on any thread.
#pragma once

#include "core/error.h"
#include "core/tray/tray.h"

#include <filesystem>

namespace yelvin {

// Stores the drawing of a page: `pdf` is a PDF file with this page alone. Errors: those of replace_file().
Result<void> keep_drawing(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf);

// Returns the PDF that keep_drawing() stored, or an empty string if there is none or if the page was changed, in which
// case its picture is saved instead. An automatic colour mode that made a colourless page grey does not count as a
// change.
std::string drawing_of(const std::filesystem::path& store_folder, const Page& page, bool ink_is_automatic);

// Stores the result of PageFile::pictures() beside the original of a scanned page. Errors: those of replace_file().
Result<void> keep_pictures(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf);

// Returns the PDF that keep_pictures() stored, or an empty string if there is none or if the page's recipe changes any
// pixel of the original.
std::string pictures_of(const std::filesystem::path& store_folder, const Page& page);

}
