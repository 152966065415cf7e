#include "core/ocr/letter_shapes.h"

#include "core/ocr/letter_parts.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <set>
#include <span>
#include <string_view>

namespace yelvin {

namespace {

constexpr std::string_view alike = "cosuvwxz", low = "acemnorsuvwxz";

bool is_letter(char c) { return std::isalpha(static_cast<unsigned char>(c)) != 0; }
char small(char c) { return static_cast<char>(std::tolower(static_cast<unsigned char>(c))); }
char large(char c) { return static_cast<char>(std::toupper(static_cast<unsigned char>(c))); }

// The typical height of separate letters without ascender or descender, excluding the first letter; 0 if there are
// none.
int low_height(const std::string& word, const std::vector<LetterPart>& parts) {
    std::vector<int> heights;
    for (const LetterPart& part : parts)
        if (part.letters == 1 && part.first > 0 && low.contains(word[part.first])) heights.push_back(part.box.height);
    if (heights.empty()) return 0;
    std::ranges::nth_element(heights, heights.begin() + static_cast<std::ptrdiff_t>(heights.size() / 2));
    return heights[heights.size() / 2];
}

bool is_close_under(const TextLine& line, const TextLine& above) {
    const double down = line.baseline_start.y - above.baseline_start.y, ascent = line.ascent_px;
    const bool same_type = above.ascent_px > 0.8 * ascent && above.ascent_px < 1.25 * ascent;
    return same_type && down > ascent && down < 2.5 * ascent &&
           std::abs(line.baseline_start.x - above.baseline_start.x) < ascent;
}

}

bool is_within_sentence(const TextLine& line, size_t at, const std::string& language, const TextLine* above) {
    if (language == "deu") return false;
    std::vector<std::string_view> before;
    if (above && is_close_under(line, *above))
        for (const Word& word : above->words) before.emplace_back(word.text);
    for (size_t i = 0; i < at; ++i)
        if (!line.words[i].text.empty()) before.emplace_back(line.words[i].text);
    if (before.empty()) return false;
    const std::string_view last = before.back();
    const auto is_small = [](char c) { return std::islower(static_cast<unsigned char>(c)) != 0; };
    const auto is_of_number = [](char c) {
        return std::isdigit(static_cast<unsigned char>(c)) || c == '.' || c == ',';
    };
    const bool number = before.size() > 1 && std::ranges::all_of(last, is_of_number) &&
                        std::isdigit(static_cast<unsigned char>(last.back()));
    return number || (last.size() > 1 && std::ranges::all_of(last, is_small));
}

double tall_height(const InkOfWords& words, double ascent_px) {
    constexpr std::string_view tall = "bdfhklABDEFGHIKLMNPRT";
    const double speck = 0.15 * ascent_px;
    std::vector<int> heights;
    for (auto [word, ink] : words) {
        if (word.size() < 2 || !std::ranges::all_of(word, is_letter)) continue;
        std::erase_if(ink, [&](const cv::Rect& piece) { return piece.width < speck && piece.height < speck; });
        const auto pieces = stacked_pieces_joined(std::move(ink));
        for (const LetterPart& part : letters_in(pieces, word))
            if (part.letters == 1 && tall.contains(word[part.first])) heights.push_back(part.box.height);
    }
    if (heights.empty()) return ascent_px;
    std::ranges::nth_element(heights, heights.begin() + static_cast<std::ptrdiff_t>(heights.size() / 2));
    return heights[heights.size() / 2];
}

std::string case_by_height(const std::string& word, std::vector<cv::Rect> ink, double tall_px, bool prefer_small) {
    constexpr double least_room = 0.2; // of a low letter

    const bool plain = word.size() >= 2 && std::ranges::all_of(word, is_letter);
    if (!plain || !alike.contains(small(word.front()))) return word;
    const bool whole = ink.size() == word.size(); // Whether each letter is one piece: none is broken or has a dot.
    const double speck = 0.15 * tall_px;
    std::erase_if(ink, [&](const cv::Rect& piece) { return piece.width < speck && piece.height < speck; });
    const auto pieces = stacked_pieces_joined(std::move(ink));
    const bool each_alone = pieces.size() == word.size();
    const auto parts = letters_in(pieces, word);
    if (parts.empty()) return word;
    std::string out = word;
    const int low_px = low_height(word, parts);
    if (parts.front().letters > 1 || low_px == 0 || (!each_alone && low_px > 0.8 * tall_px)) {
        const bool all_low = std::all_of(word.begin() + 1, word.end(), [](char c) { return low.contains(c); });
        cv::Rect all;
        for (const LetterPart& part : parts) all |= part.box;
        if (all_low && all.height < 0.8 * tall_px) out.front() = small(out.front());
        return out;
    }
    if (low_px < 5) return word;
    // The height of the first letter above the low letters, relative to the tall letters of the line. In the middle
    // range the case is not changed.
    const double above = parts.front().box.height - low_px, room = tall_px - low_px;
    // There are no tall letters to compare with, or the first letter is broken.
    if (room < least_room * low_px || above < -least_room * low_px) return word;
    if (above < (prefer_small ? 0.65 : 0.25) * room) out.front() = small(out.front());
    if (above > 0.7 * room && whole && each_alone) out.front() = large(out.front());
    return out;
}

namespace {

using Confusions = std::span<const std::pair<std::string_view, std::string_view>>;

// Confusions of letters in worn print: frequent ones and rarer ones (common practice, no source).
constexpr std::array<std::pair<std::string_view, std::string_view>, 13> often{{{"ni", "m"},
                                                                               {"rn", "m"},
                                                                               {"nn", "m"},
                                                                               {"J", "l"},
                                                                               {"I", "l"},
                                                                               {"v", "y"},
                                                                               {"cl", "d"},
                                                                               {"vv", "w"},
                                                                               {"h", "b"},
                                                                               {"c", "e"},
                                                                               {"a", "o"},
                                                                               {"ii", "u"},
                                                                               {"i", "t"}}};
constexpr std::array<std::pair<std::string_view, std::string_view>, 8> seldom{
    {{"j", "l"}, {"f", "l"}, {"f", "t"}, {"r", "t"}, {"i", "l"}, {"i", "f"}, {"n", "u"}, {"n", "m"}}};

// Confusions that only the ink can decide.
constexpr std::array<std::pair<std::string_view, std::string_view>, 20> by_ink{
    {{"t", "l"}, {"e", "o"}, {"c", "o"}, {"e", "a"}, {"h", "n"}, {"r", "n"}, {"p", "n"},
     {"g", "q"}, {"y", "g"}, {"I", "i"}, {"!", "l"}, {")", "l"}, {"c", "C"}, {"o", "O"},
     {"s", "S"}, {"u", "U"}, {"v", "V"}, {"w", "W"}, {"x", "X"}, {"z", "Z"}}};

// Adds at most `most` known words that differ from `word` by one of these confusions.
void add_known(std::set<std::string>& found, const std::string& word, Confusions confusions, WordList& words,
               size_t most, double least_share = -1e9) {
    const auto is_usual = [&](const std::string& other) { // Asked before the dictionary, which is slower.
        const auto share = least_share > -1e9 ? words.log_share(other) : std::nullopt;
        return !share || *share >= least_share;
    };
    const auto tried = [&](std::string_view from, std::string_view to) {
        for (size_t at = word.find(from); at != std::string::npos && found.size() < most;
             at = word.find(from, at + 1)) {
            std::string other = word;
            other.replace(at, from.size(), to);
            if (is_usual(other) && words.knows(other) == WordList::Known::Yes) found.insert(std::move(other));
        }
    };
    for (const auto& [one, another] : confusions) {
        tried(one, another);
        tried(another, one);
    }
}

}

std::vector<std::string> confusable_words(const std::string& word, WordList& words, double least_share) {
    constexpr size_t most = 12;
    std::set<std::string> found;
    for (const Confusions confusions : {Confusions(often), Confusions(seldom), Confusions(by_ink)})
        add_known(found, word, confusions, words, most, least_share);
    return {found.begin(), found.end()};
}

}
