// Clicks, keys, drags and the wheel at random, over every view, sheet and card, while a stack is scanned and programs
// outside answer late or never. Nothing may crash, nothing may be saved unasked, and the tray must agree with its undo
// steps. Each step is printed with its number, and the seed is fixed, so that a crash can be reproduced. YELVIN_TRIALS
// sets the number of steps.
#include "app/errands_window.h"
#include "app/keys.h"
#include "support/trials.h"

#include <QContextMenuEvent>
#include <QDesktopServices>
#include <QMenu>

#include <fmt/format.h>

#include <iostream>
#include <random>
#include <set>

namespace yelvin::test {
namespace {

// Receives what a link would open in another program.
class Nowhere : public QObject {
    Q_OBJECT
  public slots:
    void open(const QUrl&) {}
};

class Monkey : public ErrandsWindow {
  protected:
    std::mt19937 random_{20261130};
    Nowhere nowhere_;
    QTimer closing_; // dialogs, which would wait for somebody
    std::chrono::milliseconds longest_{};
    std::string what_, words_;        // the last step, and what the row says that it was about
    std::set<std::string> asked_for_; // documents that were there when something could ask for them to be saved
    bool at_once_ = false;            // a ticket that saves by itself was chosen

    size_t pick(size_t count) { return random_() % count; }
    void begin() {
        start_recorded();
        for (const char* scheme : {"file", "http", "https", "mailto"})
            QDesktopServices::setUrlHandler(scheme, &nowhere_, "open");
        closing_.setInterval(20);
        QObject::connect(&closing_, &QTimer::timeout, [] {
            if (QWidget* dialog = QApplication::activeModalWidget()) dialog->close();
            // The context menu of an entry also waits for the user.
            if (auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget())) menu->close();
        });
        closing_.start();
        desk_->errands.set_patience(std::chrono::milliseconds(300));
        for (const Errand each : {Errand::Show, Errand::Mail, Errand::Print, Errand::Open})
            desk_->errands.use(each, true);
        scan_quickly();
        scan_quickly("membership-card-front");
        QObject::connect(&desk_->saving, &Saving::document_saved, [this](const QString& document) {
            EXPECT_TRUE(at_once_ || asked_for_.contains(document.toStdString()))
                << "saved unasked, at the latest by: " << what_;
        });
    }
    // Whether a document may be saved after this: after a click or a key on one of these widgets, or after the
    // shortcuts for saving.
    bool may_ask_to_save() const {
        for (const char* keys : {"Ctrl+S", "Ctrl+Shift+S"})
            if (what_.ends_with(std::string(" ") + keys)) return true;
        if (!what_.starts_with("press ") && !what_.starts_with("key ")) return false;
        for (const char* name : {"save", "save-all", "tray", "row", "folder-use", "folder-path", "password-use",
                                 "password-open", "password-owner", "news-offer"})
            if (what_.ends_with(std::string(" ") + name)) return true;
        return false;
    }
    void note_what_is_asked_for() {
        at_once_ = at_once_ || desk_->tickets.ticket().save.at_once;
        if (!may_ask_to_save()) return;
        for (const auto& document : desk_->tray.tray().documents) asked_for_.insert(document->id);
    }
    void TearDown() override {
        closing_.stop();
        for (const char* scheme : {"file", "http", "https", "mailto"}) QDesktopServices::unsetUrlHandler(scheme);
        ErrandsWindow::TearDown();
    }
    // Fills the feeder; at one of the sheets the scanner is silent for a moment.
    void fill_feeder() {
        BenchSetup bench;
        for (int i = 0; i < 4; ++i) bench.stack.push_back({{original("till-receipt")}, {}});
        bench.faults = {{ErrorKind::NoAnswer, 2}, {pick(2) == 0 ? ErrorKind::Jam : ErrorKind::TwoSheets, 3}};
        bench.seconds_of_silence = 0.5;
        bench.glass = {{original("till-receipt"), 105, 148.5, 3}};
        desk_->scanners.set_bench(bench);
        choose([&](Ticket& t) {
            t.how.dpi = 75;
            t.how.dpi_auto = false;
            t.read.languages.clear();
            t.from.source = pick(2) == 0 ? Source::FeederFront : Source::Glass;
        });
    }
    // Returns a place where the user could click.
    std::pair<QWidget*, QPoint> somewhere() {
        QWidget* top = QApplication::activePopupWidget();
        if (!top) top = window_.get();
        const QPoint at(static_cast<int>(pick(static_cast<size_t>(std::max(1, top->width())))),
                        static_cast<int>(pick(static_cast<size_t>(std::max(1, top->height())))));
        QWidget* child = top->childAt(at);
        return child ? std::pair{child, child->mapFrom(top, at)} : std::pair{top, at};
    }
    void say(const char* what, const QWidget* widget) {
        what_ = fmt::format("{} {} {}", what, widget->metaObject()->className(), widget->objectName().toStdString());
        const auto* row = qobject_cast<const SheetRow*>(widget);
        words_ = row ? fmt::format(" \"{}\"", row->text().toStdString()) : "";
    }
    void press_at_random() {
        const auto [widget, at] = somewhere();
        say("press", widget);
        const Qt::KeyboardModifiers with = pick(8) == 0   ? Qt::ControlModifier
                                           : pick(8) == 0 ? Qt::ShiftModifier
                                                          : Qt::NoModifier;
        switch (pick(8)) {
        case 0:
            return QTest::mouseDClick(widget, Qt::LeftButton, with, at);
        case 1: {
            QContextMenuEvent menu(QContextMenuEvent::Mouse, at, widget->mapToGlobal(at));
            QApplication::sendEvent(widget, &menu);
            return;
        }
        default:
            return QTest::mouseClick(widget, Qt::LeftButton, with, at);
        }
    }
    void drag_at_random() {
        const auto [widget, at] = somewhere();
        const QPointer<QWidget> there = widget;
        say("drag", widget);
        const auto far = [&] { return static_cast<int>(pick(400)) - 200; };
        const QPoint to = at + QPoint(far(), far());
        QTest::mousePress(widget, Qt::LeftButton, {}, at);
        for (int i = 1; i <= 3 && there; ++i) {
            const QPointF here = QPointF(at) + QPointF(to - at) * (i / 3.0);
            QMouseEvent move(QEvent::MouseMove, here, there->mapToGlobal(here), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(there, &move);
        }
        if (there) QTest::mouseRelease(there, Qt::LeftButton, {}, to);
    }
    void turn_wheel_at_random() {
        const auto [widget, at] = somewhere();
        say("wheel", widget);
        QWheelEvent wheel(at, widget->mapToGlobal(at), {}, {0, pick(2) == 0 ? 120 : -120}, Qt::NoButton,
                          pick(4) == 0 ? Qt::ControlModifier : Qt::NoModifier, Qt::NoScrollPhase, false);
        QApplication::sendEvent(widget, &wheel);
    }
    void key_at_random() {
        QWidget* focus = QApplication::activePopupWidget() ? QApplication::activePopupWidget()->focusWidget()
                                                           : window_->focusWidget();
        if (!focus) focus = window_.get();
        say("key", focus);
        if (pick(3) == 0) {
            const Key& key = all_keys()[pick(all_keys().size())];
            if (key.reach != Key::Reach::Window) return;
            const QStringList each = QString(key.keys).split(' ');
            const QKeySequence sequence(each[static_cast<qsizetype>(pick(static_cast<size_t>(each.size())))]);
            what_ += " " + sequence.toString().toStdString();
            if (!sequence.isEmpty() && !QApplication::activePopupWidget()) QTest::keySequence(window_.get(), sequence);
            return;
        }
        constexpr Qt::Key plain[] = {Qt::Key_Tab,  Qt::Key_Backtab, Qt::Key_Return, Qt::Key_Escape, Qt::Key_Up,
                                     Qt::Key_Down, Qt::Key_Left,    Qt::Key_Right,  Qt::Key_Space,  Qt::Key_Delete,
                                     Qt::Key_Home, Qt::Key_End,     Qt::Key_A,      Qt::Key_B,      Qt::Key_L,
                                     Qt::Key_1,    Qt::Key_C,       Qt::Key_F,      Qt::Key_R};
        QTest::keyClick(focus, plain[pick(std::size(plain))]);
    }
    void step(int number) {
        if (number % 150 == 0) fill_feeder();
        if (number % 200 == 0)
            asked_.answers.come = std::array{Comes::OnTime, Comes::Late, Comes::Twice, Comes::Never}[pick(4)];
        const auto began = std::chrono::steady_clock::now();
        switch (pick(10)) {
        case 0:
            drag_at_random();
            break;
        case 1:
            turn_wheel_at_random();
            break;
        case 2:
        case 3:
        case 4:
            key_at_random();
            break;
        default:
            press_at_random();
        }
        note_what_is_asked_for();
        QApplication::processEvents();
        note_what_is_asked_for();
        const auto took = std::chrono::steady_clock::now() - began;
        const auto ms = std::chrono::duration_cast<std::chrono::milliseconds>(took);
        longest_ = std::max(longest_, ms);
        constexpr std::chrono::milliseconds slow{100};
        if (ms > slow)
            std::cout << "step " << number << ": " << what_ << words_ << ", " << ms.count() << " ms\n" << std::flush;
    }
    // Leaves out which page is the current one.
    static std::string told(const Tray& tray) {
        std::string out;
        for (const auto& document : tray.documents) {
            out += document->id + ":" + document->name + "[";
            for (const auto& page : document->pages) out += page->id + (page->dropped == Dropped::No ? " " : "- ");
            out += "] ";
        }
        return out;
    }
};

TEST_F(Monkey, RandomInputCausesNoCrashAndTheTrayMatchesItsHistory) {
    begin();
    const int all = trials(400);
    for (int i = 0; i < all; ++i) {
        SCOPED_TRACE(i);
        step(i);
        if (HasFatalFailure()) return;
    }
    while (QWidget* sheet = QApplication::activePopupWidget()) sheet->close();
    desk_->run.stop();
    ASSERT_TRUE(wait([&] {
        if (desk_->run.waiting().what != Waiting::For::Nothing) desk_->run.stop();
        if (desk_->places_used.asks()) desk_->places_used.give_up();
        if (desk_->passwords.asked()) desk_->passwords.give_up();
        desk_->reading.stop();
        return at_rest() &&
               (!desk_->errands.at_work() || asked_.answers.unanswered > 0); // a printer may take as long as it likes
    })) << "at work: "
        << (desk_->run.passing() ? "run " : "") << (desk_->scanners.in_use() ? "scanner " : "")
        << (desk_->saving.at_work() ? "saving " : "") << (desk_->looking.in_work() > 0 ? "looking " : "")
        << (desk_->reading.at_work() ? "reading " : "") << (desk_->errands.at_work() ? "errands" : "");
    const std::string now = told(desk_->tray.tray());
    int steps = 0;
    for (; desk_->tray.can_undo(); ++steps) desk_->tray.undo();
    for (int i = 0; i < steps; ++i) desk_->tray.redo();
    EXPECT_EQ(told(desk_->tray.tray()), now) << "all of it undone and done again";
    for (const auto& document : desk_->tray.tray().documents)
        for (const auto& page : document->pages)
            EXPECT_TRUE(std::filesystem::exists(base_ / "tray" / page->original.file)) << page->id;
    start_recorded();
    EXPECT_EQ(told(desk_->tray.tray()), now) << "and kept";
    std::cout << all << " steps, " << steps << " of them in the tray's history; the longest took " << longest_.count()
              << " ms\n";
}

}
}

#include "monkey_test.moc"
