// Which pages become one document, on the glass and in a stack.
#include "app/tickets_window.h"

namespace yelvin::test {
namespace {

class OwnDocumentsWindow : public TicketsWindow {
  protected:
    void start_with(Documents documents) {
        start();
        make_ticket("Bills", "amber", Format::Pdf);
        choose_documents(documents);
    }
    void choose_documents(Documents documents) {
        choose([&](Ticket& t) {
            t.save.folder = folder_of("Bills").string();
            t.from.paper = "auto";
            t.pages.documents = documents;
        });
    }
    void scan_until(const std::string& wanted) {
        key("Ctrl+Return");
        EXPECT_TRUE(wait([&] { return shape() == wanted && at_rest(); })) << shape() << " instead of " << wanted;
    }
    // Two small papers side by side.
    void lay_two() {
        BenchSetup bench;
        bench.glass = {{original("till-receipt"), 50, 80, 0}, {original("membership-card-front"), 150, 80, 0}};
        desk_->scanners.set_bench(bench);
    }
    QString lands() const { return part<QPushButton>("lands")->text(); }
};

TEST_F(OwnDocumentsWindow, EachItemOnTheGlassIsADocumentWithItsOwnFile) {
    start_with(Documents::EachItem);
    lay_two();
    scan_until("1|1");
    EXPECT_EQ(lands(), "a new document");
    scan_until("1|1|1|1");
    press("lands");
    EXPECT_EQ(lands(), "page 2 of Bill 04");
    scan_until("1|1|1|3");
    EXPECT_EQ(lands(), "a new document") << "what was asked for counts for one scan";
    desk_->tray.set_landing(Landing{page_id(0, 0).toStdString(), Landing::How::Behind});
    scan_until("3|1|1|3");
    save_all();
    EXPECT_EQ(files_in("Bills"), "Bill 01.pdf|Bill 02.pdf|Bill 03.pdf|Bill 04.pdf|");
}

TEST_F(OwnDocumentsWindow, EachScanIsADocumentWithAllItsPages) {
    start_with(Documents::EachScan);
    lay_two();
    scan_until("2");
    scan_until("2|2");
    choose_documents(Documents::Joined);
    scan_until("2|4");
}

TEST_F(OwnDocumentsWindow, EachSheetOfAStackIsADocumentWithItsBack) {
    start_with(Documents::EachItem);
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Bills").string();
        t.from.source = Source::FeederBoth;
    });
    BenchSetup bench;
    bench.stack = {{{original("lease-1")}, {original("lease-2")}},
                   {{original("invoice")}, {}},
                   {{original("lease-1")}, {original("lease-2")}}};
    desk_->scanners.set_bench(bench);
    scan_until("2|2|2");
    EXPECT_TRUE(part<Sentence>("sentence")->text().contains("a new document for each sheet"));
}

TEST_F(OwnDocumentsWindow, PiecesOfOneOriginalStayTogether) {
    start_with(Documents::EachScan);
    lay_two();
    desk_->run.scan_piece();
    ASSERT_TRUE(wait([&] { return shape() == "1" && at_rest(); }));
    desk_->run.scan_piece(page_id(0, 0));
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && at_rest(); }));
    EXPECT_EQ(shape(), "2");
}

TEST_F(OwnDocumentsWindow, ThePhraseIsChangedInItsSheet) {
    start_with(Documents::Joined);
    const auto phrase = [this] { return part<Sentence>("sentence")->text(); };
    EXPECT_TRUE(phrase().contains("collect in one document")) << qPrintable(phrase());
    part<TicketBar>()->open_phrase("documents");
    press_row(QApplication::activePopupWidget(), "a new document for each item");
    EXPECT_EQ(desk_->tickets.ticket().pages.documents, Documents::EachItem);
    EXPECT_TRUE(phrase().contains("a new document for each item"));
    choose([](Ticket& t) { t.from.source = Source::FeederFront; });
    part<TicketBar>()->open_phrase("documents");
    press_row(QApplication::activePopupWidget(), "a new document at each blank sheet");
    EXPECT_EQ(desk_->tickets.ticket().pages.documents, Documents::Joined);
    EXPECT_EQ(desk_->tickets.ticket().pages.split, SplitAt::BlankSheet);
    EXPECT_TRUE(phrase().contains("a new document at each blank sheet"));
    part<TicketBar>()->open_phrase("documents");
    press_row(QApplication::activePopupWidget(), "a new document for each scan");
    EXPECT_EQ(desk_->tickets.ticket().pages.split, SplitAt::Never);
    EXPECT_TRUE(phrase().contains("a new document for each scan"));
}

// A page keeps the choices that it was scanned with: it is scanned again with them, whatever the sentence says.
TEST_F(OwnDocumentsWindow, APageScannedAgainKeepsItsTicket) {
    start();
    make_tickets();
    scan_with("Leases");
    use("Bills");
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Bills").string();
        t.how.dpi = 150;
    });
    desk_->tray.set_next_page_starts_document(false);
    scan();
    ASSERT_EQ(shape(), "2");
    const auto dpi = [this](size_t page) { return document(0).pages.at(page)->original.dpi; };
    const auto replace = [&](size_t page) {
        const QString before = page_id(0, page);
        desk_->choice.set_current(before);
        desk_->run.scan_at_current(Landing::How::Instead);
        ASSERT_TRUE(wait([&] { return page_id(0, page) != before && at_rest(); }));
    };
    start();
    use("Notes");
    choose([&](Ticket& t) { t.how.dpi = 100; });
    for (const size_t page : {0, 1, 0}) replace(page); // what was scanned again is so too
    EXPECT_EQ(shape(), "2");
    EXPECT_EQ(dpi(0), 75);
    EXPECT_EQ(dpi(1), 150);
    use("Leases");
    choose([&](Ticket& t) { t.how.dpi = 100; });
    EXPECT_EQ(tickets(), "Leases ");
    desk_->choice.set_current(page_id(0, 1));
    desk_->run.scan_at_current(Landing::How::Behind);
    ASSERT_TRUE(wait([&] { return shape() == "3" && at_rest(); }));
    EXPECT_EQ(dpi(2), 100) << "another page is as the sentence says";
}

}
}
