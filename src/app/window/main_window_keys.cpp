// The shortcuts of the main window, and what Esc, F6 and the keys that turn do in each view.
#include "app/cabinet/cabinet_view.h"
#include "app/glass/glass_view.h"
#include "app/keys.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/next_page.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/scanning.h"
#include "app/models/scanning/stitching.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/window/room.h"
#include "app/page/page_view.h"
#include "app/run/question_card.h"
#include "app/stitch/stitch_view.h"
#include "app/text/text_look.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/ticket_buttons.h"
#include "app/tray/tray_strip.h"
#include "app/window/main_window.h"
#include "app/window/tray_foot.h"
#include "app/window/tray_panel.h"
#include "app/window/view.h"

#include <QPushButton>
#include <QShortcut>

#include <algorithm>

namespace yelvin {

void MainWindow::key(Do what, const std::function<void()>& action) {
    for (const QString& keys : QString(key_of(what).keys).split(' '))
        connect(new QShortcut(QKeySequence(keys), this), &QShortcut::activated, this, action);
}

void MainWindow::make_keys() {
    key(Do::Scan, [this] {
        if (!models_.scan.run.passing()) press_scan();
    });
    key(Do::Preview, [this] { models_.scan.run.preview(); });
    key(Do::Stop, [this] { press_escape(); });
    key(Do::FindPapers, [this] { view_->open_cabinet(); });
    key(Do::LookAtGlass, [this] { look_at(Look::Glass); });
    key(Do::LookAtPage, [this] { look_at(Look::Page); });
    key(Do::LookAtText, [this] { look_at(Look::Text); });
    key(Do::FindInText, [this] {
        look_at(Look::Text);
        view_->text().find();
    });
    key(Do::ReadAloud, [this] {
        look_at(Look::Text);
        view_->text().read_aloud();
    });
    key(Do::LookAtStrip, [this] { look_at(Look::Strip); });
    const QStringList numbers = QString(key_of(Do::ScanWithTicket).keys).split(' ');
    for (int i = 0; i < numbers.size(); ++i)
        connect(new QShortcut(QKeySequence(numbers[i]), this), &QShortcut::activated, this,
                [this, i] { buttons_->press(i + 1); });
    key(Do::KeepTicketAs, [this] { bar_->open_phrase("keep-as"); });
    key(Do::AddFiles, [this] { add_files(); });
    key(Do::Save, [this] { tray_->foot().save_current(); });
    key(Do::SaveAll, [this] { models_.files.saving.save_all(); });
    key(Do::FoldSide, [this] { models_.room.fold_side(!models_.room.side_is_folded()); });
    key(Do::TrayRest, [this] { tray_->change_rest(); });
    key(Do::OnlyView, [this] { models_.room.leave_view_alone(!models_.room.is_view_alone()); });
    key(Do::NextRegion, [this] { next_region(1); });
    key(Do::RegionBefore, [this] { next_region(-1); });
    make_page_keys();
}

void MainWindow::make_page_keys() {
    key(Do::TurnLeft, [this] { turn(-1); });
    key(Do::TurnRight, [this] { turn(1); });
    key(Do::TiltLeft, [this] { tilt(-0.1); });
    key(Do::TiltRight, [this] { tilt(0.1); });
    key(Do::Stitch, [this] { stitch_chosen(); });
    const auto change_landing = [this] { models_.scan.next_page.change(); };
    key(Do::Divide,
        [this, change_landing] { tray_->strip().is_at_end() ? change_landing() : models_.pages.edits.divide(); });
    key(Do::NextStarts, change_landing);
    const auto in_cabinet = [this](auto there, auto otherwise) {
        return [this, there, otherwise] { view_->cabinet_is_open() ? (view_->cabinet().*there)() : otherwise(); };
    };
    key(Do::Rename, in_cabinet(&CabinetView::rename_current, [this] { tray_->strip().rename_current(); }));
    key(Do::ProposedNames, [this] { tray_->strip().open_names_of_current(); });
    key(Do::ChooseAll, in_cabinet(&CabinetView::choose_all, [this] { models_.pages.choice.choose_all(); }));
    key(Do::ChooseOthers, [this] { models_.pages.choice.choose_others(); });
    key(Do::MovePageBack, [this] { models_.pages.edits.shift(-1); });
    key(Do::MovePageOn, [this] { models_.pages.edits.shift(1); });
    key(Do::Undo, in_cabinet(&CabinetView::undo, [this] { models_.pages.tray.undo(); }));
    key(Do::Redo, [this] { models_.pages.tray.redo(); });
}

void MainWindow::press_escape() {
    if (view_->cabinet_is_open() && !models_.scan.run.passing()) {
        if (!view_->cabinet().step_out()) view_->close_cabinet();
        return;
    }
    PageView& page = view_->page();
    if (view_->look() == Look::Page && page.tool() != PageTool::None) return page.use_tool(PageTool::None);
    if (view_->look() == Look::Text && view_->text().step_out()) return;
    if (view_->look() == Look::Pieces && !models_.scan.run.passing()) {
        if (models_.pages.stitching.composing()) return models_.pages.stitching.stop();
        if (view_->pieces().step_out()) return;
        return models_.room.is_view_alone() ? models_.room.leave_view_alone(false) : models_.pages.stitching.leave();
    }
    const bool waits = models_.scan.run.waiting().what != Waiting::For::Nothing;
    if (models_.scan.run.passing() || models_.scan.scanners.in_use() || waits) return models_.scan.run.stop();
    if (models_.room.is_view_alone()) return models_.room.leave_view_alone(false);
    close_news();
}

void MainWindow::turn(int quarters) {
    if (view_->look() == Look::Pieces) return view_->pieces().turn_chosen(90 * quarters);
    if (view_->look() == Look::Glass) return view_->glass().turn_chosen_quarter(quarters);
    models_.pages.edits.turn(quarters);
}

void MainWindow::tilt(double degrees) {
    if (view_->look() == Look::Pieces) return view_->pieces().turn_chosen(degrees);
    if (view_->look() == Look::Glass) return view_->glass().turn_chosen(degrees);
    models_.pages.edits.tilt(degrees);
}

void MainWindow::next_region(int step) {
    QList<QWidget*> regions{bar_->findChild<QWidget*>("sentence")};
    for (auto* card : view_->findChildren<QuestionCard*>()) regions.append(card);
    regions += QList<QWidget*>{view_->shown(), view_->side(), &tray_->strip(), tray_->foot().save_button()};
    const QWidget* focus = focusWidget();
    qsizetype at = -1;
    for (qsizetype i = 0; i < regions.size(); ++i) {
        if (regions[i] == focus || (focus && regions[i]->isAncestorOf(focus))) at = i;
    }
    for (qsizetype tries = 0; tries < regions.size(); ++tries) {
        at = (at + step + regions.size()) % regions.size();
        QWidget* region = regions[at];
        const bool is_card = qobject_cast<QuestionCard*>(region);
        if (region == view_->side() || is_card) {
            const auto inside = region->findChildren<QWidget*>();
            const auto takes_keys = [is_card](QWidget* w) {
                return w->isVisible() && w->isEnabled() && (w->focusPolicy() & Qt::TabFocus) &&
                       (is_card || qobject_cast<QPushButton*>(w));
            };
            const auto first = std::ranges::find_if(inside, takes_keys);
            if (first == inside.end()) continue;
            region = *first;
        }
        if (!region->isEnabled() || !region->isVisible()) continue;
        return region->setFocus(Qt::TabFocusReason);
    }
}

}
