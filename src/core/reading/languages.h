// What is known of the languages that can be read, and which of them a text is in.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

// In a ticket's list instead of languages: each page's is found among those installed.
inline constexpr std::string_view automatic_language = "auto";

// Likewise: the words that a page brought with it. Where it has none it is read in whichever language it is in.
inline constexpr std::string_view own_words = "own";

enum class Script { Latin, Greek, Cyrillic, Hebrew, Arabic, Chinese, Japanese, Korean, Other };
// By Tesseract's name of the language ("eng"); Latin where nothing else is known.
Script script_of(std::string_view language);
// That of the word's first letter; nothing where it has none.
std::optional<Script> script_of_letters(std::string_view word);

// Its name in English ("German"); Tesseract's own where it is not known.
std::string language_words(const std::string& language);

// The languages that are read: `asked` as it is, or for "auto" those of `installed` that are languages, English first
// because most of the others' papers have some of its words too.
std::vector<std::string> languages_meant(const std::vector<std::string>& asked,
                                         const std::vector<std::string>& installed);

// Which of `among` the words are in, by the commonest words of each language, the likeliest first. `share` is that of
// the words that are common ones, 0 to 1; running text has 0.2 to 0.5 in its own language. Languages whose common words
// are not known are not in it. Accents do not count, so that the words may have been read in another language.
struct LanguageVote {
    std::string language;
    double share = 0;
    int words = 0;
};
std::vector<LanguageVote> votes_for(const std::vector<std::string>& words, const std::vector<std::string>& among);

// Whether the first of them is far enough before the second: at least three common words, a seventh of all, and half as
// many again.
bool is_clear(const std::vector<LanguageVote>& votes);

}
