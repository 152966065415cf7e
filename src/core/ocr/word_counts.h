// How often a language uses its words, to decide which of two similar words a worn one is. Read from a list of counted
// words as Debian's onboard-data has it (n-grams, of which the single words are used). Thread-safe after construction.
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
    WordCounts() = default; // has no words
    // Reads a list. If the file does not exist or is not understood, there are no words.
    explicit WordCounts(const std::filesystem::path& file);

    // Returns the natural logarithm of the word's share of all words, case-sensitive. A word that is not in the list
    // counts half as much as the rarest one. Returns nullopt if there are no words.
    std::optional<double> log_share(std::string_view word) const;
    // Returns the `most` likeliest counted words, by frequency and distance, that differ by one inserted, removed or
    // replaced letter, or by two if the word is longer than two letters.
    std::vector<std::string> near(std::string_view word, size_t most) const;

  private:
    std::string text_;            // lines "count word", sorted by the words' bytes
    std::vector<uint32_t> lines_; // offsets of the lines; a list of strings would take twice the memory
    // For each entry of lines_, the set of letters in its word, one bit for each byte value modulo 32. Words whose sets
    // differ in many bits are many edits apart, so near() does not compare them.
    std::vector<uint32_t> letters_;
    double all_ = 0, least_ = 0;

    std::string_view word_of(uint32_t line) const;
    double count_of(uint32_t line) const;
};

}
