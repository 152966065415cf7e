// The text of a page as it stands now: what was read, with what a person said about it.
#pragma once

#include "core/reading/text_edits.h"

namespace yelvin {

struct TextParagraph : Paragraph {
    bool left_out = false;
    bool kind_was_said = false; // by a person
    cv::Point2d at;             // what an edit of it is known by; px of the original
    std::string language;       // of its first line
};

struct WordPlace {
    size_t paragraph = 0, line = 0, word = 0; // the line of the layer, the word of the line
    bool operator==(const WordPlace&) const = default;
};

struct PageText {
    TextLayer layer;                       // every line, paragraph after paragraph, in the order of reading
    std::vector<TextParagraph> paragraphs; // none of them without lines

    std::vector<WordPlace> words() const; // in the order of reading, those of left out paragraphs too
    const Word& at(const WordPlace& place) const { return layer.lines[place.line].words[place.word]; }
    TextLayer kept() const; // what goes into outputs
};

PageText without_left_out(PageText text);
PageText scaled(PageText text, double by); // of the page with more or fewer dots

// How a page lies that was read.
struct PageLies {
    const Recipe& recipe;
    SizePx original;
    double dpi = 300;
};

// `read` is of the page as it lies. Every word that was put right is there, whatever the reading says in its place,
// unless its place is cut off.
PageText text_with(const TextLayer& read, const TextEdits& edits, const PageLies& lies);
PageText as_it_was_read(const TextLayer& read); // the paragraphs' places are dots of the layer

// What a text has between a word and the next.
struct Joint {
    bool hyphen_goes = false; // the word's own, at a line's end
    std::string_view between; // nothing, a space, one line end or two
};
Joint joint(const PageText& text, const WordPlace& word, const WordPlace& next);

// The words from one to the other (by their numbers in words()) as running text. Paragraphs that are left out are
// skipped, unless nothing else is asked for.
std::string running_text(const PageText& text, size_t first, size_t last);

// Edits with one thing more said. `text` is the page's text with the edits so far.
TextEdits with_word(TextEdits edits, const PageText& text, const PageLies& lies, const WordPlace& place,
                    const std::string& is);
TextEdits with_kind(TextEdits edits, const TextParagraph& paragraph, ParagraphKind kind);
TextEdits with_left_out(TextEdits edits, const TextParagraph& paragraph, bool left_out);
TextEdits with_part_read(TextEdits edits, const TextParagraph& paragraph, PartRead read);
// The paragraph comes at place `to` of all of them.
TextEdits with_paragraph_moved(TextEdits edits, const PageText& text, size_t paragraph, size_t to);
// What belongs to the reading so far goes; the languages stay.
TextEdits with_reading_given_up(TextEdits edits);

}
