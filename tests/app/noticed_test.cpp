// One click applies what Noticed proposes, and another one undoes it; corrections that the ticket asks for are applied
// to every page; and the screen shows what the file contains.
#include "app/models/tray/page_pictures.h"
#include "app/ticketbar/wording.h"
#include "app/window_fixture.h"
#include "core/developing/develop.h"
#include "core/output/document_writer.h"
#include "core/tray/originals.h"
#include "core/tray/rows.h"

#include <QCheckBox>

#include <opencv2/imgproc.hpp>

#include <random>

namespace yelvin::test {
namespace {

class NoticedTest : public Window {
  protected:
    void scan_paper(const std::string& paper, int dpi, const std::function<void(Ticket&)>& how = {}) {
        start();
        lay(paper, 0);
        choose([&](Ticket& t) {
            t.how.dpi = dpi;
            t.from.paper = "auto";
            t.read.languages.clear();
            if (how) how(t);
        });
        key("Ctrl+Return");
        ASSERT_TRUE(wait(
            [&] { return desk_->tray.tray().page_count() == 1 && at_rest() && desk_->choice.current()->noticed; }));
        QApplication::processEvents();
    }
    std::vector<std::string> seen() const {
        std::vector<std::string> out;
        for (const NoticeLine& line : notice_lines(desk_->for_window().for_page(), *desk_->choice.current()))
            out.push_back(line.seen.toStdString());
        return out;
    }
    const Adjust& adjust() const { return desk_->choice.current()->recipe.adjust; }
    // Returns the button of the line with these words.
    void act_on(const QString& seen) {
        QApplication::processEvents();
        for (auto* button : window_->noticed().findChildren<QPushButton*>()) {
            if (button->isVisible() && button->accessibleName().startsWith(seen + ":"))
                return QTest::mouseClick(button, Qt::LeftButton);
        }
        FAIL() << "no action on " << seen.toStdString() << "; there is: " << testing::PrintToString(this->seen());
    }
};

// A page whose picture is half destroyed in its file is added, reported, and still reported after a restart.
TEST_F(NoticedTest, AnIncompletePageIsReported) {
    const std::filesystem::path file = base_ / "half.pdf";
    const auto writer = new_document_writer(file, Format::Pdf, {});
    ASSERT_TRUE(writer->append(*encode_page(scan("lease-1", 0, 100, Ink::Colour), TextLayer{}, Format::Pdf, 85)));
    ASSERT_TRUE(writer->finish());
    std::string bytes = read_file(file);
    const size_t begin = bytes.find("\xff\xd8"), end = bytes.find("endstream", begin);
    ASSERT_LT(begin, end);
    for (size_t i = (begin + end) / 2; i < end - 200; ++i) bytes[i] = 0;
    write_file(file, bytes);
    start();
    choose([](Ticket& t) { t.read.languages.clear(); });
    desk_->files.add({QString::fromStdString(file.string())});
    ASSERT_TRUE(
        wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest() && desk_->choice.current()->noticed; }));
    EXPECT_TRUE(desk_->choice.current()->incomplete);
    EXPECT_NE(std::ranges::count(seen(), "Incomplete"), 0) << testing::PrintToString(seen());
    const Page& page = *desk_->choice.current();
    EXPECT_TRUE(page_from_json(page.id, page_json(page)).incomplete) << "and it is kept";
}

TEST_F(NoticedTest, EveryFaultOfThePunchedMinutesHasACorrectionAndItsUndo) {
    scan_paper("minutes-punched", 200, [](Ticket& t) { t.from.paper = "A4"; });
    EXPECT_EQ(adjust(), Adjust{}) << "nothing of it is done unasked";
    const std::pair<const char*, double Adjust::*> lines[] = {{"2 punch holes", &Adjust::punch_holes},
                                                              {"Shadow along the left edge", &Adjust::edge_shadow},
                                                              {"Print shines through", &Adjust::paper_white},
                                                              {"Faint print", &Adjust::fading}};
    for (const auto& [line, value] : lines) {
        act_on(line);
        EXPECT_GT(adjust().*value, 0) << line;
        act_on(line);
        EXPECT_EQ(adjust(), Adjust{}) << line;
    }
    act_on("Faint print");
    act_on("2 punch holes");
    press("as-scanned");
    EXPECT_EQ(desk_->choice.current()->recipe, Recipe{});
    key("Ctrl+Z");
    EXPECT_GT(adjust().punch_holes, 0);
    EXPECT_GT(adjust().fading, 0);
}

// The lines of the column were built before the brightness changed.
TEST_F(NoticedTest, AnActionChangesTheCurrentRecipe) {
    for (const char* paper : {"minutes-punched", "till-receipt", "photo-lock-keeper", "towpath-form"}) {
        scan_paper(paper, 150);
        window_.reset(); // each paper in a tray of its own
        desk_.reset();
        start();
        const QString id = desk_->choice.current_id();
        const auto lines = notice_lines(desk_->for_window().for_page(), *desk_->choice.current());
        int acted = 0;
        for (const NoticeLine& line : lines) {
            if (!line.act || line.action == "scan again") continue;
            SCOPED_TRACE(std::string(paper) + ": " + line.seen.toStdString());
            Recipe brighter = desk_->choice.current()->recipe;
            brighter.adjust.brightness = 20;
            desk_->edits.set_recipe(id, brighter, "brightness");
            line.act();
            EXPECT_NE(desk_->choice.current()->recipe, brighter);
            EXPECT_EQ(adjust().brightness, 20);
            key("Ctrl+Z");
            key("Ctrl+Z");
            ++acted;
        }
        EXPECT_GT(acted, 0) << paper;
        desk_->choice.choose_all();
        desk_->edits.remove();
    }
}

TEST_F(NoticedTest, RedEyesAreFoundDarkenedAndMarked) {
    scan_paper("photo-lock-keeper", 300);
    ASSERT_EQ(desk_->choice.current()->notices.red_eyes.size(), 2U);
    act_on("2 red eyes");
    EXPECT_EQ(adjust().eyes.size(), 2U);
    auto& view = window_->page_view();
    ASSERT_TRUE(wait([&] { return view.is_sharp(); }));
    // The marks on the page are where the eyes are: a click on one removes it, a click beside it adds one.
    const Original& o = desk_->choice.current()->original;
    const cv::Matx33d back = page_to_original(desk_->choice.current()->recipe, {o.width_px, o.height_px}, o.dpi).inv();
    const Spot eye = adjust().eyes[0];
    const cv::Vec3d at = back * cv::Vec3d(mm_to_px(eye.x_mm, o.dpi), mm_to_px(eye.y_mm, o.dpi), 1);
    const QPointF on_screen = view.to_screen({px_to_mm(at[0], o.dpi), px_to_mm(at[1], o.dpi)});
    EXPECT_LT(view.colour_at(on_screen).red(), 110) << "dark, no longer red";
    window_->noticed().adjust().open_fold(2, true);
    press("point-eyes");
    QTest::mouseClick(&view, Qt::LeftButton, {}, on_screen.toPoint());
    EXPECT_EQ(adjust().eyes.size(), 1U);
    drag(&view, on_screen, on_screen + QPointF(12, 0));
    ASSERT_EQ(adjust().eyes.size(), 2U);
    key("Esc");
    EXPECT_EQ(view.tool(), PageTool::None);
    act_on("2 red eyes");
    EXPECT_EQ(adjust(), Adjust{});
}

TEST_F(NoticedTest, CorrectionsOfTheTicketAreAppliedToEveryPage) {
    start();
    window_->ticket_bar().open_phrase("pages");
    QApplication::processEvents();
    QWidget* sheet = QApplication::activePopupWidget();
    ASSERT_TRUE(sheet);
    for (auto* box : sheet->findChildren<QCheckBox*>()) {
        if (box->text() == "fill punch holes" || box->text() == "lift shadows at edges" ||
            box->text() == "darken red eyes")
            box->click();
    }
    sheet->close();
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    EXPECT_EQ(desk_->tickets.ticket().pages.adjust.punch_holes, 1);
    bool said = false;
    for (const Phrase& phrase : wording::phrases(desk_->for_window().for_ticket()))
        said = said || phrase.words.contains("lift shadows, fill punch holes, darken red eyes");
    EXPECT_TRUE(said);
    const Ticket wanted = desk_->tickets.ticket();
    scan_paper("minutes-punched", 150, [&](Ticket& t) {
        t.pages.adjust = wanted.pages.adjust;
        t.from.paper = "A4";
    });
    EXPECT_EQ(adjust().punch_holes, 1);
    EXPECT_EQ(adjust().edge_shadow, 1);
    EXPECT_EQ(adjust().red_eyes, 0) << "there are none on this page";
}

cv::Mat brought_to(const Raster& whole, double scale) {
    cv::Mat out;
    cv::resize(whole.pixels, out,
               {static_cast<int>(std::lround(whole.width_px() * scale)),
                static_cast<int>(std::lround(whole.height_px() * scale))},
               0, 0, cv::INTER_AREA);
    return out;
}

// Coarse copies of an original are grey. For a black and white page they would show tones that the page never has,
// specks that the file does not have, and lines that are thicker or thinner than in the file.
class BlackPage : public testing::TestWithParam<const char*> {
  protected:
    static Raster original() {
        const std::string which = GetParam();
        Raster out = scan("invoice", 1.3, 300, which == "made black" ? Ink::Grey : Ink::Black);
        if (which == "large") {
            const cv::Mat part = out.pixels(cv::Rect(300, 200, 2034, 900));
            cv::Mat large;
            cv::resize(part, large, {}, 3, 3, cv::INTER_NEAREST);
            out.pixels = large;
            out.dpi = 900;
        }
        std::mt19937 random(4);
        for (int i = 0; i < 600; ++i)
            out.pixels.at<uchar>(static_cast<int>(random() % static_cast<unsigned>(out.height_px())),
                                 static_cast<int>(random() % static_cast<unsigned>(out.width_px()))) = 0;
        return out;
    }
};

TEST_P(BlackPage, LooksLikeItsFileAtEveryScale) {
    const TempFolder folder;
    const Raster page = original();
    const Original kept = *keep_original(folder.path(), page);
    ASSERT_EQ(is_large(kept), std::string(GetParam()) == "large");
    PagePictures pictures(folder.path(), [](const Task& task) { task(); });
    Recipe plain, toned, corrected;
    plain.ink = toned.ink = corrected.ink = Ink::Black;
    toned.adjust.brightness = 30;
    corrected.tilt_degrees = 1.3;
    corrected.adjust.contrast = 60;
    corrected.adjust.paper_white = 50;
    corrected.adjust.specks_mm = 0.3;
    for (const Recipe& recipe : {plain, toned, corrected}) {
        const Raster whole = develop(page, recipe);
        ASSERT_EQ(whole.ink, Ink::Black);
        for (const double scale : {1.0, 0.7, 0.5, 0.31, 0.125}) {
            const cv::Mat expected = brought_to(whole, scale);
            const auto seen = pictures.picture_of({"page", kept, recipe, scale, cv::Rect({}, expected.size())});
            ASSERT_TRUE(seen);
            ASSERT_EQ(seen->pixels.size(), expected.size());
            EXPECT_NEAR(cv::mean(seen->pixels)[0], cv::mean(expected)[0], 0.05) << scale;
            const cv::Rect part(expected.cols / 3, expected.rows / 4, expected.cols / 2, expected.rows / 3);
            const auto some = pictures.picture_of({"page", kept, recipe, scale, part});
            ASSERT_TRUE(some);
            cv::Mat off;
            cv::absdiff(some->pixels, expected(part), off);
            EXPECT_LT(cv::mean(off)[0], 0.6) << scale; // its halves are rounded twice
        }
        // A correction that is being tried is computed from a coarse copy if that is quicker; its size is the same.
        const cv::Size small = brought_to(whole, 0.31).size();
        const auto quick = pictures.picture_of({"page", kept, recipe, 0.31, cv::Rect({}, small), true});
        ASSERT_TRUE(quick && quick->pixels.size() == small);
        EXPECT_NEAR(cv::mean(quick->pixels)[0], cv::mean(whole.pixels)[0], 3);
        const auto pixels = pictures.picture_of({"page", kept, recipe, 1, {100, 100, 800, 900}});
        EXPECT_EQ(cv::norm(pixels->pixels, whole.pixels(cv::Rect(100, 100, 800, 900)), cv::NORM_INF), 0);
    }
}
INSTANTIATE_TEST_SUITE_P(PagePicturesTest, BlackPage, testing::Values("black", "large", "made black"),
                         [](const auto& info) {
                             std::string name = info.param;
                             std::ranges::replace(name, ' ', '_');
                             return name;
                         });

// A large page is shown from coarse copies that average whole blocks of pixels, or from the file on disk. A point of
// the page must stay at the same place on screen whichever of them is shown, and wherever the visible part begins.
TEST(PagePicturesTest, ALargePageDoesNotMoveBetweenScales) {
    const TempFolder folder;
    constexpr int part_px = 401; // so that all is whole at scales of so many parts
    Raster original{noisy(15 * part_px, 4 * part_px, CV_8UC1, 8), 1200, Ink::Grey};
    cv::GaussianBlur(original.pixels, original.pixels, {0, 0}, 9);
    cv::normalize(original.pixels, original.pixels, 0, 255, cv::NORM_MINMAX);
    const Original kept = *keep_original(folder.path(), original);
    PagePictures pictures(folder.path(), [](const Task& task) { task(); });
    for (const int parts : {24, 48, 96, 104, 180, 205, part_px}) {
        const double scale = static_cast<double>(parts) / part_px;
        const cv::Mat expected = brought_to(original, scale);
        for (const int from : {0, 3, 6}) {
            const int width = expected.cols / 4;
            const cv::Rect part(expected.cols - width - from, expected.rows / 3 + from, width, expected.rows / 2);
            const auto seen = pictures.picture_of({"page", kept, {}, scale, part});
            ASSERT_TRUE(seen);
            ASSERT_EQ(seen->pixels.size(), part.size());
            // The shift by least squares, in each direction (B. Lucas and T. Kanade, 1981, one step).
            cv::Mat off, across, down;
            cv::subtract(seen->pixels, expected(part), off, cv::noArray(), CV_32F);
            cv::Sobel(expected(part), across, CV_32F, 1, 0, 3, 1.0 / 8);
            cv::Sobel(expected(part), down, CV_32F, 0, 1, 3, 1.0 / 8);
            const cv::Point2d moved(off.dot(across) / across.dot(across), off.dot(down) / down.dot(down));
            EXPECT_LT(std::hypot(moved.x, moved.y), 0.1) << scale << " " << from << moved;
        }
    }
    // Panning back and forth reads no part twice: a part that was shown is available without its file.
    for (const int top : {0, 300, 600}) ASSERT_TRUE(pictures.picture_of({"page", kept, {}, 1, {900, top, 700, 500}}));
    std::filesystem::remove(folder / kept.file);
    for (const int top : {550, 20, 310}) {
        const auto seen = pictures.picture_of({"page", kept, {}, 1, {700, top, 700, 500}});
        ASSERT_TRUE(seen) << top;
        EXPECT_EQ(cv::norm(seen->pixels, original.pixels(cv::Rect(700, top, 700, 500)), cv::NORM_INF), 0) << top;
    }
}

// Compares parts at every scale with the whole page, developed and scaled.
TEST(PagePicturesTest, APartLooksLikeThatPartOfTheWholePageAtAnyScale) {
    const TempFolder folder;
    const Raster original = scan("invoice", 1.3, 200, Ink::Colour);
    const Original kept = *keep_original(folder.path(), original);
    PagePictures pictures(folder.path(), [](const Task& task) { task(); });
    Recipe recipe;
    recipe.tilt_degrees = 1.3;
    recipe.turn_degrees = 90;
    recipe.adjust.contrast = 30;
    recipe.adjust.fading = 60;
    const Raster whole = develop(original, recipe);
    for (const double scale : {1.0, 0.5, 0.31, 0.12}) {
        const cv::Mat expected = brought_to(whole, scale);
        const cv::Rect part(expected.cols / 5, expected.rows / 4, expected.cols / 2, expected.rows / 3);
        const auto seen = pictures.picture_of({"page", kept, recipe, scale, part});
        ASSERT_TRUE(seen);
        ASSERT_EQ(seen->pixels.size(), part.size());
        cv::Mat off;
        cv::absdiff(seen->pixels, expected(part), off);
        EXPECT_LT(cv::mean(off)[0], scale == 1 ? 0.2 : 4) << scale;
    }
    const auto beyond = pictures.picture_of({"page", kept, recipe, 1, {99999, 0, 10, 10}});
    EXPECT_TRUE(!beyond || beyond->empty());
    std::filesystem::remove(folder / kept.file);
    EXPECT_TRUE(pictures.picture_of({"page", kept, {}, 1, {0, 0, 10, 10}})) << "still in memory";
    PagePictures fresh(folder.path(), [](const Task& task) { task(); });
    const auto gone = fresh.picture_of({"page", kept, {}, 1, {0, 0, 10, 10}});
    ASSERT_FALSE(gone);
    EXPECT_NE(gone.error().sentence.find(kept.file), std::string::npos);
}

}
}
