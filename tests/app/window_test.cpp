// The real window, driven as a person would drive it: mouse and keys in, files and what is shown out.
#include "app/bench/bench_sheet.h"
#include "app/demo.h"
#include "app/desk.h"
#include "app/glass/glass_view.h"
#include "app/main_window.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/ticketbar/phrase_sheet.h"
#include "app/ticketbar/sentence.h"
#include "app/tray/tray_strip.h"
#include "core/raster/image_file.h"
#include "support/support.h"

#include <QApplication>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>
#include <QTest>

namespace yelvin::test {
namespace {

class Window : public testing::Test {
  protected:
    TempFolder base_;
    std::unique_ptr<Desk> desk_;
    std::unique_ptr<MainWindow> window_;
    QString trouble_;
    QStringList saved_;

    void start(bool with_scanner = true) {
        window_.reset();
        desk_.reset();
        DeskPlaces places = demo::places(QString::fromStdString(base_.path().string()));
        places.originals = YELVIN_ORIGINALS;
        desk_ = std::make_unique<Desk>(places);
        if (with_scanner) desk_->use_bench_scanner();
        window_ = std::make_unique<MainWindow>(*desk_);
        QObject::connect(desk_.get(), &Desk::trouble, [this](const QString& sentence) { trouble_ = sentence; });
        QObject::connect(desk_.get(), &Desk::saved, [this](const QStringList& files) { saved_ = files; });
        window_->show();
        ASSERT_TRUE(QTest::qWaitForWindowActive(window_.get()));
    }
    void TearDown() override {
        window_.reset();
        desk_.reset();
    }

    static bool wait(const std::function<bool()>& until) { return QTest::qWaitFor(until, 60000); }
    bool at_rest() const {
        return !desk_->scanning() && !desk_->previewing() && !desk_->saving() && desk_->pages_in_work() == 0;
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
    void key(const char* keys) { QTest::keySequence(window_.get(), QKeySequence(keys)); }

    void lay(const std::string& paper, double angle) {
        BenchSetup bench;
        bench.glass = {{original(paper), 105, 148.5, angle}};
        desk_->set_bench(bench);
    }
    void choose(const std::function<void(Ticket&)>& how) {
        Ticket ticket = desk_->ticket();
        ticket.save.folder = base_.path().string();
        how(ticket);
        desk_->set_ticket(ticket);
    }
    // A page at 75 dpi: what matters here is the window.
    void scan_quickly(const std::string& paper = "till-receipt") {
        lay(paper, 0);
        choose([](Ticket& t) {
            t.how.dpi = 75;
            t.read.languages.clear();
            t.from.paper = "A6";
            t.pages.turn_upright = false;
        });
        const size_t before = desk_->tray().page_count();
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray().page_count() == before + 1 && at_rest(); }));
    }
    void drag(QWidget* widget, QPointF from, QPointF to) {
        QTest::mousePress(widget, Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(widget, ((from + to) / 2).toPoint());
        // QTest's move carries no button, so the drag itself is sent as an event.
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
        for (const auto& document : desk_->tray().documents)
            out += (out.empty() ? "" : "|") + std::to_string(document->pages.size());
        return out;
    }
    QString page_id(size_t document, size_t page) const {
        return QString::fromStdString(desk_->tray().documents.at(document)->pages.at(page)->id);
    }
};

TEST_F(Window, FromTheGlassToASearchablePdfWithAChosenName) {
    start();
    lay("lease-1", 181.4); // upside down and crooked
    choose([](Ticket&) {});
    press("preview");
    ASSERT_TRUE(wait([&] { return at_rest() && !desk_->preview().isNull(); }));

    drag(&glass(), glass().to_screen(6, 105), glass().to_screen(206, 292));
    ASSERT_EQ(desk_->frames().size(), 1U);
    const RectMm frame = desk_->frames().front();
    EXPECT_NEAR(frame.width, 200, 1.5);

    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray().page_count() == 1 && at_rest(); }));
    EXPECT_TRUE(part<PageView>("page")->isVisible()) << "the page is looked at as it comes";
    const PagePtr page = desk_->current();
    ASSERT_TRUE(page);
    EXPECT_EQ(page->recipe.turn_degrees, 180);
    EXPECT_NEAR(page->recipe.tilt_degrees, 1.4, 0.1);
    EXPECT_EQ(page->recipe.ink, Ink::Grey);

    key("]");
    EXPECT_EQ(desk_->current()->recipe.turn_degrees, 270);
    key("[");
    EXPECT_EQ(desk_->current()->recipe.turn_degrees, 180);

    key("F2");
    auto* name = part<QLineEdit>("rename");
    ASSERT_TRUE(name);
    QTest::keyClicks(name, "Patient Heron, lease");
    QTest::keyClick(name, Qt::Key_Return);
    EXPECT_EQ(desk_->tray().documents.front()->name, "Patient Heron, lease");

    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); })) << qPrintable(trouble_);
    const std::string pdf = base_ / "Patient Heron, lease.pdf";
    EXPECT_EQ(saved_, QStringList{QString::fromStdString(pdf)});
    EXPECT_FALSE(desk_->tray().documents.front()->saved_as.empty());

    EXPECT_EQ(run({"qpdf", "--check", pdf}).status, 0);
    const Ran text = run({"pdftotext", pdf, "-"});
    EXPECT_NE(text.out.find("towpath side of the Lower Basin"), std::string::npos) << text.out;
    double width = 0, height = 0;
    const Ran info = run({"pdfinfo", pdf});
    ASSERT_EQ(std::sscanf(info.out.c_str() + info.out.find("Page size:"), "Page size: %lf x %lf", &width, &height), 2);
    EXPECT_NEAR(width * mm_per_inch / points_per_inch, frame.width, 0.2);
    EXPECT_NEAR(height * mm_per_inch / points_per_inch, frame.height, 0.2);
    EXPECT_NE(info.out.find("Patient Heron, lease"), std::string::npos) << "the title";
}

TEST_F(Window, FramesAreDrawnMovedResizedAndNeverEmpty) {
    start();
    auto& view = glass();
    QTest::mouseClick(&view, Qt::LeftButton, {}, view.to_screen(60, 60).toPoint());
    EXPECT_TRUE(desk_->frames().empty()) << "a click draws nothing";
    drag(&view, view.to_screen(50, 50), view.to_screen(110, 130));
    ASSERT_EQ(desk_->frames().size(), 1U);
    drag(&view, view.to_screen(80, 90), view.to_screen(100, 120)); // the inside
    RectMm frame = desk_->frames().front();
    EXPECT_NEAR(frame.x, 70, 1);
    EXPECT_NEAR(frame.y, 80, 1);
    EXPECT_NEAR(frame.width, 60, 1);
    drag(&view, view.to_screen(frame.x + frame.width, frame.y + frame.height), view.to_screen(160, 200)); // a mount
    frame = desk_->frames().front();
    EXPECT_NEAR(frame.width, 90, 1);
    EXPECT_NEAR(frame.height, 120, 1);
    drag(&view, view.to_screen(frame.x, frame.y + 60), view.to_screen(40, frame.y + 90)); // the left edge alone
    EXPECT_NEAR(desk_->frames().front().x, 40, 1);
    EXPECT_NEAR(desk_->frames().front().y, frame.y, 0.01);
    drag(&view, view.to_screen(40, desk_->frames().front().y + 60),
         view.to_screen(400, 300)); // the edge dragged past the other
    EXPECT_GE(desk_->frames().front().width, 2);
    EXPECT_LE(desk_->frames().front().x + desk_->frames().front().width, desk_->capabilities().glass.width + 0.01);
    drag(&view, view.to_screen(10, 220), view.to_screen(60, 280));
    EXPECT_EQ(desk_->frames().size(), 2U);
    EXPECT_EQ(desk_->areas_to_scan().size(), 2U) << "a page each";
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_Delete);
    EXPECT_EQ(desk_->frames().size(), 1U);
    drag(&view, view.to_screen(20, 0.8), view.to_screen(60, 296.5));
    EXPECT_EQ(desk_->frames().back().y, 0) << "snapped to the glass";
}

TEST_F(Window, APhraseIsChangedInPlaceAndTheChoiceIsThereAfterARestart) {
    start();
    auto* sentence = part<Sentence>("sentence");
    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("dpi").center());
    QWidget* sheet = QApplication::activePopupWidget();
    ASSERT_TRUE(sheet);
    auto* chosen = sheet->findChild<SheetRow*>("row:300 dpi");
    ASSERT_TRUE(chosen && chosen->hasFocus()) << "the chosen value has the focus";
    QTest::keyClick(chosen, Qt::Key_Down);
    QTest::keyClick(sheet->findChild<SheetRow*>("row:400 dpi"), Qt::Key_Return);
    EXPECT_EQ(desk_->ticket().how.dpi, 400);
    EXPECT_TRUE(sentence->text().contains("at 400 dpi")) << qPrintable(sentence->text());

    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("make").center());
    QTest::mouseClick(QApplication::activePopupWidget()->findChild<SheetRow*>("row:one JPEG per page"), Qt::LeftButton);
    EXPECT_TRUE(sentence->text().contains("one JPEG per page")) << qPrintable(sentence->text());

    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("name").center());
    auto* pattern = QApplication::activePopupWidget()->findChild<QLineEdit*>("name-pattern");
    pattern->selectAll();
    QTest::keyClicks(pattern, "Lock ## of yyyy");
    QTest::keyClick(pattern, Qt::Key_Return);
    EXPECT_TRUE(sentence->text().contains("named Lock 01 of 20")) << qPrintable(sentence->text());

    start();
    EXPECT_EQ(desk_->ticket().how.dpi, 400);
    EXPECT_EQ(desk_->ticket().make.format, Format::Jpeg);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("Lock 01 of 20"));
}

TEST_F(Window, EveryPhraseOpensItsSheetByKeyboard) {
    start();
    auto* sentence = part<Sentence>("sentence");
    for (int i = 0; i < 10; ++i) {
        sentence->setFocus();
        QTest::keyClick(sentence, Qt::Key_Return);
        QWidget* sheet = QApplication::activePopupWidget();
        ASSERT_TRUE(sheet) << i;
        EXPECT_GT(sheet->findChildren<QLabel*>().size() + sheet->findChildren<SheetRow*>().size(), 1) << i;
        QTest::keyClick(sheet, Qt::Key_Escape);
        EXPECT_FALSE(QApplication::activePopupWidget()) << i;
        QTest::keyClick(sentence, Qt::Key_Right);
    }
}

TEST_F(Window, PagesAreRemovedAndBroughtBack) {
    start();
    scan_quickly();
    scan_quickly("membership-card-front");
    EXPECT_EQ(shape(), "2");
    const QString first = page_id(0, 0);
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().page_rect(first).center());
    EXPECT_EQ(desk_->current_page(), first);
    QTest::keyClick(&tray(), Qt::Key_Delete);
    EXPECT_EQ(shape(), "1");
    key("Ctrl+Z");
    EXPECT_EQ(shape(), "2");
    EXPECT_EQ(page_id(0, 0), first);
    key("Ctrl+Shift+Z");
    EXPECT_EQ(shape(), "1");
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_EQ(shape(), "1") << "the scan before";
}

TEST_F(Window, DividersAndDraggingGroupPages) {
    start();
    scan_quickly();
    scan_quickly();
    scan_quickly();
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().page_rect(page_id(0, 1)).center());
    key("Ctrl+D");
    EXPECT_EQ(shape(), "1|2");
    const QString moved = page_id(1, 1);
    drag(&tray(), tray().page_rect(moved).center(), tray().page_rect(page_id(0, 0)).topLeft() + QPoint(-4, 40));
    EXPECT_EQ(shape(), "2|1");
    EXPECT_EQ(page_id(0, 0), moved);
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().page_rect(page_id(1, 0)).center());
    key("Ctrl+D");
    EXPECT_EQ(shape(), "3") << "on a document's first page the divider goes";
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().new_document_rect().center());
    scan_quickly();
    EXPECT_EQ(shape(), "3|1") << "the next page lands where the slip says";
}

TEST_F(Window, AMissingFolderIsSaidAndNothingIsLost) {
    start();
    scan_quickly();
    Ticket ticket = desk_->ticket();
    ticket.save.folder = base_ / "not there";
    desk_->set_ticket(ticket);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("(not there)"));
    press("save");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty(); }));
    EXPECT_TRUE(trouble_.contains("is not there")) << qPrintable(trouble_);
    auto* news = part<QLabel>("news-words");
    EXPECT_TRUE(news->isVisible() && news->text().contains("not there"));
    EXPECT_EQ(shape(), "1");
    EXPECT_TRUE(desk_->tray().documents.front()->saved_as.empty());
    choose([](Ticket& t) { t.make.format = Format::Png; });
    press("save");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); }));
    EXPECT_TRUE(read_page(saved_.front().toStdString()));
}

TEST_F(Window, NoticedCorrectionsAreTakenBackOneByOne) {
    start();
    lay("invoice", 2);
    choose([](Ticket& t) {
        t.how.dpi = 150;
        t.read.languages.clear();
        t.from.paper = "A4";
    });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray().page_count() == 1 && at_rest(); }));
    EXPECT_NEAR(desk_->current()->recipe.tilt_degrees, 2, 0.1);
    EXPECT_EQ(desk_->current()->recipe.ink, Ink::Grey);
    press("action:undo");
    EXPECT_EQ(desk_->current()->recipe.tilt_degrees, 0);
    press("action:keep colour");
    EXPECT_FALSE(desk_->current()->recipe.ink);
    EXPECT_EQ(desk_->current()->recipe, Recipe{});
    press("action:straighten");
    EXPECT_NEAR(desk_->current()->recipe.tilt_degrees, 2, 0.1);
    key("Alt+.");
    EXPECT_NEAR(desk_->current()->recipe.tilt_degrees, 1.9, 0.06);
    press("as-scanned");
    EXPECT_EQ(desk_->current()->recipe, Recipe{});
    key("Ctrl+Z");
    EXPECT_NEAR(desk_->current()->recipe.tilt_degrees, 1.9, 0.06);
}

TEST_F(Window, TheOriginalShowsWhileBIsHeld) {
    start();
    scan_quickly();
    auto* page = part<PageView>("page");
    page->setFocus();
    QTest::keyPress(page, Qt::Key_B);
    EXPECT_TRUE(page->shows_original());
    QTest::keyRelease(page, Qt::Key_B);
    EXPECT_FALSE(page->shows_original());
}

TEST_F(Window, AStoppedScanKeepsWhatIsInAndTheNextOneWorks) {
    start();
    scan_quickly();
    BenchSetup bench = desk_->bench().bench();
    bench.real_pace = true;
    bench.seconds_for_a4 = 60;
    desk_->set_bench(bench);
    QSignalSpy growing(desk_.get(), &Desk::page_growing);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return !growing.isEmpty(); })) << "the page is shown as it grows";
    key("Esc");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(shape(), "1");
    EXPECT_TRUE(trouble_.isEmpty()) << "a stop is no trouble";
    scan_quickly();
    EXPECT_EQ(shape(), "2");
}

TEST_F(Window, TheTrayIsThereAfterARestart) {
    start();
    scan_quickly();
    key("]");
    const QString id = desk_->current_page();
    start();
    EXPECT_EQ(shape(), "1");
    EXPECT_EQ(desk_->current_page(), id);
    EXPECT_EQ(desk_->current()->recipe.turn_degrees, 90);
}

TEST_F(Window, FirstStartOffersTheBenchScannerAndFiles) {
    start(false);
    EXPECT_FALSE(part<QPushButton>("scan")->isEnabled());
    EXPECT_TRUE(part<QPushButton>("add-files")->isVisible());
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("no scanner yet"));
    press("use-bench");
    EXPECT_TRUE(part<QPushButton>("scan")->isEnabled());
    EXPECT_TRUE(part<QPushButton>("preview")->isVisible());
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("Bench scanner"));
}

TEST_F(Window, FilesComeInAndABadOneIsNamed) {
    start(false);
    write_file(base_ / "good.png", *encode_png(scan("till-receipt", 0, 75, Ink::Grey, {60, 90, 90, 110})));
    write_file(base_ / "bad.png", "nothing of the kind");
    desk_->add_files({QString::fromStdString(base_ / "bad.png"), QString::fromStdString(base_ / "good.png")});
    ASSERT_TRUE(wait([&] { return desk_->tray().page_count() == 1 && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("bad.png is not a picture")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->current()->original.dpi, 75);
}

TEST_F(Window, AChangedPaperPutsThePreviewOutOfDate) {
    start();
    lay("invoice", 0);
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return at_rest() && !desk_->preview().isNull(); }));
    EXPECT_FALSE(desk_->preview_out_of_date());
    window_->open_bench();
    auto* sheet = qobject_cast<BenchSheet*>(QApplication::activePopupWidget());
    ASSERT_TRUE(sheet);
    QTest::mouseClick(sheet->findChild<QPushButton*>("lay:lease-2.svg"), Qt::LeftButton);
    EXPECT_EQ(desk_->bench().bench().glass.size(), 1U) << "a sheet takes the place of a sheet";
    EXPECT_EQ(desk_->bench().bench().glass.front().file.filename(), "lease-2.svg");
    EXPECT_TRUE(desk_->preview_out_of_date());
    sheet->close();
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_FALSE(desk_->preview_out_of_date());
}

TEST_F(Window, F6WalksTheRegionsAndAltNumbersChangeTheLook) {
    start();
    scan_quickly();
    key("Alt+1");
    EXPECT_TRUE(glass().isVisible());
    key("Alt+2");
    EXPECT_FALSE(glass().isVisible());
    QStringList visited;
    for (int i = 0; i < 5; ++i) {
        key("F6");
        QWidget* focus = QApplication::focusWidget();
        ASSERT_TRUE(focus);
        visited.append(focus->objectName());
    }
    for (const char* region : {"sentence", "page", "tray", "save"})
        EXPECT_TRUE(visited.contains(region)) << region << " in " << qPrintable(visited.join(' '));
}

}
}
