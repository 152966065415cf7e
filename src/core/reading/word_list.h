// The words of a language, to tell a word that was read from one that was misread. From the dictionaries of hunspell
// that are installed; a language without one knows no word and doubts none.
#pragma once

#include <memory>
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

    enum class Known { Yes, No, CannotTell };
    // CannotTell: no letters, digits among them, a single letter, an abbreviation, an address, or a language without a
    // dictionary.
    // Marks before and after the letters do not count; a word with a hyphen or an apostrophe is known by its parts.
    Known knows(std::string_view word);

  private:
    struct Dictionaries;
    std::unique_ptr<Dictionaries> dictionaries_;
};

}
