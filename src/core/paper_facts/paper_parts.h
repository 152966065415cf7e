// A page divided into parts (words that stand close together) with their neighbours. Internal to core/paper_facts. Pure
// functions.
#pragma once

#include "core/paper_facts/paper_words.h"
#include "core/text/tables.h"

#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// Words of one line without a wide gap between them.
struct PaperPart {
    std::vector<std::string> words; // as printed
    std::vector<LineWord> places;   // of each word
    std::vector<double> sure;       // confidence of each word, 0 to 1
    std::vector<cv::Rect> boxes;
    std::vector<std::string> keys;   // word_keys() of all words
    std::vector<size_t> word_of_key; // index of the word of each key
    std::vector<size_t> key_of_word; // index of the first key of each word; one more element at the end
    cv::Rect box;
    double height = 0; // height of its tall letters, px
    bool bold = false;

    std::string text(size_t from = 0, size_t count = std::string::npos) const; // words joined by spaces
    double sure_of(size_t from, size_t count) const;                           // the lowest confidence
    std::vector<LineWord> places_of(size_t from, size_t count) const;
};

struct PaperPage {
    std::vector<PaperPart> parts; // from top to bottom
    int width = 0, height = 0;    // px
    double usual_height = 1;      // height of the letters of most words, px
    std::string language;

    double down(const PaperPart& part) const {
        return (part.box.y + part.box.height / 2.0) / height;
    } // 0 to 1, of its middle
    double across(const PaperPart& part) const {
        return static_cast<double>(part.box.x) / width;
    }                                                      // 0 to 1, of its left end
    const PaperPart* left_of(const PaperPart& part) const; // the nearest part in the same row, or null
    const PaperPart* right_of(const PaperPart& part) const;
    const PaperPart* above(const PaperPart& part) const; // the nearest part above, within four lines, or null
    const PaperPart* below(const PaperPart& part) const;
};

PaperPage paper_page(const PageText& text);

// A phrase that was found, and the number of its keys.
struct PhraseMatch {
    const PaperPhrase* phrase = nullptr;
    size_t keys = 0;
    explicit operator bool() const { return phrase != nullptr; }
};
PhraseMatch longest_at(const std::vector<PaperPhrase>& phrases, const std::vector<std::string>& keys, size_t at);
PhraseMatch whole_part(const std::vector<PaperPhrase>& phrases,
                       const PaperPart& part); // the phrase must cover all keys
PhraseMatch ending_at(const std::vector<PaperPhrase>& phrases, const PaperPart& part,
                      size_t key); // the longest phrase that ends before this key

bool has_digit(std::string_view text);
bool is_money(const std::string& word); // an amount with two decimals, or with a currency sign

}
