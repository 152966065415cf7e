// Drawing the pieces, their overlaps and the walk along the seams.
#include "app/stitch/stitch_view.h"

#include "app/glass/mounts.h"
#include "app/models/scanning/scanning.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace yelvin {

namespace {

// Draws text on a label, centred at a point.
void paint_slip(QPainter& painter, QPointF at, const QString& words, const QColor& mark, bool filled = false) {
    const auto& c = theme::colours();
    painter.setFont(filled ? theme::strong() : theme::measure());
    const QRectF text = painter.fontMetrics().boundingRect(words);
    QRectF slip(0, 0, text.width() + 14, text.height() + 6);
    slip.moveCenter(at);
    painter.setPen(QPen(mark, 1));
    painter.setBrush(filled ? mark : c.paper);
    painter.drawRoundedRect(slip, theme::corner, theme::corner);
    painter.setPen(filled ? c.paper : mark);
    painter.drawText(slip, Qt::AlignCenter, words);
}

// All outlines have the same direction, so that areas that overlap do not cancel out.
QPolygonF turned_clockwise(QPolygonF polygon) {
    double area = 0;
    for (qsizetype i = 0; i < polygon.size(); ++i) {
        const QPointF p = polygon[i], q = polygon[(i + 1) % polygon.size()];
        area += p.x() * q.y() - q.x() * p.y();
    }
    if (area < 0) std::ranges::reverse(polygon);
    return polygon;
}

QColor seam_colour(const Seam& seam) {
    const auto& c = theme::colours();
    if (seam.doubt.empty()) return c.moss;
    return seam.agreement < 0.6 && !seam.empty ? c.brick : c.amber;
}

QString seam_words(const Seam& seam) {
    if (seam.empty) return seam.doubt.empty() ? QString() : QString("?");
    const QString share = StitchView::tr("%1%").arg(std::lround(seam.quality() * 100));
    return seam.doubt.empty() ? share : "! " + share;
}

}

void StitchView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    painter.fillRect(rect(), theme::colours().table);
    if (stitching_.pieces().empty() ||
        std::ranges::none_of(stitching_.pieces(), [](const auto& piece) { return piece.look != nullptr; }))
        return paint_empty(painter);
    if (stitching_.place() >= 0) return paint_walk(painter);
    paint_pieces(painter);
    if (!drag_) paint_seams(painter);
    paint_numbers(painter);
    if (run_.passing()) {
        paint_slip(painter, QPointF(width() / 2.0, height() - 24),
                   tr("Scanning piece %1, %2%").arg(stitching_.pieces().size() + 1).arg(scanned_percent_),
                   theme::colours().plum);
    } else if (stitching_.working() || stitching_.composing()) {
        const QString words = stitching_.composing() ? tr("Stitching, %1%").arg(stitching_.percent())
                                                     : tr("Finding their places, %1%").arg(stitching_.percent());
        paint_slip(painter, QPointF(width() / 2.0, height() - 24), words, theme::colours().plum);
    }
}

void StitchView::paint_empty(QPainter& painter) {
    const auto& c = theme::colours();
    painter.setPen(c.quiet);
    painter.setFont(theme::title());
    const QString words = run_.passing()         ? tr("Scanning the first piece, %1%").arg(scanned_percent_)
                          : stitching_.working() ? tr("Opening the pieces…")
                          : stitching_.pieces().empty()
                              ? tr("Lay one piece on the glass, in any direction, and press Scan.")
                              : tr("None of these pages can be opened.");
    painter.drawText(rect().adjusted(80, 0, -80, -20), Qt::AlignCenter | Qt::TextWordWrap, words);
}

void StitchView::paint_pieces(QPainter& painter) {
    const auto& c = theme::colours();
    const auto& pieces = stitching_.pieces();
    const Layout& layout = stitching_.layout();
    std::vector<size_t> order;
    const auto chosen = static_cast<size_t>(stitching_.chosen());
    for (size_t i = 0; i < pieces.size(); ++i)
        if (i != chosen) order.push_back(i);
    if (chosen < pieces.size()) order.push_back(chosen);
    for (const size_t i : order) {
        if (!pieces[i].look) continue;
        const Pose pose = pose_of(i);
        const QPolygonF outline = outline_of(i);
        painter.save();
        painter.setOpacity(drag_ && drag_->piece == static_cast<int>(i) ? 0.7 : 1.0);
        const cv::Matx23d m = pose.matrix();
        QTransform to_screen(m(0, 0), m(1, 0), m(0, 1), m(1, 1), m(0, 2), m(1, 2));
        to_screen *= QTransform(scale_, 0, 0, scale_, origin_.x(), origin_.y());
        painter.setTransform(to_screen);
        const SizeMm size = pieces[i].look->size;
        painter.drawImage(QRectF(0, 0, size.width, size.height), stitching_.image(i));
        painter.restore();
        const bool placed = i < layout.pieces.size() && layout.pieces[i].placed;
        painter.setBrush(Qt::NoBrush);
        QPen pen(i == chosen ? on_picture : placed ? QColor(38, 48, 58, 90) : c.amber, i == chosen ? 2 : 1);
        if (!placed) pen.setStyle(Qt::DashLine);
        painter.setPen(pen);
        painter.drawPolygon(outline);
    }
    if (chosen < pieces.size() && pieces[chosen].look) { // which side is up, and what it is turned by
        const SizeMm size = pieces[chosen].look->size;
        const Pose pose = pose_of(chosen);
        const QPointF bar = bar_of(static_cast<int>(chosen));
        const QPointF left = on_screen(pose({0, 0})), right = on_screen(pose({size.width, 0}));
        const QPointF along = (right - left) / std::hypot(right.x() - left.x(), right.y() - left.y());
        painter.setPen(QPen(on_picture, 5, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(bar - along * 16, bar + along * 16);
        painter.setPen(QPen(on_picture, 1));
        painter.drawLine(bar, on_screen(pose({size.width / 2, 0})));
    }
}

void StitchView::paint_numbers(QPainter& painter) {
    const auto& c = theme::colours();
    const auto& pieces = stitching_.pieces();
    const Layout& layout = stitching_.layout();
    const auto chosen = static_cast<size_t>(stitching_.chosen());
    for (size_t i = 0; i < pieces.size(); ++i) {
        if (!pieces[i].look) continue;
        const bool placed = i < layout.pieces.size() && layout.pieces[i].placed;
        const QColor mark = i == chosen ? c.plum : placed || stitching_.working() ? c.ink : c.amber;
        paint_slip(painter, middle_of(static_cast<int>(i)),
                   placed || stitching_.working() ? QString::number(i + 1) : tr("%1 has no place").arg(i + 1), mark,
                   true);
    }
}

void StitchView::paint_seams(QPainter& painter) {
    const Layout& layout = stitching_.layout();
    const auto& pieces = stitching_.pieces();
    if (stitching_.working()) return;
    // An overlap is tinted once, however many pieces share it; doubtful ones are drawn last.
    QPainterPath sure;
    sure.setFillRule(Qt::WindingFill);
    std::vector<std::pair<const Seam*, QPolygonF>> doubtful;
    QList<std::pair<QRectF, const Seam*>> wordy;
    for (const Seam& seam : layout.seams) {
        if (seam.a >= pieces.size() || seam.b >= pieces.size() || !pieces[seam.a].look || !pieces[seam.b].look)
            continue;
        const QPolygonF shared = outline_of(seam.a).intersected(outline_of(seam.b));
        if (shared.isEmpty()) continue;
        if (seam.doubt.empty())
            sure.addPolygon(turned_clockwise(shared));
        else
            doubtful.emplace_back(&seam, shared);
        if (!seam_words(seam).isEmpty()) wordy.append({shared.boundingRect(), &seam});
    }
    const auto tint = [&](QColor colour, int strength) {
        colour.setAlpha(strength);
        painter.setPen(Qt::NoPen);
        painter.setBrush(colour);
    };
    tint(theme::colours().moss, 46);
    painter.drawPath(sure);
    for (const auto& [seam, shared] : doubtful) {
        tint(seam_colour(*seam), 80);
        painter.drawPolygon(shared);
    }
    // Text is drawn where there is room: first for doubtful seams, then for the widest. The numbers of the pieces stay
    // readable.
    std::ranges::stable_sort(
        wordy, {}, [](const auto& entry) { return std::pair(entry.second->doubt.empty(), -entry.second->area_mm2); });
    QList<QRectF> taken;
    for (size_t i = 0; i < pieces.size(); ++i) {
        if (!pieces[i].look) continue;
        const QPointF at = middle_of(static_cast<int>(i));
        taken.append(QRectF(at.x() - 16, at.y() - 13, 32, 26));
    }
    for (const auto& [box, seam] : wordy) {
        const QRectF slip(box.center().x() - 24, box.center().y() - 12, 48, 24);
        const bool room = std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(slip); });
        if (!room && seam->doubt.empty()) continue;
        taken.append(slip);
        paint_slip(painter, box.center(), seam_words(*seam), seam_colour(*seam));
    }
}

// The seam between two pieces: marked at the edge of the view, and along its whole length while B is held.
void StitchView::paint_seam_marks(QPainter& painter, const Stitching::Place& place, QPointF middle, double px_per_mm) {
    const SeamMap& map = stitching_.seam_map();
    const auto owner = [&](QPointF at) {
        const cv::Point2d mm =
            place.at + cv::Point2d((at.x() - middle.x()) / px_per_mm, (at.y() - middle.y()) / px_per_mm);
        const int x = static_cast<int>(mm.x / map.cell_mm), y = static_cast<int>(mm.y / map.cell_mm);
        return x < 0 || y < 0 || x >= map.owner.cols || y >= map.owner.rows ? int{SeamMap::nobody}
                                                                            : int{map.owner.at<uchar>(y, x)};
    };
    painter.setPen(Qt::NoPen);
    painter.setBrush(on_picture);
    constexpr int step = 3;
    for (int y = 0; y < height(); y += step) {
        const bool rim_row = y < 14 || y > height() - 14;
        for (int x = 0; x < width(); x += step) {
            if (!marks_seam_ && !rim_row && x > 14 && x < width() - 14) continue;
            const int here = owner(QPointF(x, y));
            const int right = owner(QPointF(x + step, y)), below = owner(QPointF(x, y + step));
            if (std::max({here, right, below}) < SeamMap::nobody && (here != right || here != below))
                painter.drawRect(QRectF(x, y, 2.5, 2.5));
        }
    }
}

// The whole picture, small, with the place marked.
void StitchView::paint_overview(QPainter& painter, const Stitching::Place& place) {
    const auto& c = theme::colours();
    const Layout& layout = stitching_.layout();
    const double small = std::min(150.0 / layout.size.width, 130.0 / layout.size.height) * layout.dpi / mm_per_inch;
    const QSizeF whole(px_to_mm(layout.size.width, layout.dpi) * small,
                       px_to_mm(layout.size.height, layout.dpi) * small);
    const QRectF map_box(width() - whole.width() - 18, 16, whole.width(), whole.height());
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(c.paper);
    painter.drawRect(map_box.adjusted(-4, -4, 4, 4));
    painter.setBrush(Qt::NoBrush);
    for (size_t i = 0; i < layout.pieces.size(); ++i) {
        if (!layout.pieces[i].placed) continue;
        QPolygonF outline;
        for (const cv::Point2d& corner : corners_of(layout.pieces[i].pose, stitching_.pieces()[i].look->size))
            outline << map_box.topLeft() + QPointF(corner.x, corner.y) * small;
        const Seam& seam = layout.seams[place.seam];
        painter.setPen(QPen(i == seam.a || i == seam.b ? c.ink : c.hairline, 1));
        painter.drawPolygon(outline);
    }
    const QPointF here = map_box.topLeft() + QPointF(place.at.x, place.at.y) * small;
    painter.setPen(QPen(c.plum, 2));
    painter.drawEllipse(here, 5, 5);
}

void StitchView::paint_walk(QPainter& painter) {
    const auto& c = theme::colours();
    const auto& place = stitching_.places()[static_cast<size_t>(stitching_.place())];
    const Layout& layout = stitching_.layout();
    const double ratio = devicePixelRatio();
    QImage part = stitching_.part();
    const QPointF middle(width() / 2.0, height() / 2.0);
    const double px_per_mm = layout.dpi / mm_per_inch / ratio; // screen pixels for a mm
    if (!part.isNull()) {
        part.setDevicePixelRatio(ratio);
        const cv::Point2d off = stitching_.part_middle() - place.at;
        painter.drawImage(middle + QPointF(off.x, off.y) * px_per_mm - QPointF(part.width(), part.height()) / ratio / 2,
                          part);
    }
    // Outside of the picture is the background.
    const QPointF corner = middle - QPointF(place.at.x, place.at.y) * px_per_mm;
    const QRectF picture(corner, QSizeF(layout.size.width, layout.size.height) / ratio);
    QPainterPath beyond;
    beyond.addRect(rect());
    QPainterPath inside;
    inside.addRect(picture);
    painter.fillPath(beyond.subtracted(inside), c.table);
    paint_seam_marks(painter, place, middle, px_per_mm);
    paint_overview(painter, place);
    const Seam& seam = layout.seams[place.seam];
    const QString words =
        tr("Seam of %1 and %2, place %3 of %4   ·   100%   ·   %5 of %6 in total   ·   hold B to see the seam")
            .arg(seam.a + 1)
            .arg(seam.b + 1)
            .arg(place.step + 1)
            .arg(place.steps)
            .arg(stitching_.place() + 1)
            .arg(stitching_.places().size());
    paint_slip(painter, QPointF(width() / 2.0, height() - 24), words, seam_colour(seam));
}

}
