// The Text view: changes of paragraphs and pages, what survives changes of the page, searching, reading aloud.
#include "app/text_window.h"

namespace yelvin::test {
namespace {

TEST_F(TextWindow, ChangesOfParagraphsSurviveARestart) {
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
    // Drags the number of the footer to that of the heading, so that the footer is read first.
    drag(&page(), number(last).center(), number(lease).center());
    EXPECT_EQ(begins(lease), "Page");
    EXPECT_EQ(begins(lease + 1), "Lease");
    // A click opens the choices for the paragraph.
    QTest::mouseClick(&page(), Qt::LeftButton, {}, number(lease).center().toPoint());
    press_row("leave out");
    EXPECT_FALSE(says("Page 1 of"));
    // With the keyboard, the heading becomes text and moves one place up.
    press_word("Lease");
    tap(Qt::Key_F10, Qt::ShiftModifier);
    press_row("text");
    EXPECT_EQ(text()->text.paragraphs[lease + 1].kind, ParagraphKind::Paragraph);
    press_word("Lease");
    tap(Qt::Key_Up, Qt::AltModifier);
    EXPECT_EQ(begins(lease), "Lease");
    EXPECT_EQ(entry().text(), "Lease") << "still the chosen word";
    // Reads one paragraph again in German.
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
    // After a restart.
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
    // Each change is an undo step.
    for (const char* step : {"read paragraph again", "correct word", "move paragraph", "set paragraph type",
                             "leave out paragraph", "move paragraph"}) {
        EXPECT_EQ(desk_->tray.undo_name(), step);
        key("Ctrl+Z");
    }
    EXPECT_EQ(begins(last), "Page");
    EXPECT_TRUE(says("Page 1 of"));
}

TEST_F(TextWindow, CorrectionsSurviveTurningCroppingAndTonesAndAreNotDiscardedWithoutAsking) {
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
    // Reading in another language: the user is asked first, because corrections exist.
    press("read-again");
    press_row("German");
    QApplication::processEvents();
    ASSERT_TRUE(part<PhraseSheet>("corrections-sheet"));
    EXPECT_TRUE(desk_->tray.tray().documents[0]->pages[0]->text.languages.empty()) << "not before it was answered";
    press_row("keep them");
    ASSERT_TRUE(wait([&] { return text() && text()->text.layer.language == "deu" && at_rest(); }));
    EXPECT_TRUE(says("1. Parties."));
    EXPECT_TRUE(says("7. Upkeep."));
    press("read-again");
    press_row("as in the ticket");
    press_row("discard them");
    ASSERT_TRUE(wait([&] { return text() && at_rest(); }));
    EXPECT_TRUE(says("Panies."));
    key("Ctrl+Z");
    EXPECT_TRUE(says("Parties."));
    key("Ctrl+Z");
    EXPECT_EQ(all(), corrected);
}

TEST_F(TextWindow, FindsTextInTheWholeDocument) {
    scan(3);
    key("Ctrl+Shift+F");
    auto* words = part<QLineEdit>("find-entry");
    ASSERT_EQ(focus(), words);
    const auto found = [&] { return part<QLabel>("found")->text(); };
    type("TANNER row");
    ASSERT_TRUE(wait([&] { return found() == "1 of 3 matches"; }));
    EXPECT_EQ(desk_->words.found().size(), 1U);
    EXPECT_EQ(desk_->words.copied(), "Tanner Row,");
    tap(Qt::Key_Return);
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 1));
    EXPECT_EQ(found(), "2 of 3 matches");
    tap(Qt::Key_Return, Qt::ShiftModifier);
    tap(Qt::Key_Return, Qt::ShiftModifier);
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 2));
    type(" x");
    ASSERT_TRUE(wait([&] { return found() == "no match"; }));
    key("Esc");
    EXPECT_FALSE(words->isVisible());
    EXPECT_TRUE(desk_->words.found().empty());
    EXPECT_EQ(folded("Éſ Ärger"), folded("es ARGER"));
}

TEST_F(TextWindow, ReadsAloudFromTheSelectedWord) {
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

TEST_F(TextWindow, SaysWhyAPageHasNoTextAndOffersHelp) {
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

TEST_F(TextWindow, FitsInASmallWindowAndOpensFromNoticed) {
    scan(1);
    plant(0, {{"Parties.", "Panies."}});
    EXPECT_GE(page().sheet_rect().width(), 440) << "at 1280 x 800";
    key("Alt+2");
    EXPECT_TRUE(part<NoticedPanel>()->isVisible());
    press_notice("check them");
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
