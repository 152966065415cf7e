#include "core/reading/second_reading.h"

#include <algorithm>
#include <map>

namespace yelvin {

namespace {

constexpr double unsure = 75; // of 100
constexpr double clear = 95;  // such a word is there as it was read, known or not: names, and what no dictionary has

// What a single reading says for a stretch of its line.
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

// The places where no reading has a word: there the line can be cut into stretches that correspond.
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
            // Ink that a reading passes over counts against it.
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
    return out.words.empty() ? first : out;
}

}
