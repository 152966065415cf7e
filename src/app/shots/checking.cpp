// Checking and correcting.
#include "app/bench/papers.h"
#include "app/demo.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/shots/scenes.h"
#include "core/developing/flatten.h"
#include "core/developing/resample.h"
#include "core/raster/image_file.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

namespace yelvin::shots {

namespace {

// A page of the demo as a camera sees it from the side: lit from a corner, on a dark desk.
QString photographed(Desk& desk, const QDir& folder) {
    const PagePtr page = desk.choice.current();
    const auto seen = desk.pictures.parts()->picture_of({page->id, page->original, {}, 1, {0, 0, 99999, 99999}});
    if (!seen) return {};
    const double w = seen->width_px(), h = seen->height_px();
    const std::array<cv::Point2d, 4> from{cv::Point2d(0, 0), {w, 0}, {w, h}, {0, h}},
        to{cv::Point2d(685.4, 282.7), {1515.9, 385.2}, {1441.4, 1645.9}, {325.3, 1457.8}};
    cv::Mat photo(1700, 2000, seen->pixels.type());
    resample(seen->pixels, photo, projection(to, from), cv::Scalar(52, 60, 68));
    for (int y = 0; y < photo.rows; ++y) {
        for (int x = 0; x < photo.cols; ++x) {
            const double lit = 1.04 - 0.42 * (x / 2000.0) * (0.4 + y / 1700.0);
            uchar* dot = photo.ptr(y) + static_cast<ptrdiff_t>(x) * photo.channels();
            for (int c = 0; c < photo.channels(); ++c) dot[c] = cv::saturate_cast<uchar>(dot[c] * lit);
        }
    }
    QString file = folder.filePath("photographed.png");
    const auto png = encode_png({photo, 200, seen->ink});
    QFile out(file);
    if (png && out.open(QIODevice::WriteOnly)) out.write(png->data(), static_cast<qint64>(png->size()));
    return file;
}

// Sixty pages in twelve documents, without this one.
void fill_with_sixty(Desk& desk, const QString& without) {
    desk.choice.choose({without.toStdString()});
    desk.edits.remove();
    while (page_ids(desk.tray.tray()).size() < 60) {
        const auto all = page_ids(desk.tray.tray());
        const size_t wanted = std::min<size_t>(all.size(), 60 - all.size());
        desk.choice.choose(PageIds(all.begin(), all.begin() + static_cast<ptrdiff_t>(wanted)));
        desk.edits.duplicate();
    }
    while (desk.tray.tray().documents.size() > 1)
        desk.tray.edit(without_divider_at(desk.tray.tray(), desk.tray.tray().documents.back()->id), "join");
    const auto all = page_ids(desk.tray.tray());
    for (size_t i = 5; i < all.size(); i += 5) desk.tray.edit(with_divider_at(desk.tray.tray(), all[i]), "divide");
    desk.choice.set_current(QString::fromStdString(all[1]));
    desk.choice.choose_every_other(true);
    desk.choice.toggle(QString::fromStdString(all[6]));
}

}

// Checking and correcting: what is noticed, the folds of Adjust, cutting, flattening, and a full tray.
void take_checking(const QDir& out) {
    Stage stage;
    Desk& desk = stage.desk;
    MainWindow& window = stage.window;
    const auto take_in = [&](const char* file, double angle, int dpi) { scan_paper(desk, file, angle, dpi); };
    AdjustPanel& adjust = window.noticed().adjust();
    PageView& view = window.page_view();
    take_in("minutes-punched.svg", 0.7, 200);
    const QString minutes = desk.choice.current_id();
    take_in("towpath-form.svg", 0, 200);
    take_in("photo-lock-keeper.svg", 2, 300);
    const QString portrait = desk.choice.current_id();
    take_in("invoice.svg", 0, 150);
    const QString camera = photographed(desk, QDir(stage.base.path()));
    take_in("postcard.svg", 0, 300);
    desk.tray.set_next_page_starts_document(true);
    desk.files.add({camera});
    settle(desk);
    const QString askew = desk.choice.current_id();
    const auto sharp = [&] {
        settle(desk);
        until([&] { return view.is_sharp(); });
    };
    window.look_at(MainWindow::Look::Page);
    desk.choice.set_current(minutes);
    adjust.open_fold(0, true);
    sharp();
    shoot(window, out.filePath("noticed.png"));

    desk.choice.set_current(askew);
    view.use_tool(PageTool::Corners);
    sharp();
    shoot(window, out.filePath("flatten.png"));
    view.use_tool(PageTool::None);

    desk.room.set_tray_full(Room::Beside::Page, true);
    fill_with_sixty(desk, portrait);
    sharp();
    shoot(window, out.filePath("tray-sixty.png"));
}

}
