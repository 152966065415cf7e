#include "core/cabinet/word_sets.h"

#include "core/cabinet/cabinet_file.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <utility>

namespace yelvin {

namespace {

std::string quoted(const std::string& terms) { return '"' + terms + '"'; } // terms have no quotes in them

// Returns a string that sorts after all strings with this prefix.
std::string behind(const std::string& beginning) { return beginning + "\U0010FFFF"; }

size_t common(std::string_view a, std::string_view b) {
    return static_cast<size_t>(std::ranges::mismatch(a, b).in1 - a.begin());
}

}

// Returns the terms that are inflected forms of the word in any of the cabinet's languages.
std::set<std::string> WordSets::with_other_endings(const Term& word) {
    std::set<std::string> out{word.folded};
    if (is_numeric(word.folded)) return out;
    std::vector<std::string> languages;
    SQLite::Statement known(database_, "SELECT language FROM languages");
    while (known.executeStep())
        if (std::string each = known.getColumn(0).getString(); Stemmers::knows(each)) languages.push_back(each);
    // If the word was typed without accents, its spellings with accents are looked up.
    std::set<std::string> written{word.written()};
    SQLite::Statement ways(database_, "SELECT written FROM terms WHERE term = ?");
    ways.bind(1, word.folded);
    while (ways.executeStep())
        if (std::string each = ways.getColumn(0).getString(); !each.empty()) written.insert(each);
    std::vector<std::set<std::string>> stems(languages.size());
    size_t shared = word.folded.size();
    for (size_t i = 0; i < languages.size(); ++i)
        for (const std::string& each : written) {
            const std::string stem = folded(stemmers_.stem(each, languages[i]));
            shared = std::min(shared, common(stem, word.folded));
            stems[i].insert(stem);
        }
    if (shared < 2) return out;
    // Some stems end in a letter that the word does not have: city, citi.
    const std::string begin(beginning(word.folded, std::max<size_t>(2, letters_in(word.folded.substr(0, shared)) - 1)));
    SQLite::Statement terms(database_, "SELECT term, written FROM terms WHERE term >= ? AND term < ?");
    terms.bind(1, begin);
    terms.bind(2, behind(begin));
    while (terms.executeStep()) {
        const std::string term = terms.getColumn(0).getString();
        if (is_numeric(term) || out.contains(term)) continue;
        const std::string accented = terms.getColumn(1).getString();
        for (size_t i = 0; i < languages.size(); ++i)
            if (stems[i].contains(folded(stemmers_.stem(accented.empty() ? term : accented, languages[i])))) {
                out.insert(term);
                break;
            }
    }
    return out;
}

// Returns the terms that differ by letters that text recognition confuses, or by one letter. The difference is in the
// first or the second half of the word, so either its beginning or its end matches.
std::set<std::string> WordSets::nearly(const std::string& folded_word) {
    constexpr size_t shortest = 4, most = 60;
    std::set<std::string> out{folded_word};
    if (letters_in(folded_word) < shortest) return out;
    const std::string shape = shape_of(folded_word);
    SQLite::Statement same(database_, "SELECT term FROM shapes WHERE shape = ?");
    same.bind(1, shape);
    const auto add = [&](const std::string& term, const std::string& of_shape) {
        out.insert(term.empty() ? of_shape : term);
    };
    while (same.executeStep()) add(same.getColumn(0).getString(), shape);
    const size_t half = letters_in(shape) / 2;
    for (const bool from_behind : {false, true}) {
        const std::string whole = from_behind ? backwards(shape) : shape;
        const std::string begin(beginning(whole, std::max<size_t>(2, half)));
        SQLite::Statement row(database_, from_behind
                                             ? "SELECT shape, term FROM backwards WHERE shape >= ? AND shape < ?"
                                             : "SELECT shape, term FROM shapes WHERE shape >= ? AND shape < ?");
        row.bind(1, begin);
        row.bind(2, behind(begin));
        while (row.executeStep() && out.size() < most)
            if (const std::string other = row.getColumn(0).getString(); one_letter_apart(other, whole))
                add(row.getColumn(1).getString(), from_behind ? backwards(other) : other);
    }
    return out;
}

TermMatcher WordSets::matcher_for(const QueryPart& part, Nearness nearness) {
    TermMatcher meant;
    std::vector<Term> terms = terms_of(part.words);
    if (terms.empty()) return meant;
    if (part.is == QueryPart::Is::Exact || part.words.size() > 1) {
        std::erase_if(terms, [](const Term& term) { return term.beside; });
        for (const Term& term : terms) meant.sequence.push_back(term.folded);
        if (meant.sequence.size() == 1) meant.terms.insert(std::exchange(meant.sequence, {}).front());
        return meant;
    }
    // "lock-keeper" is also written "lock keeper". A number with its separators is one term.
    const auto whole = std::ranges::find_if(terms, [](const Term& term) { return term.beside; });
    const Term word = whole != terms.end() && terms.size() > 2 ? *whole : terms.front();
    if (terms.size() > 1)
        for (const Term& term : terms)
            if (!term.beside) meant.sequence.push_back(term.folded);
    if (meant.sequence.size() < 2) meant.sequence.clear();
    meant.terms = nearness == Nearness::OneLetterWrong ? nearly(word.folded) : with_other_endings(word);
    if (part.goes_on) meant.beginning = word.folded;
    return meant;
}

const WordSet& WordSets::of(const QueryPart& part, Nearness nearness) {
    constexpr size_t most_kept = 64;
    const auto at =
        std::ranges::find_if(kept_, [&](const Kept& each) { return each.nearness == nearness && each.part == part; });
    if (at != kept_.end()) {
        kept_.splice(kept_.begin(), kept_, at);
        return kept_.front().set;
    }
    WordSet set{Bits(table_.page_count()), Bits(table_.rows().size()), Bits(table_.rows().size()),
                Bits(table_.rows().size()), matcher_for(part, nearness)};
    const TermMatcher& meant = set.meant;
    std::vector<std::string> ways;
    for (const std::string& term : meant.terms) ways.push_back(quoted(term));
    if (!meant.sequence.empty()) ways.push_back(quoted(fmt::format("{}", fmt::join(meant.sequence, " "))));
    std::string in_papers = fmt::format("{}", fmt::join(ways, " OR "));
    std::string in_pages = in_papers;
    if (!meant.beginning.empty()) {
        const std::string begins = (ways.empty() ? "" : " OR ") + quoted(meant.beginning) + " *";
        in_papers += begins;
        const size_t letters = letters_in(meant.beginning);
        if (letters > longest_beginning)
            in_pages += begins;
        else if (letters >= shortest_beginning)
            add_beginning(meant.beginning, set);
    }
    if (!in_pages.empty()) add_pages(in_pages, set);
    set.rows |= table_.rows_with(set.pages);
    if (!in_papers.empty()) add_papers(in_papers, set);
    kept_.push_front({part, nearness, std::move(set)});
    if (kept_.size() > most_kept) kept_.pop_back();
    return kept_.front().set;
}

void WordSets::add_pages(const std::string& match, WordSet& to) {
    SQLite::Statement found(database_, "SELECT rowid FROM page_words WHERE page_words MATCH ?");
    found.bind(1, match);
    while (found.executeStep()) to.pages.set(static_cast<size_t>(found.getColumn(0).getInt64()));
}

void WordSets::add_papers(const std::string& match, WordSet& to) {
    const std::pair<const char*, Bits*> columns[] = {{"name", &to.named}, {"heading", &to.headed}, {"facts", &to.rows}};
    for (const auto& [column, bits] : columns) {
        SQLite::Statement found(database_, "SELECT rowid FROM paper_words WHERE paper_words MATCH ?");
        found.bind(1, fmt::format("{} : ({})", column, match));
        while (found.executeStep())
            if (const auto row = table_.row_of(found.getColumn(0).getInt64())) bits->set(*row);
    }
    to.rows |= to.named;
    to.rows |= to.headed;
}

void WordSets::add_beginning(const std::string& beginning, WordSet& to) {
    SQLite::Statement found(database_, "SELECT block, pages FROM beginnings WHERE beginning >= ? AND beginning < ?");
    found.bind(1, beginning);
    found.bind(2, behind(beginning));
    while (found.executeStep()) {
        const SQLite::Column blob = found.getColumn(1);
        const PageBlock block =
            unpacked_block({static_cast<const char*>(blob.getBlob()), static_cast<size_t>(blob.getBytes())});
        const auto first = static_cast<size_t>(found.getColumn(0).getInt64()) * block.size();
        for (size_t i = 0; i < block.size(); ++i) to.pages.set_word(first + i, block[i]);
    }
}

}
