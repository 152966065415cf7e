// How the glass and its frames are drawn.
#include "app/glass/glass_view.h"
#include "app/glass/mounts.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tickets/tickets.h"
#include "app/theme/theme.h"
#include "app/ticketbar/placement.h"
#include "app/ticketbar/ticket_bar.h"

#include <QPainter>
#include <QPainterPath>

namespace yelvin {

void GlassView::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (shows_feeder()) return paint_feeder(painter);
    paint_glass(painter);
    const auto frames = frames_now();
    if (!next_scan_.frames_count() || (frames.empty() && !glass_.preview().isNull())) {
        const RectMm area = hull_of({next_scan_.frames().front().at});
        const QRectF at(to_screen(area.x, area.y), QSizeF(area.width, area.height) * scale());
        painter.setPen(QPen(on_picture, 1.2, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(at.intersected(glass_rect()));
    } else {
        for (int i = 0; i < static_cast<int>(frames.size()); ++i) {
            const bool chosen = i == glass_.chosen_frame() || (drawing_ && i + 1 == static_cast<int>(frames.size()));
            paint_frame(painter, frames[static_cast<size_t>(i)].at, i + 1, chosen);
        }
    }
    if (changing_) paint_guides(painter);
    if (changing_ && grip_.part == Grip::Part::Corner) paint_magnifier(painter);
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

// The preview is scaled once for the size it is shown at, not at every move of the mouse.
void GlassView::paint_glass(QPainter& painter) {
    const auto& c = theme::colours();
    const QRectF glass = glass_rect();
    painter.fillRect(glass, QColor("#F0EFEA"));
    if (!glass_.preview().isNull()) {
        const QSize shown = (glass.size() * devicePixelRatioF()).toSize();
        if (scaled_of_ != glass_.preview().cacheKey() || scaled_.size() != shown) {
            scaled_of_ = glass_.preview().cacheKey();
            scaled_ = glass_.preview()
                          .scaled(shown, Qt::IgnoreAspectRatio, Qt::SmoothTransformation)
                          .convertToFormat(QImage::Format_RGB32);
        }
        painter.drawImage(glass, scaled_);
        if (glass_.is_out_of_date()) {
            QColor veil = c.table;
            veil.setAlpha(150);
            painter.fillRect(glass, veil);
        }
    }
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(glass);
    // The marked corner of the glass, as on the scanner's edge.
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ink);
    painter.drawPolygon(QPolygonF{glass.topLeft() + QPointF(-2, -2), glass.topLeft() + QPointF(18, -2),
                                  glass.topLeft() + QPointF(-2, 18)});
    if (!glass_.is_out_of_date()) return;
    painter.setFont(theme::strong());
    const QRectF tag(glass.center().x() - 60, glass.top() + 16, 120, 26);
    painter.setBrush(c.paper);
    painter.setPen(c.amber);
    painter.drawRoundedRect(tag, theme::corner, theme::corner);
    painter.drawText(tag, Qt::AlignCenter, tr("? out of date"));
}

// Draws a frame: its corners, a thin line between them, the bar that shows which side is up, its number and, while it
// is being changed, its size.
void GlassView::paint_frame(QPainter& painter, const Region& frame, int number, bool chosen) const {
    const auto& c = theme::colours();
    const double w = frame.w_mm * scale(), h = frame.h_mm * scale();
    const QRectF r(-w / 2, -h / 2, w, h);
    painter.save();
    painter.translate(to_screen(frame.x_mm, frame.y_mm));
    painter.rotate(frame.angle_degrees);
    painter.setPen(QPen(on_picture, 1, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r);
    paint_mounts(painter, r, chosen ? 4.5 : 3.5);
    if (h > 12) {
        const double half = std::clamp(w * 0.2, 11.0, 45.0);
        painter.drawRoundedRect(QRectF(-half, r.top() - bar_distance_px - 2, 2 * half, 4), 2, 2);
    }
    painter.restore();

    painter.setFont(theme::measure());
    if (w > 34 && h > 34) { // The label stays upright whatever the frame's angle, near its lower left corner.
        const QPointF corner = to_screen(frame.x_mm, frame.y_mm) +
                               QTransform().rotate(frame.angle_degrees).map(QPointF(r.left() + 17, r.bottom() - 16));
        const QRectF badge(corner.x() - 9.5, corner.y() - 8.5, 19, 17);
        painter.setPen(Qt::NoPen);
        painter.setBrush(on_picture);
        painter.drawRoundedRect(badge, 2, 2);
        painter.setPen(Qt::white);
        painter.drawText(badge, Qt::AlignCenter, QString::number(number));
    }
    if (!changing_ || !chosen) return;
    const QString words = std::abs(frame.angle_degrees) < 0.05
                              ? tr("%1 × %2 mm").arg(mm_words(frame.w_mm), mm_words(frame.h_mm))
                              : tr("%1 × %2 mm, turned %3°")
                                    .arg(mm_words(frame.w_mm), mm_words(frame.h_mm))
                                    .arg(frame.angle_degrees, 0, 'f', 1);
    const RectMm box = hull_of({frame});
    const QPointF below = to_screen(frame.x_mm, box.y + box.height);
    const int words_width = QFontMetrics(theme::measure()).horizontalAdvance(words) + 14;
    QRectF tag(below.x() - words_width / 2.0, below.y() + 8, words_width, 19);
    if (tag.bottom() > height() - 4) tag.moveBottom(below.y() - 8);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.paper);
    painter.drawRoundedRect(tag, 3, 3);
    painter.setPen(c.ink);
    painter.drawText(tag, Qt::AlignCenter, words);
}

void GlassView::paint_guides(QPainter& painter) const {
    const QRectF glass = glass_rect();
    painter.setPen(QPen(theme::colours().amber, 1.2));
    for (const double x : changing_->guides_x) {
        const double at = to_screen(x, 0).x();
        painter.drawLine(QPointF(at, glass.top() - 6), QPointF(at, glass.bottom() + 6));
    }
    for (const double y : changing_->guides_y) {
        const double at = to_screen(0, y).y();
        painter.drawLine(QPointF(glass.left() - 6, at), QPointF(glass.right() + 6, at));
    }
}

// Draws what is under the dragged corner, four times as large, beside it.
void GlassView::paint_magnifier(QPainter& painter) const {
    if (glass_.preview().isNull()) return;
    constexpr double lens = 124, larger = 4;
    const Region& frame = changing_->at;
    const auto corners = corners_of(frame);
    const cv::Point2d at_mm = corners[grip_.side_y < 0 ? (grip_.side_x < 0 ? 0 : 1) : (grip_.side_x < 0 ? 3 : 2)];
    const QPointF at = to_screen(at_mm.x, at_mm.y);
    // The magnifier is at the corner's outer side, and within the view.
    QPointF centre = at + QPointF(at_mm.x < frame.x_mm ? -1 : 1, at_mm.y < frame.y_mm ? -1 : 1) * 78;
    constexpr double least = lens / 2 + 4; // A view lower than the magnifier cuts it off at the bottom.
    centre.setX(std::clamp(centre.x(), least, std::max(least, width() - least)));
    centre.setY(std::clamp(centre.y(), least, std::max(least, height() - least)));
    const QRectF round(centre - QPointF(lens, lens) / 2, QSizeF(lens, lens));
    QPainterPath path;
    path.addEllipse(round);
    painter.save();
    painter.setClipPath(path);
    painter.fillRect(round, theme::colours().table);
    const double px = glass_.preview().width() / glass_size().width; // Pixels of the preview for each millimetre.
    const double half_mm = lens / 2 / larger / scale();
    const QRectF source((at_mm.x - half_mm) * px, (at_mm.y - half_mm) * px, 2 * half_mm * px, 2 * half_mm * px);
    painter.drawImage(round, glass_.preview(), source);
    painter.translate(centre);
    painter.rotate(frame.angle_degrees);
    painter.setPen(QPen(on_picture, 1.5));
    painter.drawLine(QPointF(0, 0), QPointF(-grip_.side_x * lens, 0));
    painter.drawLine(QPointF(0, 0), QPointF(0, -grip_.side_y * lens));
    painter.restore();
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::colours().ink, 1.5));
    painter.drawEllipse(round);
}

// Draws how the paper lies in the feeder, and how much of it.
void GlassView::paint_feeder(QPainter& painter) const {
    const auto& c = theme::colours();
    const bool two = next_scan_.two_passes();
    const Flip flip = tickets_.ticket().from.flip;
    const Source source = tickets_.ticket().from.source == Source::HandFed ? Source::HandFed : next_scan_.source();
    Placement drawing(source, flip, two, nullptr);
    constexpr double by = 1.6;
    const QSizeF size = QSizeF(drawing.size()) * by;
    const QPointF at((width() - size.width()) / 2, height() / 2.0 - size.height() - 20);
    painter.save();
    painter.translate(at);
    painter.scale(by, by);
    drawing.render(&painter, {}, {}, QWidget::DrawChildren);
    painter.restore();
    painter.setFont(theme::title());
    painter.setPen(c.ink);
    QString state = scanners_.state_words(next_scan_.source());
    if (!state.isEmpty()) state[0] = state[0].toUpper();
    painter.drawText(QRectF(0, at.y() + size.height() + 14, width(), 24), Qt::AlignCenter, state);
    painter.setFont(theme::body());
    painter.setPen(c.quiet);
    painter.drawText(QRectF(width() / 2.0 - 230, at.y() + size.height() + 42, 460, 60),
                     Qt::AlignHCenter | Qt::TextWordWrap, placement_words(source, flip, two));
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

}
