// The part of PageView that shows two pages side by side: the first and the second of a document, the third and the
// fourth, and so on. One of them is the current page; clicking the other makes it the current one. The second page is
// shown only if the current page does not become smaller.
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/room.h"
#include "app/page/page_view.h"
#include "app/theme/theme.h"

#include <QPainter>

namespace yelvin {

std::optional<PageView::Pair> PageView::pair() const {
    const PagePtr page = choice_.current();
    if (!page || over_ || width() < wide || fit_ != Fit::Page || tool_ != PageTool::None || !room_.two_pages())
        return std::nullopt;
    const auto place = find_page(tray_.tray(), page->id);
    if (!place) return std::nullopt;
    const auto pages = tray_.tray().documents[place->document]->kept_pages();
    const auto at = std::ranges::find(pages, page->id, &Page::id) - pages.begin();
    const auto beside = static_cast<size_t>(at ^ 1);
    if (static_cast<size_t>(at) >= pages.size() || beside >= pages.size()) return std::nullopt;
    const PagePtr& other = pages[beside];
    const Original& o = other->original;
    const SizePx own = page_px(), others = developed_size(other->recipe, {o.width_px, o.height_px}, o.dpi);
    // Both pages have the same scale, except that a page slightly higher than the view is reduced to its height.
    const double alike = scale() * page_dpi() / o.dpi, highest = (height() - 2.0 * room_px()) / others.height;
    const double by = std::min(alike, highest);
    const QSizeF size = QSizeF(others.width, others.height) * by;
    const bool fits = by > 0.95 * alike && own.width * scale() + size.width() + between + 2 * room_px() <= width();
    return fits ? std::optional(Pair{other, beside > static_cast<size_t>(at), by, size}) : std::nullopt;
}

QRectF PageView::other_sheet_rect() const {
    const auto two = pair();
    return two ? other_rect(*two) : QRectF();
}

QRectF PageView::other_rect(const Pair& two) const {
    const QRectF sheet = sheet_rect();
    const double x = two.other_is_right ? sheet.right() + between : sheet.left() - between - two.size.width();
    return {QPointF(std::round(x), std::round((height() - two.size.height()) / 2)), two.size};
}

void PageView::ask_for_other() {
    const auto two = pair();
    if (!two) return other_.reset();
    const Original& o = two->other->original;
    const double wanted = std::min(1.0, two->scale * devicePixelRatioF());
    const SizePx full = developed_size(two->other->recipe, {o.width_px, o.height_px}, o.dpi);
    const cv::Rect all(0, 0, std::max(1, static_cast<int>(std::lround(full.width * wanted))),
                       std::max(1, static_cast<int>(std::lround(full.height * wanted))));
    const PageLook look{two->other->id, o, two->other->recipe, wanted, all};
    if (other_asked_ == look || (other_ && other_->look == look)) return;
    other_asked_ = look;
    pictures_.parts()->look(look);
}

void PageView::paint_other(QPainter& painter, const Pair& two) const {
    const QRectF sheet = other_rect(two);
    const bool there = other_ && other_->look.page == two.other->id;
    const QImage image = there ? other_->image : pictures_.thumbnail(QString::fromStdString(two.other->id));
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    if (!image.isNull()) painter.drawImage(sheet, image);
    // The frame marks the current page.
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::colours().plum, 2));
    painter.drawRect(sheet_rect().adjusted(-1, -1, 1, 1));
}

}
