#include "core/paper_facts/paper_parts.h"

#include <algorithm>
#include <limits>

namespace yelvin {

namespace {

// Gaps in a sentence are about half as wide as its letters are high, and less than one and a half times in justified
// text.
constexpr double widest_gap = 1.7;

PaperPart part_of(const TextLine& line, size_t line_number, size_t from, size_t to) {
    PaperPart part;
    size_t bold = 0;
    for (size_t i = from; i < to; ++i) {
        const Word& word = line.words[i];
        part.key_of_word.push_back(part.keys.size());
        for (std::string& key : word_keys(word.text)) {
            part.keys.push_back(std::move(key));
            part.word_of_key.push_back(part.words.size());
        }
        part.words.push_back(word.text);
        part.places.push_back({line_number, i});
        part.sure.push_back(word.confidence / 100);
        part.boxes.push_back(word.box);
        part.box = part.box.empty() ? word.box : part.box | word.box;
        bold += word.bold;
    }
    part.key_of_word.push_back(part.keys.size());
    part.height = line.ascent_px > 0 ? line.ascent_px : part.box.height;
    part.bold = bold * 2 > part.words.size();
    return part;
}

void split(const TextLine& line, size_t number, std::vector<PaperPart>& parts) {
    std::vector<size_t> order(line.words.size());
    for (size_t i = 0; i < order.size(); ++i) order[i] = i;
    size_t from = 0;
    for (size_t i = 1; i <= line.words.size(); ++i) {
        if (i < line.words.size()) {
            const cv::Rect &before = line.words[i - 1].box, &now = line.words[i].box;
            const int gap = std::max(now.x - before.br().x, before.x - now.br().x);
            if (gap < widest_gap * std::max(line.ascent_px, 1.0)) continue;
        }
        parts.push_back(part_of(line, number, from, i));
        from = i;
    }
}

bool same_row(const PaperPart& a, const PaperPart& b) {
    const int over = std::min(a.box.br().y, b.box.br().y) - std::max(a.box.y, b.box.y);
    return over * 2 > std::min(a.box.height, b.box.height);
}

bool same_column(const PaperPart& a, const PaperPart& b) {
    const int over = std::min(a.box.br().x, b.box.br().x) - std::max(a.box.x, b.box.x);
    return over > 0;
}

}

std::string PaperPart::text(size_t from, size_t count) const {
    std::string out;
    for (size_t i = from; i < words.size() && i - from < count; ++i) out += (out.empty() ? "" : " ") + words[i];
    return out;
}

double PaperPart::sure_of(size_t from, size_t count) const {
    double least = 1;
    for (size_t i = from; i < words.size() && i - from < count; ++i) least = std::min(least, sure[i]);
    return least;
}

std::vector<LineWord> PaperPart::places_of(size_t from, size_t count) const {
    std::vector<LineWord> out;
    for (size_t i = from; i < words.size() && i - from < count; ++i) out.push_back(places[i]);
    return out;
}

const PaperPart* PaperPage::left_of(const PaperPart& part) const {
    const PaperPart* found = nullptr;
    for (const PaperPart& other : parts)
        if (other.box.br().x <= part.box.x && same_row(part, other) && (!found || other.box.x > found->box.x))
            found = &other;
    return found;
}

const PaperPart* PaperPage::right_of(const PaperPart& part) const {
    const PaperPart* found = nullptr;
    for (const PaperPart& other : parts)
        if (other.box.x >= part.box.br().x && same_row(part, other) && (!found || other.box.x < found->box.x))
            found = &other;
    return found;
}

const PaperPart* PaperPage::above(const PaperPart& part) const {
    const PaperPart* found = nullptr;
    for (const PaperPart& other : parts) {
        const int gap = part.box.y - other.box.br().y;
        if (gap > -part.box.height / 3 && gap < 4 * part.height && other.box.y < part.box.y &&
            same_column(part, other) && !same_row(part, other) && (!found || other.box.y > found->box.y))
            found = &other;
    }
    return found;
}

const PaperPart* PaperPage::below(const PaperPart& part) const {
    const PaperPart* found = nullptr;
    for (const PaperPart& other : parts) {
        const int gap = other.box.y - part.box.br().y;
        if (gap > -part.box.height / 3 && gap < 4 * part.height && other.box.y > part.box.y &&
            same_column(part, other) && !same_row(part, other) && (!found || other.box.y < found->box.y))
            found = &other;
    }
    return found;
}

PaperPage paper_page(const PageText& text) {
    PaperPage page;
    page.width = std::max(1, text.layer.width_px);
    page.height = std::max(1, text.layer.height_px);
    page.language = text.layer.language;
    for (size_t i = 0; i < text.layer.lines.size(); ++i) split(text.layer.lines[i], i, page.parts);
    std::ranges::stable_sort(page.parts, {}, [](const PaperPart& part) { return part.box.y + part.box.height / 2; });
    std::vector<double> heights;
    for (const PaperPart& part : page.parts) heights.insert(heights.end(), part.words.size(), part.height);
    if (!heights.empty()) {
        std::ranges::nth_element(heights, heights.begin() + static_cast<std::ptrdiff_t>(heights.size() / 2));
        page.usual_height = std::max(1.0, heights[heights.size() / 2]);
    }
    return page;
}

PhraseMatch longest_at(const std::vector<PaperPhrase>& phrases, const std::vector<std::string>& keys, size_t at) {
    PhraseMatch best;
    for (const PaperPhrase& phrase : phrases)
        if (const size_t count = phrase_at(phrase, keys, at); count > best.keys) best = {&phrase, count};
    return best;
}

PhraseMatch whole_part(const std::vector<PaperPhrase>& phrases, const PaperPart& part) {
    const PhraseMatch found = longest_at(phrases, part.keys, 0);
    return found && found.keys == part.keys.size() ? found : PhraseMatch{};
}

PhraseMatch ending_at(const std::vector<PaperPhrase>& phrases, const PaperPart& part, size_t key) {
    for (size_t at = 0; at < key; ++at) {
        const PhraseMatch found = longest_at(phrases, part.keys, at);
        if (found && at + found.keys == key) return found;
        // A longer phrase may extend beyond it, so shorter phrases that end there are looked for as well.
        for (const PaperPhrase& phrase : phrases)
            if (at + phrase.keys.size() == key && phrase_at(phrase, part.keys, at))
                return {&phrase, phrase.keys.size()};
    }
    return {};
}

bool has_digit(std::string_view text) {
    return std::ranges::any_of(text, [](char c) { return c >= '0' && c <= '9'; });
}

bool is_money(const std::string& word) {
    for (const char* sign : {"€", "£", "$", "EUR", "GBP", "USD", "CHF"})
        if (word.contains(sign)) return true;
    const size_t mark = word.find_last_of(".,");
    if (mark == std::string::npos || mark == 0 || word.size() - mark != 3) return false;
    return std::ranges::all_of(word, [](char c) { return (c >= '0' && c <= '9') || c == '.' || c == ','; });
}

}
