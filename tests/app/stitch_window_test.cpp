// Items larger than the glass, stitched in the window as the user would do it: an A3 sheet with two clicks, a map from
// nine pieces, a piece moved by hand.
#include "app/bench/papers.h"
#include "app/stitch/stitch_view.h"
#include "app/window_fixture.h"
#include "core/tray/originals.h"

namespace yelvin::test {
namespace {

class StitchWindow : public Window {
  protected:
    std::vector<LaidPaper> parts_;

    void lay_parts(const std::string& name, int dpi) {
        parts_ = parts_of(original(name).string(), desk_->scanners.capabilities().glass);
        BenchSetup bench;
        bench.glass = {parts_.front()};
        desk_->scanners.set_bench(bench);
        Ticket ticket = desk_->tickets.ticket();
        ticket.how.dpi = dpi;
        ticket.read.languages.clear();
        desk_->tickets.set(ticket);
    }
    Stitching& stitching() { return desk_->stitching; }
    bool settled() {
        return wait([this] { return at_rest() && !stitching().working() && !stitching().composing(); });
    }
    const Page& page() { return *desk_->choice.current(); }
    QString said() { return part<QLabel>("stitch-advice")->text(); }
    QStringList lines() {
        QApplication::processEvents(); // new lines are shown by events
        QStringList out;
        for (auto* label : window_->findChildren<QLabel*>("stitch-line"))
            if (label->isVisible()) out.append(label->property("plain").toString());
        return out;
    }
    // Scans all pieces of the map into the tray as pages.
    void scan_the_map(int dpi) {
        lay_parts("canal-map", dpi);
        press("tab-glass");
        press("scan-in-pieces");
        for (size_t i = 0; i < parts_.size(); ++i) {
            key("Ctrl+Return");
            ASSERT_TRUE(wait([&] { return stitching().pieces().size() == i + 1; }));
            ASSERT_TRUE(settled());
        }
    }
};

TEST_F(StitchWindow, AnA3SheetIsScannedOnAnA4GlassInTwoScans) {
    start();
    lay_parts("open-days-a3", 100);
    ASSERT_EQ(parts_.size(), 2U);
    Ticket ticket = desk_->tickets.ticket();
    ticket.from.paper = "A3";
    desk_->tickets.set(ticket);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([this] { return stitching().pieces().size() == 1; }));
    ASSERT_TRUE(settled());
    EXPECT_TRUE(said().contains("Move the paper so")) << qPrintable(said());
    key("Ctrl+Return");
    ASSERT_TRUE(wait([this] { return desk_->choice.current() && !page().pieces.empty(); })) << qPrintable(said());
    ASSERT_TRUE(settled());
    EXPECT_FALSE(stitching().is_open());
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
    EXPECT_EQ(page().pieces.size(), 2U);
    const SizeMm size = page().original.size_mm();
    EXPECT_NEAR(std::max(size.width, size.height), 420, 10);
    EXPECT_NEAR(std::min(size.width, size.height), 297, 10);
    // The pieces are stored with the page, over a restart too, and can become pages again.
    start();
    ASSERT_EQ(page().pieces.size(), 2U);
    desk_->edits.take_pieces_out(desk_->choice.current_id());
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    for (const std::string& id : page_ids(desk_->tray.tray()))
        EXPECT_TRUE(read_original(desk_->tray.store_folder(), page_at(desk_->tray.tray(), id)->original));
    key("Ctrl+Z");
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
}

TEST_F(StitchWindow, AMapIsScannedInNinePiecesCheckedAndStitched) {
    start();
    scan_the_map(75);
    ASSERT_EQ(stitching().pieces().size(), 9U);
    EXPECT_EQ(stitching().layout().placed(), 9U);
    EXPECT_TRUE(said().contains("fits")) << qPrintable(said());
    EXPECT_GE(lines().size(), 12);
    // Space walks along the seams until all are visited.
    ASSERT_TRUE(wait([this] { return !stitching().places().empty(); }));
    QSignalSpy seen(&stitching(), &Stitching::part_ready);
    window_->stitch_view().setFocus();
    QTest::keyClick(&window_->stitch_view(), Qt::Key_Space);
    EXPECT_EQ(stitching().place(), 0);
    ASSERT_TRUE(wait([&] { return !seen.isEmpty(); }));
    EXPECT_EQ(stitching().part().size(), window_->stitch_view().size());
    QTest::keyClick(&window_->stitch_view(), Qt::Key_Space);
    EXPECT_EQ(stitching().place(), 1);
    QTest::keyClick(&window_->stitch_view(), Qt::Key_Space, Qt::ShiftModifier);
    EXPECT_EQ(stitching().place(), 0);
    std::set<size_t> seams;
    for (const auto& place : stitching().places()) seams.insert(place.seam);
    EXPECT_GE(seams.size(), 8U) << "what holds nine pieces together";
    for (size_t i = 0; i < stitching().places().size(); ++i) QTest::keyClick(&window_->stitch_view(), Qt::Key_Space);
    EXPECT_EQ(stitching().place(), -1) << "behind the last place the pieces are seen again";
    QTest::keyClick(&window_->stitch_view(), Qt::Key_Return);
    ASSERT_TRUE(wait([this] { return desk_->choice.current() && page().pieces.size() == 9; }));
    ASSERT_TRUE(settled());
    EXPECT_EQ(desk_->tray.tray().page_count(), 1U);
    const SizeMm size = page().original.size_mm();
    EXPECT_NEAR(size.width, 420, 12);
    EXPECT_NEAR(size.height, 594, 12);
    press_notice("unstitch");
    EXPECT_EQ(desk_->tray.tray().page_count(), 9U);
    EXPECT_EQ(desk_->choice.chosen().size(), 9U);
}

TEST_F(StitchWindow, APieceThatDoesNotBelongIsReported) {
    start();
    lay_parts("canal-map", 75);
    press("tab-glass");
    press("scan-in-pieces");
    EXPECT_TRUE(said().contains("Lay one piece")) << qPrintable(said());
    key("Ctrl+Return");
    ASSERT_TRUE(wait([this] { return stitching().pieces().size() == 1; }));
    ASSERT_TRUE(settled());
    BenchSetup bench;
    bench.glass = {{original("invoice").string(), 105, 148.5, 0}};
    desk_->scanners.set_bench(bench);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([this] { return stitching().pieces().size() == 2; }));
    ASSERT_TRUE(settled());
    EXPECT_EQ(stitching().layout().placed(), 1U);
    EXPECT_TRUE(said().contains("no place")) << qPrintable(said());
    ASSERT_FALSE(lines().isEmpty());
    EXPECT_TRUE(lines().front().contains("left out")) << qPrintable(lines().front());
    EXPECT_FALSE(part<QPushButton>("stitch-make")->isEnabled());
    press("stitch-act"); // out of the picture; its page stays
    ASSERT_TRUE(settled());
    EXPECT_EQ(stitching().pieces().size(), 1U);
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
    key("Esc");
    EXPECT_FALSE(stitching().is_open());
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
}

TEST_F(StitchWindow, SelectedPagesAreStitchedAndADraggedPieceSnapsBack) {
    start();
    key("Ctrl+G");
    EXPECT_TRUE(part<QLabel>("news-words")->property("plain").toString().contains("Select the pages"));
    lay_parts("open-days-a3", 75);
    Ticket ticket = desk_->tickets.ticket();
    ticket.from.paper = "auto";
    ticket.from.frames = Frames::Whole;
    ticket.pages.straighten = ticket.pages.turn_upright = false;
    desk_->tickets.set(ticket);
    for (int i = 0; i < 2; ++i) {
        BenchSetup bench;
        bench.glass = {parts_[static_cast<size_t>(i)]};
        desk_->scanners.set_bench(bench);
        desk_->run.start();
        ASSERT_TRUE(wait([&] { return at_rest() && desk_->tray.tray().page_count() == static_cast<size_t>(i) + 1; }));
    }
    desk_->choice.choose_all();
    key("Ctrl+G");
    ASSERT_TRUE(settled());
    ASSERT_EQ(stitching().layout().placed(), 2U);
    const auto lies = [&] {
        const auto& pieces = stitching().layout().pieces;
        return pieces[0].pose.inverse() * pieces[1].pose;
    };
    const Pose right = lies();
    StitchView& view = window_->stitch_view();
    const QPoint middle = view.middle_of(1).toPoint();
    QTest::mousePress(&view, Qt::LeftButton, {}, middle);
    QTest::mouseMove(&view, middle + QPoint(5, 3));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, middle + QPoint(9, 6));
    ASSERT_TRUE(settled());
    EXPECT_EQ(stitching().chosen(), 1);
    const SizeMm size = stitching().pieces()[1].look->size;
    EXPECT_LT(corner_distance(lies(), right, size), 0.3) << "it clicked back";
    // Dragging the bar outside its upper edge turns the piece.
    const QPoint bar = view.bar_of(1).toPoint();
    QTest::mousePress(&view, Qt::LeftButton, {}, bar);
    QTest::mouseMove(&view, bar + QPoint(2, 0));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, bar + QPoint(3, 0));
    ASSERT_TRUE(settled());
    EXPECT_LT(corner_distance(lies(), right, size), 0.3);
    // A piece that is put far away stays there, and its seam is doubtful or gone.
    const QPoint again = view.middle_of(1).toPoint();
    QTest::mousePress(&view, Qt::LeftButton, {}, again);
    QTest::mouseMove(&view, again + QPoint(-60, 20));
    QTest::mouseRelease(&view, Qt::LeftButton, {}, again + QPoint(-80, 30));
    ASSERT_TRUE(settled());
    EXPECT_GT(corner_distance(lies(), right, size), 10);
    for (const Seam& seam : stitching().layout().seams) EXPECT_FALSE(seam.doubt.empty());
    press("stitch-leave");
    EXPECT_EQ(desk_->tray.tray().page_count(), 2U);
}

}
}
