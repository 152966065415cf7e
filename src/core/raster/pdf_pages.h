// PDF pages as pictures. Internal to the codecs of image_file.h, which hand over the file's bytes.
#pragma once

#include "core/raster/image_file.h"

namespace yelvin {

Result<int> count_pdf_pages(const std::filesystem::path& file, const std::string& bytes);
std::optional<std::string> drawing_of_pdf_page(const std::string& bytes, int index);
// `most_px`: coarser, so that it is at most so many dots wide and high; 0: as it is.
Result<LoadedPage> read_pdf_page(const std::filesystem::path& file, const std::string& bytes, int index,
                                 int most_px = 0);

}
