// The part of PageView that draws the page.
#include "app/page/page_view.h"

#include "app/models/tray/choice.h"
#include "app/models/tray/pictures.h"
#include "app/page/page_over.h"
#include "app/theme/theme.h"
#include "core/output/stamp.h"

#include <QPainter>
#include <QPainterPath>

namespace yelvin {

namespace {
void paint_sheet(QPainter& painter, const QRectF& sheet) {
    // The page casts a shadow, as paper on a table. Nothing else in the window does.
    for (int i = 3; i > 0; --i) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 12));
        painter.drawRect(sheet.adjusted(-i + 1, -i + 2, i - 1, i + 1));
    }
    painter.setBrush(Qt::white);
    painter.setPen(QPen(theme::colours().hairline, 1));
    painter.drawRect(sheet.adjusted(-0.5, -0.5, 0.5, 0.5));
}
}

void PageView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!growing_.isNull()) return paint_growing(painter);
    const auto& c = theme::colours();
    if (!choice_.current()) {
        painter.setFont(theme::body());
        painter.setPen(c.quiet);
        painter.drawText(rect(), Qt::AlignCenter,
                         tr("No page yet. Scan one (Ctrl+Enter), or drop picture files and PDFs here."));
        return;
    }
    const QRectF sheet = sheet_rect();
    const auto two = pair();
    if (two) paint_sheet(painter, other_rect(*two));
    paint_sheet(painter, sheet);
    paint_picture(painter, sheet);
    if (two) paint_other(painter, *two);
    const PagePtr page = choice_.current();
    const bool tilting = choice_.shown_recipe().tilt_degrees != page->recipe.tilt_degrees;
    paint_stamp(painter, sheet);
    paint_pointed(painter);
    if (grid_ || tilting) paint_grid(painter, sheet);
    paint_tool(painter, sheet);
    if (over_) over_->paint(painter);
    if (rulers_) paint_rulers(painter, sheet);
    if (held_) {
        painter.setFont(theme::measure());
        const QRectF tag(sheet.center().x() - 50, std::max(8.0, sheet.top() + 8), 100, 20);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.plum);
        painter.drawRoundedRect(tag, 3, 3);
        painter.setPen(c.on_plum);
        painter.drawText(tag, Qt::AlignCenter, tr("as scanned"));
    }
    if (loupe_) paint_loupe(painter);
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

// Draws a frame around each run of words that a hovered name part was taken from.
void PageView::paint_pointed(QPainter& painter) const {
    if (!pointed_of_ || held_ || tool_ != PageTool::None) return;
    const auto& c = theme::colours();
    QColor wash = c.plum;
    wash.setAlpha(28);
    for (const cv::Rect& box : pointed_of_(*choice_.current())) {
        const QRectF at = to_screen(cv::Rect2d(box)).adjusted(-4, -3, 4, 3);
        painter.setPen(QPen(c.plum, 2));
        painter.setBrush(wash);
        painter.drawRoundedRect(at, 3, 3);
    }
}

// Draws the stamp in the position and size that it will have in the file.
void PageView::paint_stamp(QPainter& painter, const QRectF& sheet) const {
    if (!stamp_of_ || held_ || tool_ != PageTool::None) return;
    const auto stamp = stamp_of_(*choice_.current());
    if (!stamp || stamp->words.empty()) return;
    const SizePx px = page_px();
    const SizePt page{px_to_pt(px.width, page_dpi()), px_to_pt(px.height, page_dpi())};
    const cv::Matx23d at = stamp_place(stamp->how, stamp_size(stamp->words, stamp->how), page);
    const double by = sheet.width() / page.width;
    QFont font("Liberation Sans");
    font.setHintingPreference(QFont::PreferNoHinting);
    font.setPixelSize(100); // scaled as a whole, so that it is as wide at every size
    const double size = stamp->how.size_pt / 100;
    painter.save();
    painter.setClipRect(sheet);
    painter.translate(sheet.topLeft());
    painter.scale(by, by);
    painter.setTransform(QTransform(at(0, 0), at(1, 0), at(0, 1), at(1, 1), at(0, 2), at(1, 2)), true);
    painter.scale(size, size);
    painter.setFont(font);
    painter.setPen(QColor(QString::fromStdString(stamp->how.colour)));
    painter.drawText(QPointF(0, QFontMetricsF(font).ascent()), QString::fromStdString(stamp->words));
    painter.restore();
}

// Draws the developed part over the whole page in fit size, or the thumbnail if neither is available yet.
void PageView::paint_picture(QPainter& painter, const QRectF& sheet) const {
    const PagePtr page = choice_.current();
    const Recipe now = viewed_recipe();
    painter.save();
    painter.setClipRect(sheet);
    const auto draw = [&](const Shown& shown) {
        const double by = scale() / shown.look.scale;
        const QRectF to(sheet.left() + shown.look.part.x * by, sheet.top() + shown.look.part.y * by,
                        shown.image.width() * by, shown.image.height() * by);
        painter.setRenderHint(QPainter::SmoothPixmapTransform, by * devicePixelRatioF() < 2);
        painter.drawImage(to, shown.image);
    };
    const auto fits = [&](const std::optional<Shown>& shown) {
        return shown && shown->look.page == page->id && geometry_of(shown->look.recipe) == geometry_of(now);
    };
    if (fits(whole_)) {
        draw(*whole_);
    } else if (const QImage small = pictures_.thumbnail(choice_.current_id());
               !small.isNull() && geometry_of(now) == geometry_of(page->recipe)) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(sheet, small);
    }
    if (fits(part_) && part_->look.recipe == now &&
        (!whole_ || part_->look.scale > whole_->look.scale || !fits(whole_)))
        draw(*part_);
    painter.restore();
}

void PageView::paint_grid(QPainter& painter, const QRectF& sheet) const {
    QColor line = theme::colours().plum;
    line.setAlpha(90);
    painter.setPen(QPen(line, 1));
    double step = 10 * scale() * page_dpi() / mm_per_inch;
    while (step < 16) step *= 2;
    for (double x = sheet.left() + step; x < sheet.right(); x += step)
        painter.drawLine(QPointF(x, sheet.top()), QPointF(x, sheet.bottom()));
    for (double y = sheet.top() + step; y < sheet.bottom(); y += step)
        painter.drawLine(QPointF(sheet.left(), y), QPointF(sheet.right(), y));
}

// Draws the rulers along the top and the left side of the page, counted from its corner, in millimetres or inches.
void PageView::paint_rulers(QPainter& painter, const QRectF& sheet) const {
    const auto& c = theme::colours();
    const double unit = (inches_ ? mm_per_inch : 10.0) * scale() * page_dpi() / mm_per_inch; // px of an inch or a cm
    double labelled = 1;
    for (const double step : {1.0, 2.0, 5.0, 10.0, 20.0, 50.0}) {
        labelled = step;
        if (step * unit >= 34) break;
    }
    const int parts = inches_ ? 8 : 10;
    painter.fillRect(QRectF(0, 0, width(), ruler), c.paper);
    painter.fillRect(QRectF(0, 0, ruler, height()), c.paper);
    painter.setFont(theme::measure());
    const auto along = [&](bool across) {
        const double begin = across ? sheet.left() : sheet.top(), end = across ? sheet.right() : sheet.bottom();
        const double room_end = across ? width() : height();
        for (int i = 0; begin + i * unit / parts <= end + 0.5; ++i) {
            const double at = begin + i * unit / parts;
            if (at < ruler || at > room_end) continue;
            const bool whole = i % parts == 0,
                       named = whole && std::fmod(static_cast<double>(i) / parts, labelled) < 1e-6;
            if (!whole && unit / parts < 4) continue;
            const double length = named ? 8 : whole ? 6 : 3;
            painter.setPen(QPen(c.quiet, 1));
            painter.drawLine(across ? QLineF(at, ruler - length, at, ruler) : QLineF(ruler - length, at, ruler, at));
            if (!named) continue;
            const QString words = QString::number(inches_ ? i / parts : i / parts * 10);
            painter.setPen(c.ink);
            if (across) {
                painter.drawText(QRectF(at + 2, -1, 40, 13), Qt::AlignLeft | Qt::AlignVCenter, words);
            } else {
                painter.save();
                painter.translate(0, at + 2);
                painter.rotate(90);
                painter.drawText(QRectF(0, -12, 40, 12), Qt::AlignLeft | Qt::AlignVCenter, words);
                painter.restore();
            }
        }
    };
    along(true);
    along(false);
    painter.fillRect(QRectF(0, 0, ruler, ruler), c.desk);
    painter.setPen(c.ink);
    painter.drawText(QRectF(0, 0, ruler, ruler), Qt::AlignCenter, inches_ ? tr("in") : tr("mm"));
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(QPointF(0, ruler), QPointF(width(), ruler));
    painter.drawLine(QPointF(ruler, 0), QPointF(ruler, height()));
}

void PageView::paint_loupe(QPainter& painter) const {
    const auto& c = theme::colours();
    const QRectF at(mouse_.x() - loupe_size / 2.0, mouse_.y() - loupe_size / 2.0, loupe_size, loupe_size);
    painter.save();
    QPainterPath round;
    round.addEllipse(at);
    painter.setClipPath(round);
    painter.fillRect(at, c.table);
    if (under_loupe_) {
        const double by = scale() * loupe_power / under_loupe_->look.scale;
        const QPointF pixel = (mouse_ - sheet_rect().topLeft()) / scale() * under_loupe_->look.scale -
                              QPointF(under_loupe_->look.part.x, under_loupe_->look.part.y);
        painter.setRenderHint(QPainter::SmoothPixmapTransform, by < 2);
        painter.drawImage(QRectF(mouse_ - pixel * by, QSizeF(under_loupe_->image.size()) * by), under_loupe_->image);
    }
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(c.ink, 2));
    painter.drawEllipse(at);
}

void PageView::paint_growing(QPainter& painter) {
    const double by =
        std::min((width() - 2.0 * room_px()) / growing_.width(), (height() - 2.0 * room_px()) / growing_.height());
    const QRectF sheet((width() - growing_.width() * by) / 2, room_px(), growing_.width() * by, growing_.height() * by);
    const auto& c = theme::colours();
    painter.setPen(QPen(c.hairline, 1, Qt::DashLine));
    painter.drawRect(sheet);
    const QRectF done(sheet.left(), sheet.top(), sheet.width(), rows_ * by);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(done, growing_, QRectF(0, 0, growing_.width(), rows_));
    painter.setPen(QPen(c.plum, 2));
    painter.drawLine(done.bottomLeft(), done.bottomRight());
    painter.setFont(theme::measure());
    painter.setPen(c.quiet);
    painter.drawText(QRectF(sheet.right() + 12, done.bottom() - 10, 120, 20), Qt::AlignVCenter,
                     tr("%1%").arg(100 * rows_ / std::max(1, growing_.height())));
}

}
