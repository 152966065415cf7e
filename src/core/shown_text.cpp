#include "core/shown_text.h"

#include "core/utf8.h"

namespace yelvin {

bool steers_output(char32_t c) {
    const bool is_control = c < 0x20 || (c >= 0x7F && c < 0xA0);
    // UAX #9, 2: LRM, RLM, ALM, the embeddings and overrides, the isolates; and the line and paragraph separators.
    const bool turns = c == 0x200E || c == 0x200F || c == 0x061C || (c >= 0x202A && c <= 0x202E) ||
                       (c >= 0x2066 && c <= 0x2069) || c == 0x2028 || c == 0x2029;
    return is_control || turns;
}

std::string shown_text(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (size_t at = 0; at < text.size();) {
        const size_t begin = at;
        const auto c = next_code_point(text, at);
        const bool is_kept = c && (*c == '\n' || *c == '\t' || !steers_output(*c));
        out += is_kept ? text.substr(begin, at - begin) : "\uFFFD";
    }
    return out;
}

}
