// Dragging in the out tray: pages and dividers to another place, and files into another program.
#include "app/models/naming/document_names.h"
#include "app/models/saving/saving.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/ticketbar/ticket_stub.h"
#include "app/tray/tray_metrics.h"
#include "app/tray/tray_strip.h"

#include <QApplication>
#include <QDrag>
#include <QMimeData>
#include <QMouseEvent>
#include <QPointer>
#include <QUrl>

namespace yelvin {

using namespace tray;

void TrayStrip::mouseMoveEvent(QMouseEvent* event) {
    // In screen coordinates, because the strip may be scrolled or moved meanwhile.
    const bool far =
        (event->globalPosition().toPoint() - press_.at).manhattanLength() >= QApplication::startDragDistance();
    if (!(event->buttons() & Qt::LeftButton) || (!far && !press_.moves)) return;
    press_.now = event->pos();
    if (!press_.divider.isEmpty() && event->pos().y() < -tab_height && drag_out(QString(press_.divider))) return;
    move_pressed();
}

void TrayStrip::move_pressed() {
    const auto& documents = layout_.documents();
    const bool divider = !press_.divider.isEmpty() && !documents.isEmpty() && press_.divider != documents.front().id;
    if (press_.page.isEmpty() && !divider) return; // The divider of the first document cannot be moved.
    if (!std::exchange(press_.moves, true)) emit dragging(true);
    constexpr int far_above = 60; // Farther than the mouse strays while pages are moved within the strip.
    if (!press_.page.isEmpty() && press_.now.y() < -far_above && !press_.makes_files) make_dragged_pages();
    emit show_rect(QRect(press_.now.x() - 20, thumb_top, 40, 10)); // scrolls on at the strip's ends
    update();
}

void TrayStrip::mouseReleaseEvent(QMouseEvent*) {
    const Press press = std::exchange(press_, {});
    // Released before there was a file, and not over the strip: nothing is moved.
    if (!press.makes_files || press.now.y() >= 0) drop_pressed(press);
    update();
    if (press.moves) return emit dragging(false);
    // Showing the page may change the height of the tray, which must not happen while the mouse button is pressed.
    if (press.looks_on_release) emit page_chosen();
}

void TrayStrip::drop_pressed(const Press& press) {
    if (!press.moves) {
        if (press.chooses_on_release) models_.choice.set_current(press.page);
        return;
    }
    const bool pages = !press.page.isEmpty();
    if (pages && layout_.new_slip().contains(press.now)) return models_.edits.part();
    const TrayLayout::Drop drop = pages ? layout_.drop_at(press.now) : layout_.divider_drop(press.divider, press.now);
    if (drop.document.isEmpty()) return;
    pages ? models_.edits.move_to(drop.document, drop.index) : models_.edits.move_divider(press.divider, drop.index);
}

// Drags the file itself into another program's window.
bool TrayStrip::drag_out(const QString& document_id) {
    const QStringList files = models_.errands.files_of(document_id.toStdString());
    if (files.isEmpty() || !models_.errands.is_there(files.front())) return false;
    drag_files(files);
    return true;
}

void TrayStrip::drag_files(const QStringList& files) {
    auto* drag = new QDrag(this);
    auto* data = new QMimeData;
    QList<QUrl> urls;
    for (const QString& file : files) urls.append(QUrl::fromLocalFile(file));
    data->setUrls(urls);
    drag->setMimeData(data);
    const bool moved = std::exchange(press_, {}).moves;
    update();
    if (moved) emit dragging(false);
    drag->exec(Qt::CopyAction);
}

// The selected pages of the dragged page's document, in files as the ticket makes them.
void TrayStrip::make_dragged_pages() {
    const std::string dragged = press_.page.toStdString();
    const auto place = find_page(models_.tray.tray(), dragged);
    if (!place) return;
    const Document& document = *models_.tray.tray().documents[place->document];
    Saving::Aside aside{models_.document_tickets.of(document), models_.errands.outside().copies_folder().toStdString(),
                        models_.names.title_of(document).toStdString()};
    const auto& chosen = models_.choice.chosen();
    const bool several = chosen.contains(dragged);
    for (const PagePtr& page : document.pages)
        if (several ? chosen.contains(page->id) : page->id == dragged) aside.of.push_back(page->id);
    if (aside.of.size() == 1) aside.name += tr(" page %1").arg(place->page + 1).toStdString();
    press_.makes_files = true;
    emit said(tr("Creating the file to drag; keep the button pressed."));
    models_.saving.make_aside(document.id, aside, [here = QPointer(this)](const Result<std::vector<MadeFile>>& made) {
        if (!here || !here->press_.makes_files) return; // The mouse button was released before.
        if (!made) {
            here->press_.makes_files = false;
            return emit here->said(QString::fromStdString(made.error().sentence));
        }
        QStringList files;
        for (const MadeFile& file : *made) files.append(QString::fromStdString(file.path.string()));
        here->drag_files(files);
    });
}

// ---- what is dropped: a ticket on a document's tab; everything else is the window's

namespace {

QString dropped_ticket(const QMimeData& data) {
    const auto urls = data.urls();
    return data.hasFormat(TicketStub::dragged) && urls.size() == 1 ? urls.front().toLocalFile() : QString();
}

}

void TrayStrip::dragEnterEvent(QDragEnterEvent* event) {
    const bool own = event->source() != nullptr; // Our own drags go to other programs, except for tickets.
    if (event->mimeData()->hasUrls() && (!own || !dropped_ticket(*event->mimeData()).isEmpty()))
        event->acceptProposedAction();
}

void TrayStrip::dragMoveEvent(QDragMoveEvent* event) {
    const bool fits = dropped_ticket(*event->mimeData()).isEmpty() || layout_.tab_at(event->position().toPoint());
    event->setAccepted(fits);
}

void TrayStrip::dropEvent(QDropEvent* event) {
    const QString file = dropped_ticket(*event->mimeData());
    if (file.isEmpty()) return emit dropped(event->mimeData()->urls());
    if (const auto* box = layout_.tab_at(event->position().toPoint())) {
        models_.document_tickets.put_as(sheets_.chosen_with(box->id), file);
        event->acceptProposedAction();
    }
}

}
