// The Text look: what was read is seen beside its page, put right, put in order and copied.
#include "app/models/page_texts.h"
#include "app/models/reading_aloud.h"
#include "app/models/text_choice.h"
#include "app/models/text_search.h"
#include "app/text/text_column.h"
#include "app/text/text_look.h"
#include "app/text/text_on_page.h"
#include "app/text/word_slip.h"
#include "app/window_fixture.h"

#include <QClipboard>
#include <QScrollBar>

#include <sstream>

namespace yelvin::test {
namespace {

// Says nothing; the test says when it has ended.
class Stand : public Voice {
  public:
    QStringList said;
    bool speaks = false;
    bool is_there() const override { return true; }
    void say(const QString& words, const std::string& language) override {
        said.append(words + " (" + QString::fromStdString(language) + ")");
        speaks = true;
    }
    void stop() override { speaks = false; }
};

class TextWindow : public Window {
  protected:
    Stand* voice_ = nullptr;
    TextWindow() {
        tray_full_ = false;
        voice_made_ = [this] {
            auto made = std::make_unique<Stand>();
            voice_ = made.get();
            return made;
        };
    }

    // Leases from the feeder, read; the first of them is looked at.
    void scan(int sheets) {
        start();
        BenchSetup bench;
        for (int i = 0; i < sheets; ++i) bench.stack.push_back({{original("lease-1")}, {}});
        desk_->scanners.set_bench(bench);
        choose([](Ticket& t) {
            t.from.source = Source::FeederFront;
            t.how.dpi = 150;
            t.how.ink = Ink::Grey;
            t.read.languages = {"eng"};
            t.make.format = Format::Pdf;
        });
        press("scan");
        ASSERT_TRUE(wait([&] {
            return desk_->tray.tray().page_count() == static_cast<size_t>(sheets) && !desk_->run.passing() && at_rest();
        }));
        desk_->choice.set_current(page_id(0, 0));
        key("Alt+3");
        ASSERT_TRUE(wait([&] { return text() && look().page().is_sharp(); }));
    }
    TextLook& look() { return window_->text_look(); }
    PageView& page() { return look().page(); }
    SlipEntry& entry() { return *part<SlipEntry>("slip-entry"); }
    WordSlip& slip() { return *part<WordSlip>("word-slip"); }
    TextColumn& column() { return *part<TextColumn>("text-column"); }
    ShownTextPtr text() { return desk_->words.shown(); }
    std::string all() { return running_text(text()->text, 0, text()->words.size() - 1); }
    size_t find(const std::string& word) {
        for (size_t i = 0; i < text()->words.size(); ++i)
            if (text()->word(i).text == word) return i;
        ADD_FAILURE() << "no " << word;
        return 0;
    }
    bool says(const std::string& words) { return all().find(words) != std::string::npos; }
    // The page was read like that. The i-th of `doubtful` is read as `as`, and with it nothing else is doubtful.
    void plant(size_t page_number, const std::vector<std::pair<std::string, std::string>>& doubtful) {
        const PagePtr page = desk_->tray.tray().documents.at(0)->pages.at(page_number);
        auto layer = desk_->tray.text_of(*page, "eng");
        ASSERT_TRUE(layer);
        size_t next = 0;
        for (TextLine& line : layer->lines) {
            for (Word& word : line.words) {
                word.confidence = 96;
                if (next == doubtful.size() || word.text != doubtful[next].first) continue;
                word.text = doubtful[next++].second;
                word.confidence = 40;
            }
        }
        ASSERT_EQ(next, doubtful.size()) << doubtful[next].first;
        desk_->tray.keep_text(page, "eng", *layer);
    }
    // The page was read as lines of words at places of the page, 15 px a letter.
    void say_read(size_t page_number, const std::vector<std::tuple<int, int, std::string>>& lines) {
        const PagePtr page = desk_->tray.tray().documents.at(0)->pages.at(page_number);
        auto layer = desk_->tray.text_of(*page, "eng");
        ASSERT_TRUE(layer);
        layer->lines.clear();
        for (auto [x, y, words] : lines) {
            TextLine line{{}, {double(x), y + 20.0}, {}, 20, 5, "eng"};
            std::istringstream in(words);
            for (std::string word; in >> word; x += 15) {
                line.words.push_back({word, {x, y, 15 * int(word.size()), 20}, 96});
                x = line.words.back().box.br().x;
            }
            line.baseline_end = {double(x), y + 20.0};
            layer->lines.push_back(line);
        }
        desk_->tray.keep_text(page, "eng", *layer);
    }
    QWidget* focus() { return QApplication::focusWidget(); }
    void type(const char* keys) { QTest::keyClicks(focus(), keys); }
    void tap(Qt::Key what, Qt::KeyboardModifiers with = {}) { QTest::keyClick(focus(), what, with); }
    void press_word(const std::string& word, QEvent::Type how = QEvent::MouseButtonPress) {
        const QPoint at = look().on_page().word_rect(find(word)).center().toPoint();
        if (how == QEvent::MouseButtonDblClick)
            QTest::mouseDClick(&page(), Qt::LeftButton, {}, at);
        else
            QTest::mouseClick(&page(), Qt::LeftButton, {}, at);
    }
    void press_row(const QString& words) {
        QApplication::processEvents();
        for (auto* row : window_->findChildren<SheetRow*>())
            if (row->isVisible() && row->text() == words) return QTest::mouseClick(row, Qt::LeftButton);
        FAIL() << "no row " << qPrintable(words);
    }
    std::string saved_words() {
        key("Ctrl+S");
        EXPECT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
        return saved_.isEmpty() ? "" : text_of_pdf(saved_.takeFirst().toStdString());
    }
};

TEST_F(TextWindow, DoubtfulWordsArePutRightWithTheKeysAlone) {
    scan(2);
    plant(0, {{"Parties.", "Panies."}, {"towpath", "tovpath"}});
    plant(1, {{"Wharf", "Wharl"}, {"Rent.", "Rent."}});
    EXPECT_TRUE(part<QLabel>("head-facts")->text().contains("2 doubtful left, 4 in the document"))
        << qPrintable(part<QLabel>("head-facts")->text());
    // Tab finds the first, Enter goes on; typing is it.
    tap(Qt::Key_Tab);
    ASSERT_EQ(focus(), &entry());
    EXPECT_EQ(entry().text(), "Panies.");
    EXPECT_EQ(entry().selectedText(), "Panies.");
    type("Parties.");
    tap(Qt::Key_Return);
    EXPECT_EQ(entry().text(), "tovpath");
    EXPECT_TRUE(part<QLabel>("head-facts")->text().contains("1 doubtful left, 3 in the document"));
    type("towpath");
    tap(Qt::Key_Return);
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 1)) << "on the next page";
    EXPECT_EQ(entry().text(), "Wharl");
    type("Wharf");
    tap(Qt::Key_Return);
    EXPECT_EQ(entry().text(), "Rent.");
    tap(Qt::Key_Return); // it is right
    EXPECT_FALSE(slip().isVisible());
    EXPECT_EQ(focus(), &page());
    EXPECT_TRUE(part<QLabel>("head-facts")->text().contains("none doubtful"));
    EXPECT_TRUE(says("Wharf House"));
    // One of them back.
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_TRUE(says("Wharl House"));
    EXPECT_EQ(desk_->tray.undo_name(), "correct a word");
    const std::string pdf = saved_words();
    EXPECT_NE(pdf.find("1. Parties."), std::string::npos);
    EXPECT_NE(pdf.find("the towpath side"), std::string::npos);
    EXPECT_NE(pdf.find("Wharl House"), std::string::npos);
    EXPECT_EQ(pdf.find("Panies"), std::string::npos);
    // What is put right in a saved document is not in its file yet.
    ASSERT_FALSE(desk_->tray.tray().documents[0]->saved_as.empty());
    tap(Qt::Key_Tab);
    EXPECT_EQ(entry().text(), "Wharl");
    tap(Qt::Key_Return);
    EXPECT_FALSE(desk_->tray.tray().documents[0]->saved_as.empty()) << "that it is right changes no file";
    key("Ctrl+Z");
    type("Wharf");
    tap(Qt::Key_Return);
    EXPECT_TRUE(desk_->tray.tray().documents[0]->saved_as.empty());
}

TEST_F(TextWindow, SeventeenDoubtfulWordsAreAMinutesWork) {
    scan(1);
    std::vector<std::pair<std::string, std::string>> doubtful;
    std::vector<std::string> wrong{"lease", "Tenant.", "Trust", "eighteen", "second", "footbridge.", "December."};
    size_t at = 0;
    for (const WordPlace& place : text()->words) {
        const std::string word = text()->text.at(place).text;
        if (word.size() < 5 || at++ % 7 != 0 || doubtful.size() == 17) continue;
        const bool is_wrong = doubtful.size() % 2 == 0;
        doubtful.emplace_back(word, is_wrong ? "x" + word : word);
    }
    ASSERT_EQ(doubtful.size(), 17U);
    const std::string before = all();
    plant(0, doubtful);
    ASSERT_EQ(text()->doubtful.size(), 17U);
    int presses = 0;
    const auto press_key = [&](Qt::Key what) {
        tap(what);
        ++presses;
    };
    press_key(Qt::Key_Tab);
    for (size_t i = 0; i < doubtful.size(); ++i) {
        ASSERT_EQ(entry().text().toStdString(), doubtful[i].second);
        if (i % 2 == 0) type(doubtful[i].first.c_str()); // letters
        press_key(Qt::Key_Return);
    }
    EXPECT_TRUE(text()->doubtful.empty());
    EXPECT_EQ(all(), before);
    EXPECT_LT(presses, 40);
    EXPECT_EQ(presses, 18);
}

TEST_F(TextWindow, TheSlipIsOutOfNobodysWay) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}, {"towpath", "tovpath"}});
    // Pressed on the page: the word is chosen on both sides.
    press_word("tovpath");
    EXPECT_EQ(entry().text(), "tovpath");
    EXPECT_TRUE(page().rect().contains(slip().geometry()));
    EXPECT_FALSE(QRectF(slip().geometry()).intersects(look().on_page().word_rect(find("tovpath"))));
    EXPECT_TRUE(column().viewport()->rect().contains(column().word_rect(find("tovpath")).toRect()));
    // What happens elsewhere takes nothing away from whoever types.
    type("tow");
    desk_->names.forget();
    desk_->tray.set_next_page_starts_document(true);
    EXPECT_EQ(entry().text(), "tow");
    tap(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(entry().text(), "tovpath") << "what was typed goes first";
    EXPECT_TRUE(says("tovpath"));
    // The word behind it, which nobody doubts.
    tap(Qt::Key_Down);
    EXPECT_EQ(entry().text(), "side");
    tap(Qt::Key_Up);
    tap(Qt::Key_Up);
    EXPECT_EQ(entry().text(), "the");
    tap(Qt::Key_Backtab);
    EXPECT_EQ(entry().text(), "Panies.");
    entry().clear();
    tap(Qt::Key_Return); // nothing is there
    EXPECT_EQ(entry().text(), "tovpath");
    EXPECT_FALSE(says("Panies"));
    key("Esc");
    EXPECT_FALSE(slip().isVisible());
    // In the text beside it too.
    QTest::mouseClick(column().viewport(), Qt::LeftButton, {}, column().word_rect(find("Rent.")).center().toPoint());
    EXPECT_EQ(entry().text(), "Rent.");
    // At the page's lower end it stands above its word.
    press_word("Page");
    EXPECT_TRUE(page().rect().contains(slip().geometry()));
    EXPECT_FALSE(QRectF(slip().geometry()).intersects(look().on_page().word_rect(find("Page"))));
}

TEST_F(TextWindow, WordsAreCopiedAcrossColumnsInTheOrderOfReading) {
    scan(1);
    say_read(0, {{100, 200, "Dogs stay on the"},
                 {100, 240, "lead near the nests"},
                 {100, 280, "all the long sum-"},
                 {100, 320, "mer. Boats keep"},
                 {100, 360, "to the right side."},
                 {650, 200, "The keeper opens at"},
                 {650, 240, "eight and closes at"},
                 {650, 280, "dusk, on Sundays at"},
                 {650, 320, "noon for the mass."},
                 {650, 360, "Pay before passing."}});
    const auto middle = [&](const std::string& word) { return look().on_page().word_rect(find(word)).center(); };
    drag(&page(), middle("nests"), middle("keeper"));
    EXPECT_FALSE(slip().isVisible());
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text(),
              "nests all the long summer. Boats keep to the right side.\n\nThe keeper");
    // Once more from below: the same words.
    drag(&page(), middle("keeper"), middle("nests"));
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_TRUE(QApplication::clipboard()->text().startsWith("nests all"));
    press_word("Dogs", QEvent::MouseButtonDblClick);
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text(), "Dogs");
    QTest::mouseClick(&page(), Qt::LeftButton, {}, middle("Dogs").toPoint()); // a third press
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_TRUE(QApplication::clipboard()->text().startsWith("Dogs stay"));
    EXPECT_TRUE(QApplication::clipboard()->text().endsWith("right side."));
    // With the keys.
    key("Esc");
    press_word("Sundays");
    tap(Qt::Key_Down, Qt::ShiftModifier);
    tap(Qt::Key_Down, Qt::ShiftModifier);
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text(), "Sundays at noon");
    tap(Qt::Key_A, Qt::ControlModifier);
    tap(Qt::Key_C, Qt::ControlModifier);
    EXPECT_EQ(QApplication::clipboard()->text().toStdString(), all());
    EXPECT_EQ(desk_->choice.chosen().size(), 1U);
    press("copy-all");
    ASSERT_TRUE(wait([&] { return part<QLabel>("news-words")->isVisible(); }));
    EXPECT_TRUE(part<QLabel>("news-words")->text().contains("38 words are copied"))
        << qPrintable(part<QLabel>("news-words")->text());
}

TEST_F(TextWindow, ParagraphsAreDraggedLeftOutReadInGermanAndStayOverARestart) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}});
    const auto number = [&](size_t paragraph) { return look().on_page().number_rect(paragraph); };
    const auto begins = [&](size_t paragraph) {
        const auto word = std::ranges::find(text()->words, paragraph, &WordPlace::paragraph);
        return text()->text.at(*word).text;
    };
    const size_t last = text()->text.paragraphs.size() - 1;
    ASSERT_EQ(begins(last), "Page");
    const size_t lease = text()->words[find("Lease")].paragraph;
    const std::string behind = begins(lease + 1);
    // The footer's number dragged to the heading's.
    drag(&page(), number(last).center(), number(lease).center());
    EXPECT_EQ(begins(lease), "Page");
    EXPECT_EQ(begins(lease + 1), "Lease");
    // A press opens what can be said of it.
    QTest::mouseClick(&page(), Qt::LeftButton, {}, number(lease).center().toPoint());
    press_row("leave out");
    EXPECT_FALSE(says("Page 1 of"));
    // By keys: the heading is text, and one earlier.
    press_word("Lease");
    tap(Qt::Key_F10, Qt::ShiftModifier);
    press_row("text");
    EXPECT_EQ(text()->text.paragraphs[lease + 1].kind, ParagraphKind::Paragraph);
    press_word("Lease");
    tap(Qt::Key_Up, Qt::AltModifier);
    EXPECT_EQ(begins(lease), "Lease");
    EXPECT_EQ(entry().text(), "Lease") << "still the chosen word";
    // One read in German.
    press_word("Panies.");
    type("Parties.");
    tap(Qt::Key_Return);
    const size_t parties = text()->words[find("Parties.")].paragraph + 1;
    desk_->words.choose(
        static_cast<size_t>(std::ranges::find(text()->words, parties, &WordPlace::paragraph) - text()->words.begin()));
    tap(Qt::Key_Menu);
    press_row("German");
    ASSERT_TRUE(wait([&] { return text() && text()->text.paragraphs[parties].language == "deu"; }));
    EXPECT_EQ(text()->text.paragraphs[parties - 1].language, "eng");
    EXPECT_TRUE(says("Wendleford")) << all();
    const std::string said = all();
    // Tomorrow.
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    start();
    ASSERT_TRUE(wait([&] { return desk_->tray.is_loaded() && at_rest(); }));
    key("Alt+3");
    ASSERT_TRUE(text());
    EXPECT_EQ(all(), said);
    EXPECT_EQ(text()->text.paragraphs[parties].language, "deu");
    const std::string pdf = saved_words();
    EXPECT_NE(pdf.find("Parties."), std::string::npos);
    EXPECT_EQ(pdf.find("Page 1 of"), std::string::npos);
    // Each a step of its own.
    for (const char* step : {"read paragraph again", "correct a word", "move paragraph", "say what it is", "leave out",
                             "move paragraph"}) {
        EXPECT_EQ(desk_->tray.undo_name(), step);
        key("Ctrl+Z");
    }
    EXPECT_EQ(begins(last), "Page");
    EXPECT_TRUE(says("Page 1 of"));
}

TEST_F(TextWindow, CorrectionsStayThroughTurnsCutsAndTonesAndAreNotGivenUpUnasked) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}, {"Tenant", "Tcnant"}, {"Upkeep.", "Upkecp."}});
    tap(Qt::Key_Tab);
    for (const char* is : {"Parties.", "Tenant", "Upkeep."}) {
        type(is);
        tap(Qt::Key_Return);
    }
    const std::string corrected = all();
    key("]");
    ASSERT_TRUE(text());
    EXPECT_EQ(all(), corrected);
    EXPECT_EQ(text()->text.layer.turned_degrees, 90);
    press_word("Upkeep.");
    EXPECT_TRUE(page().rect().contains(slip().geometry()));
    key("Esc");
    key("[");
    Recipe recipe = desk_->tray.tray().documents[0]->pages[0]->recipe;
    recipe.adjust.contrast = 30;
    desk_->edits.set_recipe(page_id(0, 0), recipe, "contrast");
    ASSERT_TRUE(wait([&] { return text() && at_rest(); }));
    EXPECT_EQ(all(), corrected);
    ASSERT_TRUE(recipe.crop);
    recipe.crop->height = 100;
    desk_->edits.set_recipe(page_id(0, 0), recipe, "crop");
    ASSERT_TRUE(wait([&] { return text() && at_rest(); }));
    EXPECT_TRUE(says("Parties."));
    EXPECT_FALSE(says("Upkeep."));
    key("Ctrl+Z");
    EXPECT_EQ(all(), corrected) << "with what was cut off";
    // In another language: it is asked first.
    press("read-again");
    press_row("German");
    QApplication::processEvents();
    ASSERT_TRUE(part<PhraseSheet>("corrections-sheet"));
    EXPECT_TRUE(desk_->tray.tray().documents[0]->pages[0]->text.languages.empty()) << "not before it was answered";
    press_row("keep that");
    ASSERT_TRUE(wait([&] { return text() && text()->text.layer.language == "deu" && at_rest(); }));
    EXPECT_TRUE(says("1. Parties."));
    EXPECT_TRUE(says("7. Upkeep."));
    press("read-again");
    press_row("as the ticket says");
    press_row("give it up");
    ASSERT_TRUE(wait([&] { return text() && at_rest(); }));
    EXPECT_TRUE(says("Panies."));
    key("Ctrl+Z");
    EXPECT_TRUE(says("Parties."));
    key("Ctrl+Z");
    EXPECT_EQ(all(), corrected);
}

TEST_F(TextWindow, WordsAreFoundInTheWholeDocument) {
    scan(3);
    key("Ctrl+Shift+F");
    auto* words = part<QLineEdit>("find-entry");
    ASSERT_EQ(focus(), words);
    const auto found = [&] { return part<QLabel>("found")->text(); };
    type("TANNER row");
    ASSERT_TRUE(wait([&] { return found() == "1 of 3 places"; }));
    EXPECT_EQ(desk_->words.found().size(), 1U);
    EXPECT_EQ(desk_->words.copied(), "Tanner Row,");
    tap(Qt::Key_Return);
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 1));
    EXPECT_EQ(found(), "2 of 3 places");
    tap(Qt::Key_Return, Qt::ShiftModifier);
    tap(Qt::Key_Return, Qt::ShiftModifier);
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 2));
    type(" x");
    ASSERT_TRUE(wait([&] { return found() == "not in this document"; }));
    key("Esc");
    EXPECT_FALSE(words->isVisible());
    EXPECT_TRUE(desk_->words.found().empty());
    EXPECT_EQ(folded("Éſ Ärger"), folded("es ARGER"));
}

TEST_F(TextWindow, ItIsReadAloudFromTheChosenWordOn) {
    scan(2);
    desk_->texts.leave_out(page_id(0, 0), text()->words[find("Page")].paragraph, true);
    press_word("Upkeep.");
    press("read-aloud");
    ASSERT_EQ(voice_->said, QStringList{"Upkeep. (eng)"});
    EXPECT_EQ(desk_->words.spoken()->first, find("Upkeep."));
    emit voice_->ended();
    EXPECT_TRUE(voice_->said.back().startsWith("The Tenant keeps the mooring tidy")) << qPrintable(voice_->said.back());
    EXPECT_EQ(part<QPushButton>("read-aloud")->text(), "stop reading aloud");
    emit voice_->ended(); // what is left out is passed over: the next page
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 1));
    EXPECT_TRUE(voice_->speaks);
    EXPECT_FALSE(voice_->said.back().contains("Page"));
    key("Esc");
    EXPECT_FALSE(voice_->speaks);
    EXPECT_FALSE(desk_->words.spoken());
    press("read-aloud");
    EXPECT_TRUE(voice_->speaks);
    desk_->choice.set_current(page_id(0, 0));
    EXPECT_FALSE(voice_->speaks) << "another page was chosen";
}

TEST_F(TextWindow, WhereThereIsNoTextItSaysWhyAndHelps) {
    start();
    key("Alt+3");
    scan_quickly("lease-1");
    EXPECT_FALSE(text());
    window_->grab(); // where the link is
    const auto press_link = [&] {
        const QRect view = column().viewport()->rect();
        QTest::mouseClick(column().viewport(), Qt::LeftButton, {},
                          QPoint(view.center().x(), int(view.height() * 0.4) + 20));
    };
    key("Alt+3");
    window_->grab();
    press_link();
    EXPECT_EQ(desk_->tray.tray().documents[0]->pages[0]->text.languages, std::vector<std::string>{"auto"});
    ASSERT_TRUE(wait([&] { return text() && at_rest(); }));
    EXPECT_TRUE(desk_->tickets.ticket().read.languages.empty()) << "the ticket reads nothing else for that";
}

TEST_F(TextWindow, ItHasItsRoomInASmallWindowAndIsReachedFromWhatIsNoticed) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}});
    EXPECT_GE(page().sheet_rect().width(), 440) << "at 1280 x 800";
    key("Alt+2");
    EXPECT_TRUE(part<NoticedPanel>()->isVisible());
    press("action:put right");
    EXPECT_EQ(entry().text(), "Panies.");
    EXPECT_FALSE(part<NoticedPanel>()->isVisible());
    window_->resize(1024, 640);
    QApplication::processEvents();
    EXPECT_GE(page().sheet_rect().width(), 320);
    const QRect inside = window_->rect();
    for (const char* name : {"copy-all", "find", "read-aloud", "read-again", "zoom", "tab-text", "word-slip"}) {
        const auto* widget = part<QWidget>(name);
        EXPECT_TRUE(widget->isVisible() &&
                    inside.contains(QRect(widget->mapTo(window_.get(), QPoint()), widget->size())))
            << name;
    }
}

}
}
