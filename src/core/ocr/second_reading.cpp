#include "core/ocr/second_reading.h"

#include "core/text/check_digits.h"
#include "core/text/word_order.h"

#include <algorithm>
#include <map>

namespace yelvin {

namespace {

constexpr double unsure = 75; // of 100
constexpr double clear = 95;  // A word read this clearly stays, even if no dictionary has it, for example a name.

// The words of one recognition result in a range of its line.
struct Stretch {
    std::vector<const Word*> words;
    int from = 0, to = 0; // px along the line
};

double worth(const std::vector<const Word*>& stretch, WordList& list) {
    double sum = 0, letters = 0;
    for (const Word* word : stretch) {
        double each = word->confidence / 100;
        switch (list.knows(word->text)) {
        case WordList::Known::Yes:
            each += 0.35;
            break;
        case WordList::Known::No:
            each -= 0.25;
            break;
        case WordList::Known::CannotTell:
            break;
        }
        const auto weight = static_cast<double>(word->text.size());
        sum += each * weight;
        letters += weight;
    }
    return letters > 0 ? sum / letters : -1;
}

int covered_px(const std::vector<const Word*>& stretch) {
    return stretch.empty() ? 0 : stretch.back()->box.br().x - stretch.front()->box.x;
}

std::string text_of(const std::vector<const Word*>& stretch) {
    std::string text;
    for (const Word* word : stretch) text += (text.empty() ? "" : " ") + word->text;
    return text;
}

// A number with check digits. It may be printed in groups, as IBANs are.
struct Numbered {
    size_t first = 0, count = 0;
    int px = 0;
    CheckDigits check = CheckDigits::None;
};

std::vector<Numbered> numbers_in(const TextLine& line) {
    std::vector<Numbered> found;
    for (size_t first = 0; first < line.words.size(); ++first) {
        Numbered best;
        std::string text;
        for (size_t i = first; i < line.words.size() && text.size() < 44; ++i) {
            text += line.words[i].text;
            const CheckDigits check = check_digits(text);
            if (check == CheckDigits::None) continue;
            if (best.check == CheckDigits::Right && check == CheckDigits::Wrong) continue;
            best = {first, i - first + 1, line.words[i].box.br().x - line.words[first].box.x, check};
        }
        if (best.check == CheckDigits::None) continue;
        found.push_back(best);
        first += best.count - 1;
    }
    return found;
}

// If the check digits of a number are correct in one result, the whole number is taken from it.
void take_right_numbers(TextLine& line, const std::vector<TextLine>& others) {
    for (const TextLine& other : others) {
        for (const Numbered& right : numbers_in(other)) {
            if (right.check != CheckDigits::Right) continue;
            const Word &from = other.words[right.first], &to = other.words[right.first + right.count - 1];
            const auto inside = [&](const Word& word) {
                const int middle = word.box.x + word.box.width / 2;
                return middle >= from.box.x && middle <= to.box.br().x;
            };
            const auto first = std::ranges::find_if(line.words, inside);
            if (first == line.words.end()) continue;
            const auto last = std::find_if_not(first, line.words.end(), inside);
            const auto at = line.words.erase(first, last);
            const auto begin = other.words.begin() + static_cast<std::ptrdiff_t>(right.first);
            line.words.insert(at, begin, begin + static_cast<std::ptrdiff_t>(right.count));
        }
    }
}

// Divides the line at the positions where no result has a word, so that the ranges of all results correspond.
std::vector<std::pair<int, int>> stretches_of(const std::vector<const TextLine*>& readings) {
    std::vector<std::pair<int, int>> spans;
    for (const TextLine* line : readings)
        for (const Word& word : line->words) {
            const int inwards = std::min(word.box.width / 3, word.box.height / 5);
            spans.emplace_back(word.box.x + inwards, word.box.br().x - inwards);
        }
    std::ranges::sort(spans);
    std::vector<std::pair<int, int>> joined;
    for (const auto& [from, to] : spans) {
        if (!joined.empty() && from < joined.back().second)
            joined.back().second = std::max(joined.back().second, to);
        else
            joined.emplace_back(from, to);
    }
    return joined;
}

std::vector<const Word*> within(const TextLine& line, const std::pair<int, int>& span) {
    std::vector<const Word*> found;
    for (const Word& word : line.words) {
        const int middle = word.box.x + word.box.width / 2;
        if (middle >= span.first && middle <= span.second) found.push_back(&word);
    }
    return found;
}

}

bool is_doubtful(const Word& word, WordList& words) {
    return word.confidence < unsure || (word.confidence < clear && words.knows(word.text) == WordList::Known::No);
}

int doubtful_px(const TextLine& line, WordList& words) {
    int px = 0;
    for (const Word& word : line.words)
        if (is_doubtful(word, words)) px += word.box.width;
    for (const Numbered& number : numbers_in(line))
        if (number.check == CheckDigits::Wrong) px += number.px;
    return px;
}

TextLine surest(const TextLine& first, const std::vector<TextLine>& others, WordList& words) {
    std::vector<const TextLine*> readings{&first};
    for (const TextLine& other : others) readings.push_back(&other);
    TextLine out = first;
    out.words.clear();
    for (const auto& span : stretches_of(readings)) {
        struct Candidate {
            std::vector<const Word*> words;
            double worth = -10;
            int votes = 0;
        };
        std::map<std::string, Candidate> candidates;
        const Candidate* best = nullptr;
        for (const TextLine* reading : readings) {
            auto stretch = within(*reading, span);
            Candidate& candidate = candidates[text_of(stretch)];
            // A result is rated lower if it does not cover all of the ink.
            const double over = 1 - static_cast<double>(covered_px(stretch)) / (span.second - span.first + 1);
            candidate.worth = std::max(candidate.worth, worth(stretch, words) - std::clamp(over, 0.0, 1.0));
            ++candidate.votes;
            if (candidate.words.empty()) candidate.words = std::move(stretch);
        }
        for (const TextLine* reading : readings) { // the first reading wins a draw
            const Candidate& candidate = candidates[text_of(within(*reading, span))];
            const auto value = [](const Candidate& c) { return c.worth + 0.12 * (c.votes - 1); };
            if (!best || value(candidate) > value(*best) + 0.01) best = &candidate;
        }
        for (const Word* word : best->words) {
            out.words.push_back(*word);
            if (best->votes > 1) out.words.back().confidence = std::min(100.0, word->confidence + 4);
        }
    }
    if (out.words.empty()) return first;
    put_in_logical_order(out);
    const auto already = numbers_in(out);
    if (std::ranges::none_of(already, [](const Numbered& n) { return n.check == CheckDigits::Right; }))
        take_right_numbers(out, others);
    return out;
}

}
