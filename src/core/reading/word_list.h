// The words of a language, to tell a word that was read from one that was misread. From the dictionaries of hunspell
// that are installed; a language without one knows no word and doubts none. How usual a word is comes from counted
// words.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

class WordList {
  public:
    // By Tesseract's names of languages ("eng"). The first question loads them, which takes up to a second.
    explicit WordList(const std::vector<std::string>& languages);
    ~WordList();
    WordList(WordList&&) noexcept;
    WordList& operator=(WordList&&) noexcept;

    void load(); // now

    enum class Known { Yes, No, CannotTell };
    // CannotTell: no letters, digits among them, a single letter, an abbreviation, an address, or a language without a
    // dictionary.
    // Marks before and after the letters do not count; a word with a hyphen or an apostrophe is known by its parts.
    Known knows(std::string_view word);

    // The natural logarithm of how much of all writing the word is; marks before and after it do not count, nor does it
    // whether a sentence begins with it. Nothing where the language's words were never counted (word_counts.h).
    std::optional<double> log_share(std::string_view word);
    // The known words that differ in a letter or two, with the word's own marks; of the `most` likeliest.
    std::vector<std::string> near(std::string_view word, size_t most);

  private:
    struct Dictionaries;
    std::unique_ptr<Dictionaries> dictionaries_;
};

}
