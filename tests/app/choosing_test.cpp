// Choosing in the real window: frames by the mouse, items that are found automatically, the test strip.
#include "app/choosing.h"

#include "app/strip/strip_view.h"

#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QDragEnterEvent>
#include <QMimeData>

namespace yelvin::test {
namespace {

// Chooses each format with the mouse in the sentence's sheet, for two pages with a table: once for the document, once
// for each page.
TEST_F(Choosing, EveryFormatIsOfferedNamedAndSavedPerDocumentAndPerPage) {
    start();
    struct Made {
        const char *name, *extension;
        bool many; // pages in one file
    };
    choose([](Ticket& t) {
        t.how.dpi = 100;
        t.from.paper = "A4";
        t.read.languages.clear();
        t.make.format = Format::Png;
    });
    for (size_t pages = 1; pages <= 2; ++pages) {
        lay("invoice", 0);
        key("Ctrl+Return");
        ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == pages && at_rest(); }));
    }
    ASSERT_EQ(shape(), "2");
    const auto sheet_with = [&](const QString& row) {
        QApplication::processEvents();
        auto* sheet = QApplication::activePopupWidget();
        return sheet && row_of(sheet, row);
    };
    const auto save_as = [&](const Made& kind, Per per) {
        const QString row = QString("one %1 per %2").arg(kind.name, kind.many ? "document" : "page");
        open("make");
        if (!sheet_with(row)) {
            pick("other formats…");
            ASSERT_TRUE(wait([&] { return sheet_with(row); }));
        }
        pick(row);
        if (kind.many && per == Per::Page) { // its tick stands in the sheet of its kind
            open("make");
            QApplication::processEvents();
            if (!QApplication::activePopupWidget()->findChild<QCheckBox*>("per-page")) pick("other formats…");
            ASSERT_TRUE(wait([] {
                auto* sheet = QApplication::activePopupWidget();
                return sheet && sheet->findChild<QCheckBox*>("per-page");
            }));
            auto* tick = QApplication::activePopupWidget()->findChild<QCheckBox*>("per-page");
            QTest::mouseClick(tick, Qt::LeftButton, {}, {8, tick->height() / 2});
            QApplication::activePopupWidget()->close();
        }
        const QString said = part<Sentence>("sentence")->text();
        EXPECT_TRUE(said.contains(QString("make one %1 per %2").arg(kind.name, per == Per::Page ? "page" : "document")))
            << qPrintable(said);
        EXPECT_EQ(said.contains("read no text"), !is_made_of_words(desk_->tickets.ticket().make.format));
        ASSERT_TRUE(wait([&] { return at_rest(); }));
        saved_.clear();
        desk_->edits.rename_document(QString::fromStdString(desk_->tray.tray().documents[0]->id),
                                     QString("%1 %2").arg(kind.name, per == Per::Page ? "pages" : "whole"));
        key("Ctrl+S");
        ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
        EXPECT_EQ(saved_.size(), per == Per::Page ? 2 : 1);
        for (const QString& file : saved_) {
            EXPECT_TRUE(file.endsWith(QString(".") + kind.extension)) << qPrintable(file);
            EXPECT_GT(QFileInfo(file).size(), 100) << qPrintable(file);
        }
    };
    for (const Made& kind :
         {Made{"DOCX", "docx", true}, Made{"ODT", "odt", true}, Made{"text file", "txt", true},
          Made{"web page", "html", true}, Made{"e-book", "epub", true}, Made{"CSV of its tables", "csv", true},
          Made{"ALTO file", "xml", true}, Made{"hOCR file", "hocr", true}, Made{"PDF", "pdf", true},
          Made{"archive PDF", "pdf", true}, Made{"TIFF", "tif", true}, Made{"JPEG", "jpg", false},
          Made{"PNG", "png", false}, Made{"BMP", "bmp", false}, Made{"AVIF", "avif", false},
          Made{"HEIC", "heic", false}, Made{"WebP", "webp", false}}) {
        SCOPED_TRACE(kind.name);
        if (kind.many) save_as(kind, Per::Document);
        save_as(kind, Per::Page);
        if (HasFatalFailure()) return;
    }
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
}

// The options of a format are below it in the sheet. Those that differ from their defaults are also in the sentence.
TEST_F(Choosing, TheOptionsOfAFormatAreBelowIt) {
    start();
    const auto said = [&] { return part<Sentence>("sentence")->text(); };
    const auto tick = [&](const char* name) {
        open("make");
        QApplication::processEvents();
        auto* box = QApplication::activePopupWidget()->findChild<QCheckBox*>(name);
        ASSERT_TRUE(box) << name;
        QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
        QApplication::activePopupWidget()->close();
    };
    const auto take = [&](const QString& row) {
        open("make");
        QApplication::processEvents();
        pick(row);
    };
    choose([](Ticket& t) { t.read.languages = {"eng"}; });
    take("one PDF per document");
    EXPECT_TRUE(said().contains("make one searchable PDF per document"));
    tick("bookmarks");
    tick("searchable");
    EXPECT_TRUE(said().contains("make one PDF per document, without text, with bookmarks")) << qPrintable(said());
    tick("searchable");
    take("one archive PDF per document");
    tick("level-1b");
    EXPECT_TRUE(said().contains("make one searchable archive PDF per document, PDF/A-1b, with bookmarks"));
    take("one TIFF per document");
    take("LZW");
    EXPECT_TRUE(said().contains("make one TIFF per document, LZW compression")) << qPrintable(said());
    take("one DOCX per document");
    tick("as-it-looks");
    tick("per-page");
    EXPECT_TRUE(said().contains("make one DOCX per page, exact layout")) << qPrintable(said());
    const Ticket::Make make = desk_->tickets.ticket().make;
    EXPECT_TRUE(make.bookmarks && make.searchable && make.as_it_looks);
    EXPECT_EQ(make.pdf_a_level, PdfALevel::A1b);
    EXPECT_EQ(make.tiff_coding, TiffCoding::Lzw);
}

// If no page was read, an editable file waits until the pages are read, and the window says so.
TEST_F(Choosing, ATextFormatReportsThatItsPagesAreReadFirst) {
    start();
    QStringList told;
    QObject::connect(&desk_->messages, &Messages::told, [&](const QString& sentence) { told.append(sentence); });
    scan_quickly();
    ASSERT_TRUE(wait([&] { return at_rest(); }));
    choose([](Ticket& t) { t.make.format = Format::Docx; });
    key("Ctrl+S");
    EXPECT_TRUE(told.join(" ").contains(": the text is read first, then the DOCX is created."))
        << qPrintable(told.join(" "));
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); })) << qPrintable(trouble_);
    told.clear();
    desk_->edits.rename_document(QString::fromStdString(desk_->tray.tray().documents[0]->id), "again");
    saved_.clear();
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty() && at_rest(); }));
    EXPECT_FALSE(told.join(" ").contains("the text is read first"));
}

TEST_F(Choosing, ThreeFramesAreDrawnSnappedTurnedAndNumberedByMouse) {
    start();
    lay_three();
    choose([](Ticket& t) {
        t.from.frames = Frames::Drawn;
        t.how.dpi = 75;
        t.how.ink = Ink::Colour;
        t.read.languages.clear();
        t.pages = {false, false, false, 0.15};
    });
    preview();
    EXPECT_TRUE(desk_->glass.frames().empty()) << "finding is switched off";
    ASSERT_EQ(desk_->glass.found().size(), 3U) << "but edges are there to snap to";
    auto& view = glass();
    // A frame drawn a millimetre beside the edges of the card, which is 85.6 x 53.98 mm (ISO/IEC 7810 ID-1) around 60,
    // 262.
    drag(&view, view.to_screen(17.2 + 0.9, 235 - 0.8), view.to_screen(102.8 + 0.8, 289 + 0.9));
    ASSERT_EQ(desk_->glass.frames().size(), 1U);
    const Region card = desk_->glass.frames()[0].at;
    EXPECT_NEAR(card.w_mm, 85.6, 0.4);
    EXPECT_NEAR(card.h_mm, 53.98, 0.4);
    EXPECT_NEAR(card.x_mm, 60, 0.3);

    drag(&view, view.to_screen(130, 250), view.to_screen(190, 290));
    drag(&view, view.to_screen(30, 130), view.to_screen(90, 160));
    ASSERT_EQ(desk_->glass.frames().size(), 3U);
    // Dragging the bar outside the top edge of the third frame to the right turns the frame clockwise.
    const Region before = desk_->glass.frames()[2].at;
    const auto [from, to] = bar_of(before, view.mm_per_px());
    const QPointF bar = (view.to_screen(from.x, from.y) + view.to_screen(to.x, to.y)) / 2;
    const QPointF centre = view.to_screen(before.x_mm, before.y_mm);
    const double reach = centre.y() - bar.y(), angle = 20 * CV_PI / 180;
    drag(&view, bar, centre + QPointF(reach * std::sin(angle), -reach * std::cos(angle)));
    EXPECT_NEAR(desk_->glass.frames()[2].at.angle_degrees, 20, 1.5);
    EXPECT_EQ(desk_->glass.frames()[2].at.w_mm, before.w_mm) << "turning changes no size";
    // Dragging a corner along the turned frame's own directions leaves the opposite corner in place.
    const auto corners = corners_of(desk_->glass.frames()[2].at);
    drag(&view, view.to_screen(corners[2].x, corners[2].y), view.to_screen(corners[2].x + 6, corners[2].y + 12));
    EXPECT_NEAR(corners_of(desk_->glass.frames()[2].at)[0].x, corners[0].x, 0.01);
    EXPECT_NEAR(corners_of(desk_->glass.frames()[2].at)[2].y, corners[2].y + 12, 1.6);

    press("frame-earlier"); // the third is the second now
    EXPECT_EQ(desk_->glass.chosen_frame(), 1);
    EXPECT_NEAR(desk_->glass.frames()[1].at.angle_degrees, 20, 1.5);
    view.setFocus();
    QTest::keyClick(&view, Qt::Key_1);
    EXPECT_NEAR(desk_->glass.frames()[0].at.angle_degrees, 20, 1.5);
    const Region turned = desk_->glass.frames()[0].at;
    key("]"); // another side is up
    EXPECT_NEAR(desk_->glass.frames()[0].at.angle_degrees, turned.angle_degrees + 90, 0.01);
    EXPECT_EQ(desk_->glass.frames()[0].at.w_mm, turned.h_mm);
    QTest::keyClick(&view, Qt::Key_D);
    ASSERT_EQ(desk_->glass.frames().size(), 4U);
    QTest::keyClick(&view, Qt::Key_Delete);
    ASSERT_EQ(desk_->glass.frames().size(), 3U);

    const std::vector<Frame> drawn = desk_->glass.frames();
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 3 && at_rest(); }));
    for (size_t i = 0; i < 3; ++i) {
        EXPECT_NEAR(page_size(0, i).width, drawn[i].at.w_mm, 0.5) << i;
        EXPECT_NEAR(page_size(0, i).height, drawn[i].at.h_mm, 0.5) << i;
    }
    EXPECT_TRUE(desk_->glass.is_out_of_date()) << "the paper may be another one now";
}

TEST_F(Choosing, ThePositionAndSizeOfTheSelectedFrameCanBeTyped) {
    start();
    choose([](Ticket& t) { t.from.frames = Frames::Drawn; });
    drag(&glass(), glass().to_screen(40, 40), glass().to_screen(100, 100));
    const auto enter = [&](const QString& field, const QString& text) {
        auto* box = part<QDoubleSpinBox>(field);
        ASSERT_TRUE(box && box->isVisible()) << qPrintable(field);
        box->setFocus();
        box->selectAll();
        QTest::keyClicks(box, text);
        QTest::keyClick(box, Qt::Key_Return);
    };
    enter("frame-width", "80.5");
    enter("frame-x", "12");
    enter("frame-angle", "7.5");
    const Region at = desk_->glass.frames()[0].at;
    EXPECT_NEAR(at.w_mm, 80.5, 1e-6);
    EXPECT_NEAR(at.angle_degrees, 7.5, 1e-6);
    press("frame-unit");
    enter("frame-height", "2.5");
    EXPECT_NEAR(desk_->glass.frames()[0].at.h_mm, 63.5, 0.01);
    enter("frame-width", "0");
    EXPECT_GE(desk_->glass.frames()[0].at.w_mm, least_frame_mm) << "no frame is empty";
    press("frame-remove:1");
    EXPECT_TRUE(desk_->glass.frames().empty());
}

TEST_F(Choosing, EachItemOnTheGlassBecomesAStraightPage) {
    start();
    lay_three();
    choose([](Ticket& t) {
        t.how.dpi = 150;
        t.read.languages.clear();
        t.pages.turn_upright = false;
    });
    preview();
    ASSERT_EQ(desk_->glass.frames().size(), 3U);
    EXPECT_EQ(desk_->glass.frames()[0].photograph, true);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("3 frames"));
    choose([](Ticket& t) { t.from.frames = Frames::OneItem; }); // the same preview serves either way
    ASSERT_EQ(desk_->glass.frames().size(), 1U);
    EXPECT_NEAR(desk_->glass.frames()[0].at.h_mm, 281, 4);
    choose([](Ticket& t) { t.from.frames = Frames::EachItem; });
    ASSERT_EQ(desk_->glass.frames().size(), 3U);
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 3 && at_rest(); }));
    const SizeMm truth[] = {{150, 102}, {150, 102}, {85.6, 53.98}};
    const double turned[] = {2, -4, 0};
    for (size_t i = 0; i < 3; ++i) {
        const Page& page = *desk_->tray.tray().documents[0]->pages[i];
        EXPECT_NEAR(page_size(0, i).width, truth[i].width, 0.7) << i;
        EXPECT_NEAR(page_size(0, i).height, truth[i].height, 0.7) << i;
        EXPECT_NEAR(page.recipe.tilt_degrees, turned[i], 0.1) << i;
    }
    EXPECT_EQ(desk_->tray.tray().documents[0]->pages[2]->notices.paper, "Card") << "snapped to ISO/IEC 7810 ID-1";
    EXPECT_NEAR(page_size(0, 2).width, 85.6, 0.1);
    EXPECT_TRUE(desk_->glass.is_out_of_date());
    EXPECT_TRUE(desk_->glass.frames().empty()) << "what was found belongs to that paper";
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("each item on it"));

    // Scans the same paper again without a preview: the items are found in the scan itself.
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 6 && at_rest(); }));
    EXPECT_NEAR(page_size(0, 4).width, 150, 0.7);
    EXPECT_NEAR(desk_->tray.tray().documents[0]->pages[4]->recipe.tilt_degrees, -4, 0.1);
    // Then all of it becomes one page.
    choose([](Ticket& t) { t.from.frames = Frames::OneItem; });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 7 && at_rest(); }));
    EXPECT_NEAR(page_size(0, 6).height, 289 - 8, 4);
}

TEST_F(Choosing, AnA4SheetBecomesAnA4PageAndThePreviewBecomesOutdated) {
    start();
    BenchSetup bench;
    bench.glass = {{original("lease-1"), 106.5, 148.5, 0.4}};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& t) {
        t.how.dpi = 150;
        t.read.languages.clear();
    });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->choice.current()->notices.paper, "A4"); // ISO 216
    EXPECT_NEAR(page_size(0, 0).width, 210, 0.2);
    EXPECT_NEAR(page_size(0, 0).height, 297, 0.6);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("(A4)")) << qPrintable(part<Sentence>("sentence")->text());

    window_->look_at(MainWindow::Look::Glass);
    preview();
    EXPECT_FALSE(desk_->glass.is_out_of_date());
    press("new-paper");
    EXPECT_TRUE(desk_->glass.is_out_of_date());
    EXPECT_FALSE(part<QPushButton>("new-paper")->isVisible());
    desk_->glass.set_preview_lifetime(std::chrono::milliseconds(1)); // for ten minutes
    press("preview-again");
    ASSERT_TRUE(desk_->scanners.in_use());
    ASSERT_TRUE(wait([&] { return at_rest() && desk_->glass.is_out_of_date(); })) << "it grows old by itself";
}

TEST_F(Choosing, AutomaticResolutionAndFormatDependOnTheItems) {
    start();
    lay("photo-top-lock", 1);
    choose([](Ticket& t) {
        t.how.dpi_auto = true;
        t.make.format = Format::Auto;
    });
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("automatic resolution (300 dpi)"));
    press("scan"); // it looks first
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->choice.current()->original.dpi, 600) << "a small photograph";
    EXPECT_EQ(
        make_for(desk_->tickets.ticket().make, all_photographs(desk_->tray.tray().documents[0]->kept_pages())).format,
        Format::Jpeg);
    key("Ctrl+S");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); })) << qPrintable(trouble_);
    EXPECT_TRUE(saved_.front().endsWith(".jpg"));
    EXPECT_TRUE(desk_->next_scan.bytes_are_learnt() ||
                desk_->next_scan.page_bytes({150, 102}, 600, std::nullopt, true) > 0);
}

TEST_F(Choosing, TheRecommendationOfTheTestStripCanBeUsedInTheTicket) {
    start();
    lay("till-receipt", 0);
    choose([](Ticket& t) { t.read.languages = {"eng"}; });
    key("Alt+4");
    press("make-strip");
    ASSERT_TRUE(wait([&] { return !desk_->strip.strip().advice.empty(); })) << qPrintable(trouble_);
    EXPECT_EQ(desk_->strip.strip().best.dpi, 600);
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U) << "a test is no page";
    ASSERT_EQ(desk_->strip.strip().cells.size(), 18U);
    for (const StripCell& cell : desk_->strip.strip().cells) EXPECT_GT(cell.bytes, 0) << cell.dpi << ink_word(cell.ink);
    auto* view = part<StripView>("strip");
    ASSERT_TRUE(view->isVisible());
    const RectMm before = view->detail();
    const QRectF cell = view->cell_rect(300, Ink::Grey);
    drag(view, cell.center(), cell.center() - QPointF(0, 40));
    EXPECT_GT(view->detail().y, before.y + 3) << "the picture follows the mouse";
    EXPECT_NEAR(view->detail().y - before.y, 40 * before.width / cell.width(), 0.5);
    EXPECT_NEAR(px_to_mm(view->cell_picture(75, Ink::Grey).width(), 75), view->detail().width, 0.4);
    EXPECT_NEAR(px_to_mm(view->cell_picture(600, Ink::Colour).width(), 600), view->detail().width, 0.1)
        << "all the same part";

    const StripAdvice first = desk_->strip.strip().advice.front();
    press("use-advice:0");
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, first.dpi);
    EXPECT_EQ(desk_->tickets.ticket().how.ink, first.ink);
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains(QString("%1 dpi").arg(first.dpi)));
}

}
}
