#include "core/ocr/word_counts.h"

#include <algorithm>
#include <array>
#include <bit>
#include <charconv>
#include <cmath>
#include <fstream>
#include <functional>
#include <numeric>
#include <ranges>

namespace yelvin {

namespace {

constexpr size_t longest = 40; // In letters; no alternatives are searched for a longer word.

// The edit distance (Levenshtein 1966, computed as in Wagner and Fischer 1974), or `most` + 1 if it is larger.
size_t letters_changed(std::string_view from, std::string_view to, size_t most) {
    if (from.size() > to.size() + most || to.size() > from.size() + most) return most + 1;
    std::array<size_t, longest + 1> row{};
    std::iota(row.begin(), row.begin() + static_cast<std::ptrdiff_t>(from.size()) + 1, size_t{0});
    for (size_t k = 0; k < to.size(); ++k) {
        size_t corner = row[0], least = row[0] = k + 1;
        for (size_t i = 0; i < from.size(); ++i) {
            const size_t changed = corner + (from[i] == to[k] ? 0 : 1);
            corner = row[i + 1];
            row[i + 1] = std::min({changed, row[i] + 1, corner + 1});
            least = std::min(least, row[i + 1]);
        }
        if (least > most) return most + 1;
    }
    return row[from.size()];
}

uint32_t letters_in(std::string_view word) {
    uint32_t letters = 0;
    for (const char byte : word) letters |= 1U << (static_cast<unsigned char>(byte) & 31U);
    return letters;
}

// Removes everything but the section with single words from the file's content.
void keep_single_words(std::string& file) {
    constexpr std::string_view heading = "\\1-grams:\n";
    const size_t at = file.find(heading);
    if (at == std::string::npos) return file.clear();
    file.erase(0, at + heading.size());
    file.resize(std::min(file.find("\n\\"), file.size()));
}

}

WordCounts::WordCounts(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::error_code none;
    if (const auto bytes = std::filesystem::file_size(file, none); !none) text_.resize(bytes);
    in.read(text_.data(), static_cast<std::streamsize>(text_.size()));
    text_.resize(static_cast<size_t>(std::max<std::streamsize>(0, in.gcount())));
    keep_single_words(text_);
    lines_.reserve(static_cast<size_t>(std::ranges::count(text_, '\n')) + 1);
    for (size_t at = 0; at < text_.size(); at = std::min(text_.find('\n', at), text_.size()) + 1) {
        const auto line = static_cast<uint32_t>(at);
        const std::string_view word = word_of(line);
        const double count = count_of(line);
        if (word.empty() || word.ends_with('>') || count < 1) continue; // signs that stand for words
        lines_.push_back(line);
        all_ += count;
        least_ = least_ > 0 ? std::min(least_, count) : count;
    }
    const auto word = [&](uint32_t line) { return word_of(line); };
    if (!std::ranges::is_sorted(lines_, {}, word)) std::ranges::sort(lines_, {}, word);
    letters_.reserve(lines_.size());
    for (const uint32_t line : lines_) letters_.push_back(letters_in(word_of(line)));
}

std::string_view WordCounts::word_of(uint32_t line) const {
    const size_t end = std::min(text_.find('\n', line), text_.size());
    const std::string_view all = std::string_view(text_).substr(line, end - line);
    const size_t space = all.find(' ');
    return space == std::string_view::npos ? std::string_view() : all.substr(space + 1);
}

double WordCounts::count_of(uint32_t line) const {
    double count = 0;
    std::from_chars(text_.data() + line, text_.data() + text_.size(), count);
    return count;
}

std::optional<double> WordCounts::log_share(std::string_view word) const {
    if (lines_.empty()) return std::nullopt;
    const auto at = std::ranges::lower_bound(lines_, word, {}, [&](uint32_t line) { return word_of(line); });
    const bool there = at != lines_.end() && word_of(*at) == word;
    return std::log((there ? count_of(*at) : least_ / 2) / all_);
}

std::vector<std::string> WordCounts::near(std::string_view word, size_t most) const {
    constexpr size_t short_word = 2;
    constexpr double a_letter = 8; // Natural logarithm: a word of one letter must be this much more frequent.
    const size_t far = word.size() <= short_word ? 1 : 2;
    struct Near {
        std::string_view word;
        double likely = 0;
    };
    std::vector<Near> found;
    if (word.size() > longest) return {};
    const uint32_t letters = letters_in(word);
    for (size_t i = 0; i < lines_.size(); ++i) {
        // An inserted or deleted letter changes at most one kind of letter; a replaced letter at most two.
        if (static_cast<size_t>(std::popcount(letters_[i] ^ letters)) > 2 * far) continue;
        const uint32_t line = lines_[i];
        const std::string_view other = word_of(line);
        const size_t changed = letters_changed(word, other, far);
        if (changed == 0 || changed > far) continue;
        found.push_back({other, std::log(count_of(line)) - a_letter * static_cast<double>(changed)});
    }
    std::ranges::stable_sort(found, std::greater{}, &Near::likely);
    std::vector<std::string> out;
    for (const Near& other : found | std::views::take(most)) out.emplace_back(other.word);
    return out;
}

}
