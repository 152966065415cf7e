#include "core/ocr/page_letters.h"

#include "core/median.h"
#include "core/ocr/letter_parts.h"

#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

constexpr int margin = PageLetters::margin;

// ---- shapes of letters

cv::Mat1b moved(const cv::Mat1b& sample, cv::Size size, cv::Point by) {
    cv::Mat1b out(size, uchar{0});
    const cv::Rect at = cv::Rect(by, sample.size()) & cv::Rect({}, size);
    if (!at.empty()) sample(at - by).copyTo(out(at));
    return out;
}

// Returns the fraction of samples with ink at each pixel. Each sample is first shifted to match `guide` best.
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

// Counts of ink where a letter has none and of paper where it has ink, with a minimum for each.
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
    // In pixels. Smaller letters have too few pixels to compare, larger ones are never in doubt.
    constexpr double least_ascent = 8, most_ascent = 150;
    ink_under_ = ink_level(grey);
    std::vector<double> ascents;
    for (const TextLine& line : layer.lines) ascents.insert(ascents.end(), line.words.size(), line.ascent_px);
    ascent_px_ = median_of(ascents);
    if (ascent_px_ >= least_ascent && ascent_px_ <= most_ascent) learn(samples_of(layer, words));
}

// Whether the word has about the type size of most of the page. The extent of the letters of a line is known only
// roughly.
bool PageLetters::is_of_the_size(const TextLine& line, const Word& word) const {
    return !word.bold && line.ascent_px > 0.7 * ascent_px_ && line.ascent_px < 1.5 * ascent_px_;
}

// Returns the ink of the word (non-zero), from above its tallest letters to below its lowest.
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
            const auto parts = letter_parts(letter_pieces(ink, least_area), word.text);
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
    const auto share_of = [&](int level) { return least + (most - least) * static_cast<float>(level) / 255; };
    for (int level = 0; level < 256; ++level) {
        levels_.ink[static_cast<size_t>(level)] = static_cast<double>(std::log(share_of(level) / least));
        levels_.paper[static_cast<size_t>(level)] = static_cast<double>(std::log((1 - share_of(level)) / (1 - least)));
    }
    for (const auto& [letter, mean] : means) {
        const auto count = static_cast<float>(samples.at(letter).size());
        Letter& known = letters_[letter];
        known.rather_ink.create(mean.size());
        known.level.create(mean.size());
        // A letter that was seen seldom may look different near its edges; far from them it is as certain as one that
        // was seen often.
        cv::Mat1f about;
        cv::GaussianBlur(mean, about, {}, 1);
        for (int y = 0; y < mean.rows; ++y)
            for (int x = 0; x < mean.cols; ++x) {
                const float share = std::clamp((mean(y, x) * count + about(y, x)) / (count + 1), least, most);
                known.level(y, x) = cv::saturate_cast<uchar>(255 * (share - least) / (most - least));
                const float if_ink = std::log(share / least), if_paper = std::log((1 - share) / (1 - least));
                known.rather_ink(y, x) = if_ink - if_paper;
                known.if_all_paper += static_cast<double>(if_paper);
                known.usual += static_cast<double>(mean(y, x) * if_ink + (1 - mean(y, x)) * if_paper);
            }
    }
}

// Computes the space that each letter keeps to its left and right, alternating between the two: each side is what the
// other one leaves of the measured gaps.
void PageLetters::learn_gaps() {
    std::vector<double> all;
    for (const Gap& gap : gaps_) all.push_back(gap.px);
    const double half = median_of(all) / 2;
    for (auto& [c, letter] : letters_) letter.left_px = letter.right_px = half;
    for (int turn = 0; turn < 4; ++turn)
        for (auto& [c, letter] : letters_) {
            // Two default values steady the median of few gaps.
            std::vector<double> left{half, half}, right{half, half};
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

}
