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
