// The text of pages is read in the background: it can be stopped and continued, follows changes of the page, is stored
// over a restart, and is never read twice.
#include "app/window_fixture.h"

#include <cairo-pdf.h>

namespace yelvin::test {
namespace {

void write_drawn_pdf(const std::string& file) {
    cairo_surface_t* surface = cairo_pdf_surface_create(file.c_str(), 420, 595);
    cairo_t* cairo = cairo_create(surface);
    cairo_select_font_face(cairo, "Liberation Serif", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cairo, 12);
    for (int line = 0; line < 6; ++line) {
        cairo_move_to(cairo, 60, 80 + 40 * line);
        cairo_show_text(cairo, "the boats of the basin are in the lock");
    }
    cairo_show_page(cairo);
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
}

class ReadingWindow : public Window {
  protected:
    int read_ = 0; // new readings, copies of them too

    void begin() {
        start();
        QObject::connect(&desk_->tray, &OutTray::text_kept, [this] { ++read_; });
    }
    // Scans leases from the feeder; the first of them is shown.
    void scan(int sheets) {
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
        ASSERT_TRUE(wait(
            [&] { return desk_->tray.tray().page_count() == static_cast<size_t>(sheets) && !desk_->run.passing(); }));
    }
    std::optional<TextLayer> text(size_t page) const {
        return desk_->tray.text_of(*desk_->tray.tray().documents.at(0)->pages.at(page), "eng");
    }
    QPushButton* link() const { return part<QPushButton>("reading"); }
};

TEST_F(ReadingWindow, ReadingCanBeStoppedContinuedAndResumedAfterARestart) {
    begin();
    scan(4);
    ASSERT_TRUE(wait([&] { return link()->isVisible() && link()->text().contains("stop"); }));
    press("reading");
    ASSERT_TRUE(desk_->reading.is_stopped());
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    const int left = desk_->reading.left();
    ASSERT_GE(left, 2);
    EXPECT_EQ(link()->text(), left == 1 ? "read 1 more page" : QString("read %1 more pages").arg(left));
    EXPECT_EQ(read_, 4 - left);
    // After a restart.
    begin();
    ASSERT_TRUE(wait([&] { return read_ == 4 && at_rest(); }));
    EXPECT_FALSE(link()->isVisible());
    for (size_t page = 0; page < 4; ++page) {
        const auto layer = text(page);
        ASSERT_TRUE(layer) << page;
        EXPECT_NE(layer->text().find("mooring"), std::string::npos);
    }
}

TEST_F(ReadingWindow, ThePageInViewIsReadFirst) {
    begin();
    scan(6);
    ASSERT_TRUE(wait([&] { return link()->isVisible(); }));
    press("reading");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    ASSERT_FALSE(text(5)) << "the last would not have been read yet";
    const int before = read_;
    desk_->choice.set_current(page_id(0, 5));
    press("reading");
    ASSERT_TRUE(wait([&] { return text(5).has_value(); }));
    EXPECT_LE(read_, before + 2) << "it came first, beside one other at most";
}

TEST_F(ReadingWindow, TextMovesWithItsPageAndNoPageIsReadTwice) {
    begin();
    scan(2);
    ASSERT_TRUE(wait([&] { return read_ == 2 && at_rest(); }));
    const auto upright = text(0);
    ASSERT_TRUE(upright);
    const ReadAs how = read_as({}, *upright);
    EXPECT_TRUE(how.surely) << how.doubtful << " of " << how.words;
    desk_->choice.set_current(page_id(0, 0));
    key("]");
    const auto turned = text(0);
    ASSERT_TRUE(turned) << "at once";
    EXPECT_EQ(turned->turned_degrees, 90);
    EXPECT_EQ(turned->word_count(), upright->word_count());
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    key("Ctrl+Z");
    EXPECT_EQ(text(0), upright);
    desk_->edits.duplicate();
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    ASSERT_EQ(shape(), "3");
    ASSERT_TRUE(text(1));
    EXPECT_EQ(text(1)->text(), upright->text()) << "the copy has it from the page it was made of";
    EXPECT_EQ(read_, 3);
    // A part of the page has the words in that part and no others.
    Recipe part = desk_->tray.tray().documents[0]->pages[0]->recipe;
    ASSERT_TRUE(part.crop);
    part.crop->height = 120;
    desk_->edits.set_recipe(page_id(0, 0), part, "crop");
    ASSERT_TRUE(text(0));
    EXPECT_LT(text(0)->word_count(), upright->word_count() * 2 / 3);
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    press("save");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_EQ(read_, 3) << "saving reads nothing again";
    const std::string words = text_of_pdf(saved_.front().toStdString());
    EXPECT_NE(words.find("mooring"), std::string::npos);
}

TEST_F(ReadingWindow, SavingTakesOverRunningReadings) {
    begin();
    scan(3);
    ASSERT_TRUE(wait([&] { return desk_->reading.left() > 0; }));
    press("save");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_EQ(read_, 3) << "each page once";
    EXPECT_EQ(desk_->reading.left(), 0);
}

TEST_F(ReadingWindow, TheTextOfAPdfStaysUntilThePageIsReadAgain) {
    begin();
    scan(1);
    choose([](Ticket& t) { t.read.languages = {"eng"}; });
    ASSERT_TRUE(wait([&] { return at_rest() && text(0); }));
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    const std::string made = saved_.front().toStdString();
    const int before = read_;
    desk_->tray.set_next_page_starts_document(true);
    desk_->files.add({QString::fromStdString(made)});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && at_rest(); }));
    EXPECT_EQ(read_, before + 1) << "kept as it came";
    const auto own_page = [&] { return *desk_->tray.tray().documents.at(1)->pages.at(0); };
    EXPECT_EQ(own_page().text.languages, std::vector<std::string>{"own"});
    const auto own = desk_->tray.text_of(own_page(), "own");
    ASSERT_TRUE(own);
    EXPECT_EQ(own->lines.size(), text(0)->lines.size());
    EXPECT_EQ(own->word_count(), text(0)->word_count());
    EXPECT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(read_, before + 1) << "and read by nobody";
    // The text goes into the file although the ticket has no language, and follows the page.
    choose([](Ticket& t) { t.read.languages.clear(); });
    window_->look_at(MainWindow::Look::Page);
    desk_->choice.set_current(page_id(1, 0));
    saved_.clear();
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    EXPECT_EQ(words_of_pdf(saved_.front().toStdString()).size(), words_of_pdf(made).size());
    key("]");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(read_, before + 1);
    key("[");
    // Reads the page again in another language, by the engine.
    desk_->texts.read_again(page_id(1, 0), {"eng"}, PageTexts::Corrections::Keep);
    ASSERT_TRUE(wait([&] { return at_rest() && read_ == before + 2; }));
    EXPECT_TRUE(desk_->tray.text_of(own_page(), "eng"));
    EXPECT_EQ(own_page().text.languages, std::vector<std::string>{"eng"});
}

TEST_F(ReadingWindow, AVectorPageKeepsItsDrawingUntilItIsChanged) {
    begin();
    const std::string drawn = (base_ / "drawn.pdf").string();
    write_drawn_pdf(drawn);
    choose([](Ticket& t) {
        t.make.format = Format::Pdf;
        t.read.languages = {"eng"};
    });
    desk_->files.add({QString::fromStdString(drawn)});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    const auto fonts_of_saved = [&](const char* name) {
        desk_->edits.rename_document(QString::fromStdString(desk_->tray.tray().documents[0]->id), name);
        saved_.clear();
        key("Ctrl+S");
        EXPECT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
        EXPECT_EQ(words_of_pdf(saved_.front().toStdString()).size(), words_of_pdf(drawn).size());
        return run({"pdffonts", saved_.front().toStdString()}).out;
    };
    EXPECT_NE(fonts_of_saved("as it came").find("LiberationSerif"), std::string::npos);
    window_->look_at(MainWindow::Look::Page);
    key("]");
    const std::string turned = fonts_of_saved("turned");
    EXPECT_EQ(turned.find("LiberationSerif"), std::string::npos);
    EXPECT_NE(turned.find("YelvinText"), std::string::npos);
    // The drawing is deleted with its page.
    const auto drawings = [&] {
        int count = 0;
        for (const auto& each : std::filesystem::recursive_directory_iterator(base_.path()))
            count += each.path().extension() == ".drawing" ? 1 : 0;
        return count;
    };
    EXPECT_EQ(drawings(), 1);
}

}
}
