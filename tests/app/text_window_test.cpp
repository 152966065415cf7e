// The Text view: uncertain words are corrected, and words are selected on both sides and copied.
#include "app/text_window.h"

namespace yelvin::test {
namespace {

TEST_F(TextWindow, DoubtfulWordsAreCorrectedByKeyboard) {
    scan(2);
    plant(0, {{"Parties.", "Panies."}, {"towpath", "tovpath"}});
    plant(1, {{"Wharf", "Wharl"}, {"Rent.", "Rent."}});
    EXPECT_TRUE(part<QLabel>("head-facts")->text().contains("2 doubtful left, 4 in the document"))
        << qPrintable(part<QLabel>("head-facts")->text());
    // Tab goes to the first uncertain word and Enter to the next one; typing replaces the word.
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
    // Undoes one of them.
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_TRUE(says("Wharl House"));
    EXPECT_EQ(desk_->tray.undo_name(), "correct word");
    const std::string pdf = saved_words();
    EXPECT_NE(pdf.find("1. Parties."), std::string::npos);
    EXPECT_NE(pdf.find("the towpath side"), std::string::npos);
    EXPECT_NE(pdf.find("Wharl House"), std::string::npos);
    EXPECT_EQ(pdf.find("Panies"), std::string::npos);
    // A correction in a saved document is not in its file yet.
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

TEST_F(TextWindow, SeventeenDoubtfulWordsNeedFewKeys) {
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

TEST_F(TextWindow, TextTypedInTheSlipIsKeptOnLeavingAndDiscardedByEsc) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}, {"towpath", "tovpath"}});
    tap(Qt::Key_Tab);
    ASSERT_EQ(entry().text(), "Panies.");
    type("Parties.");
    tap(Qt::Key_Tab);
    EXPECT_EQ(entry().text(), "tovpath");
    EXPECT_TRUE(says("1. Parties."));
    type("tow path"); // two words now; the next one is still the next
    tap(Qt::Key_Down);
    EXPECT_EQ(entry().text(), "side");
    EXPECT_TRUE(says("the tow path side"));
    type("edge");
    press_word("Rent.");
    EXPECT_EQ(entry().text(), "Rent.");
    EXPECT_TRUE(says("the tow path edge"));
    type("Rant.");
    QTest::keyClick(&entry(), Qt::Key_Escape);
    EXPECT_EQ(entry().text(), "Rent.");
    tap(Qt::Key_Up);
    EXPECT_FALSE(says("Rant."));
    const QString before = entry().text();
    type("Xyzzy");
    key("Alt+2"); // another look
    EXPECT_TRUE(says("Xyzzy")) << qPrintable(before);
}

TEST_F(TextWindow, TheSlipDoesNotCoverItsWord) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}, {"towpath", "tovpath"}});
    // A click on a word of the page selects it on both sides.
    press_word("tovpath");
    EXPECT_EQ(entry().text(), "tovpath");
    EXPECT_TRUE(page().rect().contains(slip().geometry()));
    EXPECT_FALSE(QRectF(slip().geometry()).intersects(look().on_page().word_rect(find("tovpath"))));
    EXPECT_TRUE(column().viewport()->rect().contains(column().word_rect(find("tovpath")).toRect()));
    // Changes elsewhere do not touch what the user is typing.
    type("tow");
    desk_->names.forget();
    desk_->tray.set_next_page_starts_document(true);
    EXPECT_EQ(entry().text(), "tow");
    tap(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(entry().text(), "tovpath") << "what was typed goes first";
    EXPECT_TRUE(says("tovpath"));
    // Down goes to the next word, which is certain.
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
    // The same by a click in the text.
    QTest::mouseClick(column().viewport(), Qt::LeftButton, {}, column().word_rect(find("Rent.")).center().toPoint());
    EXPECT_EQ(entry().text(), "Rent.");
    // At the lower end of the page the entry is above its word.
    press_word("Page");
    EXPECT_TRUE(page().rect().contains(slip().geometry()));
    EXPECT_FALSE(QRectF(slip().geometry()).intersects(look().on_page().word_rect(find("Page"))));
}

TEST_F(TextWindow, TextIsCopiedAcrossColumnsInReadingOrder) {
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
    // Dragging from below selects the same words.
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
    // The same selection with the keyboard.
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
    EXPECT_TRUE(part<QLabel>("news-words")->text().contains("38 words were copied"))
        << qPrintable(part<QLabel>("news-words")->text());
}

}
}
