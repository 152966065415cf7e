// The table of keys: what it says is what the window does and what the README lists.
#include "app/keys.h"

#include "app/window_fixture.h"

#include <QShortcut>

#include <fstream>
#include <sstream>

namespace yelvin::test {
namespace {

TEST(Keys, TheReadmeListsThemAsTheTableDoes) {
    const std::string readme = read_file(std::filesystem::path(YELVIN_SOURCES).parent_path() / "README.md");
    std::istringstream rows(keys_as_markdown().toStdString());
    for (std::string row; std::getline(rows, row);)
        EXPECT_NE(readme.find(row), std::string::npos) << row << "\nThe whole table:\n"
                                                       << keys_as_markdown().toStdString();
}

TEST(Keys, NoneIsThereTwice) {
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

TEST_F(KeysWindow, EveryKeyOfTheWindowIsAShortcutOfIt) {
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

TEST_F(KeysWindow, TooltipsSayTheirKeys) {
    start();
    EXPECT_TRUE(part<QPushButton>("save")->toolTip().endsWith("(Ctrl+S)"));
    EXPECT_TRUE(part<QPushButton>("tab-strip")->toolTip().endsWith("(Alt+4)"));
    EXPECT_TRUE(part<QPushButton>("crop")->toolTip().endsWith("(C)"));
}

}
}
