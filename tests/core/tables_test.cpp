// Rows of tables among lines, however the engine divided them; and lines that are no table.
#include "core/text/tables.h"

#include "core/text/table_rows.h"

#include <gtest/gtest.h>

#include <random>
#include <sstream>

namespace yelvin::test {
namespace {

using Rows = std::vector<std::vector<std::string>>;

// 12 px for a letter, 20 px high, 10 px between words.
TextLine line(int x, int y, const std::string& words) {
    TextLine out{{}, {double(x), double(y)}, {}, 20, 5, "eng"};
    std::istringstream in(words);
    for (std::string word; in >> word; x += 10) {
        out.words.push_back({word, {x, y - 20, 12 * static_cast<int>(word.size()), 20}, 95});
        x = out.words.back().box.br().x;
    }
    out.baseline_end = {double(x), double(y)};
    return out;
}
TextLine right(int end, int y, const std::string& words) { // without a space
    return line(end - 12 * static_cast<int>(words.size()), y, words);
}

// Each cell is a line of its own, in random order.
std::vector<TextLine> shuffled(std::vector<TextLine> lines) {
    std::mt19937 random(7);
    std::ranges::shuffle(lines, random);
    return lines;
}

Rows read_as_table(const std::vector<TextLine>& lines) {
    const TextLayer layer{in_reading_order(lines), 1240, 1754, "eng"};
    const PageText text = as_it_was_read(layer);
    for (const TextParagraph& paragraph : text.paragraphs)
        if (paragraph.kind == ParagraphKind::Table) return table_of(text, paragraph).rows;
    return {};
}

std::vector<TextLine> bill() {
    std::vector<TextLine> lines{line(100, 300, "Item"), right(700, 300, "Quantity"), right(1000, 300, "Amount")};
    int y = 350;
    for (const auto& [item, count, amount] : {std::tuple{"Mooring rope", "40", "94.00"},
                                              {"Brass tiller pin", "2", "29.50"},
                                              {"Oakum", "5", "62.00"},
                                              {"Paint brush, tar", "10", "31.50"}}) {
        lines.push_back(line(100, y, item));
        lines.push_back(right(700, y + 1, count)); // a pixel lower: the scan is not quite level
        lines.push_back(right(1000, y, amount));
        y += 50;
    }
    return lines;
}

TEST(Tables, AdjacentCellsBecomeRows) {
    const Rows truth{{"Item", "Quantity", "Amount"},
                     {"Mooring rope", "40", "94.00"},
                     {"Brass tiller pin", "2", "29.50"},
                     {"Oakum", "5", "62.00"},
                     {"Paint brush, tar", "10", "31.50"}};
    EXPECT_EQ(read_as_table(shuffled(bill())), truth);
    // Columns that the engine read one after the other.
    auto by_column = bill();
    std::ranges::stable_sort(by_column, {}, [](const TextLine& l) { return l.words.back().box.br().x; });
    EXPECT_EQ(read_as_table(by_column), truth);
    // Two columns in one line of the engine, and an empty cell.
    auto joined = bill();
    joined[4].words.push_back(joined[5].words.front());
    joined.erase(joined.begin() + 5);
    joined.erase(std::ranges::find_if(joined, [](const TextLine& l) { return l.words.front().text == "5"; }));
    auto emptier = truth;
    emptier[3][1] = "";
    EXPECT_EQ(read_as_table(shuffled(joined)), emptier);
}

TEST(Tables, TextAroundThemStaysText) {
    auto lines = bill();
    lines.push_back(line(100, 100, "Penhallow Chandlery, rope and paint and brass for narrow waters"));
    lines.push_back(line(100, 700, "Please pay within thirty days. Goods remain ours until they are"));
    lines.push_back(line(100, 730, "paid for, and carriage is free above two hundred and fifty."));
    const TextLayer layer{in_reading_order(shuffled(lines)), 1240, 1754, "eng"};
    const PageText text = as_it_was_read(layer);
    ASSERT_EQ(text.paragraphs.size(), 3U);
    EXPECT_EQ(text.paragraphs[1].kind, ParagraphKind::Table);
    EXPECT_EQ(text.paragraphs[1].count, 5U);
    EXPECT_TRUE(
        running_text(layer).ends_with("Please pay within thirty days. Goods remain ours until they are paid for, "
                                      "and carriage is free above two hundred and fifty.\n"));
}

TEST(Tables, ColumnsOfTextAndLettersAreNotTables) {
    std::vector<TextLine> columns, letter, three;
    for (int row = 0; row < 12; ++row) {
        columns.push_back(line(100, 200 + 30 * row, "the keeper opens at eight in the morn"));
        columns.push_back(line(700, 200 + 30 * row, "and closes at dusk in all the weeks"));
        for (int x : {100, 480, 860})
            three.push_back(line(x, 200 + 30 * row, row % 2 == 0 ? "paths by the water" : "boats in the locks"));
    }
    letter = {line(100, 100, "Wendle Navigation Trust"), right(1000, 100, "Invoice"), line(100, 130, "Wharf House"),
              right(1000, 130, "2026"), line(100, 300, "Dear keeper, the basin is full.")};
    for (const auto& lines : {columns, letter, three}) EXPECT_EQ(with_table_rows(lines), lines);
    EXPECT_TRUE(with_table_rows({}).empty());
}

// The engine read across the columns. Each line is divided where all of them have a gutter, also if a line has nothing
// in the middle column, so that two gutters are in one gap.
TEST(Tables, ColumnsReadAsOneLineAreSeparated) {
    std::vector<TextLine> across;
    size_t words = 0;
    for (int row = 0; row < 8; ++row) {
        TextLine whole = line(100, 200 + 30 * row, "paths by the water side");
        for (const int x : {480, 860}) {
            if (x == 480 && row == 4) continue;
            for (const Word& word : line(x, 200 + 30 * row, "boats lie in the lock").words) whole.words.push_back(word);
        }
        whole.baseline_end.x = whole.words.back().box.br().x;
        words += whole.words.size();
        across.push_back(whole);
    }
    const auto apart = with_table_rows(across);
    EXPECT_EQ(apart.size(), 8U * 3 - 1);
    size_t kept = 0;
    for (const TextLine& each : apart) {
        ASSERT_FALSE(each.words.empty());
        EXPECT_EQ(each.words.size(), 5U);
        kept += each.words.size();
    }
    EXPECT_EQ(kept, words);
    const TextLayer layer{in_reading_order(across), 1240, 1754, "eng"};
    for (size_t i = 1; i < 8; ++i) EXPECT_EQ(layer.lines[i].words.front().text, "paths") << "down the first column";
}

}
}
