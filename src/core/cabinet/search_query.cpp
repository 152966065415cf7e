#include "core/cabinet/search_query.h"

#include "core/cabinet/terms.h"

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {

struct Typed {
    std::vector<std::string> words;
    bool quoted = false, excluded = false, goes_on = false;
    std::string field; // "from" or "in"; empty: none
};

std::vector<std::string> words_in(std::string_view text) {
    std::vector<std::string> out;
    std::string word;
    for (const char c : std::string(text) + ' ') {
        if (c != ' ' && c != '\t')
            word += c;
        else if (!word.empty())
            out.push_back(std::exchange(word, {}));
    }
    return out;
}

// Replaces typographic quotation marks by plain ones.
std::string with_plain_quotes(std::string_view typed) {
    constexpr std::string_view curly[] = {"“", "”", "„", "«", "»"};
    std::string out;
    while (!typed.empty()) {
        const auto at = std::ranges::find_if(curly, [&](std::string_view each) { return typed.starts_with(each); });
        out += at == std::end(curly) ? typed.front() : '"';
        typed.remove_prefix(at == std::end(curly) ? 1 : at->size());
    }
    return out;
}

std::vector<Typed> typed_parts(std::string_view raw) {
    const std::string typed = with_plain_quotes(raw);
    std::vector<Typed> out;
    for (size_t at = 0; at < typed.size();) {
        if (typed[at] == ' ' || typed[at] == '\t') {
            ++at;
            continue;
        }
        Typed part;
        if (typed[at] == '-' && at + 1 < typed.size() && typed[at + 1] != ' ') {
            part.excluded = true;
            ++at;
        }
        for (const std::string_view field : {"from:", "in:"})
            if (std::string_view(typed).substr(at).starts_with(field)) {
                part.field = field.substr(0, field.size() - 1);
                at += field.size();
                break;
            }
        part.quoted = at < typed.size() && typed[at] == '"';
        const size_t begin = at + (part.quoted ? 1 : 0);
        const size_t end = std::min(typed.find(part.quoted ? '"' : ' ', begin), typed.size());
        part.words = words_in(std::string_view(typed).substr(begin, end - begin));
        part.goes_on = end == typed.size();
        at = end + (part.quoted ? 1 : 0);
        if (!part.words.empty()) out.push_back(std::move(part));
    }
    return out;
}

bool is_plain(const Typed& part) { return !part.quoted && !part.excluded && part.field.empty(); }

bool has_letters(const std::string& word) { return !folded(word).empty(); }

}

bool SearchQuery::is_empty() const { return parts.empty(); }

SearchQuery parse_query(std::string_view typed, std::chrono::year_month_day today) {
    const std::vector<Typed> parts = typed_parts(typed);
    SearchQuery out;
    for (size_t i = 0; i < parts.size(); ++i) {
        const Typed& part = parts[i];
        if (!part.field.empty()) {
            out.parts.push_back({part.field == "from" ? QueryPart::Is::From : QueryPart::Is::In,
                                 part.words,
                                 part.excluded,
                                 part.goes_on && !part.quoted,
                                 {},
                                 false});
            continue;
        }
        if (part.quoted && std::ranges::any_of(part.words, has_letters)) {
            out.parts.push_back({QueryPart::Is::Exact, part.words, part.excluded, false, {}, false});
            continue;
        }
        if (is_plain(part)) {
            std::vector<std::string> run;
            for (size_t k = i; k < parts.size() && is_plain(parts[k]); ++k) run.push_back(parts[k].words.front());
            // The last word may be incomplete, so it is also searched for as a word.
            if (const auto said = typed_date(run, 0, today)) {
                run.resize(said->count);
                out.parts.push_back(
                    {QueryPart::Is::When, run, false, parts[i + said->count - 1].goes_on, said->span, said->or_words});
                i += said->count - 1;
                continue;
            }
        }
        for (const std::string& word : part.words)
            if (has_letters(word))
                out.parts.push_back(
                    {QueryPart::Is::Words, {word}, part.excluded, part.goes_on && !part.excluded, {}, false});
    }
    return out;
}

}
