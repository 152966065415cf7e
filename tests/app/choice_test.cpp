// Which pages are selected, and what is tried on the current page, while the tray changes.
#include "app/models/threads/pools.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "support/support.h"

#include <QTest>

namespace yelvin::test {
namespace {

class ChoiceTest : public testing::Test {
  protected:
    TempFolder folder_;
    Messages messages_;
    Pools pools_;
    OutTray tray_{messages_, pools_, QString::fromStdString((folder_ / "tray").string())};
    Choice choice_{tray_};

    // One document of pages a, b, c, …
    void fill(const std::string& letters) {
        ASSERT_TRUE(QTest::qWaitFor([&] { return tray_.is_loaded(); }));
        Tray tray;
        for (const char letter : letters)
            tray = with_page_added(tray, std::make_shared<const Page>(Page{std::string(1, letter)}),
                                   tray.documents.empty());
        tray_.edit(tray, "fill");
        choice_.set_current("a");
    }
    ~ChoiceTest() override { pools_.stop(); }
};

TEST_F(ChoiceTest, PageNumbersCountOnlyPagesInTheFile) {
    fill("abcde");
    tray_.edit(with_page_dropped(tray_.tray(), "b", Dropped::Blank), "blank");
    ASSERT_TRUE(choice_.choose_numbers("2, 4"));
    EXPECT_EQ(choice_.chosen(), (PageIds{"c", "e"}));
    EXPECT_FALSE(choice_.choose_numbers("5")) << "there are four";
    EXPECT_EQ(choice_.chosen(), (PageIds{"c", "e"}));
}

TEST_F(ChoiceTest, RemovedPagesAreNotSelected) {
    fill("abcde");
    choice_.choose({"a", "c", "e"});
    tray_.edit(without_pages(tray_.tray(), {"c"}), "delete");
    EXPECT_EQ(choice_.chosen(), (PageIds{"a", "e"}));
    tray_.undo();
    EXPECT_EQ(choice_.chosen(), (PageIds{"a", "e"})) << "what comes back was not chosen";
}

TEST_F(ChoiceTest, UndoEndsAPreviewedChange) {
    fill("abc");
    tray_.edit(without_pages(tray_.tray(), {"c"}), "delete");
    Recipe tried;
    tried.adjust.brightness = 30;
    choice_.try_recipe(tried);
    EXPECT_EQ(choice_.shown_recipe(), tried);
    tray_.undo();
    EXPECT_EQ(choice_.current_id(), "a");
    EXPECT_EQ(choice_.shown_recipe(), Recipe{});
}

}
}
