// How the out tray is drawn.
#include "app/models/choice.h"
#include "app/models/document_names.h"
#include "app/models/experience.h"
#include "app/models/looking.h"
#include "app/models/out_tray.h"
#include "app/models/page_edits.h"
#include "app/models/pictures.h"
#include "app/models/reading.h"
#include "app/models/saving.h"
#include "app/models/scanners.h"
#include "app/models/scanning.h"
#include "app/models/tickets.h"
#include "app/theme/theme.h"
#include "app/tray/tray_metrics.h"
#include "app/tray/tray_strip.h"

#include <QPaintEvent>
#include <QPainter>
#include <QPainterPath>

namespace yelvin {

using namespace tray;

void TrayStrip::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    for (const auto& box : boxes_) {
        if (box.card.intersects(event->rect())) paint_document(painter, box, event->rect());
    }
    const bool starts = models_.tray.next_page_starts_document();
    if (slim_) return paint_new_slip(painter);
    if (!next_slip_.isNull())
        paint_slip(painter, next_slip_, starts ? tr("add\nhere") : tr("next page\nlands here"), !starts);
    paint_new_slip(painter);
    if (!dragging_.isEmpty() || divider_moves_) paint_drag(painter);
}

void TrayStrip::paint_new_slip(QPainter& painter) {
    const bool starts = models_.tray.next_page_starts_document(), opens = !models_.tray.cannot_be_opened();
    const bool empty = models_.tray.tray().documents.empty();
    QString words = !opens   ? tr("no page\ncan land here")
                    : empty  ? tr("The first page\nlands here")
                    : starts ? tr("next page starts\na document")
                             : tr("start a new\ndocument");
    if (slim_) words = empty ? words.replace('\n', ' ') : QStringLiteral("+");
    paint_slip(painter, new_slip_, words, starts && opens);
}

// Where what is dragged would come to lie, and what it is.
void TrayStrip::paint_drag(QPainter& painter) {
    const auto& c = theme::colours();
    const Drop drop = divider_moves_ ? divider_drop() : drop_at(drag_at_);
    painter.setPen(QPen(c.plum, 3));
    if (!divider_moves_ && new_slip_.contains(drag_at_))
        painter.drawRoundedRect(new_slip_, theme::corner, theme::corner);
    else if (!drop.document.isEmpty())
        painter.drawLine(drop.x, thumb_top - (divider_moves_ ? tab_height : 2), drop.x, thumb_top + thumb_height() + 2);
    if (divider_moves_) return;
    const QImage image = models_.pictures.thumbnail(dragging_);
    if (image.isNull()) return;
    const QRect at(drag_at_ - QPoint(20, 30), image.size().scaled(60, 60, Qt::KeepAspectRatio));
    painter.setOpacity(0.75);
    painter.drawImage(at, image);
    painter.setOpacity(1);
    if (const auto count = models_.choice.chosen().size(); count > 1) {
        const QRectF tag(at.right() - 12, at.top() - 8, 24, 18);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.plum);
        painter.drawRoundedRect(tag, 3, 3);
        painter.setPen(c.on_plum);
        painter.setFont(theme::measure());
        painter.drawText(tag, Qt::AlignCenter, QString::number(count));
    }
}

void TrayStrip::paint_document(QPainter& painter, const DocumentBox& box, const QRect& seen) {
    const auto& c = theme::colours();
    // A divider: the tab is higher at its left and cut round at its right, the card lies under it.
    QPainterPath shape;
    const QRectF r = QRectF(box.card).adjusted(0.5, 1.5, -0.5, -0.5);
    shape.moveTo(r.left(), r.bottom() - 4);
    shape.lineTo(r.left(), r.top());
    shape.lineTo(r.right() - 14, r.top());
    shape.quadTo(r.right(), r.top(), r.right(), r.top() + 14);
    shape.lineTo(r.right(), r.bottom() - 4);
    shape.quadTo(r.right(), r.bottom(), r.right() - 4, r.bottom());
    shape.lineTo(r.left() + 4, r.bottom());
    shape.quadTo(r.left(), r.bottom(), r.left(), r.bottom() - 4);
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(c.paper);
    painter.drawPath(shape);
    if (!slim_) painter.drawLine(QPointF(r.left(), tab_height + 0.5), QPointF(r.right(), tab_height + 0.5));
    if (box.current) {
        painter.save();
        painter.setClipRect(QRectF(r.left() - 1, 0, r.width() + 2, 4.5));
        painter.setPen(QPen(c.plum, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(shape);
        painter.restore();
    }
    paint_tab(painter, box);
    if (box.progress >= 0)
        painter.fillRect(QRectF(r.left() + 1, tab_height - 1, (r.width() - 2) * box.progress, 2.5), c.moss);
    else if (const auto read = share_read(box.id))
        painter.fillRect(QRectF(r.left() + 1, tab_height - 1, (r.width() - 2) * *read, 2.5), c.plum);
    for (const auto& page : box.pages) {
        if (!page.rect.adjusted(-4, -4, 4, number_height + 4).intersects(seen)) continue;
        if (page.dropped == Dropped::No)
            paint_page(painter, page, page.number);
        else
            paint_dropped(painter, page);
    }
}

// Its name, which stays in sight while its pages are scrolled past.
int TrayStrip::tab_text_left(const DocumentBox& box) const {
    const QFontMetrics title(theme::body()), facts(theme::measure());
    const QString shown = title.elidedText(box.title, Qt::ElideMiddle, 230);
    const int wide = title.horizontalAdvance(shown) + 10 + facts.horizontalAdvance(box.facts) + (box.saved ? 18 : 0) +
                     words_width(box.id);
    return std::clamp(left_seen(), box.tab.left(), std::max(box.tab.left(), box.tab.right() - wide - 2 * pad)) + pad;
}

int TrayStrip::words_begin(const DocumentBox& box) const {
    const QFontMetrics title(theme::body()), facts(theme::measure());
    return tab_text_left(box) + (box.saved ? 18 : 0) +
           title.horizontalAdvance(title.elidedText(box.title, Qt::ElideMiddle, 230)) + 10 +
           facts.horizontalAdvance(box.facts);
}

void TrayStrip::paint_tab(QPainter& painter, const DocumentBox& box) {
    const auto& c = theme::colours();
    const QFontMetrics title(theme::body());
    const QString shown = title.elidedText(box.title, Qt::ElideMiddle, 230);
    int x = tab_text_left(box);
    if (box.saved) {
        theme::icon("check", c.moss).paint(&painter, x - 2, 9, 14, 14);
        x += 18;
    }
    painter.setFont(theme::body());
    painter.setPen(c.ink);
    painter.drawText(QRect(x, 1, 240, tab_height), Qt::AlignVCenter, shown);
    x += title.horizontalAdvance(shown) + 10;
    painter.setFont(theme::measure());
    painter.setPen(box.saved ? c.moss : c.quiet);
    painter.drawText(QRect(x, 2, box.card.right() - x, tab_height), Qt::AlignVCenter, box.facts);
    paint_tab_words(painter, box, words_begin(box));
}

// Scaling well takes longer than all the rest of painting; it is done once for each picture.
const QPixmap& TrayStrip::scaled(const QString& id, const QImage& image, const QSizeF& size) {
    const double ratio = devicePixelRatioF();
    const QSize dots = (size * ratio).toSize();
    Scaled& kept = scaled_[id];
    if (kept.from != image.cacheKey() || kept.pixmap.size() != dots) {
        kept = {image.cacheKey(),
                QPixmap::fromImage(image.scaled(dots, Qt::IgnoreAspectRatio, Qt::SmoothTransformation))};
        kept.pixmap.setDevicePixelRatio(ratio);
    }
    return kept.pixmap;
}

void TrayStrip::paint_page(QPainter& painter, const PageBox& box, int number) {
    const auto& c = theme::colours();
    const QImage image = models_.pictures.thumbnail(box.id);
    QRectF field(box.rect);
    if (!image.isNull()) {
        const QSizeF size = QSizeF(image.size()).scaled(field.size(), Qt::KeepAspectRatio);
        field = QRectF(field.left() + (field.width() - size.width()) / 2, field.bottom() - size.height(), size.width(),
                       size.height());
        painter.drawPixmap(field.topLeft(), scaled(box.id, image, field.size()));
    } else {
        painter.fillRect(field, c.desk);
    }
    const bool current = box.id == models_.choice.current_id();
    const bool chosen = models_.choice.several() && models_.choice.chosen().contains(box.id.toStdString());
    if (chosen) {
        QColor wash = c.plum;
        wash.setAlpha(45);
        painter.fillRect(field, wash);
    }
    if (const auto percent = models_.reading.percent_of(box.id)) paint_reading(painter, field, *percent);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(current || chosen ? c.plum : c.hairline, current ? 2.5 : chosen ? 1.5 : 1));
    painter.drawRect(field.adjusted(0, 0, -0.5, -0.5));
    if (chosen) {
        const QRectF mark(field.right() - 16, field.top() + 2, 14, 14);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.plum);
        painter.drawEllipse(mark);
        theme::icon("check", c.on_plum).paint(&painter, mark.toRect().adjusted(2, 2, -2, -2));
    }
    if (const auto& landing = models_.tray.landing(); landing && landing->page == box.id.toStdString()) {
        painter.setPen(QPen(c.plum, 2, Qt::DashLine));
        if (landing->how == Landing::How::Instead)
            paint_slip(painter, box.rect, tr("the new scan\nlands here"), true);
        else if (landing->how == Landing::How::Before)
            painter.drawLine(QPointF(box.rect.left() - between / 2.0, thumb_top),
                             QPointF(box.rect.left() - between / 2.0, thumb_top + thumb_height()));
    }
    if (current && hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.drawRect(field.adjusted(-3, -3, 2.5, 2.5));
    }
    painter.setFont(theme::measure());
    painter.setPen(current ? c.plum : c.quiet);
    const PagePtr page = page_at(models_.tray.tray(), box.id.toStdString());
    painter.drawText(QRect(box.rect.left() - 4, box.rect.bottom() + 2, box.rect.width() + 8, number_height),
                     Qt::AlignHCenter | Qt::AlignVCenter, QString::number(number));
    if (page) paint_marks(painter, box, *page);
}

std::optional<double> TrayStrip::share_read(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    return document ? models_.reading.share_of(*document) : std::nullopt;
}

// At the page's foot: how much of it is read.
void TrayStrip::paint_reading(QPainter& painter, const QRectF& field, int percent) {
    const auto& c = theme::colours();
    constexpr double high = 4;
    const QRectF bar(field.left(), field.bottom() - high, field.width(), high);
    painter.fillRect(bar, c.hairline);
    painter.fillRect(QRectF(bar.topLeft(), QSizeF(bar.width() * percent / 100, high)), c.plum);
}

// Beside the number: corrected, a photograph, a doubtful reading.
void TrayStrip::paint_marks(QPainter& painter, const PageBox& box, const Page& page) {
    const auto& c = theme::colours();
    int x = box.rect.center().x() + 8;
    const int y = box.rect.bottom() + 5;
    if (page.recipe != Recipe{}) {
        theme::icon("pen", c.quiet).paint(&painter, x, y, 10, 10);
        x += 12;
    }
    if (page.noticed && page.notices.kind == PageKind::Photo) {
        theme::icon("photo", c.quiet).paint(&painter, x, y, 10, 10);
        x += 12;
    }
    if (models_.reading.doubtful_words(box.id) > 0) {
        painter.setPen(c.amber);
        painter.drawText(QRect(x, y - 2, 10, 14), Qt::AlignCenter, "?");
    }
}

// A dropped side stands on edge: thin, with a word along it. One press looks at it, a double press brings it back.
void TrayStrip::paint_dropped(QPainter& painter, const PageBox& box) {
    const auto& c = theme::colours();
    const bool current = box.id == models_.choice.current_id();
    painter.setBrush(c.desk);
    painter.setPen(QPen(current ? c.plum : c.quiet, current ? 2 : 1, Qt::DotLine));
    painter.drawRect(QRectF(box.rect).adjusted(0.5, 0.5, -0.5, -0.5));
    painter.save();
    painter.translate(box.rect.center().x() + 1, box.rect.center().y());
    painter.rotate(-90);
    painter.setFont(theme::measure());
    painter.setPen(current ? c.plum : c.quiet);
    painter.drawText(QRect(-box.rect.height() / 2, -box.rect.width() / 2, box.rect.height(), box.rect.width()),
                     Qt::AlignCenter, box.dropped == Dropped::Blank ? tr("blank side") : tr("separator"));
    painter.restore();
}

void TrayStrip::paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active) {
    const auto& c = theme::colours();
    painter.setBrush(active ? c.plum_wash : Qt::transparent);
    painter.setPen(QPen(active ? c.plum : c.quiet, 1.2, Qt::DashLine));
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), theme::corner, theme::corner);
    painter.setFont(theme::measure());
    painter.setPen(active ? c.plum : c.quiet);
    painter.drawText(rect.adjusted(3, 3, -3, -3), Qt::AlignCenter | Qt::TextWordWrap, words);
}

}
