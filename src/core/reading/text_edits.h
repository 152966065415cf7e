// What a person says about the text of a page: words put right, the order of its paragraphs, what they are, which are
// left out. Small data that belongs to the page, laid over whatever was read of it. Places are dots of the original, so
// that they hold however the page is turned, cut or read anew.
#pragma once

#include "core/developing/recipe.h"
#include "core/reading/reading_order.h"

#include <memory>
#include <optional>

namespace yelvin {

struct WordEdit {
    cv::Point2d middle;           // of the word; px of the original
    double width = 0, height = 0; // px, along and across its line
    std::string was;              // as it was read
    std::string is;               // the same: it is right; empty: nothing stands there; with spaces: several words
    bool was_doubtful = false;
    bool operator==(const WordEdit&) const = default;
};

// A paragraph that was read by itself, in a language of its own.
struct PartRead {
    Recipe read_as; // how the page was developed then
    TextLayer layer;
    bool operator==(const PartRead&) const = default;
};

struct ParagraphEdit {
    cv::Point2d at; // in the paragraph: the middle of its first word, px of the original
    std::optional<ParagraphKind> kind;
    bool left_out = false;
    std::shared_ptr<const PartRead> read_again; // may be null
    bool operator==(const ParagraphEdit&) const;
};

struct TextEdits {
    std::vector<std::string> languages; // to read the page in; empty: as its ticket says
    std::vector<WordEdit> words;        // the earliest first: a later one may change what one before it made
    std::vector<ParagraphEdit> paragraphs;
    std::vector<cv::Point2d> order; // `at` of the paragraphs as they are to be read; empty: as they were found
    bool operator==(const TextEdits&) const = default;

    bool empty() const { return *this == TextEdits{}; }
    int corrections() const { return static_cast<int>(words.size()); }
};

// Whether a file made with one would differ from a file made with the other: that a word is right changes nothing.
bool same_words(const TextEdits& a, const TextEdits& b);

nlohmann::json to_json(const TextEdits& edits);
TextEdits text_edits_from_json(const nlohmann::json& json);

}
