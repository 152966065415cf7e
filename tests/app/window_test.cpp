// The real window, used as a person would: mouse and keys go in; files and what is shown come out.
#include "app/window_fixture.h"
#include "core/cabinet/finding.h"

#include <thread>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

TEST_F(Window, ScansFromTheGlassToASearchablePdfWithAChosenName) {
    start();
    lay("lease-1", 181.4); // upside down and crooked
    choose([](Ticket& ticket) { ticket.from.frames = Frames::Drawn; });
    press("preview");
    ASSERT_TRUE(wait([&] { return at_rest() && !desk_->glass.preview().isNull(); }));

    drag(&glass(), glass().to_screen(6, 105), glass().to_screen(206, 292));
    ASSERT_EQ(desk_->glass.frames().size(), 1U);
    const RectMm frame = hull_of({desk_->glass.frames().front().at});
    EXPECT_NEAR(frame.width, 200, 1.5);

    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_TRUE(part<PageView>("page")->isVisible()) << "the page is looked at as it comes";
    const PagePtr page = desk_->choice.current();
    ASSERT_TRUE(page);
    EXPECT_EQ(page->recipe.turn_degrees, 180);
    EXPECT_NEAR(page->recipe.tilt_degrees, 1.4, 0.1);
    EXPECT_EQ(page->recipe.ink, Ink::Grey);

    key("]");
    EXPECT_EQ(desk_->choice.current()->recipe.turn_degrees, 270);
    key("[");
    EXPECT_EQ(desk_->choice.current()->recipe.turn_degrees, 180);

    key("F2");
    auto* name = part<QLineEdit>("rename");
    ASSERT_TRUE(name);
    QTest::keyClicks(name, "Patient Heron, lease");
    QTest::keyClick(name, Qt::Key_Return);
    EXPECT_EQ(desk_->tray.tray().documents.front()->name, "Patient Heron, lease");

    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); })) << qPrintable(trouble_);
    const std::string pdf = base_ / "Patient Heron, lease.pdf";
    EXPECT_EQ(saved_, QStringList{QString::fromStdString(pdf)});
    EXPECT_FALSE(desk_->tray.tray().documents.front()->saved_as.empty());

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
    EXPECT_TRUE(desk_->glass.frames().empty()) << "a click draws nothing";
    drag(&view, view.to_screen(50, 50), view.to_screen(110, 130));
    ASSERT_EQ(desk_->glass.frames().size(), 1U);
    drag(&view, view.to_screen(80, 90), view.to_screen(100, 120)); // the inside
    const auto front = [&] { return hull_of({desk_->glass.frames().front().at}); };
    RectMm frame = front();
    EXPECT_NEAR(frame.x, 70, 1);
    EXPECT_NEAR(frame.y, 80, 1);
    EXPECT_NEAR(frame.width, 60, 1);
    drag(&view, view.to_screen(frame.x + frame.width, frame.y + frame.height), view.to_screen(160, 200)); // a mount
    frame = front();
    EXPECT_NEAR(frame.width, 90, 1);
    EXPECT_NEAR(frame.height, 120, 1);
    drag(&view, view.to_screen(frame.x, frame.y + 60), view.to_screen(40, frame.y + 90)); // the left edge alone
    EXPECT_NEAR(front().x, 40, 1);
    EXPECT_NEAR(front().y, frame.y, 0.01);
    drag(&view, view.to_screen(40, front().y + 60), view.to_screen(400, 300)); // the edge dragged past the other
    EXPECT_GE(front().width, 2);
    EXPECT_LE(front().x + front().width, desk_->scanners.capabilities().glass.width + 0.01);
    drag(&view, view.to_screen(10, 220), view.to_screen(60, 280));
    EXPECT_EQ(desk_->glass.frames().size(), 2U);
    EXPECT_EQ(desk_->next_scan.frames().size(), 2U) << "a page each";
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_Delete);
    EXPECT_EQ(desk_->glass.frames().size(), 1U);
    drag(&view, view.to_screen(20, 0.8), view.to_screen(60, 296.5));
    EXPECT_NEAR(hull_of({desk_->glass.frames().back().at}).y, 0, 1e-9) << "snapped to the glass";
}

TEST_F(Window, AChangedPhraseSurvivesARestart) {
    start();
    auto* sentence = part<Sentence>("sentence");
    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("dpi").center());
    QWidget* sheet = QApplication::activePopupWidget();
    ASSERT_TRUE(sheet);
    auto* chosen = row_of(sheet, "300 dpi");
    ASSERT_TRUE(chosen && chosen->hasFocus()) << "the chosen value has the focus";
    QTest::keyClick(chosen, Qt::Key_Down);
    QTest::keyClick(row_of(sheet, "400 dpi"), Qt::Key_Return);
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 400);
    EXPECT_TRUE(sentence->text().contains("at 400 dpi")) << qPrintable(sentence->text());

    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("make").center());
    QTest::mouseClick(row_of(QApplication::activePopupWidget(), "one JPEG per page"), Qt::LeftButton);
    EXPECT_TRUE(sentence->text().contains("one JPEG per page")) << qPrintable(sentence->text());

    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("name").center());
    QTest::mouseClick(QApplication::activePopupWidget()->findChild<QAbstractButton*>("chip:words"), Qt::LeftButton);
    QTest::keyClicks(QApplication::activePopupWidget()->findChild<QLineEdit*>("chip-words"), "Lock");
    QTest::keyClick(QApplication::activePopupWidget(), Qt::Key_Escape);
    EXPECT_TRUE(sentence->text().contains(" Lock 001 in ")) << qPrintable(sentence->text());

    start();
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 400);
    EXPECT_EQ(desk_->tickets.ticket().make.format, Format::Jpeg);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains(" Lock 001 in "));
}

TEST_F(Window, EveryPhraseCanBeOpenedByKeyboard) {
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
    EXPECT_EQ(desk_->choice.current_id(), first);
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

TEST_F(Window, AMissingFolderIsReportedAndNothingIsLost) {
    start();
    scan_quickly();
    Ticket ticket = desk_->tickets.ticket();
    ticket.save.folder = base_ / "not there";
    desk_->tickets.set(ticket);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("(missing)"));
    press("save");
    ASSERT_TRUE(wait([&] { return !trouble_.isEmpty(); }));
    EXPECT_TRUE(trouble_.contains("does not exist")) << qPrintable(trouble_);
    auto* news = part<QLabel>("news-words");
    EXPECT_TRUE(news->isVisible() && news->text().contains("not there"));
    EXPECT_EQ(shape(), "1");
    EXPECT_TRUE(desk_->tray.tray().documents.front()->saved_as.empty());
    choose([](Ticket& t) { t.make.format = Format::Png; });
    press("save");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); }));
    EXPECT_TRUE(read_page(saved_.front().toStdString()));
}

TEST_F(Window, AutomaticCorrectionsCanBeUndoneOneByOne) {
    start();
    lay("invoice", 2);
    choose([](Ticket& t) {
        t.how.dpi = 150;
        t.read.languages.clear();
        t.from.paper = "A4";
    });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_NEAR(desk_->choice.current()->recipe.tilt_degrees, 2, 0.1);
    EXPECT_EQ(desk_->choice.current()->recipe.ink, Ink::Grey);
    press_notice("undo");
    EXPECT_EQ(desk_->choice.current()->recipe.tilt_degrees, 0);
    press_notice("keep colour");
    EXPECT_FALSE(desk_->choice.current()->recipe.ink);
    EXPECT_EQ(desk_->choice.current()->recipe, Recipe{});
    press_notice("straighten");
    EXPECT_NEAR(desk_->choice.current()->recipe.tilt_degrees, 2, 0.1);
    key("Alt+.");
    EXPECT_NEAR(desk_->choice.current()->recipe.tilt_degrees, 1.9, 0.06);
    press("as-scanned");
    EXPECT_EQ(desk_->choice.current()->recipe, Recipe{});
    key("Ctrl+Z");
    EXPECT_NEAR(desk_->choice.current()->recipe.tilt_degrees, 1.9, 0.06);
}

TEST_F(Window, HoldingBShowsTheOriginal) {
    start();
    scan_quickly();
    auto* page = part<PageView>("page");
    page->setFocus();
    QTest::keyPress(page, Qt::Key_B);
    EXPECT_TRUE(page->shows_original());
    QTest::keyRelease(page, Qt::Key_B);
    EXPECT_FALSE(page->shows_original());
}

TEST_F(Window, AStoppedScanKeepsItsPagesAndTheNextOneWorks) {
    start();
    scan_quickly();
    BenchSetup bench = desk_->scanners.bench().bench();
    bench.real_pace = true;
    bench.seconds_for_a4 = 600; // so long that no machine is too slow to stop it
    desk_->scanners.set_bench(bench);
    QSignalSpy growing(&desk_->run, &Scanning::page_growing);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return !growing.isEmpty(); })) << "the page is shown as it grows";
    key("Esc");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(shape(), "1");
    EXPECT_TRUE(trouble_.isEmpty()) << "a stop is no trouble";
    scan_quickly();
    EXPECT_EQ(shape(), "2");
}

TEST_F(Window, TheTraySurvivesARestart) {
    start();
    scan_quickly();
    key("]");
    const QString id = desk_->choice.current_id();
    start();
    EXPECT_EQ(shape(), "1");
    EXPECT_EQ(desk_->choice.current_id(), id);
    EXPECT_EQ(desk_->choice.current()->recipe.turn_degrees, 90);
}

// The file is complete but the window was not told yet: after the restart it is not saved a second time.
TEST_F(Window, AFileCompletedDuringClosingCountsAsSaved) {
    start();
    scan_quickly();
    const auto is_there = [&] {
        return std::ranges::any_of(base_.files(), [](const std::string& each) { return each.ends_with(".pdf"); });
    };
    key("Ctrl+S");
    while (!is_there()) std::this_thread::yield(); // no event of the window is handled meanwhile
    EXPECT_TRUE(desk_->tray.tray().documents.at(0)->saved_as.empty());
    start();
    const std::string saved_as = desk_->tray.tray().documents.at(0)->saved_as;
    EXPECT_TRUE(fs::exists(saved_as)) << saved_as;
    key("Ctrl+Shift+S");
    QApplication::processEvents();
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_EQ(std::ranges::count_if(base_.files(), [](const std::string& each) { return each.ends_with(".pdf"); }), 1);
    ASSERT_TRUE(wait([&] { return !desk_->cabinet.at_work(); }));
    auto finder = Finder::open(fs::path(desk_->places.data.toStdString()).parent_path() / "cabinet");
    ASSERT_TRUE(finder);
    const auto found = finder->find("scan", {}, 5, std::chrono::year(2026) / 11 / 27);
    ASSERT_TRUE(found);
    EXPECT_EQ(found->of, 1);
}

TEST_F(Window, TheFirstStartOffersTheSimulatedScannerAndFiles) {
    start(false);
    EXPECT_FALSE(part<QPushButton>("scan")->isEnabled());
    EXPECT_TRUE(part<QPushButton>("add-files")->isVisible());
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("no scanner yet"));
    press("use-bench");
    EXPECT_TRUE(part<QPushButton>("scan")->isEnabled());
    EXPECT_TRUE(part<QPushButton>("preview")->isVisible());
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("Simulated scanner"));
}

TEST_F(Window, FilesAreAddedAndAnInvalidOneIsReported) {
    start(false);
    write_file(base_ / "good.png", *encode_png(scan("till-receipt", 0, 75, Ink::Grey, {60, 90, 90, 110})));
    write_file(base_ / "bad.png", "nothing of the kind");
    desk_->files.add({QString::fromStdString(base_ / "bad.png"), QString::fromStdString(base_ / "good.png")});
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_TRUE(trouble_.contains("bad.png is not a picture")) << qPrintable(trouble_);
    EXPECT_EQ(desk_->choice.current()->original.dpi, 75);
}

TEST_F(Window, OtherPaperMakesThePreviewOutdated) {
    start();
    lay("invoice", 0);
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return at_rest() && !desk_->glass.preview().isNull(); }));
    EXPECT_FALSE(desk_->glass.is_out_of_date());
    window_->open_bench();
    auto* sheet = qobject_cast<BenchSheet*>(QApplication::activePopupWidget());
    ASSERT_TRUE(sheet);
    QTest::mouseClick(sheet->findChild<QPushButton*>("lay:lease-2.svg"), Qt::LeftButton);
    EXPECT_EQ(desk_->scanners.bench().bench().glass.size(), 1U) << "a sheet takes the place of a sheet";
    EXPECT_EQ(desk_->scanners.bench().bench().glass.front().file.filename(), "lease-2.svg");
    EXPECT_TRUE(desk_->glass.is_out_of_date());
    sheet->close();
    key("Ctrl+L");
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    EXPECT_FALSE(desk_->glass.is_out_of_date());
}

TEST_F(Window, F6MovesBetweenRegionsAndAltNumbersChangeTheView) {
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
