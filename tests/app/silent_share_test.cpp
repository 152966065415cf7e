// Saved files are on a share that no longer answers: whatever the user does, the window does not freeze.
#include "app/cabinet/cabinet_view.h"
#include "app/cabinet/result_list.h"
#include "app/errands_window.h"
#include "app/silent_folder.h"

#include <QElapsedTimer>
#include <QTimer>

namespace yelvin::test {
namespace {

class SilentShare : public ErrandsWindow {
  protected:
    QElapsedTimer since_;
    QTimer beats_;
    qint64 worst_ = 0;

    // From now on the longest time of one event is measured.
    void watch() {
        since_.start();
        QObject::connect(&beats_, &QTimer::timeout, [this] { worst_ = std::max(worst_, since_.restart()); });
        beats_.start(0);
    }
    void press_all(const QStringList& names) {
        for (const QString& name : names) {
            QApplication::processEvents();
            auto* button = part<QPushButton>(name);
            ASSERT_TRUE(button) << qPrintable(name);
            if (!button->isVisible() || !button->isEnabled()) continue;
            QTest::mouseClick(button, Qt::LeftButton);
            leave_sheets();
        }
    }
    void leave_sheets() {
        QApplication::processEvents();
        while (QWidget* popup = QApplication::activePopupWidget()) {
            popup->close();
            QApplication::processEvents();
        }
        window_->activateWindow();
    }
};

TEST_F(SilentShare, TheWindowStaysResponsive) {
    start_recorded();
    for (const Errand each : all_errands()) desk_->errands.use(each, true);
    scan_quickly();
    choose([&](Ticket& t) {
        t.make.format = Format::Jpeg;
        t.save.folder = (base_ / "share").string();
        t.save.make_folder = true;
    });
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest() && !desk_->cabinet.at_work(); }));
    SilentFolder silent(base_ / "share");
    if (!silent.is_there()) GTEST_SKIP() << "mounting a file system takes root";
    watch();
    // The actions on its tab.
    for (const Errand each : {Errand::Open, Errand::Show, Errand::Mail, Errand::Clipboard, Errand::Send}) {
        press_on_tab(each);
        leave_sheets();
    }
    QTest::keyClick(&tray(), Qt::Key_F2);
    QTest::keyClicks(QApplication::focusWidget(), "Another name\r");
    drag(&tray(), tray().tab_rect(QString::fromStdString(document())).center(), QPoint(300, -200));
    key("Ctrl+S");
    // The sheets of the folder and of the name.
    for (const char* phrase : {"folder", "name"}) {
        window_->ticket_bar().open_phrase(phrase);
        leave_sheets();
    }
    // The cabinet.
    key("Ctrl+F");
    ASSERT_TRUE(wait([&] { return desk_->in_cabinet.found().best.size() == 1 || !desk_->in_cabinet.is_looking(); }));
    press_all({"cabinet-open", "cabinet-show", "cabinet-mail", "cabinet-rename", "cabinet-move", "cabinet-searchable",
               "cabinet-take-in", "cabinet-older", "cabinet-away"});
    key("Escape");
    ASSERT_TRUE(wait([&] { return state_of(Errand::Open) == ErrandState::Is::Failed; }));
    EXPECT_TRUE(trouble_.contains("is not responding")) << qPrintable(trouble_);
    // A temporary copy in a folder on that share.
    std::string why;
    desk_->saving.make_aside(
        document(), {desk_->tickets.ticket(), base_ / "share" / "copies", "a copy"},
        [&](const Result<std::vector<MadeFile>>& made) { why = made ? "made" : made.error().sentence; });
    ASSERT_TRUE(wait([&] { return !why.empty(); }));
    EXPECT_NE(why.find("is not responding"), std::string::npos) << why;
    std::printf("longest event: %lld ms\n", static_cast<long long>(worst_));
    EXPECT_LT(worst_, 1000) << "it was waited for"; // a hang has no end; how long it takes is for the bench
    beats_.stop();
}

}
}
