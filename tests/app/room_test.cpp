// Room for the view: everything around it can be reduced, and stays as the user left it.
#include "app/window/tray_panel.h"
#include "app/window_fixture.h"

#include <QScrollArea>
#include <QScrollBar>

namespace yelvin::test {
namespace {

class RoomWindow : public Window {
  protected:
    RoomWindow() { tray_full_ = false; }

    // A4 at a low resolution: what matters is its size on the screen.
    void scan_sheet(const char* paper = "lease-1") {
        lay(paper, 0);
        choose([](Ticket& t) {
            t.how.dpi = 75;
            t.read.languages.clear();
            t.from.paper = "A4";
            t.pages.turn_upright = false;
            t.pages.straighten = false;
        });
        const size_t before = desk_->tray.tray().page_count();
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + 1 && at_rest(); }));
    }
    void size_to(int width, int height) {
        window_->resize(width, height);
        ASSERT_TRUE(wait([&] { return window_->size() == QSize(width, height); }));
        QApplication::processEvents();
    }
    double page_width() { return window_->page_view().sheet_rect().width(); }
    bool is_slim() const { return tray().is_slim(); }
    QWidget* side() const { return window_->findChild<NoticedPanel*>(); }
};

// The sentence of the everyday ticket with all of its words.
TEST_F(RoomWindow, ThePageHasMostOfTheWindow) {
    start();
    demo::set_up(*desk_, QString::fromStdString(base_.path().string()));
    scan_sheet();
    struct At {
        int width, height, least;
    };
    for (const At& at : {At{1280, 800, 460}, At{1024, 640, 330}, At{1920, 1080, 650}, At{2560, 1440, 900}}) {
        size_to(at.width, at.height);
        EXPECT_GE(page_width(), at.least) << at.width << " x " << at.height;
        const QRectF sheet = window_->page_view().sheet_rect();
        EXPECT_TRUE(QRectF(window_->page_view().rect()).contains(sheet)) << at.width;
    }
}

TEST_F(RoomWindow, RulersAndHandlesAreBesideThePage) {
    start();
    scan_sheet();
    auto& page = window_->page_view();
    page.use_tool(PageTool::Crop);
    page.show_rulers(true);
    EXPECT_TRUE(QRectF(page.rect()).adjusted(21, 21, -10, -10).contains(page.sheet_rect()));
    page.show_rulers(false);
    EXPECT_TRUE(QRectF(page.rect()).adjusted(10, 10, -10, -10).contains(page.sheet_rect()));
}

TEST_F(RoomWindow, EveryControlFitsInASmallWindow) {
    start();
    demo::set_up(*desk_, QString::fromStdString(base_.path().string()));
    scan_sheet();
    scan_sheet("lease-2");
    desk_->edits.divide();
    for (const bool full : {false, true}) {
        desk_->room.set_tray_full(Room::Beside::Page, full);
        size_to(1024, 640);
        int seen = 0;
        for (auto* button : window_->findChildren<QAbstractButton*>()) {
            if (!button->isVisible() || side()->isAncestorOf(button)) continue; // the side column scrolls
            const QRect at(button->mapTo(window_.get(), QPoint(0, 0)), button->size());
            EXPECT_TRUE(window_->rect().contains(at)) << qPrintable(button->objectName());
            EXPECT_GE(button->width(), std::min(button->sizeHint().width(), 84)) << qPrintable(button->objectName());
            ++seen;
        }
        EXPECT_GT(seen, 9);
    }
}

TEST_F(RoomWindow, TheTrayIsSlimBesideAPageAndKeepsItsHeight) {
    start();
    EXPECT_FALSE(is_slim()); // at the glass
    scan_sheet();
    EXPECT_TRUE(is_slim());
    const double roomy = page_width();
    key("F8");
    EXPECT_FALSE(is_slim());
    QApplication::processEvents();
    EXPECT_LT(page_width(), roomy - 60);
    start();
    ASSERT_TRUE(wait([&] { return !is_slim(); })); // left full beside the page
    key("F8");
    EXPECT_TRUE(is_slim());
    key("Alt+1");
    EXPECT_FALSE(is_slim());
    start();
    EXPECT_TRUE(is_slim());
}

TEST_F(RoomWindow, TheEdgeOfTheTrayIsDraggedAndDoubleClicked) {
    start();
    scan_sheet();
    auto* edge = part<QWidget>("tray-edge");
    const QPointF middle = QRectF(edge->rect()).center();
    QTest::mouseDClick(edge, Qt::LeftButton, {}, middle.toPoint());
    EXPECT_FALSE(is_slim());
    QApplication::processEvents();
    const int usual = tray().height();
    const auto drag_up = [&](int by) {
        const QPointF to = middle - QPointF(0, by);
        const QPointF on_screen = edge->mapToGlobal(to);
        QTest::mousePress(edge, Qt::LeftButton, {}, middle.toPoint());
        QMouseEvent move(QEvent::MouseMove, to, on_screen, Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(edge, &move);
        QTest::mouseRelease(edge, Qt::LeftButton, {}, middle.toPoint());
        QApplication::processEvents();
    };
    drag_up(60);
    EXPECT_EQ(tray().height(), usual + 60);
    const QString id = desk_->choice.current_id();
    EXPECT_GT(tray().page_rect(id).height(), 140); // its pages grow with it
    drag_up(-300);
    EXPECT_TRUE(is_slim());
    drag_up(40);
    EXPECT_TRUE(is_slim()); // not half way yet
    drag_up(100);
    EXPECT_FALSE(is_slim());
}

TEST_F(RoomWindow, ADocumentIsSelectedByItsTab) {
    start();
    scan_sheet();
    scan_sheet("lease-2");
    desk_->edits.divide();
    ASSERT_EQ(shape(), "1|1");
    ASSERT_TRUE(is_slim());
    QTest::mouseClick(&tray(), Qt::LeftButton, {},
                      tray().tab_rect(QString::fromStdString(desk_->tray.tray().documents[0]->id)).center());
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 0));
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().new_document_rect().center());
    EXPECT_TRUE(desk_->tray.next_page_starts_document());
}

TEST_F(RoomWindow, TheTabOfThePageInViewIsVisible) {
    start();
    scan_sheet();
    for (int i = 0; i < 5; ++i) {
        desk_->edits.duplicate();
        desk_->choice.set_current(page_id(desk_->tray.tray().documents.size() - 1, 1));
        desk_->edits.divide();
    }
    ASSERT_EQ(shape(), "1|1|1|1|1|1");
    const auto in_sight = [&](size_t document) {
        const QRect tab = tray().tab_rect(QString::fromStdString(desk_->tray.tray().documents[document]->id));
        return wait([&] { return tray().visibleRegion().boundingRect().contains(tab.center()); });
    };
    size_to(1024, 640);
    EXPECT_TRUE(in_sight(5));
    desk_->choice.set_current(page_id(0, 0));
    EXPECT_TRUE(in_sight(0));
    key("F8");
    desk_->choice.set_current(page_id(5, 0));
    key("F8");
    EXPECT_TRUE(in_sight(5));
}

// A divider is dragged between pages, so the pages become visible.
TEST_F(RoomWindow, TheTrayOpensWhileADividerIsDragged) {
    start();
    for (const char* paper : {"lease-1", "lease-2", "towpath-form"}) scan_sheet(paper);
    desk_->choice.set_current(page_id(0, 1));
    key("Ctrl+D");
    ASSERT_EQ(shape(), "1|2");
    ASSERT_TRUE(is_slim());
    const QPoint from =
        tray().tab_rect(QString::fromStdString(desk_->tray.tray().documents[1]->id)).topLeft() + QPoint(20, 12);
    QTest::mousePress(&tray(), Qt::LeftButton, {}, from);
    const auto move_to = [&](QPointF to) {
        QMouseEvent move(QEvent::MouseMove, to, tray().mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(&tray(), &move);
    };
    move_to(QPointF(from) + QPointF(30, 0));
    EXPECT_FALSE(is_slim());
    move_to(tray().page_rect(page_id(1, 1)).topLeft());
    QTest::mouseRelease(&tray(), Qt::LeftButton, {}, tray().page_rect(page_id(1, 1)).topLeft());
    EXPECT_EQ(shape(), "2|1");
    EXPECT_TRUE(is_slim());
}

TEST_F(RoomWindow, TheSideColumnIsHiddenByKeyAndMouse) {
    start();
    scan_sheet();
    const int narrow = window_->page_view().width();
    key("F7");
    EXPECT_FALSE(side()->isVisible());
    QApplication::processEvents();
    EXPECT_GT(window_->page_view().width(), narrow + 200);
    start();
    EXPECT_FALSE(side()->isVisible());
    QTest::mouseClick(part<QAbstractButton>("fold-side"), Qt::LeftButton);
    EXPECT_TRUE(side()->isVisible());
}

TEST_F(RoomWindow, OnlyTheViewIsShownAndEverythingAgain) {
    start();
    scan_sheet();
    key("F11");
    EXPECT_FALSE(window_->ticket_bar().isVisible());
    EXPECT_FALSE(tray().isVisible());
    EXPECT_FALSE(side()->isVisible());
    QApplication::processEvents();
    EXPECT_GE(window_->page_view().height(), 760);
    key("C"); // a tool is left first
    ASSERT_EQ(window_->page_view().tool(), PageTool::Crop);
    key("Esc");
    EXPECT_FALSE(tray().isVisible());
    key("Esc");
    EXPECT_TRUE(window_->ticket_bar().isVisible());
    EXPECT_TRUE(tray().isVisible());
    key("F11");
    start();
    EXPECT_FALSE(window_->ticket_bar().isVisible()); // as it was left
    press("bring-back");
    EXPECT_TRUE(window_->ticket_bar().isVisible());
    auto* head = part<QWidget>("head");
    const QPoint between(head->width() / 2, head->height() / 2); // the tabs and the facts
    QTest::mouseDClick(head, Qt::LeftButton, {}, between);
    EXPECT_FALSE(window_->ticket_bar().isVisible());
    QTest::mouseDClick(head, Qt::LeftButton, {}, between);
    EXPECT_TRUE(window_->ticket_bar().isVisible());
}

TEST_F(RoomWindow, TwoPagesAreShownSideBySideIfThereIsRoom) {
    start();
    for (const char* paper : {"lease-1", "lease-2", "towpath-form"}) scan_sheet(paper);
    desk_->choice.set_current(page_id(0, 1));
    auto& page = window_->page_view();
    size_to(1280, 800);
    EXPECT_TRUE(page.other_sheet_rect().isEmpty());
    size_to(1920, 1080);
    const QRectF own = page.sheet_rect(), other = page.other_sheet_rect();
    ASSERT_FALSE(other.isEmpty());
    EXPECT_NEAR(other.width(), own.width(), 1);
    EXPECT_LT(other.right(), own.left()); // the first page, left of the second
    QTest::mouseClick(&page, Qt::LeftButton, {}, other.center().toPoint());
    EXPECT_EQ(desk_->choice.current_id(), page_id(0, 0));
    EXPECT_EQ(page.sheet_rect(), other); // nothing moves
    EXPECT_EQ(page.other_sheet_rect(), own);
    // The white of a developed page, not that of a thumbnail.
    ASSERT_TRUE(wait([&] { return page.is_sharp(); }));
    desk_->choice.set_current(page_id(0, 2)); // the last of three has nobody beside it
    EXPECT_TRUE(page.other_sheet_rect().isEmpty());
    desk_->choice.set_current(page_id(0, 0));
    page.setFocus();
    QTest::keyClick(&page, Qt::Key_2);
    EXPECT_TRUE(page.other_sheet_rect().isEmpty());
}

TEST_F(RoomWindow, TheNameOfALongDocumentStaysVisible) {
    start();
    scan_sheet();
    for (int i = 0; i < 12; ++i) desk_->edits.duplicate();
    ASSERT_EQ(shape(), "13");
    desk_->room.set_tray_full(Room::Beside::Page, true);
    size_to(1024, 640);
    auto* scroll = qobject_cast<QScrollArea*>(tray().parentWidget()->parentWidget());
    ASSERT_NE(scroll, nullptr);
    const auto name_at_left = [&] {
        const QImage seen = scroll->viewport()->grab(QRect(0, 6, 120, 18)).toImage();
        int dark = 0;
        for (int y = 0; y < seen.height(); ++y)
            for (int x = 0; x < seen.width(); ++x) dark += qGray(seen.pixel(x, y)) < 110;
        return dark;
    };
    scroll->horizontalScrollBar()->setValue(0);
    const int before = name_at_left();
    EXPECT_GT(before, 60);
    scroll->horizontalScrollBar()->setValue(scroll->horizontalScrollBar()->maximum() / 2);
    ASSERT_GT(scroll->horizontalScrollBar()->value(), 100);
    EXPECT_EQ(name_at_left(), before);
}

TEST_F(RoomWindow, AddedFilesAreShown) {
    start();
    key("Alt+1");
    desk_->files.add({QString::fromStdString((base_.path() / "none.png").string())}); // nothing comes of it
    const Raster picture{cv::Mat(300, 200, CV_8UC1, cv::Scalar(200)), 75, Ink::Grey};
    const auto png = encode_png(picture);
    ASSERT_TRUE(png);
    QFile file(QString::fromStdString((base_.path() / "found.png").string()));
    ASSERT_TRUE(file.open(QIODevice::WriteOnly));
    file.write(QByteArray::fromStdString(*png));
    file.close();
    desk_->files.add({file.fileName()});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1; }));
    EXPECT_TRUE(window_->page_view().isVisible());
}

TEST_F(RoomWindow, ArrowKeysStayAmongTheTickets) {
    start();
    key("Ctrl+T");
    ASSERT_TRUE(wait([&] { return part<PhraseSheet>() != nullptr; }));
    auto* sheet = part<PhraseSheet>();
    const auto tickets = desk_->tickets.kept().tickets;
    ASSERT_GT(tickets.size(), 2U);
    for (size_t i = 0; i < tickets.size() + 6; ++i) QTest::keyClick(sheet->focusWidget(), Qt::Key_Down);
    EXPECT_EQ(sheet->focusWidget(), row_of(sheet, QString::fromStdString(tickets.back().ticket.name)));
    sheet->close();
}

}
}
