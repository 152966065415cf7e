#include "core/cabinet/search_query.h"
#include "core/cabinet_given.h"

#include "core/cabinet/cabinet_updater.h"
#include "core/cabinet/terms.h"
#include "core/paper_facts/dates_written.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fstream>
#include <random>
#include <set>

using namespace yelvin;
using namespace yelvin::test;
using namespace yelvin::test::cabinet_given;
using namespace std::chrono;
namespace fs = std::filesystem;

namespace {

using Names = std::vector<std::string>;

}

TEST(PageWordsTest, SurvivePackingAndDamagedOnesAreRejected) {
    PageWords given = page({"#Lease of a mooring", "Größe ist 3,5 m; qui jag!", "شارع الملك"});
    given.lines[1].language = "deu";
    given.lines[2].words[1].box = {180.3, 150.2, 22.7, 9.1}; // far from where it is expected
    std::vector<PageWords> many;
    for (int i = 0; i < 120; ++i)
        many.push_back(page({fmt::format("#Page {} of them", i), "the lock is closed on Sunday"}));
    const PackingDictionary dictionary = trained_dictionary(many);
    EXPECT_FALSE(dictionary.empty());
    for (const PackingDictionary& with : {PackingDictionary{}, dictionary}) {
        WordPacker packer(with);
        const std::string bytes = packer.packed(given);
        const auto back = packer.unpacked(bytes);
        ASSERT_TRUE(back);
        ASSERT_EQ(back->lines.size(), given.lines.size());
        EXPECT_NEAR(back->height_mm, 297, 0.25);
        for (size_t i = 0; i < given.lines.size(); ++i) {
            EXPECT_EQ(back->lines[i].language, given.lines[i].language);
            EXPECT_EQ(back->lines[i].heading, given.lines[i].heading);
            ASSERT_EQ(back->lines[i].words.size(), given.lines[i].words.size());
            for (size_t k = 0; k < given.lines[i].words.size(); ++k) {
                const PlacedWord &is = back->lines[i].words[k], &was = given.lines[i].words[k];
                EXPECT_EQ(is.text, was.text);
                EXPECT_NEAR(is.box.x, was.box.x, 0.26);
                EXPECT_NEAR(is.box.y, was.box.y, 0.26);
                EXPECT_NEAR(is.box.br().x, was.box.br().x, 0.26);
                EXPECT_NEAR(is.box.br().y, was.box.br().y, 0.26);
            }
        }
        for (size_t i = 0; i < bytes.size(); ++i) {
            EXPECT_FALSE(packer.unpacked(bytes.substr(0, i)));
            std::string other = bytes;
            other[i] = static_cast<char>(other[i] ^ 0x55);
            (void)packer.unpacked(other); // whatever comes of it, it ends
        }
    }
    EXPECT_TRUE(WordPacker().unpacked(WordPacker().packed({}))->empty());
}

TEST(TermsTest, AWordIsFoundByWhatAUserWouldType) {
    const auto terms = [](const std::string& words) {
        std::string out;
        for (const Term& term : terms_of(split(words)))
            out += (out.empty() ? "" : " ") + std::string(term.beside ? "+" : "") + term.folded;
        return out;
    };
    EXPECT_EQ(terms("Mooring, (No. 14)"), "mooring no 14");
    EXPECT_EQ(terms("the keeper's lock-keeper"), "the keeper lock +lockkeeper keeper");
    EXPECT_EQ(terms("l’eau Straße Ångström œuvre"), "l +leau eau strasse angstrom oeuvre");
    EXPECT_EQ(terms("€1.022,16 1,022.16 12,500"), "102216 +1022 102216 +1022 12500");
    EXPECT_EQ(terms("12.03.2026"), "12 +12032026 03 2026");
    EXPECT_EQ(terms("020 7946 0018"), "020 +02079460018 7946 0018");
    EXPECT_EQ(terms("DE89 3704 0044 0532 0130 00"), "de89 +de89370400440532013000 3704 0044 0532 0130 00");
    EXPECT_EQ(terms("請求書 A3"), "請 +請求書 求 書 a3");
    EXPECT_EQ(terms("— … !"), "");
    EXPECT_EQ(terms_of({"Moor-"}, "ings").back().folded, "moorings");
    EXPECT_EQ(shape_of("m0dern"), shape_of("modem"));
    EXPECT_TRUE(one_letter_apart("heron", "hero") && one_letter_apart("lokc", "lock") &&
                !one_letter_apart("heron", "horon2"));
}

TEST(QuestionTest, IsParsed) {
    const auto said = [](const std::string& typed) {
        std::string out;
        for (const QueryPart& part : parse_query(typed, now).parts) {
            using Is = QueryPart::Is;
            out += part.excluded ? " -" : " ";
            if (part.is == Is::From) out += "from:";
            if (part.is == Is::In) out += "in:";
            if (part.is == Is::Exact) out += "=";
            for (size_t i = 0; i < part.words.size(); ++i) out += (i > 0 ? "_" : "") + part.words[i];
            if (part.goes_on) out += "…";
            if (part.is != Is::When) continue;
            out += fmt::format("[{}..{}]", iso_date(part.when.from), iso_date(part.when.to));
            if (part.or_words) out += "?";
        }
        return out.empty() ? out : out.substr(1);
    };
    EXPECT_EQ(said("mooring her"), "mooring her…");
    EXPECT_EQ(said("mooring \"patient heron\" -swan "), "mooring =patient_heron -swan");
    EXPECT_EQ(said("“patient heron” - swan "), "=patient_heron swan");
    EXPECT_EQ(said("from:penhallow in:\"Leases 2026\" pins "), "from:penhallow in:Leases_2026 pins");
    EXPECT_EQ(said("last March "), "last_March[2026-03-01..2026-03-31]");
    EXPECT_EQ(said("mooring last spring "), "mooring last_spring[2026-03-01..2026-05-31]");
    EXPECT_EQ(said("last December "), "last_December[2025-12-01..2025-12-31]");
    EXPECT_EQ(said("last week "), "last_week[2026-11-16..2026-11-22]");
    EXPECT_EQ(said("this month "), "this_month[2026-11-01..2026-11-30]");
    EXPECT_EQ(said("2025 "), "2025[2025-01-01..2025-12-31]?");
    EXPECT_EQ(said("March 2024 "), "March_2024[2024-03-01..2024-03-31]?");
    EXPECT_EQ(said("12 March 2026 lease "), "12_March_2026[2026-03-12..2026-03-12]? lease");
    EXPECT_EQ(said("letzten März "), "letzten_März[2026-03-01..2026-03-31]");
    EXPECT_EQ(said("été dernier "), "été_dernier[2026-06-01..2026-08-31]");
    EXPECT_EQ(said("2026-03-12 "), "2026-03-12[2026-03-12..2026-03-12]?");
    EXPECT_EQ(said("yesterday "), "yesterday[2026-11-26..2026-11-26]?");
    EXPECT_EQ(said("the last lock "), "the last lock");
    EXPECT_EQ(said("  \" \" - "), "");
}

TEST_F(CabinetTest, ReplacedTextIsNoLongerFoundNorItsPrefixes) {
    const long long lease = add({"lease"}, {{"a mooring for the Patient Heron"}});
    add({"bill"}, {{"two xylophones"}});
    EXPECT_EQ(names("xylo"), Names{"bill"}); // the finder knows both from now on
    ASSERT_TRUE(cabinet->moved(lease, "/home/desk/Post/bill.pdf", {}));
    EXPECT_EQ(find("").of, 1) << "how many there are";
    EXPECT_EQ(names("xylo"), Names{});
    EXPECT_EQ(names("xylophones "), Names{});
    EXPECT_EQ(names("heron"), Names{"bill"});
    ASSERT_TRUE(cabinet->remove_entries({lease}));
    EXPECT_EQ(names("heron"), Names{});
    SQLite::Database file(folder / "cabinet.sqlite", SQLite::OPEN_READONLY);
    EXPECT_EQ(file.execAndGet("SELECT COUNT(*) FROM beginnings").getInt(), 0);
}

TEST_F(CabinetTest, ADocumentIsFoundByAnyWordInIt) {
    add({"lease"}, {{"#Lease of a mooring", "for the narrowboat Patient Heron at £1,022.16"}, {"signed by H. Müller"}});
    add({"bill"}, {{"two mooring pins, invoice 2024-0371", "the lock-keeper's hut"}});
    EXPECT_EQ(names("heron"), Names{"lease"});
    EXPECT_EQ(names("her"), Names{"lease"});
    EXPECT_EQ(names("HERON mull"), Names{"lease"}); // on different pages
    EXPECT_EQ(names("muller "), Names{"lease"});
    EXPECT_EQ(names("Müller "), Names{"lease"});
    EXPECT_EQ(names("moorings narrowboats "), Names{"lease"});
    EXPECT_EQ(names("1022.16 "), Names{"lease"});
    EXPECT_EQ(names("1022 "), Names{"lease"});
    EXPECT_EQ(names("20240371 "), Names{"bill"});
    EXPECT_EQ(names("0371 "), Names{"bill"});
    EXPECT_EQ(names("lock keeper "), Names{"bill"});
    EXPECT_EQ(names("lockkeeper "), Names{"bill"});
    EXPECT_EQ(names("mooring -heron"), Names{"bill"});
    EXPECT_EQ(names("\"mooring pins\""), Names{"bill"});
    EXPECT_EQ(names("\"pins mooring\""), Names{});
    EXPECT_EQ(names("\"moorings\""), Names{});
    EXPECT_EQ(names("bill "), Names{"bill"}); // its name
    EXPECT_EQ(names("m").size(), 2U);         // a single letter says nothing yet
    const SearchResults all = find("");
    EXPECT_EQ(all.papers, 2);
    EXPECT_TRUE(all.best.front().line.empty());
    const SearchResults found = find("patient heron");
    ASSERT_EQ(found.best.size(), 1U);
    EXPECT_EQ(found.best[0].page, 0);
    std::string marked;
    for (const ExcerptWord& word : found.best[0].line) marked += word.meant ? "[" + word.text + "]" : word.text + " ";
    EXPECT_EQ(marked, "for the narrowboat [Patient][Heron]at £1,022.16 ");
    const auto marks = finder->marks(found.best[0].paper.id);
    ASSERT_TRUE(marks && marks->size() == 2);
    ASSERT_EQ((*marks)[0].marks.size(), 2U);
    EXPECT_TRUE((*marks)[1].marks.empty());
    EXPECT_NEAR((*marks)[0].marks[0].x, 20 + 3 * 2.1 + 3 * 2.1 + 10 * 2.1 + 4.5, 0.3);
}

TEST_F(CabinetTest, APhraseInterruptedByAPageBreakIsNotFound) {
    add({"bill"}, {{"three new mooring pins", "and rope"}, {"and one for the mooring"}});
    const SearchResults found = find("\"mooring pins\"");
    ASSERT_EQ(found.best.size(), 1U);
    EXPECT_EQ(found.best[0].page, 0);
    const auto marks = finder->marks(found.best[0].paper.id);
    ASSERT_TRUE(marks && marks->size() == 2);
    EXPECT_EQ((*marks)[0].marks.size(), 2U);
    EXPECT_TRUE((*marks)[1].marks.empty());
}

TEST_F(CabinetTest, WithoutAMatchOneLetterMayDifferAndThenOneWordMayBeMissing) {
    add({"right"}, {{"the heron of Penhallow Chandlery"}});
    add({"misread"}, {{"the lnvoice of Penhal1ow Chandlery for rnooring pins"}});
    EXPECT_EQ(names("penhallow "), Names{"right"}); // what is right comes alone
    EXPECT_FALSE(find("penhallow ").nearly);
    const SearchResults nearly = find("invoice penhallow mooring ");
    EXPECT_TRUE(nearly.nearly);
    ASSERT_EQ(nearly.best.size(), 1U);
    EXPECT_EQ(nearly.best[0].paper.file.stem(), "misread");
    EXPECT_EQ(names("chandelry "), (Names{"misread", "right"})); // two letters changed about
    const SearchResults without = find("heron chandlery windlass ");
    EXPECT_EQ(without.without, "windlass");
    ASSERT_EQ(without.best.size(), 1U);
    EXPECT_EQ(without.best[0].paper.file.stem(), "right");
    EXPECT_EQ(names("xyzzyx "), Names{});
}

TEST_F(CabinetTest, SendersFoldersAndDatesNarrow) {
    add({"a", "Leases/2026", "Penhallow Chandlery", "2026-03-12", "eng", year(2026) / 6 / 2}, {{"mooring pins"}});
    add({"b", "Bills", "H. Quillfeather", "", "eng", year(2026) / 3 / 30}, {{"mooring licence"}});
    add({"c", "Bills", "Penhallow Chandlery", "2025-03-04", "eng", year(2025) / 3 / 5}, {{"mooring ropes of 2026"}});
    EXPECT_EQ(names("mooring from:penhallow "), (Names{"a", "c"}));
    EXPECT_EQ(names("from:\"quillfeather h\" "), Names{"b"});
    EXPECT_EQ(names("in:leases "), Names{"a"});
    EXPECT_EQ(names("-in:bills mooring"), Names{"a"});
    EXPECT_EQ(std::set<std::string>({"a", "b"}), [&] {
        const auto all = names("mooring last march ");
        return std::set<std::string>(all.begin(), all.end());
    }());
    EXPECT_EQ(names("march 2025 "), Names{"c"});
    EXPECT_EQ(names("mooring 2026 ").size(), 3U); // c says so in its words
    const SearchResults found = find("mooring ");
    ASSERT_EQ(found.months.size(), 3U);
    EXPECT_EQ(found.months[0].what, 2026 * 12 + 5);
    ASSERT_EQ(found.senders.size(), 2U);
    EXPECT_EQ(found.senders[0].what, "Penhallow Chandlery");
    EXPECT_EQ(found.senders[0].papers, 2);
    SearchFilter bills;
    bills.folder = "/home/desk/Bills";
    const SearchResults narrowed = find("mooring ", bills);
    EXPECT_EQ(narrowed.papers, 2);
    EXPECT_EQ(narrowed.folders.size(), 2U); // as if none was chosen yet
    EXPECT_EQ(narrowed.senders[0].papers, 1);
    EXPECT_EQ(narrowed.months.size(), 2U);
}

TEST_F(CabinetTest, RanksAdjacentWordsHeadingsAndNewDocumentsFirst) {
    std::vector<std::string> far{"mooring"};
    for (int i = 0; i < 25; ++i) far.emplace_back("words and words of other things altogether");
    far.emplace_back("heron");
    add({"apart"}, {far});
    add({"together", "Post", "", "", "eng", year(2021) / 1 / 1}, {{"the mooring of heron"}});
    EXPECT_EQ(names("mooring heron "), (Names{"together", "apart"}));
    add({"body"}, {{"a licence for a windlass", "it is lent"}});
    add({"headed"}, {{"#Windlass", "it is lent"}});
    EXPECT_EQ(names("windlass "), (Names{"headed", "body"}));
    // The document that was added last is the older one.
    add({"of 2026", "Post", "", "", "eng", year(2026) / 1 / 1}, {{"a rudder is lent"}});
    add({"of 2016", "Post", "", "", "eng", year(2016) / 1 / 1}, {{"a rudder is lent"}});
    EXPECT_EQ(names("rudder "), (Names{"of 2026", "of 2016"}));
    add({"old", "Post", "", "", "eng", year(2019) / 1 / 1}, {{"a keel is painted"}});
    add({"new"}, {{"a keel is painted"}});
    EXPECT_EQ(names("keel "), (Names{"new", "old"}));
}

TEST_F(CabinetTest, AfterAnyChangesTheIndexEqualsARebuiltOne) {
    std::mt19937 random(5);
    const auto any = [&](int most) { return std::uniform_int_distribution(0, most - 1)(random); };
    const std::vector<std::string> vocabulary =
        split("mooring heron lock keeper windlass swan barge tiller lease licence invoice receipt paid closed repaired "
              "winter "
              "Müller Quillfeather 1,022.16 2024-0371 painted towpath bridge weir sluice gate");
    std::map<std::string, std::vector<std::vector<std::string>>> held;
    std::vector<long long> ids;
    for (int step = 0; step < 160; ++step) {
        std::vector<std::vector<std::string>> pages(static_cast<size_t>(1 + any(3)));
        for (auto& lines : pages)
            for (int i = 0; i < 3; ++i) {
                std::string line;
                for (int k = 0; k < 5; ++k)
                    line += vocabulary[static_cast<size_t>(any(static_cast<int>(vocabulary.size())))] + ' ';
                lines.push_back(line);
            }
        const std::string name = fmt::format("n{}", any(40));
        const long long id = add({name}, pages);
        held[name] = pages;
        if (step % 5 == 4) {
            const std::string to = fmt::format("moved{}", step);
            ASSERT_TRUE(cabinet->moved(id, "/home/desk/Bills/" + to + ".pdf", {}));
            held[to] = held[name];
            held.erase(name);
        }
        if (step % 7 == 6) {
            const auto all = cabinet->all().value();
            const CabinetPaper& away = all[static_cast<size_t>(any(static_cast<int>(all.size())))];
            ASSERT_TRUE(cabinet->remove_entries({away.id}));
            held.erase(away.file.stem().string());
        }
    }
    const auto has = [](const std::vector<std::vector<std::string>>& pages, const std::string& word) {
        for (const auto& lines : pages)
            for (const std::string& line : lines)
                if (line.find(word) != std::string::npos) return true;
        return false;
    };
    const auto check = [&] {
        for (const std::string& word : vocabulary) {
            std::set<std::string> expected, got;
            for (const auto& [name, pages] : held)
                if (has(pages, word)) expected.insert(name);
            const SearchResults found = find(word + ' ');
            EXPECT_EQ(found.papers, static_cast<int>(expected.size())) << word;
            for (const SearchResult& each : found.best) got.insert(each.paper.file.stem().string());
            EXPECT_EQ(got, expected) << word;
            EXPECT_EQ(find(word.substr(0, 3)).papers >= found.papers, true) << word;
        }
        EXPECT_EQ(find("swa").papers, find("swan ").papers); // by the table of beginnings and by the terms
        EXPECT_EQ(find("he").papers, find("heron ").papers);
        EXPECT_EQ(find("").papers, static_cast<int>(held.size()));
        EXPECT_TRUE(cabinet->is_whole().value());
    };
    check();
    ASSERT_TRUE(cabinet->rebuild_index());
    check();
}

TEST_F(CabinetTest, ADamagedCabinetIsMovedAsideAndRebuilt) {
    for (int i = 0; i < 60; ++i) add({fmt::format("p{}", i)}, {{fmt::format("paper number{} about herons", i)}});
    ASSERT_TRUE(cabinet->watch_folder({"/home/desk/Old", WithoutText::MakeSearchable}));
    finder.reset();
    cabinet.reset();
    const fs::path file = folder.path() / "cabinet.sqlite";
    { // the index's root pages are overwritten
        std::fstream bytes(file, std::ios::in | std::ios::out | std::ios::binary);
        const auto size = fs::file_size(file);
        bytes.seekp(static_cast<std::streamoff>(size * 2 / 3));
        const std::string noise(size / 4, '\x5A');
        bytes.write(noise.data(), static_cast<std::streamsize>(noise.size()));
    }
    auto whole = Cabinet::open(folder.path());
    ASSERT_TRUE(whole) << whole.error().sentence;
    const bool said = !whole->rebuilt().empty();
    if (!said) {
        EXPECT_FALSE(whole->is_whole().value()); // what was not seen at once is seen by the look at all of it
        const auto again = whole->rebuild();
        ASSERT_TRUE(again) << again.error().sentence;
    }
    EXPECT_NE(whole->rebuilt().find("damaged"), std::string::npos);
    EXPECT_TRUE(whole->is_whole().value());
    EXPECT_GT(whole->all()->size(), 20U);
    // The file is no database at all.
    whole = fail(ErrorKind::Missing, "");
    std::ofstream(file, std::ios::trunc) << "this is no database, but some text that somebody wrote into its place";
    auto fresh = Cabinet::open(folder.path());
    ASSERT_TRUE(fresh) << fresh.error().sentence;
    EXPECT_NE(fresh->rebuilt().find("set aside"), std::string::npos);
    EXPECT_TRUE(fresh->all()->empty());
}
