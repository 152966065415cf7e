#include "core/reading/page_letters.h"

#include "core/raster/ink_pieces.h"
#include "core/reading/letter_parts.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

constexpr int margin = 2; // px around a letter, by which it may stand elsewhere

double median_of(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, middle);
    return *middle;
}

// The ink's pieces from left to right; those that stand above each other are one.
std::vector<cv::Rect> pieces_of(const cv::Mat1b& ink, int least_area) {
    const InkPieces all = InkPieces::of(ink);
    std::vector<cv::Rect> pieces;
    for (const InkPiece& piece : all.pieces())
        if (piece.area >= least_area) pieces.push_back(piece.box);
    return side_by_side(std::move(pieces));
}

// ---- what a letter looks like

cv::Mat1b moved(const cv::Mat1b& sample, cv::Size size, cv::Point by) {
    cv::Mat1b out(size, uchar{0});
    const cv::Rect at = cv::Rect(by, sample.size()) & cv::Rect({}, size);
    if (!at.empty()) sample(at - by).copyTo(out(at));
    return out;
}

// The samples laid over each other: the share of them that has ink in a dot. Each is moved to where it covers `guide`
// best.
cv::Mat1f mean_of(const std::vector<cv::Mat1b>& samples, int width, const cv::Mat1f& guide) {
    const cv::Size size(width + 2 * margin, samples.front().rows);
    cv::Mat1f sum(size, 0.F);
    for (const cv::Mat1b& sample : samples) {
        cv::Mat1b best = moved(sample, size, {margin, 0});
        double most = -1;
        for (int dy = -margin; dy <= margin && !guide.empty(); ++dy)
            for (int dx = -margin; dx <= margin; ++dx) {
                const cv::Mat1b tried = moved(sample, size, {margin + dx, dy});
                const double same = cv::mean(guide, tried)[0] * cv::countNonZero(tried);
                if (same > most) {
                    most = same;
                    best = tried;
                }
            }
        cv::accumulate(best, sum);
    }
    return cv::Mat1f(sum / static_cast<double>(samples.size()));
}

// How often, at least, ink is where a letter has none, and paper where it has ink.
struct Wear {
    double added = 1, paper = 20, lost = 1, ink = 20;
    void see(const cv::Mat1f& mean) {
        for (const float share : mean) {
            if (share < 0.25F) added += static_cast<double>(share), paper += 1;
            if (share > 0.75F) lost += 1 - static_cast<double>(share), ink += 1;
        }
    }
    float least() const { return static_cast<float>(std::max(0.02, added / paper)); }
    float most() const { return static_cast<float>(1 - std::max(0.02, lost / ink)); }
};

}

PageLetters::PageLetters(const TextLayer& layer, const cv::Mat& grey, WordList& words) : grey_(grey) {
    constexpr double least_ascent = 8, most_ascent = 150; // px: too few dots to tell; nothing to be in doubt about
    // By every eighth row: of all of them OpenCV would make another page meanwhile.
    constexpr int apart = 8;
    const cv::Mat some(std::max(1, grey.rows / apart), grey.cols, grey.type(), grey.data, grey.step[0] * apart);
    cv::Mat ignored;
    ink_under_ = cv::threshold(some, ignored, 0, 255, cv::THRESH_BINARY | cv::THRESH_OTSU);
    std::vector<double> ascents;
    for (const TextLine& line : layer.lines) ascents.insert(ascents.end(), line.words.size(), line.ascent_px);
    ascent_px_ = median_of(ascents);
    if (ascent_px_ >= least_ascent && ascent_px_ <= most_ascent) learn(samples_of(layer, words));
}

// As most of the page; how far a line's letters reach is only roughly known.
bool PageLetters::is_of_the_size(const TextLine& line, const Word& word) const {
    return !word.bold && line.ascent_px > 0.7 * ascent_px_ && line.ascent_px < 1.5 * ascent_px_;
}

// From above the tallest letters to below the deepest, not 0 where ink is.
cv::Mat1b PageLetters::ink_of(const TextLine& line, const Word& word) const {
    const cv::Point2d along = line.baseline_end - line.baseline_start;
    const double x = word.box.x + word.box.width / 2.0;
    const double base = line.baseline_start.y + along.y * (x - line.baseline_start.x) / std::max(1.0, along.x);
    const cv::Rect wanted(word.box.x - margin, static_cast<int>(std::lround(base - 1.2 * ascent_px_)),
                          word.box.width + 2 * margin, static_cast<int>(std::lround(1.75 * ascent_px_)));
    const cv::Rect there = wanted & cv::Rect({}, grey_.size());
    cv::Mat1b ink(wanted.size(), uchar{0});
    if (!there.empty()) cv::Mat((grey_(there) <= ink_under_) / 255).copyTo(ink(there - wanted.tl()));
    return ink;
}

PageLetters::Samples PageLetters::samples_of(const TextLayer& layer, WordList& words) {
    constexpr double surely = 90; // of 100
    constexpr size_t enough = 24; // of a letter
    const auto is_printed = [](char c) { return c > ' ' && c <= '~'; };
    const int least_area = static_cast<int>(0.004 * ascent_px_ * ascent_px_);
    Samples samples;
    for (const TextLine& line : layer.lines) {
        for (const Word& word : line.words) {
            if (!is_of_the_size(line, word) || word.confidence < surely ||
                !std::ranges::all_of(word.text, is_printed) || words.knows(word.text) != WordList::Known::Yes)
                continue;
            const cv::Mat1b ink = ink_of(line, word);
            const auto parts = letter_parts(pieces_of(ink, least_area), word.text);
            for (size_t i = 0; i < parts.size(); ++i) {
                const int from = parts[i].box.x, to = parts[i].box.br().x;
                auto& seen = samples[word.text[parts[i].first]];
                if (parts[i].letters == 1 && seen.size() < enough) seen.push_back(ink.colRange(from, to).clone());
                if (i > 0 && parts[i].letters == 1 && parts[i - 1].letters == 1)
                    gaps_.push_back({word.text[parts[i - 1].first], word.text[parts[i].first],
                                     static_cast<double>(from - parts[i - 1].box.br().x)});
            }
        }
    }
    return samples;
}

void PageLetters::learn(const Samples& samples) {
    constexpr size_t least_seen = 2, telling_seen = 4;
    std::map<char, cv::Mat1f> means;
    Wear wear;
    for (const auto& [letter, seen] : samples) {
        if (seen.size() < least_seen) continue;
        std::vector<double> widths;
        for (const cv::Mat1b& each : seen) widths.push_back(each.cols);
        const int width = static_cast<int>(median_of(widths));
        means[letter] = mean_of(seen, width, mean_of(seen, width, {}));
        letters_[letter].width_px = width;
        if (seen.size() >= telling_seen) wear.see(means[letter]);
    }
    learn_gaps();
    const float least = wear.least(), most = wear.most();
    for (const auto& [letter, mean] : means) {
        const auto count = static_cast<float>(samples.at(letter).size());
        Letter& known = letters_[letter];
        known.rather_ink.create(mean.size());
        for (int y = 0; y < mean.rows; ++y)
            for (int x = 0; x < mean.cols; ++x) {
                const float share = std::clamp((mean(y, x) * count + 0.5F) / (count + 1), least, most);
                const float if_ink = std::log(share / least), if_paper = std::log((1 - share) / (1 - least));
                known.rather_ink(y, x) = if_ink - if_paper;
                known.if_all_paper += static_cast<double>(if_paper);
                known.usual += static_cast<double>(mean(y, x) * if_ink + (1 - mean(y, x)) * if_paper);
            }
    }
}

// How much room a letter keeps to its left and right, by turns each from what the other leaves of the gaps.
void PageLetters::learn_gaps() {
    std::vector<double> all;
    for (const Gap& gap : gaps_) all.push_back(gap.px);
    const double half = median_of(all) / 2;
    for (auto& [c, letter] : letters_) letter.left_px = letter.right_px = half;
    for (int turn = 0; turn < 4; ++turn)
        for (auto& [c, letter] : letters_) {
            std::vector<double> left{half, half}, right{half, half}; // few gaps say little
            for (const Gap& gap : gaps_) {
                if (gap.after == c)
                    if (const auto other = letters_.find(gap.before); other != letters_.end())
                        left.push_back(gap.px - other->second.right_px);
                if (gap.before == c)
                    if (const auto other = letters_.find(gap.after); other != letters_.end())
                        right.push_back(gap.px - other->second.left_px);
            }
            letter.left_px = median_of(left);
            letter.right_px = median_of(right);
        }
    gaps_.clear();
}

bool PageLetters::has_seen(const std::string& text) const {
    return std::ranges::all_of(text, [&](char c) { return letters_.contains(c); });
}

// Letter after letter from the left, each where it is likeliest near the one before.
PageLetters::Fit PageLetters::fit(const cv::Mat1b& ink, const std::string& text) const {
    constexpr int reach = margin + 1; // px by which a letter may stand to the side of where it is expected
    double usual = 0, wide = 0;
    int high = 0;
    for (const char c : text) {
        const Letter& letter = letters_.at(c);
        usual += letter.usual;
        wide += letter.rather_ink.cols + std::max(0.0, letter.left_px + letter.right_px) + reach;
        high = std::max(high, letter.rather_ink.rows);
    }
    // So large that every letter stays within it, wherever it is tried.
    const int before = 2 * reach + static_cast<int>(ascent_px_);
    cv::Mat1f field(high + 2 * margin, before + std::max(ink.cols, static_cast<int>(wide)) + before, 0.F);
    const cv::Rect there = cv::Rect(before, margin, ink.cols, std::min(ink.rows, high));
    ink(cv::Rect({}, there.size())).convertTo(field(there), CV_32F);
    Fit best{-1e9, 0};
    for (int down = -margin; down <= margin; ++down) {
        Fit tried;
        double expected = 0; // px from the word's left, where the next letter's margin begins
        for (size_t i = 0; i < text.size(); ++i) {
            const Letter& letter = letters_.at(text[i]);
            double most = -1e9;
            int left = 0;
            const int about = static_cast<int>(std::lround(expected));
            for (int dx = -reach; dx <= reach; ++dx) {
                const cv::Rect at({before + about + dx, margin + down}, letter.rather_ink.size());
                if (at.br().x > field.cols || at.x < 0) continue;
                const double here = letter.if_all_paper + field(at).dot(letter.rather_ink);
                if (here > most) {
                    most = here;
                    left = about + dx;
                }
            }
            tried.sum += most;
            expected = left + letter.width_px + letter.right_px;
            if (i + 1 < text.size()) expected += letters_.at(text[i + 1]).left_px;
        }
        tried.share = tried.sum / usual;
        if (tried.sum > best.sum) best = tried;
    }
    return best;
}

// How far ink and usualness together must speak for another word (natural logarithm). By what the pages of
// tests/support/hard_pages have, and such pages of rare words in no order: for an unknown word that is meant to be
// another 18 and more (39 where it was surely read), else at most 0 (13); for a known one 16 and more, 54 where it was
// surely read, else at most 0 and 39.
double PageLetters::needed(const Word& word, bool known) {
    constexpr double clear = 95; // such an unknown word may be a name
    if (!known) return word.confidence < clear ? 10 : 30;
    return word.confidence < sure_word ? 10 : 47;
}

std::optional<Word> PageLetters::rather(const TextLine& line, const Word& word, bool known,
                                        const std::vector<Instead>& others) const {
    constexpr double fits = 0.85, fits_well = 0.88, sure_letters = 80, doubtful = 60;
    constexpr double usual_weighs = 7; // a page's ink is not of independent dots: it says more than it knows
    if (!is_of_the_size(line, word)) return std::nullopt;
    const bool seen = has_seen(word.text);
    const cv::Mat1b ink = ink_of(line, word);
    double best = seen ? fit(ink, word.text).sum + needed(word, known) : -1e9;
    const Instead* found = nullptr;
    for (const Instead& other : others) {
        if (!has_seen(other.text)) continue;
        // A letter that the page has nowhere else leaves nothing to compare with: surely read, it can only be a small
        // one.
        if (!seen && word.confidence >= sure_letters && !other.is_small) continue;
        if (!seen && known && !other.is_alike) continue;
        const bool well = seen ? known : other.is_small || !other.is_alike;
        const Fit there = fit(ink, other.text);
        const double sum = there.sum + usual_weighs * other.more_usual;
        if (sum <= best || there.share < (well ? fits_well : fits)) continue;
        best = sum;
        found = &other;
    }
    if (!found) return std::nullopt;
    return Word{found->text, word.box, std::min(word.confidence, doubtful), word.bold};
}

}
