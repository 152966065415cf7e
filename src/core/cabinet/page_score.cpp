#include "core/cabinet/page_score.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace yelvin {

namespace {

struct Placed {
    Term term;
    size_t line = 0, place = 0;
};

std::vector<Placed> terms_on(const PageWords& page) {
    std::vector<Placed> out;
    size_t place = 0;
    for (size_t i = 0; i < page.lines.size(); ++i) {
        std::vector<std::string> words;
        for (const PlacedWord& word : page.lines[i].words) words.push_back(word.text);
        const std::string_view next =
            i + 1 < page.lines.size() ? std::string_view(page.lines[i + 1].words.front().text) : std::string_view();
        for (Term& term : terms_of(words, next)) {
            if (!term.beside) ++place;
            out.push_back({std::move(term), i, place});
        }
    }
    return out;
}

// The number of terms from `at` on that match the sequence, or 0 if they do not.
size_t sequence_at(const std::vector<Placed>& terms, size_t at, const std::vector<std::string>& sequence) {
    size_t k = 0, i = at;
    for (; i < terms.size() && k < sequence.size(); ++i) {
        if (terms[i].term.beside) continue;
        if (terms[i].term.folded != sequence[k]) return 0;
        ++k;
    }
    return k == sequence.size() ? i - at : 0;
}

// The shortest range of terms that contains all parts found on the page.
struct Window {
    size_t first = 0, last = 0; // Indices of the hits.
    size_t span = std::numeric_limits<size_t>::max(), parts = 0;
};
Window closest(const std::vector<TermHit>& hits, size_t part_count) {
    std::vector<size_t> there(part_count);
    for (const TermHit& each : hits) ++there[each.part];
    const auto parts = static_cast<size_t>(std::ranges::count_if(there, [](size_t count) { return count > 0; }));
    Window best;
    std::vector<size_t> within(part_count);
    size_t have = 0, first = 0;
    for (size_t last = 0; last < hits.size(); ++last) {
        if (within[hits[last].part]++ == 0) ++have;
        while (have == parts) {
            const size_t span = hits[last].place - hits[first].place;
            if (span < best.span) best = {first, last, span, parts};
            if (--within[hits[first].part] == 0) --have;
            ++first;
        }
    }
    return best;
}

std::vector<ExcerptWord> shown(const PageWords& page, const std::vector<TermHit>& hits, const Window& window) {
    constexpr size_t before = 4, most = 16;
    const TermHit& from = hits[window.first];
    std::vector<std::pair<size_t, size_t>> words; // line and word
    // If the match is at the beginning of its line, some words of the previous line are included.
    size_t line = from.line, word = from.first;
    for (size_t i = 0; i < before; ++i) {
        if (word == 0) {
            if (line == 0 || page.lines[line].heading != page.lines[line - 1].heading) break;
            --line;
            word = page.lines[line].words.size();
        }
        words.emplace_back(line, --word);
    }
    std::ranges::reverse(words);
    for (line = from.line, word = from.first; line < page.lines.size() && words.size() < most; ++line, word = 0)
        for (; word < page.lines[line].words.size() && words.size() < most; ++word) words.emplace_back(line, word);
    std::vector<ExcerptWord> out;
    for (const auto& at : words) {
        const bool meant = std::ranges::any_of(hits, [&](const TermHit& each) {
            return each.line == at.first && each.first <= at.second && at.second <= each.last;
        });
        out.push_back({page.lines[at.first].words[at.second].text, meant});
    }
    return out;
}

}

std::vector<TermHit> hits_on_page(const PageWords& page, const std::vector<const TermMatcher*>& parts) {
    const std::vector<Placed> terms = terms_on(page);
    std::vector<TermHit> out;
    for (size_t i = 0; i < terms.size(); ++i) {
        const Placed& each = terms[i];
        for (size_t part = 0; part < parts.size(); ++part) {
            const TermMatcher& meant = *parts[part];
            if (meant.fits(each.term.folded)) {
                const bool as_typed = meant.terms.size() == 1 || each.term.folded == meant.beginning;
                out.push_back({each.line, each.term.first, each.term.last, part, each.place, as_typed});
                continue;
            }
            if (meant.sequence.size() < 2 || each.term.beside) continue;
            const size_t count = sequence_at(terms, i, meant.sequence);
            for (size_t k = i; k < i + count; ++k)
                out.push_back({terms[k].line, terms[k].term.first, terms[k].term.last, part, each.place, true});
        }
    }
    return out;
}

PageScore score_of(const PageWords& page, const std::vector<const TermMatcher*>& parts) {
    const std::vector<TermHit> hits = hits_on_page(page, parts);
    if (hits.empty() || parts.empty()) return {};
    const Window window = closest(hits, parts.size());
    const auto asked = static_cast<double>(parts.size()), there = static_cast<double>(window.parts);
    PageScore out;
    out.score = 2 * there / asked;
    // Adjacent words score fully; words a few lines apart score hardly at all.
    if (window.parts > 1) {
        const double apart = static_cast<double>(window.span) - (there - 1);
        out.score += 4 * (there / asked) / (1 + std::max(0.0, apart) / 6);
    }
    std::vector<bool> headed(parts.size()), as_typed(parts.size());
    for (const TermHit& each : hits) {
        if (page.lines[each.line].heading) headed[each.part] = true;
        if (each.as_typed) as_typed[each.part] = true;
    }
    out.score += 1.5 * static_cast<double>(std::ranges::count(headed, true)) / asked;
    out.score += 0.4 * static_cast<double>(std::ranges::count(as_typed, true)) / asked;
    out.score += 0.2 * std::log1p(static_cast<double>(hits.size()));
    out.line = shown(page, hits, window);
    out.at = {hits[window.first].line, hits[window.first].first};
    return out;
}

}
