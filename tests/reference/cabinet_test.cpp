// Finding in the cabinet compared with published references: FTS5 itself, Snowball's vocabularies, CLDR's conversion to
// plain letters; and finding documents that were read with real OCR errors.
#include "core/cabinet/finding.h"
#include "core/cabinet/terms.h"
#include "core/developing/resample.h"
#include "core/ocr/reader.h"
#include "support/hard_pages.h"
#include "support/support.h"
#include "support/trials.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <unicode/translit.h>
#include <unicode/uchar.h>

#include <algorithm>
#include <fstream>
#include <map>
#include <set>
#include <sstream>

namespace yelvin::test {
namespace {

constexpr std::chrono::year_month_day now = std::chrono::year(2026) / 11 / 27;

NewPaper paper(const std::string& name, const std::string& text, const std::string& language) {
    NewPaper out;
    out.file = "/home/desk/Post/" + name + ".pdf";
    out.saved = std::chrono::sys_days(std::chrono::year(2001) / 1 / 1); // a word for today is a date too
    PlacedLine line{{}, language, false};
    std::istringstream in(text);
    for (std::string word; in >> word;) line.words.push_back({word, {20, 20, 10, 3}});
    out.words.push_back({210, 297, {line}});
    return out;
}

std::set<std::string> found_by(Finder& finder, const std::string& typed) {
    std::set<std::string> out;
    const auto found = finder.find(typed, {}, 2000, now);
    EXPECT_TRUE(found) << found.error().sentence;
    for (const SearchResult& each : found->best) out.insert(each.paper.file.stem().string());
    return found->nearly || found->all_but_one ? std::set<std::string>() : out;
}

}

// The query forms of section 3 of its manual (sqlite.org/fts5.html, from memory): words, a phrase, a prefix, AND, NOT.
// The rows are all combinations of one to three of five words; FTS5 itself says which rows match each query.
TEST(CabinetReference, FindsTheSameAsFts5ForTheQueriesOfItsManual) {
    const std::vector<std::string> words{"one", "two", "three", "throw", "four"};
    const TempFolder folder;
    auto cabinet = Cabinet::open(folder.path());
    ASSERT_TRUE(cabinet);
    SQLite::Database plain(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
    plain.exec("CREATE VIRTUAL TABLE rows USING fts5(words)");
    std::vector<std::string> rows;
    for (const std::string& a : words) {
        rows.push_back(a);
        for (const std::string& b : words) {
            rows.push_back(a + ' ' + b);
            for (const std::string& c : words) rows.push_back(a + ' ' + b + ' ' + c);
        }
    }
    std::vector<NewPaper> papers;
    SQLite::Statement insert(plain, "INSERT INTO rows (rowid, words) VALUES (?, ?)");
    for (size_t i = 0; i < rows.size(); ++i) {
        insert.bind(1, static_cast<int64_t>(i + 1));
        insert.bind(2, rows[i]);
        insert.exec();
        insert.reset();
        papers.push_back(paper(fmt::format("row {}", i + 1), rows[i], "xyz")); // a language without endings
    }
    ASSERT_TRUE(cabinet->add(papers));
    auto finder = Finder::open(folder.path());
    // The query as FTS5 writes it, and as the user types it here.
    const std::pair<const char*, const char*> queries[] = {
        {"one two three", "one two three "},
        {"\"one two three\"", "\"one two three\""},
        {"\"two three\"", "\"two three\""},
        {"one AND two", "one two "},
        {"one NOT two", "one -two "},
        {"one two NOT three", "one two -three "},
        {"\"one two\" NOT four", "\"one two\" -four "},
        {"thr*", "thr"},
        {"one two thr*", "one two thr"},
        {"th* NOT throw", "-throw th"},
        {"four AND \"three throw\"", "four \"three throw\""},
        {"fo*", "fo"},
    };
    for (const auto& [theirs, ours] : queries) {
        std::set<std::string> expected;
        SQLite::Statement query(plain, "SELECT rowid FROM rows WHERE rows MATCH ?");
        query.bind(1, std::string(theirs));
        while (query.executeStep()) expected.insert(fmt::format("row {}", query.getColumn(0).getInt()));
        ASSERT_FALSE(expected.empty()) << theirs;
        EXPECT_EQ(found_by(*finder, ours), expected) << ours;
    }
}

TEST(CabinetReference, StemsMatchTheSnowballVocabulary) {
    struct Entry {
        std::string word, stem;
    };
    std::map<std::string, std::vector<Entry>> vocabularies;
    std::ifstream in(YELVIN_SNOWBALL);
    for (std::string line; std::getline(in, line);) {
        std::istringstream parts(line);
        std::string language, word, stem;
        if (line.starts_with('#') || !(parts >> language >> word >> stem)) continue;
        if (word.find_first_of("'0123456789-") == std::string::npos && word.size() > 2)
            vocabularies[language].push_back({word, stem});
    }
    ASSERT_EQ(vocabularies.size(), 4U);
    for (const auto& [language, entries] : vocabularies) {
        ASSERT_GT(entries.size(), 900U);
        const TempFolder folder;
        auto cabinet = Cabinet::open(folder.path());
        ASSERT_TRUE(cabinet);
        std::vector<NewPaper> papers;
        std::map<std::string, std::set<std::string>> by_stem, by_letters;
        for (const Entry& each : entries) {
            papers.push_back(paper("of " + each.word, each.word, language));
            by_stem[folded(each.stem)].insert("of " + each.word);
            by_letters[folded(each.word)].insert("of " + each.word);
        }
        for (NewPaper& each : papers) each.file = "/x/" + each.file.filename().string();
        ASSERT_TRUE(cabinet->add(papers));
        auto finder = Finder::open(folder.path());
        int asked = 0, wrong = 0;
        for (size_t i = 0; i < entries.size(); i += 3) {
            const Entry& entry = entries[i];
            std::set<std::string> expected = by_stem[folded(entry.stem)];
            expected.merge(std::set(by_letters[folded(entry.word)])); // written alike but for accents
            for (const std::string& typed : {entry.word, folded(entry.word)}) {
                // The word is also in this document's own name. Names are not stemmed, so no other name matches.
                const std::set<std::string> found = found_by(*finder, typed + ' ');
                ++asked;
                if (!std::ranges::includes(found, expected)) {
                    ++wrong;
                    if (wrong < 5) ADD_FAILURE() << language << ' ' << typed << " misses some of its stem's words";
                }
                for (const std::string& each : found)
                    if (!expected.contains(each) && typed == entry.word) {
                        ++wrong;
                        if (wrong < 5) ADD_FAILURE() << language << ' ' << typed << " also finds " << each;
                    }
            }
        }
        EXPECT_LE(wrong, asked / 100) << language;
    }
}

// CLDR's transform Latin-ASCII, through ICU: all letters of the Latin blocks for which it has a plain letter.
TEST(CabinetReference, AccentsAreFoldedLikeCldr) {
    UErrorCode failed = U_ZERO_ERROR;
    const std::unique_ptr<icu::Transliterator> plain(
        icu::Transliterator::createInstance("NFKD; [:M:] Remove; Latin-ASCII; Lower", UTRANS_FORWARD, failed));
    ASSERT_TRUE(U_SUCCESS(failed));
    int letters = 0;
    for (const auto& [first, last] : {std::pair(0xC0, 0x17F), std::pair(0x1CD, 0x21F), std::pair(0x1E00, 0x1EF9)})
        for (UChar32 c = first; c <= last; ++c) {
            if (!u_isalpha(c)) continue;
            icu::UnicodeString text(c);
            std::string letter, expected;
            text.toUTF8String(letter);
            plain->transliterate(text);
            text.toUTF8String(expected);
            if (expected.find_first_not_of("abcdefghijklmnopqrstuvwxyz") != std::string::npos) continue;
            ++letters;
            EXPECT_EQ(folded(letter), expected) << letter;
        }
    EXPECT_GT(letters, 450);
}

// Pages that are hard to read, saved with their real OCR errors; three words of each are searched for as printed.
TEST(CabinetReference, ThreeWordsFindADocumentWithOcrErrorsAmongTheFirstFive) {
    const auto count = static_cast<size_t>(trials(16));
    const TempFolder folder;
    auto cabinet = Cabinet::open(folder.path());
    ASSERT_TRUE(cabinet);
    Reader reader;
    std::vector<HardPage> pages;
    std::vector<std::set<std::string>> printed;
    int misread = 0;
    for (size_t i = 0; i < count; ++i) {
        pages.push_back(hard_page(i % hard_kinds(), static_cast<unsigned>(900 + i)));
        // At a lower resolution than anybody should use, some words on each page are wrong.
        const Raster coarse = at_resolution(pages.back().scanned, pages.back().scanned.dpi * 0.5);
        const auto text = reader.read(coarse, {"eng"});
        ASSERT_TRUE(text) << text.error().sentence;
        NewPaper made;
        made.file = fmt::format("/home/desk/Post/{}.pdf", i);
        made.saved = std::chrono::sys_days(now);
        made.words.push_back(words_of_page(as_it_was_read(*text), coarse.dpi));
        ASSERT_TRUE(cabinet->add(made));
        std::set<std::string> read;
        for (const PlacedLine& line : made.words[0].lines)
            for (const PlacedWord& word : line.words) read.insert(folded(word.text));
        printed.emplace_back();
        for (const std::string& word : pages.back().words) {
            printed.back().insert(folded(word));
            misread += !read.contains(folded(word));
        }
    }
    EXPECT_GT(misread, static_cast<int>(count)); // else nothing hard was tried
    auto finder = Finder::open(folder.path());
    size_t among_five = 0;
    for (size_t i = 0; i < count; ++i) {
        // The three most distinctive words: the rarest, and twice the one that the fewest documents have together with
        // those before it.
        std::string typed;
        std::set<size_t> with_all;
        for (size_t k = 0; k < count; ++k) with_all.insert(k);
        for (size_t k = 0; k < 3; ++k) {
            std::string best;
            std::set<size_t> best_with;
            for (const std::string& word : printed[i]) {
                if (word.size() < 4 || typed.find(word) != std::string::npos) continue;
                std::set<size_t> with;
                for (const size_t other : with_all)
                    if (printed[other].contains(word)) with.insert(other);
                const bool better = best.empty() || with.size() < best_with.size() ||
                                    (with.size() == best_with.size() && word.size() > best.size());
                if (!better) continue;
                best = word;
                best_with = with;
            }
            typed += best + ' ';
            with_all = best_with;
        }
        const auto found = finder->find(typed, {}, 5, now);
        ASSERT_TRUE(found);
        const bool there = std::ranges::any_of(
            found->best, [&](const SearchResult& each) { return each.paper.file.stem() == std::to_string(i); });
        EXPECT_TRUE(there) << pages[i].kind << ": " << typed;
        among_five += there;
    }
    RecordProperty("among_five", static_cast<int>(among_five));
    RecordProperty("misread", misread);
    fmt::print("{} of {} among the first five; {} of their words were misread\n", among_five, count, misread);
}

}
