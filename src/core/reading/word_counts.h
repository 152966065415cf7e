// How often a language writes its words, to tell which of two words that look alike a worn one rather is. From a list
// of counted words as Debian's onboard-data has them (n-grams, of which the single words are taken).
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace yelvin {

class WordCounts {
  public:
    WordCounts() = default; // knows nothing
    // Knows nothing where there is no such file, or nothing in it.
    explicit WordCounts(const std::filesystem::path& file);

    // The natural logarithm of the word's share of all words in writing, as it stands: small and large letters are
    // different ones. A word that is not in the list counts half of its rarest one.
    std::optional<double> log_share(std::string_view word) const;
    // The counted words that are one letter more, less or other, of words longer than two letters two; the `most`
    // likeliest, by how common they are and how near.
    std::vector<std::string> near(std::string_view word, size_t most) const;

  private:
    std::string text_;            // the list, a line "count word" each, by the words' bytes
    std::vector<uint32_t> lines_; // where they begin: a list of words in memory would be twice as large
    // For each entry of lines_, the set of letters in its word, one bit for each byte value modulo 32. Words whose sets
    // differ in many bits are many edits apart, so near() does not compare them.
    std::vector<uint32_t> letters_;
    double all_ = 0, least_ = 0;

    std::string_view word_of(uint32_t line) const;
    double count_of(uint32_t line) const;
};

}
