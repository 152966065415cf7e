// The small widgets that panels consist of.
#include "app/theme/parts.h"
#include "app/window_fixture.h"

#include <QVBoxLayout>

namespace yelvin::test {
namespace {

// A list that is rebuilt, beside an entry that stays.
class ListOfButtons : public QWidget {
  public:
    ListOfButtons() {
        auto* all = new QVBoxLayout(this);
        all->addWidget(&stays_);
        all->addLayout(column_ = new QVBoxLayout);
    }
    void build(const QStringList& names) {
        const theme::FocusKept focus(this);
        theme::clear(column_);
        for (const QString& name : names) {
            auto* row = new QHBoxLayout;
            row->addWidget(theme::link(name, name, this));
            column_->addLayout(row);
        }
    }
    QPushButton* button(const QString& name) const {
        QApplication::processEvents(); // new ones are shown by their layout
        for (auto* each : findChildren<QPushButton*>(name))
            if (each->isVisible()) return each;
        return nullptr;
    }
    QLineEdit& stays() { return stays_; }

  private:
    QLineEdit stays_;
    QVBoxLayout* column_;
};

TEST(FocusKept, TheKeyboardFocusSurvivesRebuildingAList) {
    ListOfButtons list;
    list.build({"hold", "remove", "try now"});
    list.show();
    ASSERT_TRUE(QTest::qWaitForWindowActive(&list));
    const auto focused = [] {
        QApplication::processEvents();
        return QApplication::focusWidget() ? QApplication::focusWidget()->objectName() : QString("nobody");
    };
    list.button("remove")->setFocus();
    list.build({"go on", "hold", "remove"});
    EXPECT_EQ(focused(), "remove") << "the same one, at another place";
    EXPECT_TRUE(QApplication::focusWidget()->isVisible());
    list.build({"go on", "hold", "again"});
    EXPECT_EQ(focused(), "again") << "the one that stands where it stood";
    list.build({"go on"});
    EXPECT_EQ(focused(), "go on") << "the last one";
    list.stays().setFocus();
    list.build({"hold", "again"});
    EXPECT_EQ(QApplication::focusWidget(), &list.stays()) << "what is not built anew is left alone";
    list.button("again")->setFocus();
    list.build({});
    list.build({"hold"});
    EXPECT_NE(focused(), "hold") << "nobody is given a focus that was lost";
}

}
}
