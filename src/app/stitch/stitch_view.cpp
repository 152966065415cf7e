#include "app/stitch/stitch_view.h"

#include "app/models/scanning/scanning.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QToolTip>

#include <cmath>

namespace yelvin {

StitchView::StitchView(Scanning& run, Stitching& stitching, QWidget* parent)
    : QWidget(parent), run_(run), stitching_(stitching) {
    setObjectName("stitch-view");
    setAccessibleName(tr("The pieces in their places"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    connect(&stitching_, &Stitching::changed, this, [this] {
        lay_out();
        ask_for_part();
        update();
    });
    connect(&run_, &Scanning::page_growing, this, [this](const QImage&, int rows, int of) {
        scanned_percent_ = of > 0 ? std::min(100, 100 * rows / of) : 0;
        update();
    });
    connect(&run_, &Scanning::changed, this, [this] {
        if (!run_.passing()) scanned_percent_ = 0;
        update();
    });
    connect(&stitching_, &Stitching::part_ready, this, [this] { update(); });
}

Pose StitchView::pose_of(size_t piece) const {
    if (drag_ && drag_->piece == static_cast<int>(piece)) return drag_->now;
    const Layout& layout = stitching_.layout();
    if (piece < layout.pieces.size() && layout.pieces[piece].placed) return layout.pieces[piece].pose;
    return piece < parked_.size() ? parked_[piece] : Pose{};
}

// The picture fills the view; pieces without a place are in a column at its right.
void StitchView::lay_out() {
    const auto& pieces = stitching_.pieces();
    const Layout& layout = stitching_.layout();
    cv::Rect2d all;
    for (size_t i = 0; i < pieces.size(); ++i) {
        if (pieces[i].look && i < layout.pieces.size() && layout.pieces[i].placed)
            all |= bounds_of(layout.pieces[i].pose, pieces[i].look->size);
    }
    parked_.assign(pieces.size(), Pose{});
    // Without a picture they are side by side, otherwise one below the other.
    const bool none = all.empty();
    double x = none ? 0 : all.x + all.width + 20, y = none ? 0 : all.y;
    for (size_t i = 0; i < pieces.size(); ++i) {
        if (!pieces[i].look || (i < layout.pieces.size() && layout.pieces[i].placed)) continue;
        const SizeMm size = pieces[i].look->size;
        parked_[i] = {0, x, y, 1};
        all |= cv::Rect2d(x, y, size.width, size.height);
        (none ? x : y) += (none ? size.width : size.height) + 15;
    }
    if (all.empty() || drag_) return;
    constexpr double rim = 34;
    scale_ = std::min((width() - 2 * rim) / all.width, (height() - 2 * rim) / all.height);
    origin_ = QPointF(width() / 2.0, height() / 2.0) - QPointF(all.x + all.width / 2, all.y + all.height / 2) * scale_;
}

void StitchView::resizeEvent(QResizeEvent*) {
    lay_out();
    asked_place_ = -2;
    ask_for_part();
}

QPolygonF StitchView::outline_of(size_t piece) const {
    QPolygonF out;
    for (const cv::Point2d& c : corners_of(pose_of(piece), stitching_.pieces()[piece].look->size)) out << on_screen(c);
    return out;
}

QPointF StitchView::middle_of(int piece) const {
    const SizeMm size = stitching_.pieces()[static_cast<size_t>(piece)].look->size;
    return on_screen(pose_of(static_cast<size_t>(piece))({size.width / 2, size.height / 2}));
}

QPointF StitchView::bar_of(int piece) const {
    const SizeMm size = stitching_.pieces()[static_cast<size_t>(piece)].look->size;
    const Pose pose = pose_of(static_cast<size_t>(piece));
    const QPointF edge = on_screen(pose({size.width / 2, 0})), out = edge - middle_of(piece);
    return edge + out * (14 / std::hypot(out.x(), out.y()));
}

// The selected piece is above the others, and later pieces above earlier ones.
int StitchView::piece_at(QPointF at) const {
    const auto& pieces = stitching_.pieces();
    const auto hit = [&](int i) {
        return i >= 0 && i < static_cast<int>(pieces.size()) && pieces[static_cast<size_t>(i)].look &&
               outline_of(static_cast<size_t>(i)).containsPoint(at, Qt::OddEvenFill);
    };
    if (hit(stitching_.chosen())) return stitching_.chosen();
    for (int i = static_cast<int>(pieces.size()) - 1; i >= 0; --i)
        if (hit(i)) return i;
    return -1;
}

void StitchView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || stitching_.working() || stitching_.composing()) return;
    setFocus(Qt::MouseFocusReason);
    if (stitching_.place() >= 0) return stitching_.walk_to(stitching_.place() + 1);
    const QPointF at = event->position();
    const int chosen = stitching_.chosen();
    Drag drag;
    if (chosen >= 0 && stitching_.pieces()[static_cast<size_t>(chosen)].look &&
        QLineF(at, bar_of(chosen)).length() < 16) {
        drag.piece = chosen;
        drag.turns = true;
    } else {
        drag.piece = piece_at(at);
        stitching_.choose(drag.piece);
        if (drag.piece < 0) return;
    }
    drag.from = at;
    drag.start = drag.now = pose_of(static_cast<size_t>(drag.piece));
    drag_ = drag;
}

void StitchView::mouseMoveEvent(QMouseEvent* event) {
    if (!drag_) {
        const int chosen = stitching_.chosen();
        const bool bar = chosen >= 0 && stitching_.place() < 0 &&
                         chosen < static_cast<int>(stitching_.pieces().size()) &&
                         stitching_.pieces()[static_cast<size_t>(chosen)].look &&
                         QLineF(event->position(), bar_of(chosen)).length() < 16;
        setCursor(stitching_.place() >= 0            ? Qt::ArrowCursor
                  : bar                              ? Qt::PointingHandCursor
                  : piece_at(event->position()) >= 0 ? Qt::OpenHandCursor
                                                     : Qt::ArrowCursor);
        return;
    }
    setCursor(Qt::ClosedHandCursor);
    const QPointF by = (event->position() - drag_->from) / scale_;
    if (drag_->turns) {
        const SizeMm size = stitching_.pieces()[static_cast<size_t>(drag_->piece)].look->size;
        const cv::Point2d centre = drag_->start({size.width / 2, size.height / 2});
        const QPointF middle = on_screen(centre), was = drag_->from - middle, is = event->position() - middle;
        const double radians = std::atan2(was.x() * is.y() - was.y() * is.x(), QPointF::dotProduct(was, is));
        drag_->now = moved(drag_->start, radians, centre, {0, 0});
    } else {
        drag_->now = drag_->start;
        drag_->now.x += by.x();
        drag_->now.y += by.y();
    }
    update();
}

void StitchView::mouseReleaseEvent(QMouseEvent* event) {
    if (!drag_ || event->button() != Qt::LeftButton) return;
    const Drag drag = *drag_;
    drag_.reset();
    setCursor(Qt::OpenHandCursor);
    if (!(drag.now == drag.start)) stitching_.put(drag.piece, drag.now);
    lay_out();
    update();
}

void StitchView::wheelEvent(QWheelEvent* event) {
    if (stitching_.place() < 0) return;
    stitching_.walk_to(std::clamp(stitching_.place() + (event->angleDelta().y() < 0 ? 1 : -1), 0,
                                  static_cast<int>(stitching_.places().size()) - 1));
}

void StitchView::turn_chosen(double degrees) { stitching_.turn(stitching_.chosen(), degrees); }

bool StitchView::step_out() {
    if (stitching_.place() < 0 && !stitching_.wants_walk()) return false;
    stitching_.walk_to(-1);
    return true;
}

void StitchView::keyPressEvent(QKeyEvent* event) {
    const int chosen = stitching_.chosen(), count = static_cast<int>(stitching_.pieces().size());
    const bool back = event->modifiers() & Qt::ShiftModifier;
    switch (event->key()) {
    case Qt::Key_Space:
        if (stitching_.place() < 0) return stitching_.start_walk();
        return stitching_.walk_to(back ? std::max(0, stitching_.place() - 1) : stitching_.place() + 1);
    case Qt::Key_Backspace:
        if (stitching_.place() > 0) stitching_.walk_to(stitching_.place() - 1);
        return;
    case Qt::Key_B:
        marks_seam_ = true;
        return update();
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return stitching_.accept();
    case Qt::Key_PageDown:
    case Qt::Key_PageUp:
        if (count > 0) stitching_.choose((chosen + (event->key() == Qt::Key_PageDown ? 1 : count - 1) + count) % count);
        return;
    case Qt::Key_Delete:
        return stitching_.take_out(chosen);
    case Qt::Key_Left:
    case Qt::Key_Right:
    case Qt::Key_Up:
    case Qt::Key_Down: {
        if (chosen < 0 || stitching_.working() || !stitching_.pieces()[static_cast<size_t>(chosen)].look) return;
        const double by = back ? 10 : 2; // mm
        Pose pose = pose_of(static_cast<size_t>(chosen));
        pose.x += event->key() == Qt::Key_Left ? -by : event->key() == Qt::Key_Right ? by : 0;
        pose.y += event->key() == Qt::Key_Up ? -by : event->key() == Qt::Key_Down ? by : 0;
        return stitching_.put(chosen, pose);
    }
    default:
        QWidget::keyPressEvent(event);
    }
}

void StitchView::keyReleaseEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_B || event->isAutoRepeat()) return QWidget::keyReleaseEvent(event);
    marks_seam_ = false;
    update();
}

bool StitchView::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    auto* help = static_cast<QHelpEvent*>(event);
    const int piece = stitching_.place() >= 0 ? -1 : piece_at(help->pos());
    if (piece < 0) {
        QToolTip::hideText();
        return true;
    }
    QToolTip::showText(help->globalPos(),
                       tr("Piece %1. Drag it: it snaps to the nearest good fit. Arrow keys move it, [ and ] turn it, "
                          "Delete removes it.")
                           .arg(piece + 1),
                       this);
    return true;
}

// The picture of a place is requested once.
void StitchView::ask_for_part() {
    const int place = stitching_.place();
    if (place == asked_place_) return;
    asked_place_ = place;
    if (place >= 0 && place < static_cast<int>(stitching_.places().size()))
        stitching_.show_part(stitching_.places()[static_cast<size_t>(place)].at, size() * devicePixelRatio());
}

}
