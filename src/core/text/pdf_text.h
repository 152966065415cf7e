// The text that pages of a PDF already have. Thread-safe.
#pragma once

#include "core/raster/page_file.h"
#include "core/text/text_layer.h"

#include <filesystem>
#include <optional>
#include <stop_token>
#include <vector>

namespace yelvin {

// Returns the text of page `index` (from 0) with its places on the picture that read_page() returns, of the given size
// and resolution. All words have full confidence. Returns nullopt if the page must be read by OCR: it has no text, its
// text runs in another direction than the page, or does not consist of letters; also for a file that is not a PDF.
std::optional<TextLayer> text_in_pdf(const PageFile& file, int index, cv::Size picture_px, double dpi);

// Returns the text of all pages of a PDF, with places at `dpi`; nullopt for pages as above. Errors: BadInput if it is
// not a PDF or is damaged; Encrypted if it needs a password; Stopped.
Result<std::vector<std::optional<TextLayer>>> texts_in_pdf(const std::filesystem::path& file, double dpi,
                                                           const std::stop_token& stop = {});

}
