// The user's corrections of a page's text, applied to any OCR result: also if the page was turned or read again.
#include "core/text/page_text.h"

#include "core/text/carried_words.h"
#include "core/text/text_places.h"
#include "core/tray/rows.h"

#include <gtest/gtest.h>

#include <sstream>

namespace yelvin::test {
namespace {

constexpr SizePx original{1000, 1400};
constexpr double dpi = 100;

// Words with 20 px for a letter, 30 px high, from `x` on, with 20 px between them.
TextLine line(int x, int y, const std::string& words, double confidence = 90) {
    TextLine out{{}, {static_cast<double>(x), y + 30.0}, {}, 30, 8, "eng"};
    std::istringstream in(words);
    for (std::string word; in >> word;) {
        const int width = 20 * static_cast<int>(word.size());
        out.words.push_back({word, {x, y, width, 30}, confidence});
        x += width + 20;
    }
    out.baseline_end = {static_cast<double>(x), y + 30.0};
    return out;
}

TextLayer page(std::vector<TextLine> lines) { return {std::move(lines), original.width, original.height, "eng"}; }

TextLayer letter() {
    return page({line(100, 100, "The Wend1e Trust", 50), line(100, 300, "The mooring is let to the"),
                 line(100, 350, "Tenant of number O14", 40), line(100, 700, "Page 1 of 3")});
}

struct Said {
    TextLayer read = letter();
    Recipe recipe = {};
    TextEdits edits = {};

    PageLies lies() const { return {recipe, original, dpi}; }
    PageText text() const { return text_with(read, edits, lies()); }
    std::string all() const {
        const PageText now = text();
        return running_text(now, 0, now.words().size() - 1);
    }
    WordPlace find(const std::string& word) const {
        const PageText now = text();
        for (const WordPlace& place : now.words())
            if (now.at(place).text == word) return place;
        ADD_FAILURE() << "no " << word << " in " << all();
        return {};
    }
    void put_right(const std::string& word, const std::string& is) {
        edits = with_word(edits, text(), lies(), find(word), is);
    }
};

TEST(PageText, WordsAreCorrectedInPlace) {
    Said said;
    EXPECT_EQ(said.all(), "The Wend1e Trust\n\nThe mooring is let to the Tenant of number O14\n\nPage 1 of 3");
    const cv::Rect before = said.text().at(said.find("O14")).box;
    said.put_right("O14", "014");
    said.put_right("Wend1e", "Wendle");
    said.put_right("number", "number"); // it is right
    EXPECT_EQ(said.all(), "The Wendle Trust\n\nThe mooring is let to the Tenant of number 014\n\nPage 1 of 3");
    const Word now = said.text().at(said.find("014"));
    EXPECT_EQ(now.box, before);
    EXPECT_EQ(now.confidence, 100);
    EXPECT_EQ(said.text().at(said.find("number")).confidence, 100);
    EXPECT_EQ(said.text().at(said.find("Tenant")).confidence, 40);
    // A second correction of a word replaces the first one.
    said.put_right("014", "O-14");
    EXPECT_EQ(said.edits.corrections(), 3);
    EXPECT_EQ(said.edits.words[0].was, "O14");
    // Two words that were read as one, and a word that does not exist.
    said.put_right("O-14", "O 14");
    EXPECT_NE(said.all().find("number O 14\n"), std::string::npos);
    const cv::Rect right = said.text().at(said.find("14")).box;
    EXPECT_NEAR(right.br().x, before.br().x, 1);
    EXPECT_GT(right.x, before.x + before.width / 3);
    said.put_right("14", "15");
    EXPECT_NE(said.all().find("number O 15\n"), std::string::npos) << "a part of what was put right";
    said.put_right("Page", "");
    said.put_right("1", "");
    EXPECT_TRUE(said.all().ends_with("\n\nof 3"));
    EXPECT_EQ(said.text().kept().word_count(), 3 + 6 + 5 + 2);
}

TEST(PageText, CorrectionsFollowTurnsOfThePage) {
    Said said;
    said.put_right("O14", "014");
    said.put_right("Wend1e", "Wendle");
    said.edits = with_left_out(said.edits, said.text().paragraphs.back(), true);
    said.edits = with_paragraph_moved(said.edits, said.text(), 0, 1);
    const std::string corrected = said.all();
    EXPECT_EQ(corrected, "The mooring is let to the Tenant of number 014\n\nThe Wendle Trust");
    const cv::Rect box = said.text().at(said.find("014")).box;
    for (const int turn : {0, 90, 180, 270}) {
        for (const double tilt : {0.0, 3.0}) {
            Said now = said;
            now.recipe.turn_degrees = turn;
            now.recipe.tilt_degrees = tilt;
            now.read = carried_words(said.read, said.recipe, now.recipe, original, dpi);
            EXPECT_EQ(now.all(), corrected) << turn << "° and " << tilt << "°";
            EXPECT_EQ(now.text().kept().turned_degrees, turn);
        }
    }
    // The correction is at the same pixels of the original.
    Said turned = said;
    turned.recipe.turn_degrees = 90;
    turned.read = carried_words(said.read, said.recipe, turned.recipe, original, dpi);
    const PageText text = turned.text();
    const cv::Rect2d there = on_page(text.at(turned.find("014")).box, text.layer);
    EXPECT_NEAR(there.x, original.height - box.br().y, 1);
    EXPECT_NEAR(there.y, box.x, 1);
    EXPECT_NEAR(there.width, box.height, 1);
    // After cropping, neither the words nor their corrections exist; after the crop is widened again, both are back.
    Said cut = said;
    cut.recipe.crop = RectMm{0, 0, px_to_mm(original.width, dpi), px_to_mm(200, dpi)};
    cut.read = carried_words(said.read, said.recipe, cut.recipe, original, dpi);
    EXPECT_EQ(cut.all(), "The Wendle Trust");
}

TEST(PageText, CorrectionsSurviveANewReading) {
    Said said;
    said.put_right("O14", "014");
    said.put_right("mooring", "berth");
    said.put_right("Wend1e", "Wendle");
    said.put_right("to", "");
    const std::string corrected = said.all();
    // The same word is read differently, a pixel or two away.
    Said anew = said;
    anew.read.lines[0].words[1].text = "Wcndle";
    anew.read.lines[2].words[3].text = "0l4";
    for (TextLine& each : anew.read.lines)
        for (Word& word : each.words) word.box += cv::Point(2, -1);
    EXPECT_EQ(anew.all(), corrected);
    // A word is read in pieces, two words as one, of which one was corrected, and one is not read at all.
    anew = said;
    Word& berth = anew.read.lines[1].words[1];
    Word piece = berth;
    berth.box.width = 60, berth.text = "moo";
    piece.box.x += 60, piece.box.width -= 60, piece.text = "ring";
    anew.read.lines[1].words.insert(anew.read.lines[1].words.begin() + 2, piece);
    Word& number = anew.read.lines[2].words[2];
    number.text = "number.O14";
    number.box |= anew.read.lines[2].words[3].box;
    anew.read.lines[2].words.pop_back();
    anew.read.lines[0].words.erase(anew.read.lines[0].words.begin() + 1);
    EXPECT_EQ(anew.all().substr(0, 16), "The Wendle Trust");
    EXPECT_NE(anew.all().find("The berth is let the Tenant of number. 014"), std::string::npos) << anew.all();
    // No word was read: the corrections still exist.
    anew.read = page({line(100, 700, "Page 1 of 3")});
    EXPECT_NE(anew.all().find("Wendle"), std::string::npos) << anew.all();
    EXPECT_NE(anew.all().find("014"), std::string::npos);
    anew.read = page({});
    EXPECT_NE(anew.all().find("Wendle"), std::string::npos) << "of a page on which nothing was read at all";
}

TEST(PageText, ParagraphsAreLeftOutMovedAndNamed) {
    Said said;
    const auto kinds = [&] {
        std::string out;
        for (const TextParagraph& p : said.text().paragraphs)
            out += std::string(paragraph_word(p.kind)) + (p.left_out ? "(out) " : " ");
        return out;
    };
    EXPECT_EQ(kinds(), "paragraph paragraph paragraph ");
    said.edits = with_kind(said.edits, said.text().paragraphs[0], ParagraphKind::Heading);
    said.edits = with_left_out(said.edits, said.text().paragraphs[2], true);
    EXPECT_EQ(kinds(), "heading paragraph paragraph(out) ");
    said.edits = with_paragraph_moved(said.edits, said.text(), 2, 0);
    EXPECT_EQ(kinds(), "paragraph(out) heading paragraph ");
    EXPECT_EQ(said.text().kept().text().substr(0, 10), "The Wend1e");
    EXPECT_TRUE(said.all().starts_with("The Wend1e")) << "what is left out is not copied with the rest";
    EXPECT_EQ(running_text(said.text(), 0, 2), "Page 1 of") << "but by itself";
    // The new OCR result has one more paragraph, between the first two.
    said.read.lines.insert(said.read.lines.begin() + 1, line(700, 200, "Wharf House."));
    EXPECT_TRUE(said.all().starts_with("The Wend1e Trust\n\nWharf House.\n\nThe mooring")) << said.all();
    said.edits = with_left_out(said.edits, said.text().paragraphs[0], false);
    EXPECT_TRUE(said.all().starts_with("Page 1 of 3\n\n"));
}

TEST(PageText, AParagraphReadAgainReplacesTheFirst) {
    Said said;
    const TextParagraph second = said.text().paragraphs[1];
    PartRead part{said.recipe, page({line(100, 300, "Der Liegeplatz wird dem"), line(100, 350, "Mieter überlassen")})};
    for (TextLine& each : part.layer.lines) each.language = "deu";
    said.edits = with_part_read(said.edits, second, part);
    EXPECT_EQ(said.all(), "The Wend1e Trust\n\nDer Liegeplatz wird dem Mieter überlassen\n\nPage 1 of 3");
    EXPECT_EQ(said.text().paragraphs[1].language, "deu");
    said.put_right("Mieter", "Pächter");
    Said turned = said;
    turned.recipe.turn_degrees = 180;
    turned.read = carried_words(said.read, said.recipe, turned.recipe, original, dpi);
    EXPECT_NE(turned.all().find("dem Pächter überlassen"), std::string::npos) << turned.all();
}

TEST(PageText, ACopyJoinsLinesLikeTheText) {
    Said said;
    said.read = page({line(100, 100, "The keeper of the har-"), line(100, 150, "bour opens at eight."),
                      line(100, 400, "1. Pay the toll."), line(100, 450, "2. Shut the gates.")});
    EXPECT_EQ(said.all(), "The keeper of the harbour opens at eight.\n\n1. Pay the toll.\n2. Shut the gates.");
    EXPECT_EQ(running_text(said.text(), 4, 5), "harbour");
    EXPECT_EQ(running_text(said.text(), 5, 4), "");
    EXPECT_EQ(running_text({}, 0, 0), "");
}

TEST(PageText, EditsAreKeptWithThePage) {
    Said said;
    said.put_right("O14", "\"014\" ₤");
    said.edits.languages = {"deu", "eng"};
    said.edits = with_left_out(said.edits, said.text().paragraphs[2], true);
    said.edits = with_kind(said.edits, said.text().paragraphs[0], ParagraphKind::Table);
    said.edits = with_part_read(said.edits, said.text().paragraphs[1], {said.recipe, said.read});
    said.edits = with_paragraph_moved(said.edits, said.text(), 0, 2);
    Page kept{"p", {"0123456789abcdef.tif", original.width, original.height, dpi}};
    kept.text = said.edits;
    const std::string row = page_json(kept).dump();
    EXPECT_EQ(page_from_json("p", nlohmann::json::parse(row)).text, said.edits);
    kept.text = {};
    EXPECT_FALSE(page_json(kept).contains("text"));
    auto damaged = nlohmann::json::parse(row);
    damaged["text"]["words"][0][0] = "here";
    EXPECT_THROW(page_from_json("p", damaged), std::exception) << "the page is found again in another way";
    // Confirming a word does not change the text; replacing it does.
    TextEdits right = said.edits, other = said.edits;
    right.words.push_back({{5, 5}, 10, 10, "as", "as", true});
    other.words.push_back({{5, 5}, 10, 10, "as", "is", true});
    EXPECT_TRUE(same_words(said.edits, right));
    EXPECT_FALSE(same_words(said.edits, other));
    EXPECT_EQ(with_reading_given_up(said.edits).languages, said.edits.languages);
    EXPECT_EQ(with_reading_given_up(said.edits).corrections(), 0);
}

}
}
