// Documents keep the ticket that they were scanned with, whatever the sentence says later.
#include "app/held.h"
#include "app/ticketbar/ticket_stub.h"
#include "app/tickets_window.h"

#include <QDragEnterEvent>
#include <QMimeData>

#include <SQLiteCpp/SQLiteCpp.h>

namespace yelvin::test {
namespace {

class DocumentTicketsWindow : public TicketsWindow {};

TEST_F(DocumentTicketsWindow, EachDocumentIsSavedAccordingToItsTicket) {
    start();
    make_tickets();
    for (int i = 0; i < 4; ++i) {
        for (const char* ticket : {"Leases", "Bills", "Notes", "Leases", "Bills"}) scan_with(ticket);
    }
    EXPECT_EQ(shape(), "1|1|1|1|1|1|1|1|1|1|1|1|1|1|1|1|1|1|1|1") << "another ticket begins another document";
    save_all();
    EXPECT_EQ(files_in("Leases"), "Lease 01.pdf|Lease 02.pdf|Lease 03.pdf|Lease 04.pdf|Lease 05.pdf|Lease 06.pdf|"
                                  "Lease 07.pdf|Lease 08.pdf|");
    EXPECT_EQ(files_in("Bills"), "Bill 01.jpg|Bill 02.jpg|Bill 03.jpg|Bill 04.jpg|Bill 05.jpg|"
                                 "Bill 06.jpg|Bill 07.jpg|Bill 08.jpg|");
    EXPECT_EQ(files_in("Notes"), "Note 01.png|Note 02.png|Note 03.png|Note 04.png|");
}

TEST_F(DocumentTicketsWindow, TicketsOfDocumentsSurviveARestartAndUndo) {
    start();
    make_tickets();
    for (const char* ticket : {"Leases", "Bills", "Notes"}) scan_with(ticket);
    start();
    EXPECT_EQ(tickets(), "Leases Bills Notes ");
    EXPECT_EQ(ticket_of(0).make.format, Format::Pdf);
    EXPECT_TRUE(desk_->document_tickets.follows(document(2))) << "the same ticket is in the sentence as before";
    EXPECT_FALSE(desk_->document_tickets.follows(document(0)));
    scan_with("Leases");
    // A change in the sentence applies to the documents scanned with that ticket, and is no undo step.
    choose([&](Ticket& t) { t.save.folder = folder_of("Leases").string(), t.make.format = Format::Tiff; });
    EXPECT_EQ(ticket_of(3).make.format, Format::Tiff);
    EXPECT_EQ(ticket_of(0).make.format, Format::Pdf) << "another ticket was chosen since";
    while (desk_->tray.can_undo()) desk_->tray.undo();
    EXPECT_EQ(tickets(), "");
    while (desk_->tray.can_redo()) desk_->tray.redo();
    EXPECT_EQ(tickets(), "Leases Bills Notes Leases ");
    EXPECT_EQ(ticket_of(3).make.format, Format::Tiff);
    save_all();
    EXPECT_EQ(files_in("Leases"), "Lease 01.pdf|Lease 02.tif|");
    EXPECT_EQ(files_in("Bills"), "Bill 01.jpg|");
    EXPECT_EQ(files_in("Notes"), "Note 01.png|");
}

TEST_F(DocumentTicketsWindow, AnotherTicketStartsADocumentUnlessTheUserChoosesOtherwise) {
    start();
    make_tickets();
    scan_with("Leases");
    scan();
    EXPECT_EQ(shape(), "2");
    use("Bills");
    EXPECT_TRUE(desk_->tray.next_page_starts_document());
    key("Ctrl+Shift+D");
    EXPECT_FALSE(desk_->tray.next_page_starts_document()) << "asked for";
    scan();
    EXPECT_EQ(shape(), "3");
    EXPECT_EQ(tickets(), "Leases ");
    use("Leases");
    EXPECT_FALSE(desk_->tray.next_page_starts_document()) << "chosen again it is the same ticket";
    desk_->choice.set_current(page_id(0, 1));
    key("Ctrl+D");
    EXPECT_EQ(tickets(), "Leases Leases ") << "both parts keep it";
}

TEST_F(DocumentTicketsWindow, TheTargetOfTheNextPageIsShownBelowScanAndSurvivesARestart) {
    start();
    make_tickets();
    const auto lands = [this] { return part<QPushButton>("lands")->text(); };
    EXPECT_EQ(lands(), "a new document");
    scan_with("Leases");
    EXPECT_EQ(lands(), "page 2 of Lease 01");
    press("lands");
    EXPECT_EQ(lands(), "a new document");
    start();
    EXPECT_EQ(lands(), "a new document");
    scan();
    EXPECT_EQ(shape(), "1|1");
    EXPECT_EQ(lands(), "page 2 of Lease 02");
    use("Bills");
    EXPECT_EQ(lands(), "a new document") << "another ticket";
    press("lands");
    EXPECT_EQ(lands(), "page 2 of Lease 02");
    use("Leases");
    save_all();
    EXPECT_EQ(lands(), "a new document") << "never behind a saved one";
    press("lands");
    EXPECT_EQ(lands(), "page 2 of Lease 02");
    start();
    EXPECT_EQ(lands(), "page 2 of Lease 02") << "asked for before";
    // With the keyboard: after the last page, Ctrl+D applies to the next page; on a page it applies to that page.
    tray().setFocus();
    desk_->choice.set_current(page_id(0, 0));
    for (const int to : {Qt::Key_Right, Qt::Key_Right}) QTest::keyClick(&tray(), static_cast<Qt::Key>(to));
    key("Ctrl+D");
    EXPECT_EQ(lands(), "a new document");
    EXPECT_EQ(shape(), "1|1");
    QTest::keyClick(&tray(), Qt::Key_Left);
    key("Ctrl+D");
    EXPECT_EQ(shape(), "2") << "joined";
}

TEST_F(DocumentTicketsWindow, AnOldTrayUsesTheCurrentTicketAndReportsItOnce) {
    start();
    make_tickets();
    scan_with("Leases");
    window_.reset();
    desk_.reset();
    SQLite::Database((base_ / "tray/tray.sqlite").string(), SQLite::OPEN_READWRITE)
        .exec("UPDATE documents SET ticket = ''; DELETE FROM tickets");
    QStringList told;
    for (const qsizetype times : {1, 1}) {
        start();
        told.append(part<QLabel>("news-words")->text());
        EXPECT_EQ(tickets(), "Leases ");
        EXPECT_TRUE(desk_->document_tickets.follows(document(0)));
        EXPECT_EQ(told.filter("had no ticket").size(), times);
    }
}

TEST_F(DocumentTicketsWindow, AScanKeepsItsTicketWhateverIsChosenMeanwhile) {
    start();
    make_tickets();
    use("Leases");
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Leases").string();
        t.from.source = Source::HandFed;
        t.from.next_sheet_seconds = 0;
    });
    BenchSetup bench;
    bench.stack = {{{original("till-receipt")}, {}}, {{original("invoice")}, {}}};
    desk_->scanners.set_bench(bench);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->run.waiting().what == Waiting::For::NextSheet; }));
    use("Bills");
    desk_->tray.set_next_page_starts_document(true);
    key("Ctrl+Return");
    ASSERT_TRUE(wait([&] { return desk_->tray.tray().page_count() == 2 && !desk_->run.passing(); }));
    key("Escape");
    EXPECT_EQ(tickets(), "Leases Leases ");
}

TEST_F(DocumentTicketsWindow, ChoicesForOneDocumentCanBeMadeAndDiscarded) {
    start();
    make_tickets();
    scan_with("Leases");
    use("Bills");
    const QRect edge = tray().ticket_rect(id(0));
    ASSERT_FALSE(edge.isEmpty());
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, edge.center());
    press_row(sheet("document-ticket-sheet"), "make …");
    press_row(sheet("document-make-sheet"), "one TIFF per document");
    EXPECT_EQ(tickets(), "Leases* ");
    EXPECT_EQ(ticket_of(0).make.format, Format::Tiff);
    EXPECT_EQ(desk_->tickets.ticket().make.format, Format::Jpeg) << "the sentence stays";
    EXPECT_EQ(ticket_of(0).save.folder, folder_of("Leases").string());
    EXPECT_FALSE(tray().word_rect(id(0), "Leases, own choices").isEmpty());
    desk_->tray.undo();
    EXPECT_EQ(tickets(), "Leases ");
    desk_->tray.redo();
    EXPECT_EQ(tickets(), "Leases* ");
    start();
    EXPECT_EQ(tickets(), "Leases* ");
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().word_rect(id(0), "Leases, own choices").center());
    press_row(sheet("document-ticket-sheet"), "as its ticket says");
    EXPECT_EQ(tickets(), "Leases ");
    EXPECT_EQ(ticket_of(0).make.format, Format::Pdf);
}

TEST_F(DocumentTicketsWindow, SelectedDocumentsCanUseAnotherTicketTogether) {
    start();
    make_tickets();
    for (const char* ticket : {"Leases", "Bills", "Leases"}) scan_with(ticket);
    save_all();
    desk_->choice.choose({page_id(0, 0).toStdString(), page_id(1, 0).toStdString()});
    QTest::mouseClick(&tray(), Qt::LeftButton, {}, tray().ticket_rect(id(1)).center());
    press_row(sheet("document-ticket-sheet"), "Notes");
    EXPECT_EQ(tickets(), "Notes Notes Leases ");
    EXPECT_TRUE(document(0).saved_as.empty() && document(1).saved_as.empty()) << "other files are wanted";
    EXPECT_FALSE(document(2).saved_as.empty());
    save_all();
    EXPECT_EQ(files_in("Notes"), "Note 01.png|Note 02.png|");
}

TEST_F(DocumentTicketsWindow, SelectedDocumentsGetOneNamePattern) {
    start();
    make_tickets();
    for (int i = 0; i < 3; ++i) {
        desk_->tray.set_next_page_starts_document(true);
        scan_with("Leases");
    }
    desk_->edits.rename_document(id(0), "typed");
    desk_->document_tickets.change({id(0), id(2)}, [](Ticket& t) {
        t.save.name = {{NamePart::Kind::Words, "Survey"}, {NamePart::Kind::Counter, "", 1}};
    });
    const auto titles = [this] {
        QStringList out;
        for (const DocumentPtr& each : desk_->tray.tray().documents) out.append(desk_->names.title_of(*each));
        return out.join('|');
    };
    EXPECT_EQ(titles(), "Survey 1|Lease 01|Survey 2");
    EXPECT_EQ(document(0).ticket, document(2).ticket) << "they go by one";
    desk_->tray.undo();
    EXPECT_EQ(titles(), "typed|Lease 01|Lease 02");
}

TEST_F(DocumentTicketsWindow, ATicketCanBeDroppedOnATab) {
    start();
    make_tickets();
    scan_with("Leases");
    scan_with("Bills");
    QMimeData ticket;
    ticket.setUrls({QUrl::fromLocalFile(files_.at("Notes"))});
    ticket.setData(TicketStub::dragged, "1");
    const QPoint at = tray().tab_rect(id(1)).center();
    QDragEnterEvent enter(at, Qt::CopyAction, &ticket, Qt::LeftButton, {});
    QApplication::sendEvent(&tray(), &enter);
    EXPECT_TRUE(enter.isAccepted());
    QDropEvent drop(at, Qt::CopyAction, &ticket, Qt::LeftButton, {});
    QApplication::sendEvent(&tray(), &drop);
    EXPECT_EQ(tickets(), "Leases Notes ");
    EXPECT_FALSE(desk_->tickets.asked()) << "it is not taken in as one from elsewhere";
}

// Until the user accepts the ticket, nothing that it names is done, and there is no undo step.
TEST_F(DocumentTicketsWindow, AsksBeforeATicketFromSomeoneElseIsUsed) {
    start();
    make_tickets();
    scan_with("Leases");
    std::string changed = read_file(files_.at("Notes").toStdString());
    changed.replace(changed.find("\"png\""), 5, "\"bmp\"");
    write_file(files_.at("Notes").toStdString(), changed);
    desk_->document_tickets.put_as({id(0)}, files_.at("Notes"));
    EXPECT_EQ(tickets(), "Leases ");
    EXPECT_TRUE(desk_->tickets.asked());
}

TEST_F(DocumentTicketsWindow, AsksForAFolderOnceForAllDocumentsThatNeedOne) {
    start();
    make_tickets();
    for (const char* ticket : {"Leases", "Bills", "Notes"}) {
        scan_with(ticket);
        choose([&](Ticket& t) {
            t.save.folder = folder_of(ticket).string();
            if (std::string(ticket) != "Notes") t.save.where = Ticket::Save::Where::Asked;
        });
    }
    desk_->saving.save_all();
    ASSERT_TRUE(wait([&] { return desk_->places_used.asks(); }));
    desk_->places_used.give(QString::fromStdString(base_.path().string()));
    EXPECT_FALSE(desk_->places_used.asks());
    ASSERT_TRUE(wait([&] { return at_rest() && !document(0).saved_as.empty() && !document(1).saved_as.empty(); }))
        << qPrintable(trouble_) << at_rest() << "|" << document(0).saved_as << "|" << document(1).saved_as << "|"
        << desk_->saving.at_work() << tickets() << testing::PrintToString(base_.files());
    EXPECT_TRUE(std::filesystem::exists(base_ / "Lease 01.pdf"));
    EXPECT_TRUE(std::filesystem::exists(base_ / "Bill 01.jpg"));
    EXPECT_EQ(files_in("Notes"), "Note 01.png|");
}

TEST_F(DocumentTicketsWindow, AutomaticSavingUsesEachScansTicketHoweverSlowReadingIs) {
    start();
    make_tickets();
    {
        const Held reading(desk_->pools.reading(), 2, desk_->pools.stop_token());
        for (int i = 0; i < 10; ++i) {
            const char* ticket = i % 2 == 0 ? "Leases" : "Bills";
            use(ticket);
            choose([&](Ticket& t) {
                t.save.folder = folder_of(ticket).string();
                t.save.at_once = true;
                t.read.languages = {"eng"};
            });
            scan();
        }
        use("Notes");
        EXPECT_EQ(files_in("Leases"), "") << "its pages are not read yet";
    }
    ASSERT_TRUE(wait([&] { return at_rest() && !document(9).saved_as.empty() && !document(8).saved_as.empty(); }));
    EXPECT_EQ(shape(), "1|1|1|1|1|1|1|1|1|1");
    EXPECT_EQ(files_in("Leases"), "Lease 01.pdf|Lease 02.pdf|Lease 03.pdf|Lease 04.pdf|Lease 05.pdf|");
    EXPECT_EQ(files_in("Bills"), "Bill 01.jpg|Bill 02.jpg|Bill 03.jpg|Bill 04.jpg|Bill 05.jpg|");
    EXPECT_EQ(files_in("Notes"), "");
}

TEST_F(DocumentTicketsWindow, AReturnedDocumentHasItsTicket) {
    start();
    make_tickets();
    scan_with("Leases");
    save_all();
    const std::string document_id = document(0).id, file = document(0).saved_as;
    use("Bills");
    desk_->tray.put_away_saved();
    ASSERT_TRUE(wait([&] { return desk_->kept.all().size() == 1; }));
    start();
    ASSERT_TRUE(wait([&] { return desk_->kept.all().size() == 1; }));
    ASSERT_TRUE(desk_->kept.take_back(document_id, file, 1));
    EXPECT_EQ(tickets(), "Leases ");
    EXPECT_EQ(ticket_of(0).make.format, Format::Pdf);
}

TEST_F(DocumentTicketsWindow, TheSheetSaysWhichDocumentsAChangeAffects) {
    start();
    make_tickets();
    scan_with("Leases");
    scan_with("Bills");
    desk_->tray.set_next_page_starts_document(true);
    scan();
    part<TicketBar>()->open_phrase("make");
    const auto* who = QApplication::activePopupWidget()->findChild<QLabel*>("for-whom");
    ASSERT_TRUE(who);
    EXPECT_TRUE(who->text().contains("2 documents")) << qPrintable(who->text());
    QApplication::activePopupWidget()->close();
    part<TicketBar>()->open_phrase("ink");
    EXPECT_FALSE(QApplication::activePopupWidget()->findChild<QLabel*>("for-whom")) << "how paper is scanned";
    QApplication::activePopupWidget()->close();
}

}
}
