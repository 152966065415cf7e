// Tickets that take a half from another ticket, fixed tickets, and choices that go back automatically.
#include "app/models/scanning/going_back.h"
#include "app/tickets_window.h"

#include <QCheckBox>
#include <QComboBox>

namespace yelvin::test {
namespace {

class TicketRulesWindow : public TicketsWindow {
  protected:
    const Ticket& now() const { return desk_->tickets.ticket(); }
    void open_tickets() {
        part<TicketBar>()->open_phrase("tickets");
        QApplication::processEvents();
    }
    void open_more() {
        open_tickets();
        press_row(QApplication::activePopupWidget(), "more options…");
        EXPECT_TRUE(sheet("ticket-more-sheet"));
    }
    static void close_popup() {
        if (QWidget* open = QApplication::activePopupWidget()) open->close();
    }
    // In the ticket's own file.
    void change_kept(const std::string& ticket, const std::function<void(Ticket&)>& how) {
        use(ticket);
        choose([&](Ticket& t) {
            t.save.folder = folder_of(ticket).string();
            how(t);
        });
        desk_->tickets.keep();
    }
    std::string changed() const {
        std::string out;
        for (const std::string& key : desk_->tickets.changed_since_kept()) out += key + " ";
        return out;
    }
};

TEST_F(TicketRulesWindow, ATicketCanFollowOthersForEachHalf) {
    start();
    make_tickets();
    change_kept("Notes", [](Ticket& t) { t.how.dpi = 200; });
    use("Leases");
    open_tickets();
    press_row(QApplication::activePopupWidget(), "scan as …");
    press_row(sheet("scan-as-sheet"), "Notes");
    EXPECT_EQ(now().how.dpi, 200);
    EXPECT_EQ(now().make.format, Format::Pdf) << "the other half stays";
    EXPECT_EQ(changed(), "how.dpi scan_like ");
    open_tickets();
    press_row(QApplication::activePopupWidget(), "make as …");
    press_row(sheet("make-as-sheet"), "Bills");
    desk_->tickets.keep_as("Both");
    files_["Both"] = desk_->tickets.chosen_file();
    change_kept("Notes", [](Ticket& t) { t.how.dpi = 100; });
    change_kept("Bills", [](Ticket& t) { t.make.format = Format::Tiff; });
    use("Both");
    EXPECT_EQ(now().how.dpi, 100);
    EXPECT_EQ(now().make.format, Format::Tiff);
    EXPECT_EQ(now().save.folder, folder_of("Bills").string());
    EXPECT_EQ(changed(), "");
    start();
    EXPECT_EQ(now().how.dpi, 100);
    use("Notes");
    desk_->tickets.rename("Slips");
    change_kept("Notes", [](Ticket& t) { t.how.dpi = 150; });
    use("Both");
    EXPECT_EQ(now().how.dpi, 150) << "it follows under the new name";
    // A change in a half makes that half the ticket's own.
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Bills").string();
        t.how.dpi = 300;
    });
    desk_->tickets.keep();
    EXPECT_EQ(now().scan_like, "");
    EXPECT_EQ(now().put_like, "Bills");
}

TEST_F(TicketRulesWindow, AMissingHalfIsUsedAsLastSavedAndReported) {
    start();
    make_tickets();
    use("Leases");
    desk_->tickets.take_half(Tickets::Half::Scanning, files_["Notes"]);
    desk_->tickets.keep();
    change_kept("Notes", [](Ticket& t) { t.how.dpi = 100; });
    use("Leases"); // what it is then is known from now on
    use("Bills");
    desk_->tickets.remove(files_["Notes"]);
    use("Leases");
    EXPECT_EQ(now().how.dpi, 100);
    EXPECT_TRUE(trouble_.contains("takes how it scans from Notes, which is missing")) << qPrintable(trouble_);
    open_tickets();
    EXPECT_TRUE(QApplication::activePopupWidget()->findChild<QLabel*>("ticket-trouble"));
    close_popup();
}

// A user's ticket does nothing that comes from another person's file until that was accepted.
TEST_F(TicketRulesWindow, AsksBeforeUsingAHalfThatSomeoneElseChanged) {
    start();
    make_tickets();
    use("Leases");
    desk_->tickets.take_half(Tickets::Half::Putting, files_["Notes"]);
    desk_->tickets.keep();
    use("Bills");
    std::string stranger = read_file(files_["Notes"].toStdString());
    stranger.replace(stranger.find("\"png\""), 5, "\"bmp\"");
    write_file(files_["Notes"].toStdString(), stranger);
    EXPECT_FALSE(desk_->tickets.choose(files_["Leases"]));
    ASSERT_TRUE(desk_->tickets.asked());
    EXPECT_EQ(desk_->tickets.asked()->ticket.name, "Notes");
    EXPECT_EQ(now().name, "Bills");
    desk_->tickets.accept_asked();
    EXPECT_EQ(now().name, "Leases");
    EXPECT_EQ(now().make.format, Format::Bmp);
}

TEST_F(TicketRulesWindow, AFixedTicketCannotBeChanged) {
    start();
    make_tickets();
    use("Leases");
    const std::string file = files_["Leases"].toStdString();
    open_more();
    auto* box = QApplication::activePopupWidget()->findChild<QCheckBox*>("ticket-is-fixed");
    ASSERT_TRUE(box);
    QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
    ASSERT_TRUE(now().fixed);
    const std::string before = read_file(file);
    choose([](Ticket& t) { t.how.dpi = 200; });
    open_tickets();
    EXPECT_FALSE(row_of(QApplication::activePopupWidget(), "save changes"));
    EXPECT_FALSE(row_of(QApplication::activePopupWidget(), "remove"));
    EXPECT_TRUE(QApplication::activePopupWidget()->findChild<QLabel*>("ticket-fixed"));
    close_popup();
    desk_->tickets.keep();
    EXPECT_TRUE(trouble_.contains("Leases is fixed")) << qPrintable(trouble_);
    desk_->tickets.rename("Other");
    desk_->tickets.recolour("ink");
    desk_->tickets.remove(QString::fromStdString(file));
    EXPECT_EQ(read_file(file), before);
    desk_->tickets.keep_as("Copy");
    EXPECT_FALSE(now().fixed) << "a copy is the person's own";
    // The same holds for a file that the user may not write, and its tick cannot be removed.
    std::filesystem::permissions(files_["Bills"].toStdString(), std::filesystem::perms::owner_read);
    use("Bills");
    choose([](Ticket& t) { t.how.dpi = 200; });
    trouble_.clear();
    desk_->tickets.keep();
    EXPECT_TRUE(trouble_.contains("is read-only")) << qPrintable(trouble_);
    open_more();
    EXPECT_FALSE(QApplication::activePopupWidget()->findChild<QCheckBox*>("ticket-is-fixed"));
    close_popup();
}

TEST_F(TicketRulesWindow, UnsavedChangesAreDiscardedAfterATimeAndDocumentsKeepThem) {
    start();
    make_tickets();
    use("Leases");
    open_more();
    auto* list = QApplication::activePopupWidget()->findChild<QComboBox*>("going-back");
    ASSERT_TRUE(list);
    list->setCurrentIndex(2);
    emit list->activated(2);
    close_popup();
    EXPECT_EQ(now().back.after_minutes, 15);
    EXPECT_EQ(changed(), "");
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Leases").string();
        t.make.format = Format::Tiff;
        t.how.dpi = 100;
    });
    scan();
    desk_->going_back.while_is_over();
    EXPECT_EQ(changed(), "");
    EXPECT_EQ(now().how.dpi, 75);
    EXPECT_EQ(ticket_of(0).make.format, Format::Tiff) << "scanned with the choices of before";
    EXPECT_EQ(tickets(), "Leases ");
    EXPECT_FALSE(desk_->tray.next_page_starts_document()) << "it is the same ticket";
    use("Bills");
    choose([](Ticket& t) { t.how.dpi = 100; });
    desk_->going_back.while_is_over();
    EXPECT_EQ(now().how.dpi, 100) << "not where the ticket does not say so";
}

TEST_F(TicketRulesWindow, UnsavedChangesAreDiscardedWhenTheWindowCloses) {
    start();
    make_tickets();
    use("Leases");
    desk_->tickets.set_back({.after_minutes = 0, .on_close = true});
    choose([&](Ticket& t) {
        t.save.folder = folder_of("Leases").string();
        t.make.format = Format::Tiff;
    });
    scan();
    start();
    EXPECT_EQ(changed(), "");
    EXPECT_EQ(now().make.format, Format::Pdf);
    EXPECT_EQ(ticket_of(0).make.format, Format::Tiff);
    desk_->tickets.set_back({});
    choose([](Ticket& t) { t.how.dpi = 100; });
    start();
    EXPECT_EQ(now().how.dpi, 100) << "else they last";
}

}
}
