#pragma once

#include <string>
#include <string_view>

namespace yelvin {

std::string base64(std::string_view bytes); // RFC 4648, 4

}
