#include "core/cabinet/finding.h"

#include "core/cabinet/cabinet_inside.h"
#include "core/cabinet/document_table.h"
#include "core/cabinet/facets.h"
#include "core/cabinet/page_score.h"
#include "core/cabinet/typed_words.h"
#include "core/cabinet/word_sets.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace yelvin {

namespace {

// Whether the part is a single letter that is still being typed; it is ignored.
bool says_nothing_yet(const QueryPart& part) {
    if (part.is != QueryPart::Is::Words || !part.goes_on) return false;
    const std::string word = folded(part.words.front());
    return letters_in(word) < shortest_beginning && static_cast<unsigned char>(word.front()) < 0x80 &&
           !is_numeric(word);
}

}

struct Finder::Inside {
    CabinetLock lock;
    std::unique_ptr<SQLite::Database> database;
    Packers packers{*database};
    DocumentTable table;
    WordSets sets{*database, table};
    std::vector<TermMatcher> meant; // by the last find
    explicit Inside(std::unique_ptr<SQLite::Database> opened) : database(std::move(opened)) {}

    struct Answer {
        Bits rows;
        std::vector<const WordSet*> words; // of the parts that are words and not excluded
    };
    Bits rows_of(const QueryPart& part, Nearness nearness);
    Answer answer(const std::vector<QueryPart>& parts, Nearness nearness);
    Answer best_answer(const SearchQuery& question, SearchResults& found);
    struct Candidate {
        size_t row = 0;
        double score = 0;
        int page = 0;
        std::vector<ExcerptWord> line;
        std::pair<size_t, size_t> at; // where the line begins: line and word of the page
    };
    Candidate scored(size_t row, const Answer& answer, SQLite::Statement& page, std::int32_t today);
    std::vector<Candidate> ranked(const Bits& rows, const Answer& answer, size_t most, std::int32_t today,
                                  const std::stop_token& stop);
    std::vector<SearchResult> papers(std::vector<Candidate> candidates);
    MarkedPage marked(SQLite::Statement& page, long long id, std::pair<size_t, size_t> best = {});
    enum class Of { TextAlone, All };
    std::optional<PageWords> words_of(SQLite::Statement& page, long long id, Of what);
};

Finder::Finder(std::unique_ptr<Inside> inside) : inside_(std::move(inside)) {}
Finder::Finder(Finder&&) noexcept = default;
Finder& Finder::operator=(Finder&&) noexcept = default;
Finder::~Finder() = default;

Result<Finder> Finder::open_with(Result<CabinetLock> lock,
                                 const std::function<std::unique_ptr<SQLite::Database>()>& open) {
    if (!lock) return std::unexpected(lock.error());
    try {
        Finder finder(std::make_unique<Inside>(open()));
        finder.inside_->lock = std::move(*lock);
        return finder;
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
}

Result<Finder> Finder::open_to_read(const std::filesystem::path& folder) {
    const auto file = folder / cabinet_file_name;
    if (std::error_code none; !std::filesystem::exists(file, none))
        return fail(ErrorKind::Missing, fmt::format("There is no cabinet in {}.", folder.string()));
    return open_with(CabinetLock::take_to_read(folder), [&] {
        auto database = open_cabinet_file_to_read(file);
        try_out_cabinet(*database);
        return database;
    });
}

Result<Finder> Finder::open(const std::filesystem::path& folder) {
    return open_with(CabinetLock::take(folder), [&] { return open_cabinet_file(folder / cabinet_file_name); });
}

Bits Finder::Inside::rows_of(const QueryPart& part, Nearness nearness) {
    using Is = QueryPart::Is;
    if (part.is == Is::From) {
        const auto fits =
            that_fit(table.senders(), [&](const std::string& sender) { return has_words(sender, part.words); });
        return rows_where(table, [&](const DocumentRow& row) { return fits[row.sender]; });
    }
    if (part.is == Is::In) {
        const auto fits =
            that_fit(table.folders(), [&](const std::string& folder) { return has_words(folder, part.words); });
        return rows_where(table, [&](const DocumentRow& row) { return fits[row.folder]; });
    }
    if (part.is != Is::When) return sets.of(part, nearness).rows;
    const std::int32_t from = number_of_day(part.when.from), to = number_of_day(part.when.to);
    Bits rows = rows_where(table, [&](const DocumentRow& row) {
        return (row.saved >= from && row.saved <= to) || (row.dated >= from && row.dated <= to);
    });
    if (part.or_words) rows |= sets.of(part, nearness).rows;
    return rows;
}

Finder::Inside::Answer Finder::Inside::answer(const std::vector<QueryPart>& parts, Nearness nearness) {
    Answer out{Bits::all(table.rows().size()), {}};
    for (const QueryPart& part : parts) {
        const Bits rows = rows_of(part, nearness);
        if (part.excluded)
            out.rows.without(rows);
        else
            out.rows &= rows;
    }
    for (const QueryPart& part : parts) {
        const bool has_set = part.is == QueryPart::Is::Words || part.is == QueryPart::Is::Exact ||
                             (part.is == QueryPart::Is::When && part.or_words);
        if (has_set && !part.excluded) out.words.push_back(&sets.of(part, nearness));
    }
    return out;
}

// Searches for the query as typed; if nothing is found, for similar spellings; if still nothing is found, without one
// of the words.
Finder::Inside::Answer Finder::Inside::best_answer(const SearchQuery& question, SearchResults& found) {
    std::vector<QueryPart> parts = question.parts;
    std::erase_if(parts, says_nothing_yet);
    Answer best = answer(parts, Nearness::AsTyped);
    if (best.rows.any() || parts.empty()) return best;
    best = answer(parts, Nearness::OneLetterWrong);
    found.nearly = best.rows.any();
    constexpr size_t fewest = 3;
    if (found.nearly || parts.size() < fewest) return best;
    for (const Nearness nearness : {Nearness::AsTyped, Nearness::OneLetterWrong}) {
        best = answer(parts, nearness);
        int ways = 0;
        for (size_t i = 0; i < parts.size(); ++i) {
            using Is = QueryPart::Is;
            if (parts[i].excluded || parts[i].is == Is::From || parts[i].is == Is::In) continue;
            std::vector<QueryPart> others = parts;
            others.erase(others.begin() + static_cast<long>(i));
            const Bits rows = answer(others, nearness).rows;
            if (!rows.any()) continue;
            best.rows |= rows;
            found.without = ways++ == 0 ? fmt::format("{}", fmt::join(parts[i].words, " ")) : std::string();
        }
        found.all_but_one = ways > 0;
        if (found.all_but_one) break;
    }
    return best;
}

std::optional<PageWords> Finder::Inside::words_of(SQLite::Statement& page, long long id, Of what) {
    page.reset();
    page.bind(1, static_cast<int64_t>(id));
    if (!page.executeStep()) return std::nullopt;
    const SQLite::Column blob = page.getColumn(1);
    const std::string_view bytes(static_cast<const char*>(blob.getBlob()), static_cast<size_t>(blob.getBytes()));
    WordPacker& packer = packers.of(page.getColumn(0).getInt64());
    return what == Of::All ? packer.unpacked(bytes) : packer.unpacked_text(bytes);
}

Finder::Inside::Candidate Finder::Inside::scored(size_t row, const Answer& answer, SQLite::Statement& page,
                                                 std::int32_t today) {
    constexpr size_t most_pages = 2;
    const DocumentRow& paper = table.rows()[row];
    Candidate out{row, 0, 0, {}, {}};
    const auto asked = static_cast<double>(std::max<size_t>(1, answer.words.size()));
    // If words are missing, a document scores higher the rarer the words that it contains.
    double there = 0, all = 0;
    for (const WordSet* word : answer.words) {
        const double weight =
            std::log1p(static_cast<double>(table.rows().size()) / (1 + static_cast<double>(word->rows.count())));
        all += weight;
        if (word->rows.has(row)) there += weight;
    }
    if (all > 0) out.score += 4 * there / all;
    for (const WordSet* word : answer.words) {
        if (word->named.has(row)) out.score += 3 / asked;
        if (word->headed.has(row)) out.score += 3 / asked;
    }
    // The pages with the most words of the query, in page order.
    std::vector<std::pair<int, int>> pages; // how many words are not there, page
    for (int i = 0; i < paper.pages && !answer.words.empty(); ++i) {
        const auto id = static_cast<size_t>(paper.first_page) + static_cast<size_t>(i);
        const auto missing =
            std::ranges::count_if(answer.words, [&](const WordSet* each) { return !each->pages.has(id); });
        if (static_cast<size_t>(missing) < answer.words.size()) pages.emplace_back(static_cast<int>(missing), i);
    }
    std::ranges::stable_sort(pages);
    if (pages.size() > most_pages) pages.resize(most_pages);
    std::vector<const TermMatcher*> meant_words;
    for (const WordSet* word : answer.words) meant_words.push_back(&word->meant);
    double best = 0;
    for (const auto& [missing, i] : pages) {
        const auto words = words_of(page, paper.first_page + i, Of::TextAlone);
        PageScore score = words ? score_of(*words, meant_words) : PageScore{};
        if (score.score <= best) continue;
        best = score.score;
        out.page = i;
        out.line = std::move(score.line);
        out.at = score.at;
    }
    const double years = std::max(0, today - paper.saved) / 365.25;
    out.score += best + 1.5 / (1 + years);
    return out;
}

std::vector<Finder::Inside::Candidate> Finder::Inside::ranked(const Bits& rows, const Answer& answer, size_t most,
                                                              std::int32_t today, const std::stop_token& stop) {
    constexpr size_t looked_into = 60; // of each kind
    std::vector<size_t> newest;
    rows.each([&](size_t row) { newest.push_back(row); });
    std::ranges::sort(newest, [&](size_t a, size_t b) {
        const DocumentRow &x = table.rows()[a], &y = table.rows()[b];
        return x.saved != y.saved ? x.saved > y.saved : x.id > y.id;
    });
    std::vector<Candidate> out;
    Bits taken(rows.size());
    SQLite::Statement page(*database, "SELECT dictionary, words FROM pages WHERE id = ?");
    const auto take = [&](auto fits) {
        size_t count = 0;
        for (const size_t row : newest) {
            if (count == looked_into || stop.stop_requested()) return;
            if (taken.has(row) || !fits(row)) continue;
            taken.set(row);
            ++count;
            out.push_back(scored(row, answer, page, today));
        }
    };
    if (!answer.words.empty()) {
        take([&](size_t row) {
            return std::ranges::all_of(
                answer.words, [&](const WordSet* each) { return each->named.has(row) || each->headed.has(row); });
        });
        if (answer.words.size() > 1) {
            Bits together = answer.words.front()->pages;
            for (const WordSet* each : answer.words) together &= each->pages;
            const Bits on_one_page = table.rows_with(together);
            take([&](size_t row) { return on_one_page.has(row); });
        }
        take([](size_t) { return true; });
    }
    std::ranges::stable_sort(out, std::greater{}, &Candidate::score);
    for (const size_t row : newest) {
        if (out.size() >= most) break;
        if (!taken.has(row)) out.push_back({row, 0, 0, {}, {}});
    }
    if (out.size() > most) out.resize(most);
    // Documents whose pages were not scored also get the line with the match.
    for (Candidate& each : out)
        if (!taken.has(each.row) && !answer.words.empty()) each = scored(each.row, answer, page, today);
    return out;
}

std::vector<SearchResult> Finder::Inside::papers(std::vector<Candidate> candidates) {
    std::vector<SearchResult> out;
    SQLite::Statement row(*database, std::string("SELECT ") + paper_columns + " FROM papers WHERE id = ?");
    SQLite::Statement page(*database, "SELECT dictionary, words FROM pages WHERE id = ?");
    for (Candidate& each : candidates) {
        row.bind(1, static_cast<int64_t>(table.rows()[each.row].id));
        if (row.executeStep())
            out.push_back({paper_of(row), each.score, each.page, std::move(each.line),
                           marked(page, table.rows()[each.row].first_page + each.page, each.at)});
        row.reset();
    }
    return out;
}

MarkedPage Finder::Inside::marked(SQLite::Statement& page, long long id, std::pair<size_t, size_t> best) {
    MarkedPage out;
    const auto words = words_of(page, id, Of::All);
    if (!words) return out;
    out.width_mm = words->width_mm;
    out.height_mm = words->height_mm;
    std::vector<const TermMatcher*> parts;
    for (const TermMatcher& each : meant) parts.push_back(&each);
    std::set<std::pair<size_t, size_t>> done;
    for (const TermHit& each : hits_on_page(*words, parts))
        for (size_t w = each.first; w <= each.last; ++w) {
            if (std::pair(each.line, w) == best && !done.contains(best)) out.best = out.marks.size();
            if (done.emplace(each.line, w).second) out.marks.push_back(words->lines[each.line].words[w].box);
        }
    return out;
}

Result<SearchResults> Finder::find(std::string_view typed, const SearchFilter& narrowing, size_t most,
                                   std::chrono::year_month_day today, const std::stop_token& stop) {
    try {
        // All results come from one state of the database, whatever is added meanwhile.
        const SQLite::Transaction one_state(*inside_->database);
        if (inside_->table.look(*inside_->database)) {
            inside_->sets.forget();
            inside_->packers.look_again();
        }
        SearchResults found;
        const auto answer = inside_->best_answer(parse_query(typed, today), found);
        if (stop.stop_requested()) return stopped();
        const Narrowed rows = narrowed(answer.rows, narrowing, inside_->table);
        count_facets(rows, inside_->table, found);
        inside_->meant.clear();
        for (const WordSet* word : answer.words) inside_->meant.push_back(word->meant);
        found.best = inside_->papers(inside_->ranked(rows.all, answer, most, number_of_day(today), stop));
        if (stop.stop_requested()) return stopped();
        return found;
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
}

Result<std::vector<MarkedPage>> Finder::marks(long long paper) {
    try {
        SQLite::Statement row(*inside_->database, "SELECT first_page, pages FROM papers WHERE id = ?");
        row.bind(1, static_cast<int64_t>(paper));
        std::vector<MarkedPage> out;
        if (!row.executeStep()) return out;
        SQLite::Statement page(*inside_->database, "SELECT dictionary, words FROM pages WHERE id = ?");
        for (int i = 0; i < row.getColumn(1).getInt(); ++i) {
            out.push_back(inside_->marked(page, row.getColumn(0).getInt64() + i));
        }
        return out;
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
}

Result<PageWords> Finder::words(long long paper, int index) {
    try {
        SQLite::Statement row(*inside_->database, "SELECT first_page FROM papers WHERE id = ?");
        row.bind(1, static_cast<int64_t>(paper));
        if (!row.executeStep()) return PageWords{};
        SQLite::Statement page(*inside_->database, "SELECT dictionary, words FROM pages WHERE id = ?");
        return inside_->words_of(page, row.getColumn(0).getInt64() + index, Inside::Of::All).value_or(PageWords{});
    } catch (const std::exception& what) {
        return cabinet_trouble(what);
    }
}

}
