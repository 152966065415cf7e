#include "app/shots.h"

#include "app/demo.h"
#include "app/main_window.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"

#include <QApplication>
#include <QDir>
#include <QEventLoop>
#include <QPainter>
#include <QTemporaryDir>
#include <QTimer>

#include <cstdio>

namespace yelvin::shots {

namespace {

// Runs the event loop until the desk is at rest and its pictures are there.
void settle(Desk& desk) {
    int calm = 0;
    while (calm < 12) {
        QEventLoop loop;
        QTimer::singleShot(50, &loop, &QEventLoop::quit);
        loop.exec();
        const bool busy = desk.scanning() || desk.previewing() || desk.saving() || desk.pages_in_work() > 0;
        calm = busy ? 0 : calm + 1;
    }
}

void close_sheet() {
    if (QWidget* sheet = QApplication::activePopupWidget()) sheet->close();
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

// The window with whatever sheet is open over it.
void shoot(MainWindow& window, const QString& file) {
    QPixmap picture = window.grab();
    if (QWidget* sheet = QApplication::activePopupWidget()) {
        QPainter painter(&picture);
        painter.drawPixmap(sheet->pos() - window.pos(), sheet->grab());
    }
    std::printf("%s\n", qPrintable(file));
    picture.save(file);
}

}

int take(const QString& folder) {
    QDir().mkpath(folder);
    const QDir out(folder);
    const QTemporaryDir base, empty, evening;
    {
        theme::use_dark(*qApp, true);
        Desk desk(demo::places(evening.path()));
        desk.use_bench_scanner();
        demo::set_up(desk, evening.path());
        MainWindow window(desk);
        window.show();
        desk.start_preview();
        settle(desk);
        bool filled = false;
        demo::fill_tray(desk, [&] { filled = true; });
        while (!filled) settle(desk);
        settle(desk);
        shoot(window, out.filePath("dark.png"));
    }
    theme::use_dark(*qApp, false);
    {
        Desk desk(demo::places(empty.path()));
        MainWindow window(desk);
        window.show();
        settle(desk);
        shoot(window, out.filePath("first-start.png"));
    }
    Desk desk(demo::places(base.path()));
    desk.use_bench_scanner();
    demo::set_up(desk, base.path());
    MainWindow window(desk);
    window.show();
    bool filled = false;
    demo::fill_tray(desk, [&] { filled = true; });
    while (!filled) settle(desk);
    settle(desk);
    desk.set_current_page(QString::fromStdString(desk.tray().documents.front()->pages.front()->id));
    window.look_at(MainWindow::Look::Page);
    settle(desk);
    shoot(window, out.filePath("page.png"));
    desk.save({QString::fromStdString(desk.tray().documents.back()->id)});
    settle(desk);
    shoot(window, out.filePath("tray.png"));

    BenchSetup bench = desk.bench().bench();
    bench.glass = {{desk.originals_folder().toStdString() + "/photo-top-lock.svg", 92, 74, 1.5},
                   {desk.originals_folder().toStdString() + "/photo-patient-heron.svg", 104, 200, -2}};
    desk.set_bench(bench);
    window.look_at(MainWindow::Look::Glass);
    Ticket ticket = desk.ticket();
    ticket.from.paper = "auto";
    ticket.how.ink = Ink::Colour;
    ticket.make.format = Format::Jpeg;
    desk.set_ticket(ticket);
    desk.set_frames({{14.0, 19.5, 156.0, 109.0}, {27.0, 146.0, 155.0, 108.0}});
    window.close_news();
    desk.start_preview();
    settle(desk);
    shoot(window, out.filePath("glass.png"));
    window.ticket_bar().open_phrase("dpi");
    settle(desk);
    shoot(window, out.filePath("phrase.png"));
    close_sheet();
    window.open_bench();
    settle(desk);
    shoot(window, out.filePath("bench.png"));
    close_sheet();
    return 0;
}

}
