// Answers from outside that come late, twice or never: no deleted object is called, nothing is done twice, and what
// waits continues.
#include "app/errands_window.h"
#include "app/theme/phrase_sheet.h"

#include <QComboBox>
#include <QSlider>

namespace yelvin::test {
namespace {

TEST(Answer, IsDeliveredOnceAndOnlyToAnExistingObject) {
    int taken = 0;
    auto asking = std::make_unique<QObject>();
    const Answer<int> answer(asking.get(), [&](int value) { taken += value; });
    const Answer<int> copy = answer;
    copy(1);
    answer(10);
    EXPECT_EQ(taken, 1);
    const Answer<int> late(asking.get(), [&](int value) { taken += value; });
    asking.reset();
    late(100);
    EXPECT_EQ(taken, 1);
}

class LateAnswers : public ErrandsWindow, public testing::WithParamInterface<Comes> {};

TEST_P(LateAnswers, ActionsRunInOrderAndNoneTwice) {
    asked_.answers.come = GetParam();
    start_recorded();
    desk_->errands.set_patience(std::chrono::seconds(1));
    save_with({Errand::Show, Errand::Open, Errand::Mail});
    EXPECT_EQ(asked_.what, (QStringList{"show", "open 1", "mail"}));
    const bool fails = GetParam() == Comes::Never || GetParam() == Comes::Wrongly;
    const auto ends = fails ? ErrandState::Is::Failed : ErrandState::Is::Done;
    for (const Errand each : {Errand::Show, Errand::Open, Errand::Mail}) EXPECT_EQ(state_of(each), ends);
    EXPECT_EQ(trouble_.contains("did not respond"), GetParam() == Comes::Never) << qPrintable(trouble_);
    EXPECT_EQ(trouble_.contains("did not work"), GetParam() == Comes::Wrongly) << qPrintable(trouble_);
}

TEST_P(LateAnswers, ASheetCanBeClosedBeforeTheAnswer) {
    asked_.answers.come = GetParam();
    start_recorded();
    scan_quickly();
    for (const Errand each : {Errand::OpenWith, Errand::Print}) desk_->errands.use(each, true);
    choose([](Ticket& t) { t.then.errands = {Errand::OpenWith, Errand::Print}; });
    part<TicketBar>()->open_phrase("then"); // asks for programs and for printers
    QApplication::processEvents();
    ASSERT_TRUE(QApplication::activePopupWidget());
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Escape);
    emit desk_->errands.look_wanted(QString::fromStdString(document())); // asks for printers
    QApplication::processEvents();
    ASSERT_TRUE(QApplication::activePopupWidget());
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Escape);
    ASSERT_TRUE(wait([] { return !QApplication::activePopupWidget(); }));
    ASSERT_TRUE(wait([&] { return asked_.answers.all_told(); }));
    scan_quickly(); // and it goes on
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

TEST_P(LateAnswers, TheWindowCanBeClosedBeforeTheAnswer) {
    asked_.answers.come = GetParam();
    start_recorded();
    scan_quickly();
    desk_->errands.print(document(), {}, {window_.get(), [](const Result<QString>&) { FAIL() << "nobody is there"; }});
    window_.reset();
    desk_.reset();
    QApplication::processEvents();
}

INSTANTIATE_TEST_SUITE_P(Each, LateAnswers, in_every_way(), how_it_comes);

// ---- what is under the mouse while the user scrolls

TEST_F(Window, TheWheelChangesAValueOnlyWhereItHasTheFocus) {
    start();
    scan_quickly();
    auto* panel = part<AdjustPanel>();
    auto* slider = panel->findChild<QSlider*>();
    ASSERT_TRUE(slider);
    const auto turn_wheel = [](QWidget* over) {
        const QPointF at = over->rect().center();
        QWheelEvent event(at, over->mapToGlobal(at), {}, {0, 120}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(over, &event);
    };
    const Recipe before = desk_->choice.current()->recipe;
    const int value = slider->value();
    window_->setFocus();
    turn_wheel(slider);
    EXPECT_EQ(slider->value(), value);
    EXPECT_EQ(desk_->choice.current()->recipe, before);
    slider->setFocus();
    turn_wheel(slider);
    EXPECT_NE(slider->value(), value);
    for (auto* box : window_->findChildren<QAbstractSpinBox*>()) {
        box->ensurePolished();
        EXPECT_NE(box->focusPolicy(), Qt::WheelFocus) << qPrintable(box->objectName());
    }
}

}
}
