// A page as people look over it: runs of words that stand close together, with what stands beside, above and below.
#pragma once

#include "core/reading/paper_words.h"
#include "core/reading/tables.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// Words of one line without a wide gap between them.
struct PaperPart {
    std::vector<std::string> words; // as they are printed
    std::vector<LineWord> places;   // of each
    std::vector<double> sure;       // of each, 0 to 1
    std::vector<cv::Rect> boxes;
    std::vector<std::string> keys;   // of all words, one after the other …
    std::vector<size_t> word_of_key; // … and whose each is
    std::vector<size_t> key_of_word; // the first of each word, or where it would be; one more at the end
    cv::Rect box;
    double height = 0; // of its tall letters, px
    bool bold = false;

    std::string text(size_t from = 0, size_t count = std::string::npos) const; // words with spaces
    double sure_of(size_t from, size_t count) const;                           // the least
    std::vector<LineWord> places_of(size_t from, size_t count) const;
};

struct PaperPage {
    std::vector<PaperPart> parts; // from top to bottom
    int width = 0, height = 0;    // px
    double usual_height = 1;      // of the letters of most words
    std::string language;

    double down(const PaperPart& part) const { return (part.box.y + part.box.height / 2.0) / height; } // 0 to 1
    double across(const PaperPart& part) const { return static_cast<double>(part.box.x) / width; }     // its left end
    const PaperPart* left_of(const PaperPart& part) const; // the next in the same row; null: none
    const PaperPart* right_of(const PaperPart& part) const;
    const PaperPart* above(const PaperPart& part) const; // the next one over or under it, within four lines
    const PaperPart* below(const PaperPart& part) const;
};

PaperPage paper_page(const PageText& text);

// The longest phrase that begins at this key; its meaning and how many keys it takes.
struct Found {
    const PaperPhrase* phrase = nullptr;
    size_t keys = 0;
    explicit operator bool() const { return phrase != nullptr; }
};
Found longest_at(const std::vector<PaperPhrase>& phrases, const std::vector<std::string>& keys, size_t at);
Found whole_part(const std::vector<PaperPhrase>& phrases, const PaperPart& part);            // all its keys
Found ending_at(const std::vector<PaperPhrase>& phrases, const PaperPart& part, size_t key); // the longest before it

bool has_digit(std::string_view text);
bool is_money(const std::string& word); // an amount with two decimals, or a currency's sign

}
