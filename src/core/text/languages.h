// Languages for OCR, and recognising the language of a text. Languages have Tesseract's names ("eng"). Pure functions.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

// Instead of languages in a ticket: the language of each page is detected among the installed ones.
inline constexpr std::string_view automatic_language = "auto";

// Instead of languages of a page: the text that its PDF already had. A page without such text is read as with "auto".
inline constexpr std::string_view own_words = "own";

enum class Script { Latin, Greek, Cyrillic, Hebrew, Arabic, Chinese, Japanese, Korean, Other };
// Returns the script of a language; Latin for an unknown one.
Script script_of(std::string_view language);
// Returns the script of the word's first letter, or nullopt if it has none.
std::optional<Script> script_of_letters(std::string_view word);

// Returns the English name of a language ("German"); for an unknown one, Tesseract's name.
std::string language_words(const std::string& language);

// Returns the languages that are read: `asked` or, for "auto", those of `installed` that are languages, English first
// because most documents in other languages have some English words.
std::vector<std::string> languages_meant(const std::vector<std::string>& asked,
                                         const std::vector<std::string>& installed);

// Recognises which of the languages in `among` the words are in, by the most usual words of each language; the
// likeliest comes first. `share` is the share of usual words, 0 to 1; running text has 0.2 to 0.5 in its own language.
// Languages whose usual words are not known are omitted. Accents are ignored, so the words may have been read in
// another language.
struct LanguageVote {
    std::string language;
    double share = 0;
    int words = 0;
};
std::vector<LanguageVote> votes_for(const std::vector<std::string>& words, const std::vector<std::string>& among);

// Whether the first vote is clear: at least three usual words, a seventh of all words, and 1.5 times those of the
// second.
bool is_clear(const std::vector<LanguageVote>& votes);

}
