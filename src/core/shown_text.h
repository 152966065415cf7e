// Text from outside (names of files, of servers, of devices) made safe to show on a terminal or in a window.
#pragma once

#include <string>
#include <string_view>

namespace yelvin {

// Replaces what could steer a terminal or turn the order of what follows (control characters of C0 and C1, DEL, the
// marks for writing directions of Unicode's UAX #9, and bytes that are not UTF-8) by U+FFFD. Keeps line feeds and tabs.
std::string shown_text(std::string_view text);

// Whether shown_text() replaces this code point; line feeds and tabs included.
bool steers_output(char32_t code_point);

}
