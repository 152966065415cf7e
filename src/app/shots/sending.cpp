// Pictures of a server test and of the send queue.
#include "app/sending/servers_sheet.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"

#include <QApplication>
#include <QDir>
#include <QPushButton>

namespace yelvin::shots {

namespace {

QRect beside(const QWidget& window) { return {window.mapToGlobal(QPoint(420, 70)), QSize(10, 10)}; }

}

void take_sending(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    demo::begin_server(desk, stage.base.path());
    for (const char* paper : {"invoice.svg", "lease-1.svg", "towpath-form.svg"}) scan_paper(desk, paper, 0, 150);
    const SendingModels models{desk.servers, desk.sending, desk.passwords, desk.messages};
    open_server_sheet(models, "Office server", beside(window), &window, {});
    QWidget* sheet = QApplication::activePopupWidget();
    if (auto* test = sheet ? sheet->findChild<QPushButton*>("server-test") : nullptr) {
        test->click();
        until([&] { return test->isEnabled() && sheet->findChild<QWidget*>("server-step-room"); });
    }
    settle(desk);
    shoot(window, out.filePath("server-test.png"));
    close_sheet();
    // One item is delivered, the others are for a server that does not exist.
    Ticket ticket = desk.tickets.ticket();
    ticket.then.errands = {Errand::Send};
    ticket.then.send = {"Office server", {}, {{NamePart::Kind::Words, "Leases"}}};
    desk.errands.use(Errand::Send, true);
    desk.tickets.set(ticket);
    const auto& documents = desk.tray.tray().documents;
    desk.saving.save({QString::fromStdString(documents[0]->id)});
    settle(desk);
    until([&] { return !desk.sending.items().empty() && desk.sending.left() == 0; });
    desk.servers.put({"Reading room", "http://localhost:9/papers", "heron"}, {});
    ticket.then.send = {"Reading room", {}, {}};
    desk.tickets.set(ticket);
    desk.saving.save_all();
    settle(desk);
    until([&] { return desk.sending.left() == 2 && !desk.sending.items().back().why.empty(); });
    desk.sending.pause(desk.sending.items()[1].id);
    settle(desk);
    window.close_news();
    open_sending_sheet(models, beside(window), &window);
    settle(desk);
    shoot(window, out.filePath("sending.png"));
    close_sheet();
}

}
