// The words that a PDF's page already has.
#pragma once

#include "core/raster/page_file.h"
#include "core/reading/text_layer.h"

#include <filesystem>
#include <optional>
#include <stop_token>
#include <vector>

namespace yelvin {

// Where they are on the picture that read_page() draws of page `index` (from 0), width_px by height_px dots of `dpi`.
// Nothing where there are none, where they run in another direction than the page, or where they are no letters: then
// the page is to be read. The engine was not asked: each is sure.
// Nothing for a file that is not a PDF, either.
std::optional<TextLayer> text_in_pdf(const PageFile& file, int index, cv::Size picture_px, double dpi);

// The words of all its pages at once, at `dpi`; nothing for a page as above. Errors: BadInput where it is no PDF, or a
// damaged one; Encrypted where a password is needed to open it.
Result<std::vector<std::optional<TextLayer>>> texts_in_pdf(const std::filesystem::path& file, double dpi,
                                                           const std::stop_token& stop = {});

}
