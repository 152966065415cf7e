// The kind of a document, by its title, the label of its number, and how it begins and ends.
#include "core/paper_facts/paper_facts_found.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace yelvin {

namespace {

struct Vote {
    double score = 0;
    std::string reason;
    std::vector<LineWord> place;
};
using Votes = std::map<std::string, Vote>;

void vote(Votes& votes, const std::string& kind, double score, const std::string& reason, std::vector<LineWord> place) {
    Vote& now = votes[kind];
    if (score > now.score) now = {score, reason, std::move(place)};
}

void by_name(const PaperPage& page, const PaperPart& part, const PaperWords& words, Votes& votes) {
    for (size_t key = 0; key < part.keys.size(); ++key) {
        const PhraseMatch found = longest_at(words.kinds, part.keys, key);
        if (!found) continue;
        const size_t from = part.word_of_key[key], to = part.word_of_key[key + found.keys - 1];
        const size_t others = part.keys.size() - found.keys;
        const double larger = part.height / page.usual_height;
        const bool stands_out = larger > 1.25 || (part.bold && part.words.size() < 8);
        double score = 0.15; // in a sentence
        if (key == 0 && stands_out)
            score = others <= 3 ? 0.95 : 0.9;
        else if (stands_out)
            score = 0.7;
        else if (others == 0)
            score = 0.75;
        else if (key == 0 && others <= 2 && has_digit(part.text(to + 1)))
            score = 0.6;
        if (score > 0.5) {
            if (page.down(part) > 0.5) score *= 0.7;
            if (larger > 1.5) score = std::min(0.99, score + 0.03);
        }
        vote(votes, found.phrase->means, score, fmt::format("“{}” above it", part.text(from, to - from + 1)),
             part.places_of(from, to - from + 1));
        key += found.keys - 1;
    }
}

// "Invoice no.", "Rechnungsdatum": a label names the kind too, but less certainly, because an invoice also names the
// order.
void by_label(const PaperPart& part, const PaperWords& words, Votes& votes) {
    const PhraseMatch found = longest_at(words.numbers, part.keys, 0);
    if (!found || found.keys < part.keys.size() - std::min<size_t>(part.keys.size(), 2)) return;
    const std::string& means = found.phrase->means;
    if (means == "reference" || means == "other") return;
    const size_t to = part.word_of_key[found.keys - 1];
    vote(votes, means, 0.62, fmt::format("has a “{}”", part.text(0, to + 1)), part.places_of(0, to + 1));
}

}

std::optional<PaperFact> kind_on(const PaperPage& page, const PaperWords& words) {
    Votes votes;
    bool greets = false, ends = false;
    std::vector<LineWord> greeting;
    for (const PaperPart& part : page.parts) {
        by_name(page, part, words, votes);
        by_label(part, words, votes);
        const bool in_upper = page.down(part) < 0.6;
        if (in_upper && part.words.size() <= 8 && longest_at(words.salutations, part.keys, 0)) {
            greets = true;
            greeting = part.places_of(0, part.words.size());
        }
        if (part.words.size() <= 12 && longest_at(words.closings, part.keys, 0)) ends = true;
    }
    if (greets || ends)
        vote(votes, "letter", greets && ends ? 0.92 : 0.6,
             greets ? (ends ? "greeting and closing of a letter" : "greeting of a letter") : "closing of a letter",
             greeting);
    if (votes.empty()) return std::nullopt;
    const auto by_score = [](const auto& a, const auto& b) { return a.second.score < b.second.score; };
    const auto best = std::ranges::max_element(votes, by_score);
    if (best->second.score < 0.3) return std::nullopt;
    PaperFact fact{best->first, best->second.score, best->second.reason, best->second.place};
    for (const auto& [kind, other] : votes)
        if (kind != best->first && other.score > best->second.score - 0.05) fact.sure = std::min(fact.sure, 0.8);
    return fact;
}

}
