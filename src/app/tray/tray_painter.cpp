#include "app/tray/tray_painter.h"

#include "app/models/text/reading.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/pictures.h"
#include "app/theme/theme.h"
#include "app/tray/tray_metrics.h"

#include <QPainter>
#include <QPainterPath>

namespace yelvin {

using namespace tray;

void TrayPainter::paint(QPainter& painter, const TrayLayout& layout, const Seen& seen) {
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    for (const DocumentBox& box : layout.documents())
        if (box.card.intersects(seen.dirty)) paint_document(painter, box, layout, seen);
    const bool starts = models_.tray.next_page_starts_document();
    if (seen.at_end) {
        painter.setPen(QPen(theme::colours().ink, 2));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(layout.new_slip().adjusted(-3, -3, 3, 3), theme::corner, theme::corner);
    }
    if (layout.is_slim()) return paint_new_slip(painter, layout);
    if (!layout.next_slip().isNull())
        paint_slip(painter, layout.next_slip(), starts ? tr("add\nhere") : tr("next page\ngoes here"), !starts);
    paint_new_slip(painter, layout);
    if (seen.drag) paint_drag(painter, layout, *seen.drag);
}

void TrayPainter::paint_new_slip(QPainter& painter, const TrayLayout& layout) const {
    const bool starts = models_.tray.next_page_starts_document(), opens = !models_.tray.cannot_be_opened();
    const bool empty = models_.tray.tray().documents.empty();
    QString words = !opens   ? tr("no page\ncan go here")
                    : empty  ? tr("The first page\ngoes here")
                    : starts ? tr("next page starts\na document")
                             : tr("start a new\ndocument");
    if (layout.is_slim()) words = empty ? words.replace('\n', ' ') : QStringLiteral("+");
    paint_slip(painter, layout.new_slip(), words, starts && opens);
}

// Shows where the dragged pages would be placed, and what is dragged.
void TrayPainter::paint_drag(QPainter& painter, const TrayLayout& layout, const Drag& drag) const {
    const auto& c = theme::colours();
    const bool divider = !drag.divider.isEmpty();
    const TrayLayout::Drop drop = divider ? layout.divider_drop(drag.divider, drag.at) : layout.drop_at(drag.at);
    painter.setPen(QPen(c.plum, 3));
    if (!divider && layout.new_slip().contains(drag.at))
        painter.drawRoundedRect(layout.new_slip(), theme::corner, theme::corner);
    else if (!drop.document.isEmpty())
        painter.drawLine(drop.x, thumb_top - (divider ? tab_height : 2), drop.x, thumb_top + layout.thumb_height() + 2);
    if (divider) return;
    const QImage image = models_.pictures.thumbnail(drag.page);
    if (image.isNull()) return;
    const QRect at(drag.at - QPoint(20, 30), image.size().scaled(60, 60, Qt::KeepAspectRatio));
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

void TrayPainter::paint_document(QPainter& painter, const DocumentBox& box, const TrayLayout& layout,
                                 const Seen& seen) {
    const auto& c = theme::colours();
    // A divider: its tab is higher at the left with a rounded cut at the right, above the card.
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
    if (!layout.is_slim()) painter.drawLine(QPointF(r.left(), tab_height + 0.5), QPointF(r.right(), tab_height + 0.5));
    painter.save();
    painter.setClipPath(shape);
    const QColor colour = theme::ticket_colour(box.ticket_colour);
    painter.fillRect(QRectF(r.left(), r.top(), colour_width, r.height()), colour);
    painter.fillRect(QRectF(TrayLayout::ticket_edge(box, seen.left).left() + 0.5, r.top(), colour_width, tab_height),
                     colour);
    painter.restore();
    if (box.current) {
        painter.save();
        painter.setClipRect(QRectF(r.left() - 1, 0, r.width() + 2, 4.5));
        painter.setPen(QPen(c.plum, 3));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(shape);
        painter.restore();
    }
    paint_tab(painter, box, seen.left);
    if (box.progress >= 0)
        painter.fillRect(QRectF(r.left() + 1, tab_height - 1, (r.width() - 2) * box.progress, 2.5), c.moss);
    else if (const auto read = share_read(box.id))
        painter.fillRect(QRectF(r.left() + 1, tab_height - 1, (r.width() - 2) * *read, 2.5), c.plum);
    for (const PageBox& page : box.boxes) {
        if (!page.rect.adjusted(-4, -4, 4, number_height + 4).intersects(seen.dirty)) continue;
        if (page.dropped == Dropped::No)
            paint_page(painter, page, seen);
        else
            paint_dropped(painter, page);
    }
}

void TrayPainter::paint_tab(QPainter& painter, const DocumentBox& box, int left_seen) const {
    const auto& c = theme::colours();
    int x = TrayLayout::name_left(box, left_seen);
    if (box.saved) {
        theme::icon("check", c.moss).paint(&painter, x - 2, 9, 14, 14);
        x += saved_mark;
    }
    painter.setFont(theme::body());
    painter.setPen(c.ink);
    painter.drawText(QRect(x, 1, title_width + 10, tab_height), Qt::AlignVCenter, box.shown_title);
    x += box.title_width + behind_title;
    painter.setFont(theme::measure());
    painter.setPen(box.saved ? c.moss : c.quiet);
    painter.drawText(QRect(x, 2, box.card.right() - x, tab_height), Qt::AlignVCenter, box.facts);
    paint_tab_words(painter, box, TrayLayout::words_left(box, left_seen));
}

// Each action is a word that can be clicked, with a check mark or a cross in front of it when it has ended.
void TrayPainter::paint_tab_words(QPainter& painter, const DocumentBox& box, int x) const {
    const auto& c = theme::colours();
    painter.setFont(theme::measure());
    for (const TabWord& word : words_.of(box.id)) {
        const bool failed = word.is_over() && word.state.is == ErrandState::Is::Failed;
        const bool done = word.is_over() && !failed;
        int at = x + word.x;
        if (done) theme::icon("check", c.moss).paint(&painter, at - 2, 11, 11, 11);
        if (failed) {
            painter.setPen(QPen(c.brick, 1.5));
            painter.drawLine(at, 13, at + 7, 20);
            painter.drawLine(at + 7, 13, at, 20);
        }
        if (word.is_over()) at += TabWords::mark_width;
        const bool waits = word.is == TabWord::Is::WaitsForFolder || word.is == TabWord::Is::WaitsForAnswer;
        painter.setPen(failed || waits                    ? c.brick
                       : done                             ? c.moss
                       : word.is == TabWord::Is::Proposes ? c.amber
                       : word.is == TabWord::Is::Ticket   ? c.quiet
                                                          : c.plum);
        painter.drawText(QRect(at, 2, word.width + 4, tab_height), Qt::AlignVCenter, word.words);
    }
}

// Smooth scaling takes longer than all other painting, so it is done once for each picture.
const QPixmap& TrayPainter::scaled(const QString& id, const QImage& image, const QSizeF& size, double pixel_ratio) {
    const QSize dots = (size * pixel_ratio).toSize();
    Scaled& kept = scaled_[id];
    if (kept.from != image.cacheKey() || kept.pixmap.size() != dots) {
        kept = {image.cacheKey(),
                QPixmap::fromImage(image.scaled(dots, Qt::IgnoreAspectRatio, Qt::SmoothTransformation))};
        kept.pixmap.setDevicePixelRatio(pixel_ratio);
    }
    return kept.pixmap;
}

void TrayPainter::paint_page(QPainter& painter, const PageBox& box, const Seen& seen) {
    const auto& c = theme::colours();
    const QImage image = models_.pictures.thumbnail(box.id);
    QRectF field(box.rect);
    if (!image.isNull()) {
        const QSizeF size = QSizeF(image.size()).scaled(field.size(), Qt::KeepAspectRatio);
        field = QRectF(field.left() + (field.width() - size.width()) / 2, field.bottom() - size.height(), size.width(),
                       size.height());
        painter.drawPixmap(field.topLeft(), scaled(box.id, image, field.size(), seen.pixel_ratio));
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
    paint_landing(painter, box);
    if (current && seen.has_focus) {
        painter.setPen(QPen(c.plum, 1));
        painter.drawRect(field.adjusted(-3, -3, 2.5, 2.5));
    }
    painter.setFont(theme::measure());
    painter.setPen(current ? c.plum : c.quiet);
    const PagePtr page = page_at(models_.tray.tray(), box.id.toStdString());
    painter.drawText(QRect(box.rect.left() - 4, box.rect.bottom() + 2, box.rect.width() + 8, number_height),
                     Qt::AlignHCenter | Qt::AlignVCenter, QString::number(box.number));
    if (page) paint_marks(painter, box, *page);
}

void TrayPainter::paint_landing(QPainter& painter, const PageBox& box) const {
    const auto& landing = models_.tray.landing();
    if (!landing || landing->page != box.id.toStdString()) return;
    painter.setPen(QPen(theme::colours().plum, 2, Qt::DashLine));
    if (landing->how == Landing::How::Instead)
        paint_slip(painter, box.rect, tr("the new scan\ngoes here"), true);
    else if (landing->how == Landing::How::Before)
        painter.drawLine(QPointF(box.rect.left() - between / 2.0, box.rect.top()),
                         QPointF(box.rect.left() - between / 2.0, box.rect.bottom() + 1));
}

std::optional<double> TrayPainter::share_read(const QString& document_id) const {
    const DocumentPtr document = document_at(models_.tray.tray(), document_id.toStdString());
    return document ? models_.reading.share_of(*document) : std::nullopt;
}

// The bar at the foot of the page shows how much of it has been read.
void TrayPainter::paint_reading(QPainter& painter, const QRectF& field, int percent) {
    const auto& c = theme::colours();
    constexpr double high = 4;
    const QRectF bar(field.left(), field.bottom() - high, field.width(), high);
    painter.fillRect(bar, c.hairline);
    painter.fillRect(QRectF(bar.topLeft(), QSizeF(bar.width() * percent / 100, high)), c.plum);
}

// Marks beside the number: corrected, a photograph, uncertain words.
void TrayPainter::paint_marks(QPainter& painter, const PageBox& box, const Page& page) const {
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

// A side that is left out is drawn narrow, with a word along it. A click selects it, a double-click brings it back.
void TrayPainter::paint_dropped(QPainter& painter, const PageBox& box) const {
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

void TrayPainter::paint_slip(QPainter& painter, const QRect& rect, const QString& words, bool active) {
    const auto& c = theme::colours();
    painter.setBrush(active ? c.plum_wash : Qt::transparent);
    painter.setPen(QPen(active ? c.plum : c.quiet, 1.2, Qt::DashLine));
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), theme::corner, theme::corner);
    painter.setFont(theme::measure());
    painter.setPen(active ? c.plum : c.quiet);
    painter.drawText(rect.adjusted(3, 3, -3, -3), Qt::AlignCenter | Qt::TextWordWrap, words);
}

}
