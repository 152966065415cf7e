// Functions that add an edit to a set of edits and return the new set.
#include "core/text/text_edits.h"

#include "core/text/page_text.h"
#include "core/text/text_places.h"

#include <algorithm>

namespace yelvin {

namespace {

constexpr double same_place_px = 2; // of the original

bool same_place(cv::Point2d a, cv::Point2d b) { return cv::norm(a - b) < same_place_px; }

ParagraphEdit& edit_of(TextEdits& edits, const TextParagraph& paragraph) {
    const auto at = std::ranges::find_if(edits.paragraphs,
                                         [&](const ParagraphEdit& edit) { return same_place(edit.at, paragraph.at); });
    return at != edits.paragraphs.end() ? *at
                                        : edits.paragraphs.emplace_back(ParagraphEdit{paragraph.at, {}, false, {}});
}

}

bool ParagraphEdit::operator==(const ParagraphEdit& other) const {
    const bool same_part =
        read_again == other.read_again || (read_again && other.read_again && *read_again == *other.read_again);
    return at == other.at && kind == other.kind && left_out == other.left_out && same_part;
}

bool same_words(const TextEdits& a, const TextEdits& b) {
    const auto changing = [](TextEdits edits) {
        std::erase_if(edits.words, [](const WordEdit& edit) { return edit.was == edit.is; });
        return edits;
    };
    return a == b || changing(a) == changing(b);
}

TextEdits with_word(TextEdits edits, const PageText& text, const PageLies& lies, const WordPlace& place,
                    const std::string& is) {
    const Word& word = text.at(place);
    const cv::Point2d middle{word.box.x + word.box.width / 2.0, word.box.y + word.box.height / 2.0};
    WordEdit edit{mapped(layer_to_original(text.layer, lies.recipe, lies.original, lies.dpi), middle),
                  static_cast<double>(word.box.width),
                  static_cast<double>(word.box.height),
                  word.text,
                  is,
                  word.confidence < doubtful_confidence};
    const auto before = std::ranges::find_if(edits.words, [&](const WordEdit& earlier) {
        return same_place(earlier.middle, edit.middle) && std::abs(earlier.width - edit.width) < same_place_px &&
               earlier.is == word.text;
    });
    if (before == edits.words.end())
        edits.words.push_back(std::move(edit));
    else
        before->is = is;
    return edits;
}

TextEdits with_kind(TextEdits edits, const TextParagraph& paragraph, ParagraphKind kind) {
    edit_of(edits, paragraph).kind = kind;
    return edits;
}

TextEdits with_left_out(TextEdits edits, const TextParagraph& paragraph, bool left_out) {
    edit_of(edits, paragraph).left_out = left_out;
    return edits;
}

TextEdits with_part_read(TextEdits edits, const TextParagraph& paragraph, PartRead read) {
    edit_of(edits, paragraph).read_again = std::make_shared<const PartRead>(std::move(read));
    return edits;
}

TextEdits with_paragraph_moved(TextEdits edits, const PageText& text, size_t paragraph, size_t to) {
    edits.order.clear();
    for (const TextParagraph& each : text.paragraphs) edits.order.push_back(each.at);
    const cv::Point2d moved = edits.order[paragraph];
    edits.order.erase(edits.order.begin() + static_cast<std::ptrdiff_t>(paragraph));
    edits.order.insert(edits.order.begin() + static_cast<std::ptrdiff_t>(std::min(to, edits.order.size())), moved);
    return edits;
}

TextEdits with_reading_given_up(TextEdits edits) {
    TextEdits left;
    left.languages = std::move(edits.languages);
    return left;
}

}
