#include "app/page/page_view.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

namespace yelvin {

namespace {
constexpr int room = 18;

void paint_sheet(QPainter& painter, const QRectF& sheet) {
    // The only shadow in the window: paper lying on the table.
    for (int i = 3; i > 0; --i) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(QColor(0, 0, 0, 12));
        painter.drawRect(sheet.adjusted(-i + 1, -i + 2, i - 1, i + 1));
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::colours().hairline, 1));
    painter.drawRect(sheet.adjusted(-0.5, -0.5, 0.5, 0.5));
}
}

PageView::PageView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("page");
    connect(&desk_, &Desk::current_changed, this, [this] {
        centre_ = {0.5, 0.5};
        update();
        emit zoom_changed();
    });
    connect(&desk_, &Desk::picture_ready, this, [this](const QString& id) {
        if (id != desk_.current_page()) return;
        update();
        emit zoom_changed();
    });
    connect(&desk_, &Desk::page_growing, this, [this](const QImage& so_far, int rows, int) {
        growing_ = so_far;
        rows_ = rows;
        update();
    });
    connect(&desk_, &Desk::busy_changed, this, [this] {
        if (!desk_.scanning()) growing_ = {};
        update();
    });
}

void PageView::show_original(bool held) {
    held_ = held;
    update();
}

Levels PageView::picture() const {
    Levels shown = held_ ? desk_.original_picture(desk_.current_page()) : desk_.page_picture(desk_.current_page());
    return shown.isEmpty() && held_ ? desk_.page_picture(desk_.current_page()) : shown;
}

double PageView::scale(QSize full) const {
    if (zoom_ > 0) return zoom_ / devicePixelRatioF();
    return std::min({(width() - 2.0 * room) / full.width(), (height() - 2.0 * room) / full.height()});
}

void PageView::set_fit() {
    zoom_ = 0;
    centre_ = {0.5, 0.5};
    update();
    emit zoom_changed();
}

void PageView::set_zoom(double zoom) {
    zoom_ = std::clamp(zoom, 0.02, 16.0);
    update();
    emit zoom_changed();
}

QString PageView::zoom_words() const {
    if (zoom_ <= 0) return tr("fit");
    return tr("%1 %").arg(std::lround(zoom_ * 100));
}

void PageView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!growing_.isNull()) return paint_growing(painter);
    const Levels levels = picture();
    const auto& c = theme::colours();
    if (levels.isEmpty()) {
        painter.setFont(theme::body());
        painter.setPen(c.quiet);
        const QString words = desk_.current_page().isEmpty()
                                  ? tr("No page yet. Scan one (Ctrl+Enter), or drop picture files and PDFs here.")
                                  : tr("Developing the page …");
        painter.drawText(rect(), Qt::AlignCenter, words);
        return;
    }
    const QSize full = levels.front().size();
    const double by = scale(full);
    const QSizeF size = QSizeF(full) * by;
    // Kept in view: a page smaller than the view is centred, a larger one never leaves it.
    const auto origin = [](double view, double page, double centre) {
        return page <= view ? (view - page) / 2
                            : std::clamp(view / 2 - centre * page, view - page - room, static_cast<double>(room));
    };
    const QRectF sheet(std::round(origin(width(), size.width(), centre_.x())),
                       std::round(origin(height(), size.height(), centre_.y())), size.width(), size.height());
    paint_sheet(painter, sheet);
    int level = 0;
    while (level + 1 < levels.size() && levels[level + 1].width() >= size.width() * devicePixelRatioF()) ++level;
    const QImage& image = levels[level];
    const double image_scale = image.width() / size.width();
    painter.setRenderHint(QPainter::SmoothPixmapTransform, by * devicePixelRatioF() < 2);
    const QRectF seen = sheet.intersected(QRectF(rect()));
    const QRectF part((seen.left() - sheet.left()) * image_scale, (seen.top() - sheet.top()) * image_scale,
                      seen.width() * image_scale, seen.height() * image_scale);
    painter.drawImage(seen, image, part);
    if (held_) {
        painter.setFont(theme::measure());
        const QRectF tag(sheet.center().x() - 50, std::max(8.0, sheet.top() + 8), 100, 20);
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.plum);
        painter.drawRoundedRect(tag, 3, 3);
        painter.setPen(c.on_plum);
        painter.drawText(tag, Qt::AlignCenter, tr("as scanned"));
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

void PageView::paint_growing(QPainter& painter) {
    const double by = std::min((width() - 2.0 * room) / growing_.width(), (height() - 2.0 * room) / growing_.height());
    const QRectF sheet((width() - growing_.width() * by) / 2, room, growing_.width() * by, growing_.height() * by);
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
                     tr("%1 %").arg(100 * rows_ / std::max(1, growing_.height())));
}

void PageView::zoom_at(QPointF screen, double factor) {
    const Levels levels = picture();
    if (levels.isEmpty()) return;
    const QSize full = levels.front().size();
    const double before = scale(full),
                 after = std::clamp(before * devicePixelRatioF() * factor, 0.02, 16.0) / devicePixelRatioF();
    const QPointF from_middle = screen - QPointF(width() / 2.0, height() / 2.0);
    // The dot under the mouse stays under it.
    const QPointF centre_px(centre_.x() * full.width(), centre_.y() * full.height());
    const QPointF moved = centre_px + from_middle / before - from_middle / after;
    centre_ = {std::clamp(moved.x() / full.width(), 0.0, 1.0), std::clamp(moved.y() / full.height(), 0.0, 1.0)};
    set_zoom(after * devicePixelRatioF());
}

void PageView::wheelEvent(QWheelEvent* event) { zoom_at(event->position(), std::pow(1.0015, event->angleDelta().y())); }

void PageView::mousePressEvent(QMouseEvent* event) { dragged_from_ = event->position(); }

void PageView::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) return;
    const Levels levels = picture();
    if (levels.isEmpty()) return;
    const QSizeF size = QSizeF(levels.front().size()) * scale(levels.front().size());
    const QPointF by = event->position() - dragged_from_;
    dragged_from_ = event->position();
    centre_ = {std::clamp(centre_.x() - by.x() / size.width(), 0.0, 1.0),
               std::clamp(centre_.y() - by.y() / size.height(), 0.0, 1.0)};
    update();
}

void PageView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (zoom_ > 0) return set_fit();
    const Levels levels = picture();
    if (!levels.isEmpty()) zoom_at(event->position(), 1 / (scale(levels.front().size()) * devicePixelRatioF()));
}

void PageView::keyPressEvent(QKeyEvent* event) {
    const QPointF middle(width() / 2.0, height() / 2.0);
    switch (event->key()) {
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        zoom_at(middle, 1.25);
        break;
    case Qt::Key_Minus:
        zoom_at(middle, 0.8);
        break;
    case Qt::Key_0:
        set_fit();
        break;
    case Qt::Key_1:
        set_zoom(1);
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

}
