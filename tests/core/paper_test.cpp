// Facts of documents, rule by rule: dates as in CLDR, terms of EN 16931, numbers with check digits; names and folders
// made of them; the table of what was saved before.
#include "core/naming/paper_name.h"
#include "core/paper_facts/dates_written.h"
#include "core/paper_facts/paper_facts.h"
#include "core/saving/move_file.h"
#include "core/ticket/ticket_json.h"
#include "support/papers.h"
#include "support/support.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <unicode/dtfmtsym.h>
#include <unicode/smpdtfmt.h>

#include <algorithm>
#include <sstream>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

using namespace std::chrono_literals;
using std::chrono::year_month_day;

std::vector<std::string> words_in(const std::string& text) {
    std::istringstream in(text);
    std::vector<std::string> words;
    for (std::string word; in >> word;) words.push_back(word);
    return words;
}

std::string only_date(const std::string& text, const std::string& language = "eng") {
    const auto dates = dates_in(words_in(text), {language});
    return dates.size() == 1 ? iso_date(dates.front().date) : "not one date";
}

// A sheet of lines, each at its place in tenths of the width and height.
class Sheet {
  public:
    Sheet& at(double x, double y, const std::string& text, int tall = 20) {
        TextLine line;
        line.ascent_px = tall;
        int left = static_cast<int>(x * 165);
        for (const std::string& word : words_in(text)) {
            const int wide = static_cast<int>(word.size()) * tall * 2 / 3;
            line.words.push_back({word, {left, static_cast<int>(y * 234), wide, tall}, 96});
            left += wide + tall / 2;
        }
        layer.lines.push_back(line);
        return *this;
    }
    PaperFacts says(const PaperWords& words = common_paper_words()) const {
        return facts_of_page(as_it_was_read(layer), words, 2026y / 11 / 27);
    }
    TextLayer layer{{}, 1650, 2340, "eng"};
};

// CLDR 42, through ICU: every month's name and short name, in a long and in a medium date of the language.
TEST(PaperDates, EveryMonthAsCldrWritesItIsUnderstood) {
    int checked = 0;
    for (const auto& [tesseract, locale] : {std::pair{"eng", "en_GB"},
                                            {"deu", "de"},
                                            {"fra", "fr"},
                                            {"nld", "nl"},
                                            {"pol", "pl"},
                                            {"spa", "es"},
                                            {"ita", "it"},
                                            {"por", "pt"},
                                            {"ell", "el"},
                                            {"swe", "sv"}}) {
        for (const char* pattern : {"d MMMM y", "d MMM y"}) {
            for (int month = 0; month < 12; ++month) {
                UErrorCode failed = U_ZERO_ERROR;
                icu::SimpleDateFormat format(icu::UnicodeString(pattern), icu::Locale(locale), failed);
                ASSERT_TRUE(U_SUCCESS(failed));
                icu::UnicodeString text;
                format.setTimeZone(*icu::TimeZone::getGMT());
                format.format(static_cast<UDate>(
                                  std::chrono::sys_days(
                                      year_month_day{2026y, std::chrono::month(static_cast<unsigned>(month) + 1), 17d})
                                      .time_since_epoch()
                                      .count()) *
                                  86400000.0,
                              text);
                std::string written;
                text.toUTF8String(written);
                EXPECT_EQ(only_date("of " + written + ", and", tesseract),
                          iso_date(year_month_day{2026y, std::chrono::month(static_cast<unsigned>(month) + 1), 17d}))
                    << written;
                ++checked;
            }
        }
    }
    EXPECT_EQ(checked, 240);
    EXPECT_EQ(usual_order("deu"), DateOrder::DayFirst);
    EXPECT_EQ(usual_order("eng"), DateOrder::Open);
    EXPECT_EQ(usual_order("jpn"), DateOrder::MonthFirst) << "behind the year";
}

// ISO 8601-1:2019, 5.2.2.1: the extended form of a calendar date; impossible days are not dates.
TEST(PaperDates, NumericDatesInEveryOrderAreUnderstood) {
    EXPECT_EQ(only_date("1985-04-12"), "1985-04-12"); // the standard's own example
    EXPECT_EQ(only_date("4.3.2026", "deu"), "2026-03-04");
    EXPECT_EQ(only_date("4. 3. 2026", "deu"), "2026-03-04");
    EXPECT_EQ(only_date("04/03/26"), "2026-03-04");
    EXPECT_EQ(only_date("03/27/2026"), "2026-03-27") << "there is no month 27";
    EXPECT_EQ(only_date("March 4th, 2026"), "2026-03-04");
    EXPECT_EQ(only_date("the 4th of March 2026"), "2026-03-04");
    EXPECT_EQ(only_date("1er mars 2026", "fra"), "2026-03-01");
    EXPECT_EQ(only_date("2026年3月4日", "jpn"), "2026-03-04");
    EXPECT_TRUE(dates_in(words_in("30.2.2026 0911 204 417 10/47 12.50 March 4 2-3-4"), {"eng"}).empty());
    EXPECT_TRUE(dates_in(words_in("04/03/2026"), {"eng"}).front().or_else == year_month_day(2026y / 4 / 3));
    EXPECT_EQ(date_of_iso("2026-02-29"), std::nullopt);
}

TEST(PaperDates, OtherDatesOnThePageDecideTheOrder) {
    const auto date_of = [](const Sheet& sheet) { return *sheet.says().date; };
    Sheet open;
    open.at(7, 1, "Date: 03/04/2026");
    EXPECT_EQ(date_of(open).value, "2026-04-03");
    EXPECT_LT(date_of(open).sure, 0.9) << "nothing says which";
    EXPECT_TRUE(date_of(open).reason.contains("2026-03-04"));
    Sheet due = open;
    due.at(1, 8, "Payment due by: 04/17/2026");
    EXPECT_EQ(date_of(due).value, "2026-03-04") << "as in the other date";
    EXPECT_GE(date_of(due).sure, 0.9);
    Sheet dotted; // full stops stand behind the day, whatever else is on the page
    dotted.at(7, 1, "Date: 03.04.2026").at(1, 8, "Payment due by: 04/17/2026");
    EXPECT_EQ(date_of(dotted).value, "2026-04-03");
    EXPECT_GE(date_of(dotted).sure, 0.9);
    Sheet pounds = open;
    pounds.at(1, 8, "Total due £12.50");
    EXPECT_EQ(date_of(pounds).value, "2026-04-03");
    EXPECT_GE(date_of(pounds).sure, 0.9);
    Sheet both; // two of a kind: neither is sure
    both.at(7, 1, "Date: 3 March 2026").at(7, 2, "Date: 9 April 2026");
    EXPECT_LT(date_of(both).sure, 0.9);
    Sheet birth;
    birth.at(7, 1, "Date of birth: 17 May 1971").at(7, 2, "Hexley, 9 April 2026");
    EXPECT_EQ(date_of(birth).value, "2026-04-09");
    Sheet only_birth;
    only_birth.at(7, 1, "Date of birth: 17 May 1971");
    EXPECT_FALSE(only_birth.says().date);
}

// EN 16931-1:2017, the names of the business terms BT-1, BT-2, BT-9, BT-27, BT-106, BT-112 and BT-115 (from memory).
TEST(PaperFacts, TheTermsOfTheInvoiceStandardAreUnderstood) {
    Sheet invoice;
    invoice.at(1, 0.5, "Seller name:").at(4, 0.5, "Brockwell Timber Ltd");
    invoice.at(1, 1.5, "Invoice number:").at(4, 1.5, "TOSL108").at(1, 2, "Invoice issue date:").at(4, 2, "2026-03-04");
    invoice.at(1, 2.5, "Payment due date:")
        .at(4, 2.5, "2026-04-03")
        .at(1, 3, "Buyer reference: 11")
        .at(1, 3.5, "Customer no.: 4711");
    invoice.at(1, 6, "Total excluding VAT").at(8, 6, "1 273.00").at(1, 6.5, "VAT 25 %").at(8, 6.5, "318.25");
    invoice.at(1, 7, "Invoice total amount with VAT")
        .at(8, 7, "1 591.25")
        .at(1, 7.5, "Amount due for payment")
        .at(8, 7.5, "EUR 1 591.25");
    invoice.at(1, 9.5, "IBAN GB33 BUKB 2020 1555 5555 55");
    const PaperFacts says = invoice.says();
    ASSERT_TRUE(says.number && says.date && says.sender && says.kind && says.total);
    EXPECT_EQ(says.number->value, "TOSL108");
    EXPECT_EQ(says.date->value, "2026-03-04");
    EXPECT_EQ(says.sender->value, "Brockwell Timber Ltd");
    EXPECT_EQ(says.kind->value, "invoice");
    EXPECT_EQ(says.total->value, "1591.25 EUR");
}

// Numbers that are not the document's: an account number (ISO 13616), a telephone number, a date; and one that looks
// like them.
TEST(PaperFacts, ANumberIsRecognisedByItsLabel) {
    Sheet sheet;
    sheet.at(1, 1, "Reference: GB33 BUKB 2020 1555 5555 55")
        .at(1, 2, "Telephone: 0911 204 417")
        .at(1, 3, "Our reference:")
        .at(5, 3, "0171 55 20");
    EXPECT_EQ(sheet.says().number->value, "0171 55 20");
    EXPECT_EQ(sheet.says().number->place.size(), 3U);
    Sheet none;
    none.at(1, 1, "Telephone: 0911 204 417").at(1, 2, "Your order no. 4711").at(1, 4, "We have 30 boats and 12 locks.");
    const auto number = none.says().number;
    EXPECT_TRUE(!number || number->sure < certain_enough) << number->value;
}

TEST(PaperFacts, UsersCanAddKindsOfDocument) {
    const TempFolder folder;
    write_file(folder / "kinds.json", R"({"kinds": {"mooring permit": ["mooring permit", "Liegeerlaubnis"]}})");
    const auto words = paper_words_with(folder / "kinds.json");
    ASSERT_TRUE(words);
    Sheet sheet;
    sheet.at(1, 2, "Mooring permit 2026", 40).at(1, 4, "It may lie at the upper basin until winter, and no longer.");
    EXPECT_EQ(sheet.says(*words).kind->value, "mooring permit");
    EXPECT_TRUE(paper_words_with(folder / "missing.json"));
    for (const char* wrong : {"{", "[]", R"({"kinds": 3})", R"({"kinds": {"a": "b"}})", R"({"kinds": {"a": [""]}})"}) {
        write_file(folder / "kinds.json", wrong);
        const auto read = paper_words_with(folder / "kinds.json");
        ASSERT_FALSE(read) << wrong;
        EXPECT_TRUE(read.error().sentence.contains("kinds.json")) << read.error().sentence;
    }
}

// A page without words, with one word, or with a thousand random ones causes no error.
TEST(PaperFacts, UnusualPagesGiveNoFacts) {
    EXPECT_EQ(facts_of_page({}, common_paper_words(), 2026y / 11 / 27), PaperFacts{});
    Sheet odd;
    for (const char* text :
         {"::", "€", "12", "Date:", "Invoice", "www.", "@", "·", "-", "\xff\xfe", "To:", "Dear", "Total", "Re:"})
        odd.at(1, static_cast<double>(odd.layer.lines.size()) / 2, text);
    const PaperFacts says = odd.says();
    EXPECT_FALSE(says.date || says.number || says.total);
    EXPECT_TRUE(facts_of_document({}, common_paper_words(), 2026y / 11 / 27) == PaperFacts{});
}

TEST(PaperNames, PartsUseFactsOrTheirFallback) {
    using Kind = NamePart::Kind;
    const std::vector<NamePart> parts{{Kind::PaperDate, "dd.mm.yyyy", 3, 6, NamePart::Missing::ScanDate},
                                      {Kind::Sender, "", 3, 2},
                                      {Kind::PaperKind, ""},
                                      {Kind::Number, "", 3, 6, NamePart::Missing::Words, "no number"},
                                      {Kind::Ticket, ""},
                                      {Kind::Counter, "", 2}};
    EXPECT_TRUE(needs_reading(parts));
    const NameValues all{"", "Bills", "", "Penhallow Chandlery Limited", "invoice", "10/47", 2026y / 3 / 4};
    EXPECT_EQ(make_name(with_values(parts, all), 2026y / 11 / 27, 3),
              "04.03.2026 Penhallow Chandlery Invoice 10 47 Bills 03");
    EXPECT_EQ(make_name(with_values(parts, {}), 2026y / 11 / 27, 3), "27.11.2026 no number 03");

    Ticket ticket;
    ticket.save.name = parts;
    ticket.save.within = {
        {Kind::Words, "Bills"}, {Kind::Slash, ""}, {Kind::PaperDate, "yyyy"}, {Kind::Slash, ""}, {Kind::Sender, ""}};
    ticket.save.where = Ticket::Save::Where::Asked;
    const auto again = ticket_from_json(ticket_to_json(ticket));
    ASSERT_TRUE(again) << again.error().sentence;
    EXPECT_TRUE(again->save == ticket.save);
    EXPECT_EQ(folder_within("/office", ticket.save.within, all, 2026y / 11 / 27),
              "/office/Bills/2026/Penhallow Chandlery Limited");
    EXPECT_EQ(folder_within("/office", ticket.save.within, {}, 2026y / 11 / 27), "/office/Bills")
        << "no folder without a name";
    NameValues nasty = all;
    nasty.sender = "../../etc/..";
    EXPECT_EQ(folder_within("/office", ticket.save.within, nasty, 2026y / 11 / 27), "/office/Bills/2026/etc")
        << "never out of it";
    for (const char* wrong : {R"([{"sender": 0}])", R"([{"number": 3}])", R"([{"slash": true}])",
                              R"([{"words": "a", "else": "b"}])", R"([{"kind": true, "else": {"scan_date": true}}])"}) {
        const auto read = ticket_from_json({{"save", {{"name", nlohmann::json::parse(wrong)}}}});
        ASSERT_FALSE(read) << wrong;
        EXPECT_TRUE(read.error().sentence.contains("save.name"));
    }
    // A ticket of a version without these parts.
    const auto old = ticket_from_json(nlohmann::json::parse(
        R"({"save": {"folder": "~/Leases", "name": [{"date": "yyyy-mm-dd"}, {"words": "Mooring"}, {"heading": 4}, {"barcode": true}, {"counter": 3}]}})"));
    ASSERT_TRUE(old);
    EXPECT_EQ(old->save.name[2], (NamePart{Kind::Heading, "", 3, 4}));
}

TEST(PaperNames, EarlierNamesAreProposed) {
    PaperFacts says;
    says.date = PaperFact{"2026-11-18", 0.95, "", {}};
    says.sender = PaperFact{"Penhallow Chandlery", 0.95, "", {}};
    says.kind = PaperFact{"invoice", 0.95, "", {}};
    says.number = PaperFact{"20417", 0.95, "", {}};
    SavedDocument before{7,
                         "/office/Bills/Rope and paint 03.10.2026 no 20333.pdf",
                         {"Penhallow Chandlery", "invoice", "", "20333", "2026-10-03", {}}};
    auto proposals = name_proposals(says, {{before, 0.9}}, 2026y / 11 / 27);
    ASSERT_EQ(proposals.size(), 2U);
    EXPECT_EQ(proposals[0].name, "Rope and paint 18.11.2026 no 20417");
    EXPECT_EQ(proposals[0].folder, "/office/Bills");
    EXPECT_EQ(proposals[0].like, (std::vector<long long>{7}));
    EXPECT_EQ(proposals[1].name, "2026-11-18 Penhallow Chandlery Invoice 20417");
    EXPECT_EQ(proposals[1].reason, "its date, sender, kind, number");
    says.number.reset(); // the old number must not stand for a paper without one
    proposals = name_proposals(says, {{before, 0.9}}, 2026y / 11 / 27);
    for (const auto& each : proposals) EXPECT_FALSE(each.name.contains("20333")) << each.name;
    EXPECT_TRUE(name_proposals({}, {}, 2026y / 11 / 27).empty());
}

TEST(NamingHistory, IsSavedMovedAndClearedAndNeverBlocks) {
    const TempFolder folder;
    const fs::path file = folder / "saved-before.sqlite";
    const DocumentTraits traits{"Tarn Water Board", "letter", "Weirs", "", "2026-01-02", {"tarn", "water"}};
    {
        auto store = NamingHistory::open(file);
        ASSERT_TRUE(store) << store.error().sentence;
        for (const char* name : {"/a/1.pdf", "/a/2.pdf", "/a/1.pdf"}) ASSERT_TRUE(store->add({0, name, traits}));
        ASSERT_TRUE(store->moved("/a/2.pdf", "/b/two.pdf"));
    }
    auto store = NamingHistory::open(file);
    auto all = store->all();
    ASSERT_TRUE(all && all->size() == 2);
    EXPECT_EQ((*all)[0].file, "/b/two.pdf");
    EXPECT_EQ((*all)[1].traits, traits);
    ASSERT_TRUE(store->forget({(*all)[0].id}));
    EXPECT_EQ(store->all()->size(), 1U);
    ASSERT_TRUE(store->forget_all());
    EXPECT_TRUE(store->all()->empty());
    store = fail(ErrorKind::Missing, "closed");
    write_file(file, "no database at all, but quite long enough to be taken for one at first sight, by its size");
    for (const char* end : {"-wal", "-shm"}) fs::remove(file.string() + end);
    store = NamingHistory::open(file);
    ASSERT_TRUE(store) << store.error().sentence;
    EXPECT_TRUE(fs::exists(file.string() + ".damaged"));
    ASSERT_TRUE(store->forget_all());
    EXPECT_FALSE(fs::exists(file.string() + ".damaged")) << "what a damaged one held is forgotten too";
    EXPECT_FALSE(NamingHistory::open("/proc/none/saved.sqlite"));
    // The history has a limit; the oldest rows are deleted.
    SQLite::Database(file.string(), SQLite::OPEN_READWRITE)
        .exec("WITH RECURSIVE n(i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < " +
              std::to_string(NamingHistory::most - 1) +
              ") INSERT INTO saved (file, look) SELECT '/c/' || i || '.pdf', '" +
              R"({"sender":"","kind":"","heading":"","number":"","date":"","words":[]})" + "' FROM n");
    for (const char* name : {"/d/1.pdf", "/d/2.pdf"}) ASSERT_TRUE(store->add({0, name, traits}));
    all = store->all();
    ASSERT_EQ(all->size(), static_cast<size_t>(NamingHistory::most));
    EXPECT_EQ(all->front().file, "/c/2.pdf");
    EXPECT_EQ(all->back().file, "/d/2.pdf");
}

TEST(MovedFiles, AreNeverReplacedAndNeverLost) {
    const TempFolder folder;
    fs::create_directory(folder / "b");
    write_file(folder / "a.pdf", "ours");
    write_file(folder / "b" / "a.pdf", "theirs");
    const auto named = [](int attempt) { return numbered_name("a", attempt) + ".pdf"; };
    auto moved = move_file(folder / "a.pdf", folder / "b", named);
    ASSERT_TRUE(moved) << moved.error().sentence;
    EXPECT_EQ(*moved, folder / "b" / "a (2).pdf");
    EXPECT_EQ(read_file(folder / "b" / "a.pdf"), "theirs");
    EXPECT_EQ(read_file(*moved), "ours");
    EXPECT_FALSE(fs::exists(folder / "a.pdf"));
    EXPECT_EQ(*move_file(*moved, folder / "b", [](int) { return "a (2).pdf"; }), *moved) << "its own name is free";
    EXPECT_EQ(move_file(folder / "a.pdf", folder / "b", named).error().kind, ErrorKind::Missing);
    EXPECT_EQ(move_file(*moved, folder / "none", named).error().kind, ErrorKind::Missing);
    EXPECT_EQ(read_file(*moved), "ours");
    // Another file system, if there is one.
    std::error_code none;
    const fs::path other = fs::path("/dev/shm") / ("yelvin-" + folder.path().filename().string());
    if (!fs::create_directory(other, none)) GTEST_SKIP() << "no second file system here";
    moved = move_file(*moved, other, named);
    ASSERT_TRUE(moved) << moved.error().sentence;
    EXPECT_EQ(read_file(*moved), "ours");
    EXPECT_FALSE(fs::exists(folder / "b" / "a (2).pdf"));
    fs::remove_all(other);
}

}
}
