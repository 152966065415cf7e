// The text of a page: the OCR result with the user's corrections. Values and pure functions.
#pragma once

#include "core/text/text_edits.h"

namespace yelvin {

struct TextParagraph : Paragraph {
    bool left_out = false;
    bool kind_was_said = false; // whether the user set the kind
    cv::Point2d at;             // middle of its first word, by which edits refer to it; px of the original
    std::string language;       // of its first line
};

struct WordPlace {
    size_t paragraph = 0, line = 0, word = 0; // indices: the line in the layer, the word in the line
    bool operator==(const WordPlace&) const = default;
};

struct PageText {
    TextLayer layer;                       // all lines, paragraph by paragraph, in reading order
    std::vector<TextParagraph> paragraphs; // none is empty

    std::vector<WordPlace> words() const; // in reading order, including paragraphs that are left out
    const Word& at(const WordPlace& place) const { return layer.lines[place.line].words[place.word]; }
    TextLayer kept() const; // without paragraphs that are left out
};

PageText without_left_out(PageText text);
PageText scaled(PageText text, double by); // multiplies all coordinates

// The geometry of a page that was read.
struct PageLies {
    const Recipe& recipe;
    SizePx original;
    double dpi = 300;
};

// Applies the user's edits to an OCR result of the page in its present geometry. Every corrected word is in the result,
// whatever was read in its place, unless its place is cropped away.
PageText text_with(const TextLayer& read, const TextEdits& edits, const PageLies& lies);
// Returns the OCR result without edits; TextParagraph::at is then in pixels of the layer.
PageText as_it_was_read(const TextLayer& read);

// What running text has between a word and the next.
struct Joint {
    bool hyphen_goes = false; // whether the hyphen at the end of the word is removed
    std::string_view between; // nothing, a space, one line end or two
};
Joint joint(const PageText& text, const WordPlace& word, const WordPlace& next);

// Returns the words from index `first` to `last` of words() as running text. Paragraphs that are left out are skipped,
// unless the range contains nothing else.
std::string running_text(const PageText& text, size_t first, size_t last);

// Adding one edit. `text` is the page's text with the edits so far.
TextEdits with_word(TextEdits edits, const PageText& text, const PageLies& lies, const WordPlace& place,
                    const std::string& is);
TextEdits with_kind(TextEdits edits, const TextParagraph& paragraph, ParagraphKind kind);
TextEdits with_left_out(TextEdits edits, const TextParagraph& paragraph, bool left_out);
TextEdits with_part_read(TextEdits edits, const TextParagraph& paragraph, PartRead read);
// Moves the paragraph to index `to` of all paragraphs.
TextEdits with_paragraph_moved(TextEdits edits, const PageText& text, size_t paragraph, size_t to);
// Removes the edits of words and paragraphs; the languages stay.
TextEdits with_reading_given_up(TextEdits edits);

}
