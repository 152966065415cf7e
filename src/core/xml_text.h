// Escaping text for XML and HTML.
#pragma once

#include <string>
#include <string_view>

namespace yelvin {

// Escapes text for elements and for attributes in double quotation marks. Omits the control characters that
// XML 1.0, 2.2 does not allow. A pure function.
std::string xml_text(std::string_view words);

}
