// PDFs of pictures get words behind their pages, and stay what they are otherwise.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"
#include "core/reading/text_layer.h"
#include "core/saving/file_steps.h"

#include <filesystem>
#include <functional>
#include <stop_token>

namespace yelvin {

// Reads every page that has no words and puts them, invisibly, where they are printed: in the page as it is, whichever
// way it lies. The former file stays until the new one is in its place. How many pages got words; where none did, the
// file is not written. Errors: Missing; Encrypted, where it needs a password or forbids changes; BadInput, where it is
// damaged, no PDF, or signed; what reading says; Stopped; Busy, where somebody changed it meanwhile. `steps`: for
// tests.
Result<int> make_searchable(const std::filesystem::path& pdf,
                            const std::function<Result<TextLayer>(const Raster& page)>& read,
                            const std::stop_token& stop = {}, FileSteps& steps = disk());

}
