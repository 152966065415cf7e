// The words of languages, to recognise misread ones: the installed hunspell dictionaries and the counted words of
// WordCounts. Used by one thread at a time.
#pragma once

#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

class WordList {
  public:
    // `languages` has Tesseract's names ("eng"). The first query loads the dictionaries, which takes up to a second.
    explicit WordList(const std::vector<std::string>& languages);
    ~WordList();
    WordList(WordList&&) noexcept;
    WordList& operator=(WordList&&) noexcept;

    void load(); // loads the dictionaries now

    enum class Known { Yes, No, CannotTell };
    // Whether a word is in a dictionary. Marks before and after its letters are ignored; a word with a hyphen or an
    // apostrophe is known if its parts are. CannotTell: it has no letters, has digits, is a single letter, an
    // abbreviation or an address, or the language has no dictionary.
    Known knows(std::string_view word);

    // Returns the natural logarithm of the word's share of all words. Marks around it are ignored, and so is a capital
    // at the beginning of a sentence. Returns nullopt if the language's words were not counted (word_counts.h).
    std::optional<double> log_share(std::string_view word);
    // Returns those of the `most` likeliest words that differ by one or two letters and are known, with the marks of
    // `word`.
    std::vector<std::string> near(std::string_view word, size_t most);

  private:
    struct Dictionaries;
    std::unique_ptr<Dictionaries> dictionaries_;
};

}
