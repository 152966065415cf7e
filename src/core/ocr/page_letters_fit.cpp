// Compares two candidates for a word with its ink.
#include "core/ocr/letter_parts.h"
#include "core/ocr/page_letters.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace yelvin {

namespace {

constexpr double fits = 0.82;           // of what is usual for such letters
constexpr double most_left_over = 0.25; // of a letter's ink
constexpr double usual_weighs = 7; // The pixels of a page are not independent, so their likelihood is overestimated.
constexpr int reach = PageLetters::margin + 1; // px by which a letter may stand to the side of where it is expected

}

// Returns the ink of the word with enough paper around it that every letter of `text` stays inside, wherever it is
// tried.
PageLetters::Field PageLetters::field_of(const cv::Mat1b& ink, const std::string& text) const {
    double wide = 0;
    int high = 0;
    for (const char c : text) {
        const Letter& letter = letters_.at(c);
        wide += letter.rather_ink.cols + std::max(0.0, letter.left_px + letter.right_px) + reach;
        high = std::max(high, letter.rather_ink.rows);
    }
    Field out;
    out.before = 2 * reach + static_cast<int>(ascent_px_);
    out.ink = cv::Mat1f(high + 2 * margin, 2 * out.before + std::max(ink.cols, static_cast<int>(wide)), 0.F);
    const cv::Rect there(out.before, margin, ink.cols, std::min(ink.rows, high));
    ink(cv::Rect({}, there.size())).convertTo(out.ink(there), CV_32F);
    return out;
}

// Places the letters from left to right, each at its most likely position near the previous one.
PageLetters::Composed PageLetters::composed(const Field& field, const std::string& text, int down) const {
    Composed out{cv::Mat1b(field.ink.size(), uchar{0}), 0};
    double expected = 0; // px from the word's left, where the next letter's margin begins
    for (size_t i = 0; i < text.size(); ++i) {
        const Letter& letter = letters_.at(text[i]);
        double most = -1e9;
        cv::Rect best;
        const int about = field.before + static_cast<int>(std::lround(expected));
        for (int dx = -reach; dx <= reach; ++dx) {
            const cv::Rect at({about + dx, margin + down}, letter.rather_ink.size());
            if (at.br().x > field.ink.cols || at.x < 0) continue;
            const double here = letter.if_all_paper + field.ink(at).dot(letter.rather_ink);
            if (here > most) {
                most = here;
                best = at;
            }
        }
        out.sum += most;
        if (best.empty()) continue;
        cv::Mat there = out.levels(best);
        cv::max(there, letter.level, there);
        expected = best.x - field.before + letter.width_px + letter.right_px;
        if (i + 1 < text.size()) expected += letters_.at(text[i + 1]).left_px;
    }
    return out;
}

// The log-likelihood is summed over the composed word, not letter by letter, so that a pixel where the areas of two
// letters overlap counts once.
PageLetters::Fit PageLetters::fit(const cv::Mat1b& ink, const std::string& text) const {
    const Field field = field_of(ink, text);
    Composed best{{}, -1e9};
    for (int down = -margin; down <= margin; ++down)
        if (Composed tried = composed(field, text, down); tried.sum > best.sum) best = std::move(tried);
    constexpr uchar hardly = 25; // Levels (0 to 255) of ink; a pixel with fewer counts as paper.
    Fit out;
    int all = 0, left_over = 0;
    for (int y = 0; y < field.ink.rows; ++y)
        for (int x = 0; x < field.ink.cols; ++x) {
            const uchar level = best.levels(y, x);
            const bool is_ink = field.ink(y, x) > 0;
            out.sum += is_ink ? levels_.ink[level] : levels_.paper[level];
            all += is_ink ? 1 : 0;
            left_over += is_ink && level < hardly ? 1 : 0;
        }
    double usual = 0;
    for (const char c : text) usual += letters_.at(c).usual;
    out.share = out.sum / usual;
    out.left_over = left_over * static_cast<double>(text.size()) / std::max(1, all);
    return out;
}

namespace {

// One byte for each character. Characters beyond ASCII all become the same byte, which is never learnt.
std::string signs_of(const std::string& word) {
    std::string out;
    for (const char c : word) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80)
            out += c;
        else if (byte >= 0xC0)
            out += '\x01';
    }
    return out;
}

// The lengths of the common prefix and of the common suffix of two words.
struct CommonEnds {
    size_t before = 0, after = 0;
};

CommonEnds common_ends(const std::string& a, const std::string& b) {
    CommonEnds out;
    out.before = static_cast<size_t>(std::ranges::mismatch(a, b).in1 - a.begin());
    const size_t most = std::min(a.size(), b.size()) - out.before;
    while (out.after < most && a[a.size() - 1 - out.after] == b[b.size() - 1 - out.after]) ++out.after;
    return out;
}

}

// Restricts the comparison to the part of the word that differs. Letters that the page has shown too seldom are left
// out at both ends if both readings have them, by cutting the ink between two letters. Returns nothing if a letter that
// differs was seen too seldom, or if the ink cannot be cut because letters touch.
std::optional<PageLetters::Compared> PageLetters::compared(const cv::Mat1b& ink, const std::string& first,
                                                           const std::string& second) const {
    const std::string a = signs_of(first), b = signs_of(second);
    if (a.empty() || b.empty()) return std::nullopt;
    if (has_seen(a) && has_seen(b)) return Compared{a, b, ink, 0};
    const CommonEnds common = common_ends(a, b);
    size_t from = common.before, to = a.size() - common.after;
    while (from > 0 && letters_.contains(a[from - 1])) --from;
    while (to < a.size() && letters_.contains(a[to])) ++to;
    const int least_area = static_cast<int>(0.004 * ascent_px_ * ascent_px_);
    const auto parts = letters_in(letter_pieces(ink, least_area), a);
    const auto begins = std::ranges::find_if(parts, [&](const LetterPart& part) { return part.first >= from; });
    const auto ends = std::find_if(parts.rbegin(), parts.rend(),
                                   [&](const LetterPart& part) { return part.first + part.letters <= to; });
    if (begins == parts.end() || ends == parts.rend()) return std::nullopt;
    from = begins->first;
    to = ends->first + ends->letters;
    if (from > common.before || to < a.size() - common.after || from >= to) return std::nullopt;
    const int left = std::max(0, begins->box.x - margin), right = std::min(ink.cols, ends->box.br().x + margin);
    const size_t left_out = a.size() - to;
    Compared out{a.substr(from, to - from), b.substr(from, b.size() - left_out - from),
                 ink.colRange(left, right).clone(), left};
    if (out.second.empty() || !has_seen(out.first) || !has_seen(out.second)) return std::nullopt;
    return out;
}

PageLetters::Ink PageLetters::which(const TextLine& line, const Word& word, const std::string& first,
                                    const std::string& second) const {
    constexpr double clearly = 10; // natural logarithm
    if (!is_of_the_size(line, word)) return Ink::CannotTell;
    const auto both = compared(ink_of(line, word), first, second);
    if (!both) return Ink::CannotTell;
    const Fit of_first = fit(both->ink, both->first), of_second = fit(both->ink, both->second);
    if (std::max(of_first.share, of_second.share) < fits) return Ink::CannotTell;
    const double rather_second = of_second.sum - of_first.sum;
    return rather_second > clearly ? Ink::Second : rather_second < -clearly ? Ink::First : Ink::CannotTell;
}

// The least sum (natural logarithm) of the ink's likelihood ratio and of the weighted ratio of word frequencies for
// which a word is replaced. Set on tests/support/hard_pages and tests/support/rare_words; see docs/decisions/ocr.md.
double PageLetters::needed(const Word& word, Standing standing) {
    constexpr double clear = 95; // An unknown word that was read this clearly may be a name.
    switch (standing) {
    case Standing::Unknown:
        return word.confidence < clear ? 5 : 20;
    case Standing::OfThePage:
        return word.confidence < clear ? 20 : 47;
    case Standing::Known:
        break;
    }
    return word.confidence < sure_word ? 10 : 47;
}

// Returns the log-likelihood by which the other word exceeds the recognised one, less the required margin; nothing if
// it does not.
std::optional<double> PageLetters::gain(const Compared& both, const Fit& own, const Word& word, Standing standing,
                                        const Instead& other) const {
    constexpr double fits_well = 0.88; // of what is usual for such letters
    // In natural logarithms. A word that no dictionary has is replaced only if its ink contradicts it, or if it was
    // read with low confidence and its ink cannot tell; and only by a word that is clearly more frequent.
    constexpr double sure_letters = 85, much = 2;
    const double contradicts = word.confidence < sure_letters ? -20 : 5;
    const Fit there = fit(both.ink, both.second);
    const double rather_other = there.sum - own.sum;
    if (there.share < (standing == Standing::Known ? fits_well : fits) || there.left_over > most_left_over)
        return std::nullopt;
    const bool rare = other.counted && other.more_usual < much;
    if (standing != Standing::Known && (rather_other < contradicts || rare)) return std::nullopt;
    const double beyond = rather_other + usual_weighs * other.more_usual - needed(word, standing);
    return beyond > 0 ? std::optional(beyond) : std::nullopt;
}

// Used if a letter of the recognised word occurs nowhere else on the page, so that the word cannot be compared with the
// ink. The other word must then explain all of the ink: an l that was recognised as J leaves hardly any ink
// unexplained, and a real J leaves its hook.
const PageLetters::Instead* PageLetters::whole_ink(const cv::Mat1b& ink, const Word& word, Standing standing,
                                                   const std::vector<Instead>& others) const {
    constexpr double fits_well = 0.88, sure_letters = 80;
    const Instead* found = nullptr;
    double best = -1e9;
    for (const Instead& other : others) {
        if (!has_seen(other.text) || (standing != Standing::Unknown && !other.is_alike)) continue;
        const bool name = std::isupper(static_cast<unsigned char>(word.text.front())) != 0 &&
                          std::isupper(static_cast<unsigned char>(other.text.front())) != 0;
        if (name && word.confidence >= sure_letters) continue;
        const Fit there = fit(ink, other.text);
        if (there.left_over > most_left_over || there.share < (other.is_small || !other.is_alike ? fits_well : fits))
            continue;
        const double sum = there.sum + usual_weighs * other.more_usual;
        if (sum <= best) continue;
        best = sum;
        found = &other;
    }
    return found;
}

std::optional<Word> PageLetters::rather(const TextLine& line, const Word& word, Standing standing,
                                        const std::vector<Instead>& others) const {
    constexpr double doubtful = 60; // of 100
    if (!is_of_the_size(line, word)) return std::nullopt;
    const cv::Mat1b ink = ink_of(line, word);
    const Instead* found = nullptr;
    double best = 0;
    // The fit of the reading itself, cached because several alternatives need it.
    std::map<std::pair<int, std::string>, Fit> own;
    for (const Instead& other : others) {
        const auto both = compared(ink, word.text, other.text);
        if (!both) continue;
        const auto [at, is_new] = own.try_emplace({both->left_px, both->first});
        if (is_new) at->second = fit(both->ink, both->first);
        const auto gained = gain(*both, at->second, word, standing, other);
        if (!gained || *gained <= best) continue;
        best = *gained;
        found = &other;
    }
    if (!found && !has_seen(word.text)) found = whole_ink(ink, word, standing, others);
    if (!found) return std::nullopt;
    return Word{found->text, word.box, std::min(word.confidence, doubtful), word.bold};
}

}
