// Adding invisible text to PDFs of pictures, which are otherwise unchanged.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/saving/file_steps.h"
#include "core/text/text_layer.h"

#include <filesystem>
#include <functional>
#include <stop_token>

namespace yelvin {

// Reads every page that has no text and adds its words invisibly where they are printed, whatever the page's rotation.
// The old file stays until the new one is complete. Returns the number of pages that got text; if there are none, the
// file is not written. Blocks; may be called on any thread. Errors: Missing; Encrypted if the PDF needs a password or
// forbids changes; BadInput if it is damaged, not a PDF, or signed; those of `read`; Stopped; Busy if somebody changed
// the file meanwhile; those of replace_file_with().
Result<int> make_searchable(const std::filesystem::path& pdf,
                            const std::function<Result<TextLayer>(const Raster& page)>& read,
                            const std::stop_token& stop = {}, FileSteps& steps = disk());

}
