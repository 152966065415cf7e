// Layouts of office documents, drawn and read word by word in their order; headings are told from text.
#include "core/ocr/reader.h"
#include "core/text/reading_order.h"
#include "support/sheet.h"
#include "support/support.h"

#include <sstream>

namespace yelvin::test {
namespace {

// A stretch of text of the given width in mm, set as one paragraph.
struct Block {
    double x, y, width;
    int words;
    double points = 8;
    bool bold = false;
};

struct DrawnLayout {
    const char* name;
    std::vector<Block> blocks; // as the user reads them
};

const std::vector<DrawnLayout>& layouts() {
    static const std::vector<DrawnLayout> all{
        {"two columns under a heading",
         {{14, 16, 120, 5, 15, true}, {14, 28, 56, 60}, {14, 66, 56, 50}, {80, 28, 56, 60}, {80, 66, 56, 45}}},
        {"three columns", {{10, 20, 38, 70, 7}, {56, 20, 38, 70, 7}, {102, 20, 38, 60, 7}}},
        {"columns, a line across, columns",
         {{14, 14, 56, 40}, {80, 14, 56, 40}, {14, 50, 122, 11, 12, true}, {14, 60, 56, 45}, {80, 60, 56, 45}}},
        {"a letter",
         {{14, 14, 60, 4, 12, true},
          {14, 20, 70, 6, 7},
          {110, 30, 30, 3},
          {14, 42, 120, 7, 8, true},
          {14, 50, 122, 55},
          {14, 74, 122, 40}}},
        {"names of paragraphs in the left margin",
         {{12, 20, 18, 2, 8, true},
          {40, 20, 96, 50},
          {12, 46, 18, 2, 8, true},
          {40, 46, 96, 50},
          {12, 72, 18, 2, 8, true},
          {40, 72, 96, 50}}},
        {"notes in the right margin",
         {{14, 20, 90, 60}, {114, 24, 24, 6, 6.5}, {14, 56, 90, 60}, {114, 60, 24, 7, 6.5}}},
        {"bold headings of the text's size",
         {{14, 18, 120, 2, 9, true},
          {14, 24, 120, 50, 9},
          {14, 46, 120, 3, 9, true},
          {14, 52, 120, 50, 9},
          {14, 76, 120, 2, 9, true},
          {14, 82, 120, 40, 9}}}};
    return all;
}

struct DrawnPage {
    Raster picture;
    std::vector<std::string> words;
};

DrawnPage drawn(const DrawnLayout& layout) {
    std::vector<std::string> text;
    for (unsigned seed = 1; text.size() < 600; ++seed)
        for (const std::string& word : words_of(set_words({}, seed))) text.push_back(word);
    Sheet sheet(300);
    sheet.colour({0.06, 0.06, 0.06});
    DrawnPage page;
    auto next = text.begin();
    for (const Block& block : layout.blocks) {
        Look look;
        look.points = block.points;
        look.bold = block.bold;
        sheet.face(look);
        const double size = block.points * 25.4 / 72;
        double x = block.x, y = block.y + size;
        for (int i = 0; i < block.words; ++i) {
            const std::string word = *next++;
            const double wide = sheet.wide(word);
            if (x > block.x && x + wide > block.x + block.width) x = block.x, y += 1.35 * size;
            sheet.word(x, y, word);
            page.words.push_back(word);
            x += wide + sheet.wide(" ");
        }
    }
    cv::Mat pixels = sheet.take(), grey;
    pixels.convertTo(pixels, CV_8UC3, 255);
    cv::cvtColor(pixels, grey, cv::COLOR_BGR2GRAY);
    page.picture = {grey, 300, Ink::Grey};
    return page;
}

std::vector<PrintedWord> without_places(const std::vector<std::string>& words) {
    std::vector<PrintedWord> out;
    for (const std::string& word : words) out.push_back({word, {}});
    return out;
}

TEST(Layouts, AreReadWordForWordInTheirOrder) {
    Reader reader;
    for (const DrawnLayout& layout : layouts()) {
        const DrawnPage page = drawn(layout);
        const auto read = reader.read(page.picture, {"eng"});
        ASSERT_TRUE(read) << read.error().sentence;
        std::istringstream in(read->text());
        const std::vector<std::string> words{std::istream_iterator<std::string>(in), {}};
        const auto same = common_in_order(without_places(page.words), without_places(words));
        EXPECT_GE(static_cast<double>(same.size()), 0.985 * static_cast<double>(page.words.size()))
            << layout.name << ":\n"
            << read->text();
    }
}

TEST(Layouts, BoldLinesOfTheTextsSizeAreHeadings) {
    Reader reader;
    const DrawnPage page = drawn(layouts().back());
    const auto read = reader.read(page.picture, {"eng"});
    ASSERT_TRUE(read);
    std::string kinds;
    for (const Paragraph& paragraph : paragraphs_of(*read)) kinds += std::string(paragraph_word(paragraph.kind)) + " ";
    EXPECT_EQ(kinds, "heading paragraph heading paragraph heading paragraph ");
    int right = 0, all = 0;
    for (const TextLine& line : read->lines) {
        const bool heading = line.words.size() < 4 && &line != &read->lines.back();
        for (const Word& word : line.words)
            if (word.text.size() > 3) right += word.bold == heading, ++all;
    }
    EXPECT_GE(right, all * 98 / 100);
}

// Dates, references, addresses and account numbers keep each of their characters. IBANs: the examples of ISO 13616's
// registry (from memory); the rest is invented.
TEST(Layouts, NumbersAndAddressesKeepTheirCharacters) {
    const std::vector<std::string> tokens{"14.03.2026",
                                          "2026-03-14",
                                          "14/03/26",
                                          "3-Nov-2025",
                                          "09:45",
                                          "WNT/M/014",
                                          "No.1386-B",
                                          "0O1Il-8B",
                                          "office@wendle-trust.example",
                                          "h.quillfeather@post.example",
                                          "www.wendle-trust.example/berths?y=2026",
                                          "https://wendle-trust.example/a_b",
                                          "+44.1632.960961",
                                          "(01632)-960-961",
                                          "1,386.50",
                                          "12.345,67",
                                          "-0.05",
                                          "75%",
                                          "DE89370400440532013000",
                                          "GB29NWBK60161331926819",
                                          "FR1420041010050500013M02606",
                                          "5901234123457",
                                          "2.5mm",
                                          "A4",
                                          "B/2",
                                          "#4471",
                                          "7x9",
                                          "1st",
                                          "22nd",
                                          "Q3/2026"};
    Sheet sheet(300);
    sheet.colour({0.1, 0.1, 0.1});
    double y = 14;
    Look look;
    look.points = 9;
    for (const char* face : {"Liberation Serif", "Liberation Sans"}) {
        look.face = face;
        sheet.face(look);
        double x = 12;
        y += 6;
        for (const std::string& token : tokens) {
            if (x + sheet.wide(token) > width_mm - 10) x = 12, y += 6;
            sheet.word(x, y, token);
            x += sheet.wide(token) + 2 * sheet.wide(" ");
        }
    }
    cv::Mat pixels = sheet.take(), grey;
    pixels.convertTo(pixels, CV_8UC3, 255);
    cv::cvtColor(pixels, grey, cv::COLOR_BGR2GRAY);
    Reader reader;
    const auto read = reader.read({grey, 300, Ink::Grey}, {"eng"});
    ASSERT_TRUE(read);
    const std::string text = read->text();
    int kept = 0;
    for (const std::string& token : tokens) {
        int times = 0;
        for (size_t at = 0; (at = text.find(token, at)) != std::string::npos; ++at) ++times;
        kept += std::min(times, 2);
    }
    EXPECT_GE(kept, static_cast<int>(2 * tokens.size() * 9 / 10)) << text;
}

}
}
