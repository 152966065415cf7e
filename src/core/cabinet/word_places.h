// Where the words of a page stand, as small numbers: what differs from where one would expect them. Internal to the
// cabinet.
#pragma once

#include "core/cabinet/page_words.h"

namespace yelvin {

inline constexpr char heading_mark = '\1'; // before a line of packed_text() that is one

std::string packed_places(const PageWords& page);
// Of the page's packed_text() and packed_places(). Throws std::exception where they are none that fit.
PageWords page_of(std::string_view text, const std::string& places);
std::vector<std::string_view> parted(std::string_view text, char at);

}
