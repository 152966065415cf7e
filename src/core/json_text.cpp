#include "core/json_text.h"

namespace yelvin {

namespace {

bool is_too_deep(std::string_view text) {
    constexpr int deepest = 100;
    int depth = 0;
    bool in_string = false;
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (in_string) {
            if (c == '\\') ++i;
            if (c == '"') in_string = false;
        } else if (c == '"') {
            in_string = true;
        } else if (c == '[' || c == '{') {
            if (++depth > deepest) return true;
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return false;
}

}

std::optional<nlohmann::json> json_from_text(std::string_view text) {
    if (is_too_deep(text)) return std::nullopt;
    auto json = nlohmann::json::parse(text, nullptr, false);
    if (json.is_discarded()) return std::nullopt;
    return json;
}

}
