#include "core/cabinet/typed_words.h"

#include "core/cabinet/terms.h"

#include <algorithm>
#include <utility>

namespace yelvin {

bool has_words(const std::string& text, const std::vector<std::string>& typed) {
    std::vector<std::string> parts;
    std::string part;
    for (const char c : text + ' ') {
        if (c != ' ' && c != '/' && c != '-' && c != '_' && c != '.')
            part += c;
        else if (!part.empty())
            parts.push_back(folded(std::exchange(part, {})));
    }
    return std::ranges::all_of(typed, [&](const std::string& word) {
        const std::string begins = folded(word);
        return std::ranges::any_of(parts, [&](const std::string& each) { return each.starts_with(begins); });
    });
}

}
