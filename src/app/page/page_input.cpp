// The part of PageView for mouse and key events.
#include "app/models/tray/choice.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/room.h"
#include "app/page/page_over.h"
#include "app/page/page_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>

namespace yelvin {

void PageView::wheelEvent(QWheelEvent* event) { zoom_at(event->position(), std::pow(1.0015, event->angleDelta().y())); }

void PageView::mousePressEvent(QMouseEvent* event) {
    dragged_from_ = event->position();
    if (over() && over()->press(*event)) return;
    if (event->button() != Qt::LeftButton) return;
    if (rulers_ && event->position().x() < ruler && event->position().y() < ruler) {
        inches_ = !inches_;
        return update();
    }
    if (const auto two = pair(); two && other_rect(*two).contains(event->position()))
        return choice_.set_current(QString::fromStdString(two->other->id));
    press_tool(event->position());
}

void PageView::mouseMoveEvent(QMouseEvent* event) {
    mouse_ = event->position();
    if (over() && over()->move(*event)) return;
    if (loupe_) {
        if (const PagePtr page = choice_.current(); page && pictures_.parts()) {
            const double wanted = std::min(1.0, scale() * devicePixelRatioF() * loupe_power);
            const QPointF pixel = (mouse_ - sheet_rect().topLeft()) / scale() * wanted;
            const int half = static_cast<int>(loupe_size * wanted / (scale() * loupe_power)) / 2 + 40;
            loupe_asked_ = PageLook{page->id, page->original, viewed_recipe(), wanted,
                                    cv::Rect(cvRound(pixel.x()) - half, cvRound(pixel.y()) - half, 2 * half, 2 * half)};
            // develop_part() clips the part to the page. It is clipped here as well, so that the result can be matched
            // to the request.
            const SizePx full = page_px();
            loupe_asked_->part &= cv::Rect(0, 0, std::max(1, static_cast<int>(std::lround(full.width * wanted))),
                                           std::max(1, static_cast<int>(std::lround(full.height * wanted))));
            if (!loupe_asked_->part.empty()) pictures_.parts()->look(*loupe_asked_);
        }
        update();
    }
    if (tool_ != PageTool::None) {
        move_tool(event->position(), event->modifiers());
        if (grip_.part != Grip::Part::None || corner_ >= 0 || pointing_) return;
    }
    if (!(event->buttons() & Qt::LeftButton) || !choice_.current()) return;
    const QPointF by = event->position() - dragged_from_;
    dragged_from_ = event->position();
    pan(by);
}

void PageView::mouseReleaseEvent(QMouseEvent* event) {
    if (over() && over()->release(*event)) return;
    if (tool_ != PageTool::None) release_tool(event->position());
}

void PageView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (over() && over()->double_press(*event)) return;
    if (tool_ != PageTool::None) return;
    if (fit_ != Fit::Page) return set_fit();
    if (choice_.current()) zoom_at(event->position(), 1 / (scale() * devicePixelRatioF()));
}

void PageView::keyPressEvent(QKeyEvent* event) {
    if (move_corner(*event)) return;
    const QPointF middle(width() / 2.0, height() / 2.0);
    const bool larger = sheet_rect().height() > height() || sheet_rect().width() > width();
    const bool extend = event->modifiers() & Qt::ShiftModifier;
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        return zoom_at(middle, 1.25);
    case Qt::Key_Minus:
        return zoom_at(middle, 0.8);
    case Qt::Key_0:
        return set_fit();
    case Qt::Key_1:
        return set_zoom(1);
    case Qt::Key_W:
        return set_fit_width();
    case Qt::Key_2:
        return room_.set_two_pages(!room_.two_pages());
    case Qt::Key_R:
        return show_rulers(!rulers_);
    case Qt::Key_G:
        return show_grid(!grid_);
    case Qt::Key_PageDown:
        return choice_.step(1, extend);
    case Qt::Key_PageUp:
        return choice_.step(-1, extend);
    case Qt::Key_Left:
        return larger ? pan({60, 0}) : choice_.step(-1, extend);
    case Qt::Key_Right:
        return larger ? pan({-60, 0}) : choice_.step(1, extend);
    case Qt::Key_Up:
        return larger ? pan({0, 60}) : choice_.step(-1, extend);
    case Qt::Key_Down:
        return larger ? pan({0, -60}) : choice_.step(1, extend);
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (tool_ != PageTool::None) return use_tool(PageTool::None);
        [[fallthrough]];
    default:
        QWidget::keyPressEvent(event);
    }
}

}
