// The user's corrections of the text of a page: words, the order of paragraphs, their kinds, and which are left out.
// They belong to the page and are applied to any OCR result of it. Places are pixels of the original, so that they hold
// when the page is turned, cropped or read again. Values.
#pragma once

#include "core/developing/recipe.h"
#include "core/text/reading_order.h"

#include <memory>
#include <optional>

namespace yelvin {

struct WordEdit {
    cv::Point2d middle;           // of the word; px of the original
    double width = 0, height = 0; // px, along and across its line
    std::string was;              // what was read
    std::string is;               // equal to `was`: confirmed; empty: no word; with spaces: several words
    bool was_doubtful = false;
    bool operator==(const WordEdit&) const = default;
};

// The OCR result of a single paragraph that was read again in another language.
struct PartRead {
    Recipe read_as; // how the page was developed then
    TextLayer layer;
    bool operator==(const PartRead&) const = default;
};

struct ParagraphEdit {
    cv::Point2d at; // middle of the paragraph's first word, px of the original
    std::optional<ParagraphKind> kind;
    bool left_out = false;
    std::shared_ptr<const PartRead> read_again; // may be null
    bool operator==(const ParagraphEdit&) const;
};

struct TextEdits {
    std::vector<std::string> languages; // for OCR of this page; empty: those of its ticket
    std::vector<WordEdit> words; // in the order in which they were made; a later one may change an earlier one's word
    std::vector<ParagraphEdit> paragraphs;
    std::vector<cv::Point2d> order; // ParagraphEdit::at in the user's order; empty: as found
    bool operator==(const TextEdits&) const = default;

    bool empty() const { return *this == TextEdits{}; }
    int corrections() const { return static_cast<int>(words.size()); }
};

// Whether files made with either would be the same; a confirmed word makes no difference.
bool same_words(const TextEdits& a, const TextEdits& b);

nlohmann::json to_json(const TextEdits& edits);
// Throws nlohmann::json::exception for values of other types.
TextEdits text_edits_from_json(const nlohmann::json& json);

}
