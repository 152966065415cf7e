// Packing the places of words as differences from their expected places. Internal to core/cabinet. Pure functions.
#pragma once

#include "core/cabinet/page_words.h"

namespace yelvin {

inline constexpr char heading_mark = '\1'; // precedes a heading in packed_text()

std::string packed_places(const PageWords& page);
// Restores a page from its packed_text() and packed_places(). Throws std::exception if they do not belong together.
PageWords page_of(std::string_view text, const std::string& places);
std::vector<std::string_view> parted(std::string_view text, char at);

}
