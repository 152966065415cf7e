#include "app/shots/camera.h"

#include <QApplication>
#include <QEventLoop>
#include <QPainter>
#include <QTimer>

#include <cstdio>

namespace yelvin::shots {

void settle(Desk& desk) {
    int calm = 0;
    while (calm < 12) {
        QEventLoop loop;
        QTimer::singleShot(50, &loop, &QEventLoop::quit);
        loop.exec();
        const bool busy = !desk.tray.is_loaded() || desk.run.passing() || desk.scanners.in_use() ||
                          desk.saving.at_work() || desk.looking.in_work() > 0 || desk.reading.at_work();
        calm = busy ? 0 : calm + 1;
    }
}

void close_sheet() {
    if (QWidget* sheet = QApplication::activePopupWidget()) sheet->close();
    QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
}

void until(const std::function<bool()>& so) {
    while (!so()) {
        QEventLoop loop;
        QTimer::singleShot(20, &loop, &QEventLoop::quit);
        loop.exec();
    }
}

void scan_paper(Desk& desk, const char* file, double angle, int dpi) {
    BenchSetup bench = desk.scanners.bench().bench();
    bench.real_pace = false;
    bench.glass = {LaidPaper{desk.places.originals.toStdString() + "/" + file, 105, 148.5, angle}};
    desk.scanners.set_bench(bench);
    Ticket ticket = desk.tickets.ticket();
    ticket.how.dpi = dpi;
    ticket.from.paper = std::string_view(file).starts_with("minutes") ? "A4" : "auto";
    ticket.read.languages = {"eng"};
    desk.tickets.set(ticket);
    desk.tray.set_next_page_starts_document(true);
    desk.run.start();
    settle(desk);
}

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
