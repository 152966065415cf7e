#include "core/xml_text.h"

namespace yelvin {

std::string xml_text(std::string_view words) {
    std::string out;
    for (const char c : words) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x20 && c != '\t' && c != '\n') continue; // XML 1.0, 2.2
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '"')
            out += "&quot;";
        else
            out += c;
    }
    return out;
}

}
