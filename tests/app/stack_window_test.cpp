// Stacks in the real window: blank sides, documents, other scanners, and files that are added.
#include "app/run/blank_sheet.h"
#include "app/run/resolution_card.h"
#include "app/window_fixture.h"
#include "core/output/separator_sheet.h"

#include <sys/resource.h>

#include <QCheckBox>
#include <QComboBox>
#include <QSlider>
#include <QSpinBox>

#include <csignal>

namespace yelvin::test {
namespace {

class Stack : public Window {
  protected:
    static StackSheet sheet(const char* front, const char* back = "") {
        return {{*front ? original(front) : std::filesystem::path()},
                {*back ? original(back) : std::filesystem::path()}};
    }
    void scan_stack(std::vector<StackSheet> stack, const std::function<void(Ticket&)>& how) {
        BenchSetup bench;
        bench.stack = std::move(stack);
        desk_->scanners.set_bench(bench);
        choose([&](Ticket& t) {
            t.from.source = Source::FeederBoth;
            t.how.dpi = 100;
            t.read.languages.clear();
            t.pages.turn_upright = false;
            how(t);
        });
        press("scan");
        ASSERT_TRUE(wait([&] { return at_rest() && desk_->tray.tray().page_count() > 0; }));
    }
    // "p-|px": pages, blank sheets and separators by document.
    std::string slips() const {
        std::string out;
        for (const auto& document : desk_->tray.tray().documents) {
            out += out.empty() ? "" : "|";
            for (const auto& page : document->pages)
                out += page->dropped == Dropped::No ? "p" : page->dropped == Dropped::Blank ? "-" : "x";
        }
        return out;
    }
};

TEST_F(Stack, BlankSidesBecomeSlipsThatCanBeBroughtBack) {
    start();
    scan_stack({sheet("lease-1", "lease-2"), sheet("invoice"), sheet("till-receipt")},
               [](Ticket& t) { t.pages.drop_blank = true; });
    EXPECT_EQ(slips(), "ppp-p-");
    EXPECT_NEAR(desk_->tray.tray().documents[0]->pages[4]->recipe.crop->width, 79.6, 1) << "cut to the sheet";
    const QString blank = page_id(0, 3);
    EXPECT_LT(tray().page_rect(blank).width(), 20) << "a thin slip";
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().page_rect(blank).center());
    press_notice("bring back");
    EXPECT_EQ(slips(), "ppppp-");
    QTest::mouseDClick(&tray(), Qt::LeftButton, {}, tray().page_rect(page_id(0, 5)).center());
    EXPECT_EQ(slips(), "pppppp");
    key("Ctrl+Z");
    key("Ctrl+Z");
    EXPECT_EQ(slips(), "ppp-p-");
    press("save");
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); }));
    EXPECT_EQ(count_pages(saved_.front().toStdString()).value_or(0), 4) << "slips are not in the file";
}

// It is so crisp that it looks like pale print; the other side of the sheet shows that it shines through.
TEST_F(Stack, ASideWithOnlyShowThroughBecomesASlip) {
    start();
    StackSheet thin = sheet("", "lease-1");
    thin.show_through = 0.2;
    thin.show_through_blur_mm = 0.1;
    const auto how = [](Ticket& t) {
        t.pages.drop_blank = true;
        t.how.dpi = 200;
    };
    scan_stack({thin, sheet("invoice")}, how);
    EXPECT_EQ(slips(), "-pp-");
    EXPECT_FALSE(desk_->tray.tray().documents[0]->pages[0]->notices.in_doubt);
    key("Ctrl+Z");
    scan_stack({thin, sheet("invoice")}, [&](Ticket& t) {
        how(t);
        t.from.source = Source::FeederFront;
    });
    EXPECT_EQ(slips(), "pp") << "by itself it may be pale print";
    EXPECT_TRUE(desk_->tray.tray().documents[0]->pages[0]->notices.in_doubt);
}

TEST_F(Stack, TheBlankLimitShowsAtOnceWhichPagesAreLeftOut) {
    start();
    const TempFolder folder;
    write_file(folder / "number.svg",
               "<svg xmlns='http://www.w3.org/2000/svg' width='210mm' height='297mm' viewBox='0 0 210 297'>"
               "<rect width='210' height='297' fill='white'/><text x='104' y='285' font-size='4' "
               "font-family='DejaVu Sans'>7</text></svg>");
    scan_stack({sheet("lease-1"), {{folder / "number.svg"}, {}}}, [](Ticket& t) { t.how.dpi = 150; });
    EXPECT_EQ(slips(), "pppp") << "nothing is dropped unasked";
    window_->open_blank_sheet();
    auto* card = qobject_cast<BlankSheet*>(QApplication::activePopupWidget());
    ASSERT_TRUE(card);
    auto* slider = card->findChild<QSlider*>("blank-limit");
    EXPECT_NEAR(card->limit(), 0.15, 0.01);
    EXPECT_EQ(card->going(), 2) << "the two bare backs";
    slider->setValue(0);
    EXPECT_EQ(card->going(), 0);
    EXPECT_TRUE(card->findChild<QLabel*>("blank-count")->text().contains("0 of 4 sides are left out"));
    slider->setValue(slider->maximum() / 2);
    EXPECT_EQ(card->going(), 3) << "with half a percent the lone page number goes too";
    QTest::mouseClick(card->findChild<QPushButton*>("blank-apply"), Qt::LeftButton);
    EXPECT_EQ(slips(), "p---");
    EXPECT_TRUE(desk_->tickets.ticket().pages.drop_blank);
    key("Ctrl+Z");
    EXPECT_EQ(slips(), "pppp");
    // A page that the user brought back stays, whatever the limit becomes.
    desk_->run.set_blank_limit(0.5);
    ASSERT_EQ(slips(), "p---");
    QTest::mouseDClick(&tray(), Qt::LeftButton, {}, tray().page_rect(page_id(0, 2)).center());
    ASSERT_EQ(slips(), "p-p-");
    desk_->run.set_blank_limit(0.6);
    EXPECT_EQ(slips(), "p-p-");
    // A document without pages has no uncertain words to go to.
    Tray bare = desk_->tray.tray();
    for (const int page : {0, 2}) bare = with_page_dropped(bare, page_id(0, page).toStdString(), Dropped::Blank);
    desk_->tray.edit(bare, "left out");
    ASSERT_EQ(slips(), "----");
    EXPECT_FALSE(desk_->words.next_doubtful(1));
}

TEST_F(Stack, DocumentsStartAtBlankSheets) {
    start();
    scan_stack({sheet("lease-1", "lease-2"), sheet(""), sheet("invoice"), sheet(""), sheet("till-receipt")},
               [](Ticket& t) {
                   t.pages.split = SplitAt::BlankSheet;
                   t.pages.drop_blank = true;
               });
    EXPECT_EQ(slips(), "ppxx|p-xx|p-");
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("a new document at each blank sheet"));
}

TEST_F(Stack, PrintedSeparatorSheetsDivideAndNameDocuments) {
    start();
    const QString pdf = QString::fromStdString(base_ / "separators.pdf");
    window_->write_separators(pdf, {"Top Lock", ""});
    ASSERT_TRUE(wait([&] { return QFileInfo::exists(pdf); }));
    const auto separator = [&](int page) { return StackSheet{{pdf.toStdString(), page}, {}}; };
    StackSheet turned = separator(1);
    turned.upside_down = true;
    turned.skew_degrees = 1.5;
    scan_stack({separator(0), sheet("invoice"), turned, sheet("till-receipt")}, [](Ticket& t) {
        t.pages.split = SplitAt::Separator;
        t.pages.drop_blank = true;
        t.how.dpi = 150;
        t.save.name = {
            {NamePart::Kind::Barcode, ""}, {NamePart::Kind::Words, "bill"}, {NamePart::Kind::Counter, "", 2}};
    });
    EXPECT_EQ(slips(), "xxp-xx|p-");
    EXPECT_EQ(desk_->names.title_of(*desk_->tray.tray().documents[0]), "Top Lock bill 01");
    EXPECT_EQ(desk_->names.title_of(*desk_->tray.tray().documents[1]), "bill 01") << "each name counts by itself";
    desk_->saving.save({QString::fromStdString(desk_->tray.tray().documents[0]->id)});
    ASSERT_TRUE(wait([&] { return !saved_.isEmpty(); }));
    EXPECT_TRUE(saved_.front().endsWith("/Top Lock bill 01.pdf")) << qPrintable(saved_.front());
}

TEST_F(Stack, DocumentsStartAfterANumberOfPages) {
    start();
    scan_stack({sheet("lease-1", "lease-2"), sheet("lease-1", "lease-2"), sheet("invoice")}, [](Ticket& t) {
        t.pages.split = SplitAt::Every;
        t.pages.split_every = 2;
        t.how.dpi = 75;
    });
    EXPECT_EQ(slips(), "pp|pp|pp");
}

TEST_F(Stack, AFullDiskIsReportedAndTheScanContinues) {
    start();
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    BenchSetup bench;
    bench.stack = {sheet("photo-top-lock"), sheet("photo-top-lock")};
    desk_->scanners.set_bench(bench);
    choose([](Ticket& t) {
        t.from.source = Source::FeederFront;
        t.how.dpi = 300;
        t.read.languages.clear();
        t.pages.turn_upright = false;
    });
    const rlimit full{300 * 1024, before.rlim_max}; // a page at 300 dpi is more, the tray's database less
    setrlimit(RLIMIT_FSIZE, &full);
    press("scan");
    const bool waited = wait([&] { return at_rest() && desk_->run.waiting().what == Waiting::For::Fault; });
    setrlimit(RLIMIT_FSIZE, &before);
    ASSERT_TRUE(waited);
    EXPECT_TRUE(part<QLabel>("run-words")->text().contains("Put sheet 1 back"))
        << qPrintable(part<QLabel>("run-words")->text());
    EXPECT_EQ(desk_->tray.tray().page_count(), 0U);
}

TEST_F(Stack, ATicketIsAdaptedToTheScannerVisibly) {
    start();
    choose([](Ticket& t) {
        t.how.dpi = 240;
        t.how.ink = Ink::Black;
        t.from.source = Source::Glass;
    });
    auto* sentence = part<Sentence>("sentence");
    EXPECT_TRUE(sentence->text().contains("300 dpi (instead of 240)")) << qPrintable(sentence->text());
    EXPECT_TRUE(sentence->text().startsWith("Scan the glass of Simulated scanner"));
    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("scanner").center());
    QTest::mouseClick(row_of(QApplication::activePopupWidget(), "Simulated feeder"), Qt::LeftButton);
    EXPECT_TRUE(sentence->text().startsWith("Scan the feeder, front only (instead of the glass) of Simulated feeder"))
        << qPrintable(sentence->text());
    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("dpi").center());
    QWidget* sheet = QApplication::activePopupWidget();
    EXPECT_TRUE(row_of(sheet, "150 dpi"));
    EXPECT_FALSE(row_of(sheet, "75 dpi")) << "only what the scanner can do is offered";
    sheet->close();
    start();
    EXPECT_EQ(desk_->tickets.ticket().how.dpi, 240) << "the ticket itself stays as it was";
}

// libsane's test backend is used like any other scanner: it is chosen in the sheet, its own options are set, and ten
// sheets are fed.
TEST_F(Stack, ARealScannerIsFoundAndUsed) {
    write_file(base_ / "dll.conf", "test\n");
    setenv("SANE_CONFIG_DIR", base_.path().c_str(), 1);
    real_scanners_ = true;
    start(false);
    ASSERT_TRUE(wait([&] { return !desk_->scanners.looking() && desk_->scanners.all().size() == 4; }));
    auto* sentence = part<Sentence>("sentence");
    QTest::mouseClick(sentence, Qt::LeftButton, {}, sentence->phrase_rect("scanner").center());
    QWidget* list = QApplication::activePopupWidget();
    ASSERT_TRUE(list);
    QList<SheetRow*> rows;
    for (auto* row : list->findChildren<SheetRow*>())
        if (row->text() == "Noname frontend-tester") rows.append(row);
    ASSERT_EQ(rows.size(), 2) << "test:0 and test:1";
    QTest::mouseClick(rows.front(), Qt::LeftButton);
    ASSERT_TRUE(wait([&] { return desk_->scanners.chosen() && desk_->scanners.connecting_to().isEmpty(); }));
    EXPECT_EQ(desk_->scanners.key(), "test:0");
    EXPECT_TRUE(sentence->text().contains("Noname frontend-tester")) << qPrintable(sentence->text());
    window_->ticket_bar().open_phrase("more");
    QWidget* more = QApplication::activePopupWidget();
    ASSERT_TRUE(more);
    auto* picture = more->findChild<QComboBox*>("more:test-picture");
    ASSERT_TRUE(picture);
    picture->setCurrentText("Grid");
    emit picture->textActivated("Grid");
    EXPECT_TRUE(more->findChild<QCheckBox*>("more:hand-scanner"));
    more->close();
    EXPECT_EQ(std::get<std::string>(desk_->tickets.ticket().from.more.at("test:0").at("test-picture")), "Grid");
    choose([](Ticket& t) {
        t.from.source = Source::FeederFront;
        t.from.paper = "Card";
        t.how.dpi = 75;
        t.how.ink = Ink::Grey;
        t.read.languages.clear();
        t.pages.turn_upright = false;
    });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 10 && at_rest(); })) << qPrintable(trouble_);
    EXPECT_TRUE(trouble_.isEmpty()) << qPrintable(trouble_);
    choose([](Ticket& t) { t.from.more["test:0"]["read-return-value"] = std::string("SANE_STATUS_COVER_OPEN"); });
    press("scan");
    ASSERT_TRUE(wait([&] { return desk_->run.waiting().what == Waiting::For::Fault; }));
    EXPECT_TRUE(part<QLabel>("run-words")->text().contains("The lid of Noname frontend-tester was opened at sheet 1"));
    choose([](Ticket& t) { t.from.more["test:0"]["read-return-value"] = std::string("Default"); });
    key("Esc");
}

TEST_F(Stack, AsksForTheResolutionOfPictures) {
    start(false);
    ASSERT_EQ(run({"convert", "-size", "300x200", "xc:gray", "-strip", "-define", "png:exclude-chunks=pHYs",
                   (base_ / "camera.png").string()})
                  .status,
              0);
    desk_->files.add({QString::fromStdString(base_ / "camera.png")});
    auto* card = part<ResolutionCard>("resolution");
    ASSERT_TRUE(wait([&] { return card->isVisible(); }));
    auto* words = part<QLabel>("resolution-words");
    EXPECT_TRUE(words->text().contains("camera.png has no resolution. 300 × 200 px: 25.4 × 16.9 mm at 300 dpi"))
        << qPrintable(words->text());
    part<QSpinBox>("resolution-dpi")->setValue(100);
    EXPECT_TRUE(words->text().contains("76.2 × 50.8 mm at 100 dpi"));
    press("resolution-take");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 1 && at_rest(); }));
    EXPECT_EQ(desk_->choice.current()->original.dpi, 100);
    EXPECT_FALSE(card->isVisible());
}

}
}
