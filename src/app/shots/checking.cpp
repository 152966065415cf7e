// Pictures of checking and correcting pages.
#include "app/bench/papers.h"
#include "app/noticed/adjust_panel.h"
#include "app/noticed/noticed_panel.h"
#include "app/page/page_view.h"
#include "app/shots/camera.h"
#include "app/shots/scenes.h"

#include <QDir>

namespace yelvin::shots {

namespace {

// Fills the tray with sixty pages in twelve documents and removes the page `without`.
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

// Takes the pictures of the section Noticed, of the folds of Adjust, and of a full tray.
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
    take_in("postcard.svg", 0, 300);
    const auto sharp = [&] {
        settle(desk);
        until([&] { return view.is_sharp(); });
    };
    window.look_at(MainWindow::Look::Page);
    desk.choice.set_current(minutes);
    adjust.open_fold(0, true);
    sharp();
    shoot(window, out.filePath("noticed.png"));

    desk.room.set_tray_full(Room::Beside::Page, true);
    fill_with_sixty(desk, portrait);
    sharp();
    shoot(window, out.filePath("tray-sixty.png"));
}

}
