// Text from outside (names of files, of servers, of devices) made safe to show on a terminal or in a window.
#pragma once

#include <string>
#include <string_view>

namespace yelvin {

// Replaces by U+FFFD what could control a terminal or reverse the order of the text after it: the control characters of
// C0 and C1, DEL, the directional formatting characters of Unicode's UAX #9, and bytes that are not UTF-8. Keeps line
// feeds and tabs. A pure function.
std::string shown_text(std::string_view text);

// Whether a code point is one of those characters; line feeds and tabs are.
bool steers_output(char32_t code_point);

}
