#include "core/ocr/logo_words.h"

#include "core/median.h"
#include "core/ocr/letter_parts.h"

#include <opencv2/imgproc.hpp>
#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <optional>
#include <utility>
#include <vector>

namespace yelvin {

namespace {

// The thresholds of this file were set on tests/support/logos (seeds up to 60) and on tests/support/hard_pages (seeds 1
// to 3); docs/decisions/ocr.md has the figures. A word read with at least this confidence (of 100) serves as reference.
constexpr double surely = 90;

// The height and the stroke width of a word's ink, in pixels. The stroke width is estimated as twice the area divided
// by the length of the outline, which is exact for a long bar.
struct Strokes {
    double height = 0, width = 0;
};

Strokes strokes_in(const cv::Rect& box, const cv::Mat& grey, double ink_under) {
    const cv::Rect there = box & cv::Rect({}, grey.size());
    if (there.empty()) return {};
    const cv::Mat1b ink(grey(there) <= ink_under);
    const cv::Rect all = cv::boundingRect(ink);
    if (all.empty()) return {};
    cv::Mat inner;
    cv::erode(ink, inner, cv::getStructuringElement(cv::MORPH_CROSS, {3, 3}), {-1, -1}, 1, cv::BORDER_CONSTANT, {0});
    const double area = cv::countNonZero(ink), edge = area - cv::countNonZero(inner);
    return {static_cast<double>(all.height), 2 * area / std::max(1.0, edge)};
}

// The number of letters and digits in a word.
int letters_in_word(const std::string& word) {
    const auto text = icu::UnicodeString::fromUTF8(word);
    int letters = 0;
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) letters += u_isalnum(text.char32At(i)) ? 1 : 0;
    return letters;
}

// The median height and stroke width of the reference words of a line or of a page.
struct Usual {
    double height = 0, stroke = 0; // pixels
    bool any() const { return height > 0; }
};

class LetterSizes {
  public:
    LetterSizes(const TextLayer& layer, const cv::Mat& grey) : grey_(grey), ink_under_(ink_level(grey)) {
        constexpr size_t enough = 200; // words
        std::vector<double> heights, strokes;
        for (const TextLine& line : layer.lines)
            for (const Word& word : line.words)
                if (is_sure(word) && heights.size() < enough) {
                    const Strokes ink = of(word);
                    heights.push_back(line.ascent_px);
                    strokes.push_back(ink.width);
                }
        usual_ = {median_of(std::move(heights)), median_of(std::move(strokes))};
    }

    static bool is_sure(const Word& word) { return word.confidence >= surely && letters_in_word(word.text) > 2; }
    Strokes of(const Word& word) const { return strokes_in(word.box, grey_, ink_under_); }
    const Usual& usual() const { return usual_; }

    Usual of(const TextLine& line) const {
        std::vector<double> heights, strokes;
        for (const Word& word : line.words)
            if (is_sure(word)) {
                const Strokes ink = of(word);
                heights.push_back(ink.height);
                strokes.push_back(ink.width);
            }
        return {median_of(std::move(heights)), median_of(std::move(strokes))};
    }

  private:
    const cv::Mat& grey_;
    double ink_under_ = 0;
    Usual usual_;
};

// True for words without any letter, whatever their confidence, and for short words that were read with low confidence.
bool may_be_no_text(const Word& word, const std::string& language, const IsKnown& is_known) {
    constexpr int most_letters = 4, most_of_known = 3;
    constexpr double hardly = 60, fairly = 85, as_sure_as_print = 95; // of 100
    const int letters = letters_in_word(word.text);
    if (letters == 0) return true;
    if (letters > most_letters || word.confidence >= (letters == 1 ? as_sure_as_print : fairly)) return false;
    return !is_known(word.text, language) || (letters <= most_of_known && word.confidence < hardly);
}

bool is_no_text(const Word& word, const Usual& line, const LetterSizes& page) {
    const int letters = letters_in_word(word.text);
    constexpr double far_taller = 1.35, taller = 1.4, hardly = 70;
    constexpr double thinnest = 0.5, thickest = 2;
    const Strokes ink = page.of(word);
    const auto fits = [&](double stroke) { return ink.width > thinnest * stroke && ink.width < thickest * stroke; };
    if (line.any()) return ink.height > far_taller * line.height || (!fits(line.stroke) && letters > 0);
    // A line of its own may have type of any size, so the page's stroke width is scaled by the ratio of the heights.
    const double size = ink.height / page.usual().height;
    if (size > taller && (letters == 0 || word.confidence < hardly)) return true;
    return letters > 0 && !fits(page.usual().stroke * std::max(1.0, size));
}

}

void remove_logo_words(TextLayer& layer, const cv::Mat& grey, const IsKnown& is_known) {
    if (grey.empty()) return;
    std::optional<LetterSizes> page; // measured only where a page has a candidate
    for (TextLine& line : layer.lines) {
        const auto is_candidate = [&](const Word& word) { return may_be_no_text(word, line.language, is_known); };
        if (std::ranges::none_of(line.words, is_candidate)) continue;
        if (!page) page.emplace(layer, grey);
        if (!page->usual().any()) return; // the page has no reference words
        const Usual usual = page->of(line);
        std::erase_if(line.words,
                      [&](const Word& word) { return is_candidate(word) && is_no_text(word, usual, *page); });
    }
    std::erase_if(layer.lines, [](const TextLine& line) { return line.words.empty(); });
}

}
