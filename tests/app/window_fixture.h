// The real window with a desk in its own folder, used as a person would.
#pragma once

#include "app/application.h"
#include "app/bench/bench_sheet.h"
#include "app/demo.h"
#include "app/desk.h"
#include "app/errands/stand_in.h"
#include "app/glass/glass_view.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/sentence.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/tray/tray_strip.h"
#include "app/window/main_window.h"
#include "core/raster/image_file.h"
#include "support/support.h"

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>

namespace yelvin::test {

#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
inline constexpr int patience_ms = 600'000; // a sanitizer takes ten times as long
#else
inline constexpr int patience_ms = 60'000;
#endif

class Window : public testing::Test {
  protected:
    TempFolder base_;
    std::unique_ptr<Desk> desk_;
    std::unique_ptr<MainWindow> window_;
    QString trouble_;
    QStringList saved_;

    bool real_scanners_ = false;                              // those of libsane too
    std::function<std::unique_ptr<Voice>()> voice_made_;      // who reads aloud
    std::function<std::unique_ptr<Outside>(Pools&)> outside_; // other programs; else those that stand in for them
    std::function<std::unique_ptr<Keyring>()> keyring_;       // where passwords are kept; else the desktop's
    bool tray_full_ = true; // beside a page as well, as somebody left it who works in the tray

    void start(bool with_scanner = true) {
        window_.reset();
        desk_.reset();
        DeskPlaces places = demo::places(QString::fromStdString(base_.path().string()));
        places.originals = YELVIN_ORIGINALS;
        places.real_scanners = real_scanners_;
        places.voice = voice_made_;
        places.keyring = keyring_;
        places.outside = outside_ ? outside_ : [this](Pools& pools) -> std::unique_ptr<Outside> {
            return std::make_unique<StandInOutside>(QString::fromStdString(base_.path().string()), pools.errands());
        };
        desk_ = std::make_unique<Desk>(places);
        if (with_scanner) desk_->scanners.use_bench();
        if (tray_full_) desk_->room.set_tray_full(Room::Beside::Page, true);
        window_ = std::make_unique<MainWindow>(desk_->for_window());
        static_cast<Application*>(qApp)->set_messages(&desk_->messages);
        QObject::connect(&desk_->messages, &Messages::trouble,
                         [this](const QString& sentence) { trouble_ = sentence; });
        QObject::connect(&desk_->saving, &Saving::saved, [this](const QStringList& files) { saved_ = files; });
        window_->show();
        ASSERT_TRUE(wait([&] { return desk_->tray.is_loaded(); }));
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void TearDown() override {
        static_cast<Application*>(qApp)->set_messages(nullptr);
        window_.reset();
        desk_.reset();
    }

    static bool wait(const std::function<bool()>& until) { return QTest::qWaitFor(until, patience_ms); }
    bool at_rest() const {
        return !desk_->run.passing() && !desk_->scanners.in_use() && !desk_->saving.at_work() &&
               desk_->looking.in_work() == 0 && !desk_->reading.at_work();
    }
    template <class W>
    W* part(const QString& name = {}) const {
        return window_->findChild<W*>(name);
    }
    void press(const QString& name) {
        QApplication::processEvents();                                   // new widgets are laid out and shown by events
        for (auto* button : window_->findChildren<QPushButton*>(name)) { // one that is going may bear the same name
            if (!button->isVisible()) continue;
            ASSERT_TRUE(button->isEnabled()) << qPrintable(name);
            return QTest::mouseClick(button, Qt::LeftButton);
        }
        FAIL() << "no button " << qPrintable(name);
    }
    // Returns the actions that Noticed offers.
    void press_notice(const QString& words) {
        QApplication::processEvents();
        for (auto* button : window_->findChildren<QPushButton*>("notice-action"))
            if (button->isVisible() && button->text() == words) return QTest::mouseClick(button, Qt::LeftButton);
        FAIL() << "nothing offers to " << qPrintable(words);
    }
    // Finds a row of a sheet by the words it begins with. Returns null if no row has them.
    static SheetRow* row_of(const QWidget* sheet, const QString& words) {
        for (auto* row : sheet ? sheet->findChildren<SheetRow*>() : QList<SheetRow*>{})
            if (row->text() == words) return row;
        return nullptr;
    }
    void key(const char* keys) { QTest::keySequence(window_.get(), QKeySequence(keys)); }

    void lay(const std::string& paper, double angle) {
        BenchSetup bench;
        bench.glass = {{original(paper), 105, 148.5, angle}};
        desk_->scanners.set_bench(bench);
    }
    void choose(const std::function<void(Ticket&)>& how) {
        Ticket ticket = desk_->tickets.ticket();
        ticket.save.folder = base_.path().string();
        how(ticket);
        desk_->tickets.set(ticket);
    }
    // Scans a page at 75 dpi, because these tests are about the window.
    void scan_quickly(const std::string& paper = "till-receipt") {
        lay(paper, 0);
        choose([](Ticket& t) {
            t.how.dpi = 75;
            t.read.languages.clear();
            t.from.paper = "A6";
            t.pages.turn_upright = false;
        });
        const size_t before = desk_->tray.tray().page_count();
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == before + 1 && at_rest(); }));
    }
    void drag(QWidget* widget, QPointF from, QPointF to) {
        QTest::mousePress(widget, Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(widget, ((from + to) / 2).toPoint());
        // QTest's mouse move has no pressed button, so the drag is sent as an event.
        for (const QPointF& at : {from + (to - from) * 0.3, from + (to - from) * 0.7, to}) {
            QMouseEvent move(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
            QApplication::sendEvent(widget, &move);
        }
        QTest::mouseRelease(widget, Qt::LeftButton, {}, to.toPoint());
    }
    GlassView& glass() const { return *part<GlassView>("glass"); }
    TrayStrip& tray() const { return *part<TrayStrip>("tray"); }
    std::string shape() const {
        std::string out;
        for (const auto& document : desk_->tray.tray().documents)
            out += (out.empty() ? "" : "|") + std::to_string(document->pages.size());
        return out;
    }
    QString page_id(size_t document, size_t page) const {
        return QString::fromStdString(desk_->tray.tray().documents.at(document)->pages.at(page)->id);
    }
};

}
