// Checking and correcting in the real window, as the user does it.
#include "app/window_fixture.h"
#include "core/developing/develop.h"
#include "core/tray/originals.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QSlider>

namespace yelvin::test {
namespace {

class Checking : public Window {
  protected:
    // Fills the tray with documents of as many scanned pages as `shape` says.
    void fill(const std::vector<size_t>& shape) {
        start();
        scan_quickly();
        size_t pages = 0;
        for (const size_t count : shape) pages += count;
        while (page_ids(desk_->tray.tray()).size() < pages) {
            const auto all = page_ids(desk_->tray.tray());
            const size_t more = std::min(all.size(), pages - all.size());
            desk_->choice.choose(PageIds(all.begin(), all.begin() + static_cast<ptrdiff_t>(more)));
            desk_->edits.duplicate();
        }
        const auto all = page_ids(desk_->tray.tray());
        size_t at = 0;
        for (const size_t count : shape) {
            if (at > 0) desk_->tray.edit(with_divider_at(desk_->tray.tray(), all[at]), "divider");
            at += count;
        }
        desk_->choice.set_current(QString::fromStdString(all.front()));
        QApplication::processEvents();
    }
    PageView& view() const { return *part<PageView>("page"); }
    bool sharp() const {
        return QTest::qWaitFor([&] { return view().is_sharp(); }, patience_ms);
    }
    QSlider& slider(const QString& key) const { return *part<QSlider>("adjust:" + key); }
    QPoint middle(const QString& id) const { return tray().page_rect(id).center(); }
    void click(const QString& id, Qt::KeyboardModifiers keys = {}) {
        QTest::mouseClick(&tray(), Qt::LeftButton, keys, middle(id));
    }
    const Recipe& recipe() const { return desk_->choice.current()->recipe; }
    double brightness_at(QPointF at) const { return view().colour_at(at).lightnessF(); }
};

TEST_F(Checking, OddPagesAreSelectedRemovedAndRestoredByUndo) {
    fill({5, 2});
    const auto before = page_ids(desk_->tray.tray());
    press("choose");
    auto* sheet = part<PhraseSheet>("choose-sheet");
    ASSERT_TRUE(sheet);
    for (auto* row : sheet->findChildren<SheetRow*>()) {
        if (row->text() == "odd pages") QTest::mouseClick(row, Qt::LeftButton);
    }
    EXPECT_EQ(desk_->choice.chosen().size(), 3U);
    key("Del");
    EXPECT_EQ(shape(), "2|2");
    EXPECT_EQ(page_id(0, 0).toStdString(), before[1]);
    EXPECT_EQ(desk_->tray.undo_name(), "remove 3 pages");
    key("Ctrl+Z");
    EXPECT_EQ(shape(), "5|2");
    EXPECT_EQ(page_ids(desk_->tray.tray()), before);
    key("Ctrl+Shift+Z");
    EXPECT_EQ(shape(), "2|2");
}

TEST_F(Checking, SelectedPagesAreDraggedTogetherToAnotherDocument) {
    fill({3, 2});
    const QString a = page_id(0, 0), b = page_id(0, 1), c = page_id(0, 2), d = page_id(1, 0), e = page_id(1, 1);
    click(a);
    click(c, Qt::ControlModifier);
    EXPECT_EQ(desk_->choice.chosen(), (PageIds{a.toStdString(), c.toStdString()}));
    drag(&tray(), middle(a), tray().page_rect(e).topLeft() + QPointF(-3, 40));
    EXPECT_EQ(shape(), "1|4");
    EXPECT_EQ(page_id(1, 0), d);
    EXPECT_EQ(page_id(1, 1), a);
    EXPECT_EQ(page_id(1, 2), c);
    // A click on one of several selected pages selects that page alone; Shift selects all pages between.
    click(a);
    EXPECT_EQ(desk_->choice.chosen().size(), 1U);
    click(b);
    click(c, Qt::ShiftModifier);
    EXPECT_EQ(desk_->choice.chosen().size(), 4U);
    key("Ctrl+I");
    EXPECT_EQ(desk_->choice.chosen(), PageIds{e.toStdString()});
    key("Alt+Left");
    EXPECT_EQ(page_id(1, 2), e);
}

TEST_F(Checking, ControlsDoNotMoveWhileAButtonIsPressed) {
    fill({3});
    desk_->room.set_tray_full(Room::Beside::Page, false);
    window_->look_at(MainWindow::Look::Glass);
    QApplication::processEvents();
    const QString second = page_id(0, 1);
    const int height = tray().height();
    const QPoint at = middle(second);
    QTest::mousePress(&tray(), Qt::LeftButton, {}, at);
    QApplication::processEvents();
    EXPECT_EQ(tray().height(), height);
    EXPECT_EQ(desk_->choice.current_id(), second);
    QMouseEvent hardly(QEvent::MouseMove, QPointF(at) + QPointF(2, 1), tray().mapToGlobal(QPointF(at) + QPointF(2, 1)),
                       Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(&tray(), &hardly);
    QTest::mouseRelease(&tray(), Qt::LeftButton, {}, at + QPoint(2, 1));
    EXPECT_EQ(shape(), "3") << "no drag";
    EXPECT_EQ(page_id(0, 1), second);
    ASSERT_TRUE(wait([&] { return tray().height() < height; })) << "then it is looked at, and the tray is slim";
}

TEST_F(Checking, ADividerIsAddedDraggedAndRemoved) {
    fill({4, 2});
    const QString second = QString::fromStdString(desk_->tray.tray().documents[1]->id);
    const QRect tab = tray().tab_rect(second);
    drag(&tray(), QPointF(tab.left() + 30, tab.center().y()),
         tray().page_rect(page_id(0, 2)).topLeft() + QPointF(-4, 20));
    EXPECT_EQ(shape(), "2|4");
    EXPECT_EQ(desk_->tray.undo_name(), "move divider");
    desk_->choice.set_current(page_id(1, 1));
    key("Ctrl+D");
    EXPECT_EQ(shape(), "2|1|3");
    key("Ctrl+D");
    EXPECT_EQ(shape(), "2|4");
    key("Ctrl+Z");
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_EQ(shape(), "4|2");
}

TEST_F(Checking, TheHistorySurvivesARestart) {
    fill({3});
    const auto before = page_ids(desk_->tray.tray());
    desk_->edits.turn(1);
    desk_->choice.choose_all();
    key("Del");
    EXPECT_TRUE(desk_->tray.tray().documents.empty());
    start();
    EXPECT_TRUE(desk_->tray.tray().documents.empty());
    EXPECT_EQ(desk_->tray.undo_name(), "remove 3 pages");
    key("Ctrl+Z");
    EXPECT_EQ(page_ids(desk_->tray.tray()), before);
    EXPECT_EQ(page_at(desk_->tray.tray(), before[0])->recipe.turn_degrees, 90);
    ASSERT_TRUE(wait([&] { return !desk_->pictures.thumbnail(QString::fromStdString(before[0])).isNull(); }));
    press("history");
    auto* sheet = part<PhraseSheet>("history-sheet");
    ASSERT_TRUE(sheet);
    QStringList rows;
    for (auto* row : sheet->findChildren<SheetRow*>()) rows.append(row->text());
    EXPECT_TRUE(rows.contains("redo: remove 3 pages")) << rows.join(", ").toStdString();
    EXPECT_TRUE(rows.contains("undo: turn page")) << rows.join(", ").toStdString();
    sheet->close();
}

TEST_F(Checking, ThePageIsCroppedByItsCornersAndByNumbers) {
    fill({1});
    const Raster original =
        *read_original(desk_->pictures.parts() ? std::filesystem::path(desk_->places.data.toStdString()) : "",
                       desk_->choice.current()->original);
    ASSERT_TRUE(sharp());
    view().setFocus();
    key("C");
    ASSERT_EQ(view().tool(), PageTool::Crop);
    ASSERT_TRUE(sharp());
    const SizeMm all = desk_->choice.current()->original.size_mm();
    drag(&view(), view().to_screen({0, 0}), view().to_screen({20, 30}));
    drag(&view(), view().to_screen({all.width, all.height}), view().to_screen({all.width - 15, all.height - 25}));
    ASSERT_TRUE(recipe().crop);
    const double pixel = 2 / view().sheet_rect().width() * all.width; // of the screen, in mm
    EXPECT_NEAR(recipe().crop->x, 20, pixel);
    EXPECT_NEAR(recipe().crop->y, 30, pixel);
    EXPECT_NEAR(recipe().crop->width, all.width - 35, 2 * pixel);
    EXPECT_NEAR(recipe().crop->height, all.height - 55, 2 * pixel);
    auto* width = part<QDoubleSpinBox>("crop:2");
    ASSERT_TRUE(width && width->isVisible());
    width->setFocus();
    width->selectAll();
    QTest::keyClicks(width, "40.5");
    QTest::keyClick(width, Qt::Key_Return);
    EXPECT_NEAR(recipe().crop->width, 40.5, 0.01);
    QTest::keyClick(width, Qt::Key_Delete);
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U) << "who types a number removes no page";
    view().setFocus();
    key("Esc");
    EXPECT_EQ(view().tool(), PageTool::None);
    ASSERT_TRUE(sharp());
    const SizePx size = developed_size(recipe(), {original.width_px(), original.height_px()}, original.dpi);
    EXPECT_NEAR(view().sheet_rect().width() / view().sheet_rect().height(),
                static_cast<double>(size.width) / size.height, 0.01);
    key("Ctrl+Z");
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_FALSE(recipe().crop);
}

TEST_F(Checking, HoldingBShowsThePageAsScannedUntilReleased) {
    fill({1});
    Recipe dark = recipe();
    dark.adjust.brightness = -80;
    desk_->edits.set_recipe(desk_->choice.current_id(), dark, "brightness");
    ASSERT_TRUE(sharp());
    const QPointF at = view().sheet_rect().topLeft() + QPointF(6, 6);
    const double darkened = brightness_at(at);
    QTest::keyPress(&view(), Qt::Key_B);
    EXPECT_TRUE(view().shows_original());
    ASSERT_TRUE(wait([&] { return view().is_sharp() && brightness_at(at) > darkened + 0.2; }));
    QTest::keyRelease(&view(), Qt::Key_B);
    ASSERT_TRUE(wait([&] { return view().is_sharp() && brightness_at(at) < darkened + 0.05; }));
}

TEST_F(Checking, ASliderIsPreviewedWhileDraggedAppliedOnReleaseAndResetByItsNumber) {
    fill({1});
    QSlider& slider = this->slider("contrast");
    const auto steps = [&] { return desk_->tray.undo_names(99).size(); };
    const auto before = steps();
    slider.setSliderDown(true);
    slider.setSliderPosition(30);
    slider.setSliderPosition(44);
    EXPECT_EQ(desk_->choice.shown_recipe().adjust.contrast, 44);
    EXPECT_EQ(recipe().adjust.contrast, 0) << "only tried";
    slider.setSliderDown(false);
    EXPECT_EQ(recipe().adjust.contrast, 44);
    EXPECT_EQ(steps(), before + 1) << "one drag is one step";
    // The screen shows what the file will contain.
    view().set_zoom(1);
    ASSERT_TRUE(sharp());
    const Raster page =
        develop(*read_original(desk_->places.data.toStdString(), desk_->choice.current()->original), recipe());
    const QPointF corner = view().sheet_rect().topLeft();
    for (const auto& [x, y] : {std::pair(20, 30), {90, 41}, {133, 77}, {60, 120}})
        EXPECT_NEAR(view().colour_at(corner + QPointF(x + 0.5, y + 0.5)).red(),
                    page.pixels.channels() == 3 ? page.pixels.at<cv::Vec3b>(y, x)[2] : page.pixels.at<uchar>(y, x), 1);
    key("Ctrl+Z");
    EXPECT_EQ(recipe().adjust.contrast, 0);
    EXPECT_EQ(slider.value(), 0);
}

TEST_F(Checking, CorrectionsAreCopiedToAllPagesAndToLaterOnes) {
    fill({2, 2});
    QSlider& slider = this->slider("brightness");
    slider.setFocus();
    QTest::keyClick(&slider, Qt::Key_Right);
    QTest::keyClick(&slider, Qt::Key_Right);
    EXPECT_EQ(recipe().adjust.brightness, 2);
    const auto choose_row = [&](const QString& words) {
        window_->activateWindow();
        press("do-the-same");
        auto* sheet = part<PhraseSheet>("same-sheet");
        ASSERT_TRUE(sheet);
        for (auto* row : sheet->findChildren<SheetRow*>()) {
            if (row->text() == words) return QTest::mouseClick(row, Qt::LeftButton);
        }
        FAIL() << "no row " << words.toStdString();
    };
    choose_row("all pages");
    for (const std::string& id : page_ids(desk_->tray.tray()))
        EXPECT_EQ(page_at(desk_->tray.tray(), id)->recipe.adjust.brightness, 2);
    choose_row("all later pages");
    window_->activateWindow();
    ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    scan_quickly();
    EXPECT_EQ(desk_->tickets.ticket().pages.adjust.brightness, 2);
    EXPECT_EQ(recipe().adjust.brightness, 2) << "the page that followed";
    key("Ctrl+Z"); // the scan
    key("Ctrl+Z"); // the same for all
    EXPECT_EQ(page_at(desk_->tray.tray(), page_id(1, 1).toStdString())->recipe.adjust.brightness, 0);
}

TEST_F(Checking, TheColourOfAFormIsPickedAndLeftOut) {
    start();
    lay("towpath-form", 0);
    choose([](Ticket& t) {
        t.how.dpi = 100;
        t.how.ink = Ink::Colour;
        t.from.paper = "A4";
        t.read.languages.clear();
    });
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    ASSERT_TRUE(sharp());
    const QPointF on_heading = view().to_screen({105, 12});
    const double before = brightness_at(on_heading);
    window_->noticed().adjust().open_fold(2, true);
    press("pick-colour");
    ASSERT_EQ(view().tool(), PageTool::PickColour);
    QTest::mouseClick(&view(), Qt::LeftButton, {}, on_heading.toPoint());
    ASSERT_TRUE(wait([&] { return recipe().adjust.drop_colour.has_value(); }));
    EXPECT_GT(recipe().adjust.drop_colour->green, recipe().adjust.drop_colour->red + 40);
    ASSERT_TRUE(wait([&] { return view().is_sharp() && brightness_at(on_heading) > before + 0.3; }));
}

TEST_F(Checking, ANewScanReplacesAPageOrIsAddedBeforeIt) {
    fill({3});
    const QString a = page_id(0, 0), b = page_id(0, 1), c = page_id(0, 2);
    desk_->choice.set_current(b);
    desk_->run.scan_at_current(Landing::How::Instead);
    ASSERT_TRUE(wait([&] { return at_rest() && page_id(0, 1) != b; }));
    EXPECT_EQ(shape(), "3");
    EXPECT_EQ(page_id(0, 0), a);
    EXPECT_EQ(page_id(0, 2), c);
    desk_->choice.set_current(a);
    desk_->run.scan_at_current(Landing::How::Before);
    ASSERT_TRUE(wait([&] { return at_rest() && desk_->tray.tray().page_count() == 4; }));
    EXPECT_EQ(page_id(0, 1), a);
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_EQ(page_id(0, 1), b);
}

TEST_F(Checking, BothSidesOfACardAreCombinedOnOnePage) {
    fill({2});
    const SizeMm side = desk_->choice.current()->original.size_mm();
    desk_->choice.choose_all();
    desk_->edits.join(Joined::Above);
    ASSERT_TRUE(wait([&] { return at_rest() && shape() == "1"; }));
    EXPECT_NEAR(desk_->choice.current()->original.size_mm().height, 2 * side.height, 0.5);
    key("Ctrl+Z");
    EXPECT_EQ(shape(), "2");
}

TEST_F(Checking, ALargePageIsShownFromItsCoarseCopyAndInDetailFromTheDisk) {
    start();
    // 7000 x 4000 pixels with a checkerboard of single pixels in the middle, which no coarse copy can show.
    Raster large{cv::Mat(4000, 7000, CV_8UC1, cv::Scalar(240)), 600, Ink::Grey};
    for (int y = 1800; y < 2200; ++y) {
        for (int x = 3300; x < 3700; ++x) large.pixels.at<uchar>(y, x) = (x + y) % 2 ? 255 : 0;
    }
    const auto png = encode_png(large);
    write_file(base_ / "plan.png", *png);
    choose([](Ticket& t) {
        t.pages.straighten = t.pages.turn_upright = false;
        t.read.languages.clear();
    });
    desk_->files.add({QString::fromStdString((base_ / "plan.png").string())});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    window_->look_at(MainWindow::Look::Page);
    EXPECT_TRUE(is_large(desk_->choice.current()->original));
    ASSERT_TRUE(sharp());
    EXPECT_NEAR(view().colour_at(view().sheet_rect().center()).red(), 128, 12) << "the mean of black and white";
    view().set_zoom(1);
    ASSERT_TRUE(sharp()) << trouble_.toStdString() << view().sheet_rect().x() << " " << view().sheet_rect().width()
                         << " " << view().width();
    const QPointF corner = view().sheet_rect().topLeft();
    for (const int x : {3400, 3401, 3402})
        EXPECT_EQ(view().colour_at(corner + QPointF(x + 0.5, 2000.5)).red(), x % 2 ? 255 : 0) << x;
    EXPECT_LT(desk_->pictures.parts()->bytes_held(), 28'000'000U) << "less than the picture itself";
}

TEST_F(Checking, TheLevelsOfThePageAreShownFromTheStart) {
    fill({1});
    window_.reset();
    desk_.reset();
    desk_ = std::make_unique<Desk>(demo::places(QString::fromStdString(base_.path().string())));
    window_ = std::make_unique<MainWindow>(desk_->for_window());
    const QSignalSpy counted(&desk_->pictures, &Pictures::levels_counted);
    window_->show();
    EXPECT_TRUE(wait([&] { return !counted.isEmpty(); }));
}

}
}
