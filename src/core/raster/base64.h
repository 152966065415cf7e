// The Base64 encoding. A pure function.
#pragma once

#include <string>
#include <string_view>

namespace yelvin {

// Returns the encoding with padding and without line breaks (RFC 4648, 4).
std::string base64(std::string_view bytes);

}
