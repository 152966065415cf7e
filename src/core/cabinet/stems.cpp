#include "core/cabinet/stems.h"

#include <libstemmer.h>

#include <algorithm>
#include <string_view>
#include <utility>

namespace yelvin {

namespace {

constexpr std::pair<std::string_view, const char*> algorithms[] = {
    {"ara", "arabic"},     {"cat", "catalan"},   {"dan", "danish"},    {"deu", "german"},     {"ell", "greek"},
    {"eng", "english"},    {"eus", "basque"},    {"fin", "finnish"},   {"fra", "french"},     {"gle", "irish"},
    {"hin", "hindi"},      {"hun", "hungarian"}, {"hye", "armenian"},  {"ind", "indonesian"}, {"ita", "italian"},
    {"lit", "lithuanian"}, {"nld", "dutch"},     {"nor", "norwegian"}, {"por", "portuguese"}, {"ron", "romanian"},
    {"rus", "russian"},    {"spa", "spanish"},   {"srp", "serbian"},   {"swe", "swedish"},    {"tam", "tamil"},
    {"tur", "turkish"},    {"yid", "yiddish"},
};

const char* algorithm_of(std::string_view language) {
    const auto at = std::ranges::find(algorithms, language, &std::pair<std::string_view, const char*>::first);
    return at == std::end(algorithms) ? nullptr : at->second;
}

}

void Stemmers::Delete::operator()(sb_stemmer* stemmer) const { sb_stemmer_delete(stemmer); }

bool Stemmers::knows(const std::string& language) { return algorithm_of(language) != nullptr; }

std::string Stemmers::stem(const std::string& written, const std::string& language) {
    auto& stemmer = by_language_[language];
    if (!stemmer) {
        const char* algorithm = algorithm_of(language);
        if (algorithm) stemmer.reset(sb_stemmer_new(algorithm, "UTF_8"));
        if (!stemmer) return written;
    }
    const auto* const in = reinterpret_cast<const sb_symbol*>(written.data());
    const sb_symbol* const out = sb_stemmer_stem(stemmer.get(), in, static_cast<int>(written.size()));
    if (!out) return written;
    return {reinterpret_cast<const char*>(out), static_cast<size_t>(sb_stemmer_length(stemmer.get()))};
}

}
