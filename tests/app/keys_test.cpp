// The table of keys agrees with what the window does and with what the README lists.
#include "app/keys.h"

#include "app/window_fixture.h"

#include <QContextMenuEvent>
#include <QShortcut>

#include <fstream>
#include <sstream>

namespace yelvin::test {
namespace {

TEST(Keys, TheHandbookListsTheSameKeysAsTheTable) {
    const std::string handbook =
        read_file(std::filesystem::path(YELVIN_SOURCES).parent_path() / "docs/handbook/keys.md");
    std::istringstream rows(keys_as_markdown().toStdString());
    for (std::string row; std::getline(rows, row);)
        EXPECT_NE(handbook.find(row), std::string::npos) << row << "\nThe whole table:\n"
                                                         << keys_as_markdown().toStdString();
}

TEST(Keys, NoKeyHasTwoMeanings) {
    std::set<std::string> seen;
    for (const Key& key : all_keys()) {
        for (const QString& each : QString(key.keys).split(' ')) {
            if (key.reach == Key::Reach::Window) {
                EXPECT_TRUE(seen.insert(each.toStdString()).second) << each.toStdString();
            }
        }
        EXPECT_EQ(&key_of(key.what), &key);
    }
}

class KeysWindow : public Window {};

TEST_F(KeysWindow, EveryKeyIsAShortcutOfTheWindow) {
    start();
    QStringList there;
    for (const auto* shortcut : window_->findChildren<QShortcut*>()) there.append(shortcut->key().toString());
    for (const auto* button : window_->findChildren<QAbstractButton*>()) there.append(button->shortcut().toString());
    for (const Key& key : all_keys()) {
        if (key.reach != Key::Reach::Window) continue;
        for (const QString& each : QString(key.keys).split(' '))
            EXPECT_TRUE(there.contains(QKeySequence(each).toString())) << qPrintable(each);
    }
}

TEST_F(KeysWindow, TooltipsNameTheirKeys) {
    start();
    EXPECT_TRUE(part<QPushButton>("save")->toolTip().endsWith("(Ctrl+S)"));
    EXPECT_TRUE(part<QPushButton>("tab-strip")->toolTip().endsWith("(Alt+4)"));
    EXPECT_TRUE(part<QPushButton>("crop")->toolTip().endsWith("(C)"));
}

TEST_F(KeysWindow, EverythingThatCanBeDraggedCanBeMovedByKeys) {
    start();
    scan_quickly();
    // The corners for flattening a page.
    window_->look_at(MainWindow::Look::Page);
    window_->page_view().use_tool(PageTool::Corners);
    const auto press_on_page = [&](Qt::Key which, Qt::KeyboardModifiers with = Qt::NoModifier) {
        QTest::keyClick(&window_->page_view(), which, with);
    };
    press_on_page(Qt::Key_Space); // the second one, at the top right
    press_on_page(Qt::Key_Left);
    ASSERT_TRUE(desk_->choice.current()->recipe.flatten);
    const Corners before = desk_->choice.current()->recipe.flatten->corners;
    press_on_page(Qt::Key_Left, Qt::ShiftModifier);
    press_on_page(Qt::Key_Down, Qt::ControlModifier);
    const Corners after = desk_->choice.current()->recipe.flatten->corners;
    EXPECT_NEAR(after[1].x, before[1].x - 5, 1e-6);
    EXPECT_NEAR(after[1].y, before[1].y + 0.1, 1e-6);
    EXPECT_EQ(after[0], before[0]);
    EXPECT_EQ(after[2], before[2]);
    EXPECT_EQ(desk_->tray.undo_name(), "flatten page");
    key("Escape");
    // The height of the tray.
    auto* edge = part<QWidget>("tray-edge");
    const int height = desk_->room.tray_height();
    QTest::keyClick(edge, Qt::Key_Up);
    EXPECT_GT(desk_->room.tray_height(), height);
    for (int i = 0; i < 30; ++i) QTest::keyClick(edge, Qt::Key_Down);
    EXPECT_TRUE(tray().is_slim());
    QTest::keyClick(edge, Qt::Key_Up);
    EXPECT_FALSE(tray().is_slim());
    // Where the next page is added.
    const bool starts = desk_->tray.next_page_starts_document();
    key("Ctrl+Shift+D");
    EXPECT_NE(desk_->tray.next_page_starts_document(), starts);
    // A document that waits for its folder.
    choose([&](Ticket& t) { t.save.folder = (base_ / "away").string(); });
    key("Ctrl+S");
    const std::string document = desk_->tray.tray().documents[0]->id;
    ASSERT_TRUE(wait([&] { return !desk_->saving.why_waits(document).isEmpty(); }));
    QContextMenuEvent menu(QContextMenuEvent::Keyboard, {}, tray().mapToGlobal(QPoint(10, 10)));
    QApplication::sendEvent(&tray(), &menu);
    QWidget* sheet = QApplication::activePopupWidget();
    ASSERT_TRUE(sheet);
    auto* row = row_of(sheet, "stop waiting");
    ASSERT_TRUE(row);
    row->setFocus();
    QTest::keyClick(row, Qt::Key_Return);
    EXPECT_TRUE(desk_->saving.why_waits(document).isEmpty());
}

}
}
