#include "core/ocr/parted_words.h"

#include "core/median.h"
#include "core/ocr/letter_parts.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <array>
#include <cctype>
#include <set>
#include <string_view>
#include <utility>
#include <vector>

namespace yelvin {

namespace {

bool is_small_letter(char c) { return std::islower(static_cast<unsigned char>(c)) != 0; }

// The number of lower-case letters at the beginning of the word. Punctuation may follow them.
size_t letters_before_marks(const std::string& word) {
    const auto end = std::ranges::find_if_not(word, is_small_letter);
    const bool only_marks = std::all_of(end, word.end(), [](unsigned char c) { return std::ispunct(c) != 0; });
    return only_marks ? static_cast<size_t>(end - word.begin()) : 0;
}

// Whether the word is frequent. Short words must be more frequent, because many letter sequences form one by chance.
bool is_usual(const std::string& word, WordList& words) {
    constexpr double usual = -13, very_usual = -7; // Natural logarithms of a word's share of all words.
    const auto share = words.log_share(word);
    return share && *share > (word.size() < 4 ? very_usual : usual) && words.knows(word) == WordList::Known::Yes;
}

// A gap between two letters of a word.
struct LetterGap {
    size_t letters_before = 0;
    int from_px = 0, to_px = 0; // from the box's left
    int width_px() const { return to_px - from_px; }
};

std::vector<LetterGap> gaps_of(const Word& word, const cv::Mat& grey) {
    const cv::Rect box = word.box & cv::Rect({}, grey.size());
    if (box.empty()) return {};
    cv::Mat1b ink;
    cv::threshold(grey(box), ink, 0, 1, cv::THRESH_BINARY_INV | cv::THRESH_OTSU);
    const auto parts = letter_parts(letter_pieces(ink, 3), word.text);
    std::vector<LetterGap> gaps;
    for (size_t i = 1; i < parts.size(); ++i) gaps.push_back({parts[i].first, parts[i - 1].box.br().x, parts[i].box.x});
    return gaps;
}

// The smallest space between words of the line; 0 if it has only one word.
int least_space_px(const TextLine& line) {
    int least = 0;
    for (size_t i = 1; i < line.words.size(); ++i) {
        const int space = line.words[i].box.x - line.words[i - 1].box.br().x;
        if (space > 0 && (least == 0 || space < least)) least = space;
    }
    return least;
}

// Whether the gap is wider than most gaps between letters in the other words of the line.
bool is_wider_than_between_letters(int gap_px, const Word& word, const TextLine& line, const cv::Mat& grey) {
    constexpr double far_wider = 2;
    std::vector<double> widths;
    for (const Word& other : line.words)
        if (other.box != word.box)
            for (const LetterGap& gap : gaps_of(other, grey)) widths.push_back(gap.width_px());
    return !widths.empty() && gap_px >= far_wider * median_of(std::move(widths));
}

// Returns the gap at which the word divides into two frequent words, if no other gap of the word is wider and it
// resembles the spaces between words of the line more than the gaps between letters. For two long words the widest gap
// is enough.
std::optional<LetterGap> gap_between_words(const Word& word, const TextLine& line, size_t letters, const cv::Mat& grey,
                                           WordList& words) {
    constexpr size_t least_part = 2, long_part = 6;
    constexpr double like_a_space = 0.4;
    std::set<size_t> between;
    for (size_t at = least_part; at + least_part <= letters; ++at)
        if (is_usual(word.text.substr(0, at), words) && is_usual(word.text.substr(at, letters - at), words))
            between.insert(at);
    if (between.empty()) return std::nullopt;
    const auto gaps = gaps_of(word, grey);
    std::optional<LetterGap> best;
    int widest = 1;
    for (const LetterGap& gap : gaps) {
        widest = std::max(widest, gap.width_px());
        if (between.contains(gap.letters_before) && (!best || gap.width_px() > best->width_px())) best = gap;
    }
    const int space = least_space_px(line);
    if (!best || space == 0 || best->width_px() < std::max<double>(widest, like_a_space * space)) return std::nullopt;
    // Names and commands rarely consist of two long words.
    const bool both_long = std::min(best->letters_before, letters - best->letters_before) >= long_part;
    return both_long || is_wider_than_between_letters(best->width_px(), word, line, grey) ? best : std::nullopt;
}

}

std::optional<std::pair<Word, Word>> two_words_of(const Word& word, const TextLine& line, const cv::Mat& grey,
                                                  WordList& words) {
    constexpr size_t least_letters = 6;
    constexpr double surely = 98; // of 100
    const size_t letters = letters_before_marks(word.text);
    if (letters < least_letters || word.confidence >= surely || words.knows(word.text) != WordList::Known::No)
        return std::nullopt;
    const auto gap = gap_between_words(word, line, letters, grey, words);
    if (!gap) return std::nullopt;
    std::pair<Word, Word> out{word, word};
    auto& [first, second] = out;
    first.text.resize(gap->letters_before);
    first.box.width = gap->from_px;
    second.text.erase(0, gap->letters_before);
    second.box.x += gap->to_px;
    second.box.width -= gap->to_px;
    return out;
}

void remove_lone_quotes(TextLayer& layer) {
    constexpr double unsure = 90; // of 100
    constexpr std::array<std::pair<std::string_view, std::string_view>, 2> marks{
        {{"\u2018", "\u2019"}, {"\u201C", "\u201D"}}};
    for (const auto& [opening, closing] : marks) {
        bool closed = false;
        for (auto line = layer.lines.rbegin(); line != layer.lines.rend(); ++line)
            for (auto word = line->words.rbegin(); word != line->words.rend(); ++word) {
                closed = closed || word->text.contains(closing);
                const bool opens = word->text.starts_with(opening) && word->text.size() > opening.size();
                if (opens && !closed && word->confidence < unsure) word->text.erase(0, opening.size());
            }
    }
}

}
