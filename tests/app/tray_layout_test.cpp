// The places of the out tray's documents and pages, without a window.
#include "app/tray/tray_layout.h"

#include "app/tray/tray_metrics.h"

#include <gtest/gtest.h>

namespace yelvin::test {
namespace {

// "a:pp-p" is a document of four pages, of which the third is left out; their ids are a1, a2, a3, a4.
TrayLayout::Document document(const QString& shape, int page_width = 60) {
    TrayLayout::Document out;
    out.id = out.title = shape.section(':', 0, 0);
    out.title_width = out.facts_width = 40;
    const QString pages = shape.section(':', 1);
    for (qsizetype i = 0; i < pages.size(); ++i)
        out.pages.append({out.id + QString::number(i + 1), pages[i] == '-' ? Dropped::Blank : Dropped::No, page_width});
    return out;
}

constexpr int high = 154;

TEST(TrayLayout, PagesAreSideBySideInTheirDocuments) {
    const TrayLayout layout({document("a:pp-p"), document("b:p")}, high, false);
    ASSERT_EQ(layout.documents().size(), 2);
    const auto &a = layout.documents()[0], &b = layout.documents()[1];
    EXPECT_EQ(a.boxes[1].number, 2);
    EXPECT_EQ(a.boxes[3].number, 3) << "one that is left out of the file is not counted";
    EXPECT_LT(a.boxes[2].rect.width(), a.boxes[1].rect.width() / 2) << "it stands on edge";
    int right = -1;
    for (const auto* box : {&a, &b}) {
        EXPECT_GT(box->card.left(), right) << "documents do not touch";
        for (const auto& page : box->boxes) {
            EXPECT_TRUE(box->card.contains(page.rect)) << qPrintable(page.id);
            EXPECT_GT(page.rect.left(), right) << qPrintable(page.id);
            right = page.rect.right();
        }
        right = box->card.right();
    }
    EXPECT_TRUE(b.card.contains(layout.next_slip())) << "the next page lands behind the last one";
    EXPECT_GT(layout.new_slip().left(), b.card.right());
    EXPECT_GT(layout.width(), layout.new_slip().right());
    EXPECT_EQ(layout.page_rect("a4"), a.boxes[3].rect);
    EXPECT_TRUE(layout.page_rect("c1").isEmpty());
}

TEST(TrayLayout, AClickFindsItsTarget) {
    const TrayLayout layout({document("a:pp"), document("b:p")}, high, false);
    EXPECT_EQ(layout.page_at(layout.page_rect("a2").center())->id, "a2");
    EXPECT_EQ(layout.page_at(layout.page_rect("a2").center() + QPoint(0, layout.thumb_height() / 2 + 5))->id, "a2")
        << "its number too";
    EXPECT_EQ(layout.tab_at(layout.document("b")->tab.center())->id, "b");
    EXPECT_EQ(layout.page_at(layout.document("b")->tab.center()), nullptr);
    EXPECT_EQ(layout.tab_at(layout.page_rect("b1").center()), nullptr);
    EXPECT_EQ(layout.document("c"), nullptr);
}

TEST(TrayLayout, ADropGoesBetweenTheNearestPages) {
    const TrayLayout layout({document("a:pp"), document("b:ppp")}, high, false);
    const auto dropped = [&](QPoint at) {
        const auto drop = layout.drop_at(at);
        return drop.document + QString::number(drop.index);
    };
    EXPECT_EQ(dropped(layout.page_rect("a1").topLeft()), "a0");
    EXPECT_EQ(dropped(layout.page_rect("a1").topRight()), "a1");
    EXPECT_EQ(dropped(layout.page_rect("a2").topRight()), "a2") << "behind the last one";
    EXPECT_EQ(dropped(layout.page_rect("b1").topLeft()), "b0");
    EXPECT_EQ(dropped({100000, 0}), "b3");
    // A divider can be dragged through the pages on both sides of it, but not before the first or after the last page.
    const auto divided = [&](QPoint at) { return layout.divider_drop("b", at).index; };
    EXPECT_EQ(divided(layout.page_rect("a2").topLeft()), 1U);
    EXPECT_EQ(divided(layout.page_rect("b1").topLeft()), 2U);
    EXPECT_EQ(divided(layout.page_rect("b3").topLeft()), 4U);
    EXPECT_EQ(divided({0, 0}), 1U);
    EXPECT_TRUE(layout.divider_drop("a", {0, 0}).document.isEmpty()) << "the first document's stays";
    EXPECT_TRUE(TrayLayout().drop_at({0, 0}).document.isEmpty());
}

TEST(TrayLayout, ANameStaysVisibleWhileItsPagesScroll) {
    const TrayLayout layout({document("a:pppppppppp"), document("b:p")}, high, false);
    const auto& box = layout.documents()[0];
    EXPECT_EQ(TrayLayout::name_left(box, 0), box.tab.left() + tray::pad);
    EXPECT_EQ(TrayLayout::name_left(box, 200), 200 + tray::pad);
    EXPECT_LE(TrayLayout::words_left(box, 100000), box.tab.right()) << "it stays on its tab";
    EXPECT_EQ(TrayLayout::words_left(box, 0) - TrayLayout::name_left(box, 0),
              box.title_width + tray::behind_title + box.facts_width);
}

TEST(TrayLayout, ASlimTrayShowsOnlyTabs) {
    const TrayLayout layout({document("a:pp"), document("b:p")}, tray::slim_height, true);
    EXPECT_TRUE(layout.documents()[0].boxes.isEmpty());
    EXPECT_TRUE(layout.next_slip().isNull());
    EXPECT_TRUE(layout.page_rect("a1").isEmpty());
    EXPECT_GT(layout.documents()[1].tab.left(), layout.documents()[0].tab.right());
    EXPECT_LT(layout.new_slip().width(), 40);
    EXPECT_GT(TrayLayout({}, tray::slim_height, true).new_slip().width(), 100) << "words stand on it while it is alone";
}

}
}
