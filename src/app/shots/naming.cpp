// Pictures of names that are made from the text of documents.
#include "app/page/page_view.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/tray/tray_strip.h"

#include <QApplication>
#include <QDir>

namespace yelvin::shots {

namespace {

void known(Desk& desk) {
    settle(desk);
    until([&] { return !desk.papers.is_reckoning(); });
    settle(desk);
}

}

// Takes the pictures of a name pattern for bills with the names of three documents, and of the proposal for one that is
// similar to a document that was saved before.
void take_naming(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    qputenv("HOME", stage.base.path().toUtf8()); // folders are shown from it
    QDir().mkpath(stage.base.path() + "/Bills");
    scan_paper(desk, "invoice.svg", 0, 200);
    known(desk);
    Ticket ticket = desk.tickets.ticket();
    ticket.name = "Bills";
    ticket.colour = "amber";
    ticket.save.folder = (stage.base.path() + "/Bills").toStdString();
    desk.tickets.set(ticket);
    desk.renaming.rename(desk.tray.tray().documents.front()->id, "Chandlery 18.11.2026 no 20417");
    desk.saving.save_all();
    settle(desk);
    until([&] { return desk.papers.remembered() == 1; });
    desk.tray.put_away_saved();
    for (const char* file : {"invoice.svg", "lease-1.svg", "towpath-form.svg"}) scan_paper(desk, file, 0, 200);
    known(desk);

    using Kind = NamePart::Kind;
    ticket = desk.tickets.ticket();
    ticket.save.folder = (stage.base.path() + "/Papers").toStdString();
    ticket.save.name = {{Kind::PaperDate, "yyyy-mm-dd", 3, 6, NamePart::Missing::ScanDate},
                        {Kind::Sender, "", 3, 4},
                        {Kind::PaperKind, ""},
                        {Kind::Number, ""}};
    desk.tickets.set(ticket);
    const DocumentPtr invoice = desk.tray.tray().documents.front();
    desk.choice.set_current(QString::fromStdString(invoice->pages.front()->id));
    desk.room.set_tray_full(Room::Beside::Page, true);
    window.look_at(MainWindow::Look::Page);
    window.close_news();
    known(desk);
    until([&] { return window.page_view().is_sharp(); });
    window.ticket_bar().open_phrase("name");
    settle(desk);
    shoot(window, out.filePath("names.png"));
    close_sheet();
    window.tray_strip().open_names_of_current();
    settle(desk);
    shoot(window, out.filePath("proposals.png"));
    close_sheet();
}

}
