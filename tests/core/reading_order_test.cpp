// Typical office layouts with shuffled lines: they are returned in reading order, and grouped.
#include "core/text/reading_order.h"

#include <gtest/gtest.h>

#include <fmt/format.h>

#include <algorithm>
#include <random>
#include <sstream>

namespace yelvin {
namespace {

// Lines at 300 dpi, each named by its place in the reading order, with words as long as it is wide.
class Layout {
  public:
    std::string name;
    std::vector<TextLine> lines;

    explicit Layout(std::string called) : name(std::move(called)) {}
    Layout& line(int x, int y, int width, int tall = 30, int words = 6) {
        TextLine out{{},
                     {static_cast<double>(x), static_cast<double>(y)},
                     {static_cast<double>(x + width), static_cast<double>(y)},
                     static_cast<double>(tall),
                     tall * 0.3};
        const int each = width / words;
        for (int i = 0; i < words; ++i)
            out.words.push_back(
                {fmt::format("{}.{}", lines.size(), i), {x + i * each, y - tall, each - tall / 3, tall}, 95});
        lines.push_back(std::move(out));
        return *this;
    }
    Layout& column(int x, int y, int width, int count, int lead = 50) {
        for (int i = 0; i < count; ++i) line(x, y + i * lead, i % 4 == 3 ? width * 2 / 3 : width - i * 13 % 40);
        return *this;
    }
};

std::vector<Layout> layouts() {
    std::vector<Layout> all;
    all.push_back(Layout("one column").column(200, 300, 1900, 30));
    all.push_back(Layout("two columns").column(200, 300, 900, 30).column(1200, 300, 900, 28));
    all.push_back(
        Layout("three columns").column(150, 300, 650, 25).column(880, 300, 650, 25).column(1610, 300, 600, 20));
    all.push_back(Layout("heading across two columns")
                      .line(300, 200, 1500, 60)
                      .column(200, 350, 900, 20)
                      .column(1200, 350, 900, 20));
    all.push_back(Layout("heading, columns, a line below")
                      .line(300, 200, 1500, 60)
                      .column(200, 350, 900, 20)
                      .column(1200, 350, 900, 20)
                      .line(250, 1500, 1700));
    all.push_back(Layout("columns, a heading across, columns")
                      .column(200, 300, 900, 12)
                      .column(1200, 300, 900, 12)
                      .line(300, 1050, 1600, 50)
                      .column(200, 1200, 900, 14)
                      .column(1200, 1200, 900, 14));
    all.push_back(Layout("columns of unlike leading").column(200, 300, 900, 30, 47).column(1200, 310, 900, 24, 61));
    all.push_back(Layout("a short column beside a long one").column(200, 300, 900, 30).column(1200, 300, 900, 6));
    all.push_back(Layout("an introduction over two columns")
                      .column(200, 250, 1900, 4)
                      .column(200, 550, 900, 20)
                      .column(1200, 550, 900, 20));
    all.push_back(
        Layout("two columns, then one").column(200, 300, 900, 10).column(1200, 300, 900, 10).column(200, 900, 1900, 8));
    all.push_back(Layout("a letter: sender, date at the right, text")
                      .line(200, 200, 700, 40, 3)
                      .line(200, 250, 600, 30, 3)
                      .line(1600, 400, 400, 30, 3)
                      .column(200, 600, 1800, 12));
    all.push_back(Layout("a letter with the address left")
                      .line(200, 300, 500, 30, 3)
                      .line(200, 345, 450, 30, 3)
                      .line(200, 390, 480, 30, 3)
                      .line(200, 600, 900, 34)
                      .column(200, 750, 1800, 14));
    Layout table("a table of cells");
    for (int row = 0; row < 8; ++row)
        table.line(200, 400 + row * 70, 500, 30, 2)
            .line(1100, 400 + row * 70, 200, 30, 1)
            .line(1700, 400 + row * 70, 250, 30, 1);
    all.push_back(table);
    Layout bill("a bill: heading, table, sum, thanks");
    bill.line(200, 200, 600, 60, 2);
    for (int row = 0; row < 6; ++row) bill.line(200, 400 + row * 60, 800, 30, 3).line(1700, 400 + row * 60, 200, 30, 1);
    all.push_back(bill.line(200, 800, 150, 34, 1).line(1700, 800, 220, 34, 1).column(200, 1000, 1700, 3));
    all.push_back(Layout("a caption under a picture in the left column")
                      .column(200, 300, 900, 6)
                      .line(220, 1300, 800, 24)
                      .column(200, 1400, 900, 10)
                      .column(1200, 300, 900, 30));
    all.push_back(Layout("sections of two columns")
                      .line(200, 200, 700, 40)
                      .column(200, 300, 900, 8)
                      .column(1200, 300, 900, 8)
                      .line(200, 800, 1300, 40)
                      .column(200, 900, 900, 8)
                      .column(1200, 900, 900, 8));
    all.push_back(Layout("a form: names and what was filled in")
                      .line(200, 300, 300, 30, 1)
                      .line(800, 300, 500, 30, 2)
                      .line(200, 380, 350, 30, 2)
                      .line(800, 380, 600, 30, 2)
                      .line(200, 460, 250, 30, 1)
                      .line(800, 460, 300, 30, 1));
    all.push_back(Layout("a list").line(200, 200, 800, 44).column(260, 320, 1700, 9, 70));
    all.push_back(Layout("minutes: names in the margin").line(200, 200, 1300, 44).column(700, 320, 1400, 12));
    all.push_back(
        Layout("page number below").column(200, 300, 900, 20).column(1200, 300, 900, 20).line(1100, 1500, 60, 30, 1));
    // Notes beside the paragraph that they belong to.
    Layout names("names of paragraphs in the left margin"), notes("notes in the right margin");
    for (int part = 0; part < 3; ++part) {
        const int y = 320 + part * 500;
        names.line(150, y, 280, 26, 2);
        if (part == 1) names.line(150, y + 45, 240, 26, 2);
        names.column(600, y, 1500, 6);
        notes.column(200, y, 1400, 6);
        notes.line(1720, y + 52, 350, 24, 3).line(1720, y + 92, 300, 24, 3);
    }
    all.push_back(names);
    all.push_back(notes);
    return all;
}

// The page is read from the right only if most lines run from right to left.
TEST(ReadingOrder, OneLineFromRightToLeftDoesNotReverseColumns) {
    Layout page("two columns and a line in Hebrew");
    page.column(200, 300, 900, 20).column(1200, 300, 900, 20).line(200, 1500, 1900);
    for (Word& word : page.lines.back().words) word.text = "\u05e9\u05dc\u05d5\u05dd";
    const auto read = in_reading_order(page.lines);
    ASSERT_EQ(read.size(), 41U);
    EXPECT_EQ(read.front().words.front().text, "0.0");
    EXPECT_EQ(read[20].words.front().text, "20.0") << "the right column comes second";
}

TEST(ReadingOrder, TwentyLayoutsAreReadInOrder) {
    const auto all = layouts();
    EXPECT_GE(all.size(), 20U);
    std::mt19937 random(11);
    for (const Layout& layout : all) {
        auto shuffled = layout.lines;
        std::ranges::shuffle(shuffled, random);
        const auto ordered = in_reading_order(std::move(shuffled));
        // Word for word: the rows of a table have become lines.
        const auto words_of = [](const std::vector<TextLine>& lines) {
            std::vector<std::string> words;
            for (const TextLine& line : lines)
                for (const Word& word : line.words) words.push_back(word.text);
            return words;
        };
        EXPECT_EQ(words_of(ordered), words_of(layout.lines)) << layout.name << ": " << TextLayer{ordered}.text();
    }
}

TextLine words(const std::string& text, int x, int y, int tall = 30, int gap = 12) {
    TextLine out{{},
                 {static_cast<double>(x), static_cast<double>(y)},
                 {0, static_cast<double>(y)},
                 static_cast<double>(tall),
                 8};
    std::istringstream in(text);
    for (std::string word; in >> word;) {
        const int width = static_cast<int>(word.size()) * tall * 6 / 10;
        out.words.push_back({word, {x, y - tall, width, tall}, 95});
        x += width + gap;
    }
    out.baseline_end.x = x;
    return out;
}

// The lines of a log sheet with ragged columns, and a table of 1500 rows. Each line may be compared with those below it
// only as far as columns are still possible. Comparing with all of them takes hours, and the test would fail by its
// time limit.
TEST(ReadingOrder, ThousandsOfRowsWithoutColumnsAreInOrderToo) {
    std::vector<TextLine> ragged, table;
    for (int i = 0; i < 6000; ++i)
        ragged.push_back(words(i % 3 == 0   ? "gate shut"
                               : i % 3 == 1 ? "two boats came through"
                                            : "rain all the day",
                               200, 100 + 50 * i));
    for (int i = 0; i < 1500; ++i) {
        table.push_back(words("Toll", 200, 100 + 50 * i));
        table.push_back(words("3", 900, 100 + 50 * i));
        table.push_back(words("4.50", 1500, 100 + 50 * i));
    }
    for (std::vector<TextLine>* lines : {&ragged, &table}) {
        const auto last = static_cast<double>(lines->back().baseline_start.y);
        const std::vector<TextLine> ordered = in_reading_order(*lines);
        double before = 0;
        for (const TextLine& line : ordered) {
            EXPECT_GE(line.baseline_start.y, before);
            before = line.baseline_start.y;
        }
        EXPECT_EQ(before, last);
    }
}

TEST(Paragraphs, AreSeparatedAndJoined) {
    TextLayer page{
        {words("Rules of the lower basin", 200, 200, 48), words("The keeper opens at eight in the morn-", 200, 320),
         words("ing and closes at dusk, all the year.", 200, 370),
         words("Dogs stay on the lead near the nests.", 200, 470), words("1. Pay the toll before you pass.", 240, 570),
         words("2. Shut the gates behind you.", 240, 620), words("Boats 3 24.00", 200, 740, 30, 260),
         words("Dinghies 1 4.50", 200, 790, 30, 260)},
        2480,
        3508};
    const auto found = paragraphs_of(page);
    std::string kinds;
    size_t lines = 0;
    for (const Paragraph& p : found) kinds += fmt::format("{}:{} ", paragraph_word(p.kind), p.count), lines += p.count;
    EXPECT_EQ(kinds, "heading:1 paragraph:2 paragraph:1 list-item:1 list-item:1 table:2 ");
    EXPECT_EQ(lines, page.lines.size());
    EXPECT_EQ(running_text(page), "Rules of the lower basin\n\n"
                                  "The keeper opens at eight in the morning and closes at dusk, all the year.\n\n"
                                  "Dogs stay on the lead near the nests.\n\n"
                                  "1. Pay the toll before you pass.\n2. Shut the gates behind you.\n\n"
                                  "Boats 3 24.00\nDinghies 1 4.50\n");
    EXPECT_EQ(page.lines[1].words.back().text, "morn-") << "the picture's layer keeps it";
    EXPECT_EQ(running_text({}), "");
}

}
}
