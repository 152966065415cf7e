// The part of PageView for the tools: drawing them and dragging their handles. Each drag is one undo step.
#include "app/page/page_view.h"

#include "app/glass/mounts.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/page_edits.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QPainterPath>

namespace yelvin {

namespace {
constexpr double plain_click_radius_mm = 1.5;

SizeMm turned_size(const Recipe& recipe, SizeMm original) {
    return recipe.turn_degrees % 180 ? SizeMm{original.height, original.width} : original;
}
}

Region frame_of(const Recipe& recipe, SizeMm original) {
    const SizeMm all = turned_size(recipe, original);
    const RectMm crop = recipe.crop.value_or(RectMm{0, 0, all.width, all.height});
    return {crop.x + crop.width / 2, crop.y + crop.height / 2, crop.width, crop.height, recipe.tilt_degrees};
}

Recipe with_frame(Recipe recipe, const Region& frame, SizeMm original) {
    const SizeMm all = turned_size(recipe, original);
    recipe.tilt_degrees = std::clamp(std::round(std::remainder(frame.angle_degrees, 360.0) * 100) / 100, -45.0, 45.0);
    // A page that is smaller than the smallest frame is taken as a whole.
    const double width = std::clamp(frame.w_mm, std::min(least_frame_mm, all.width), all.width),
                 height = std::clamp(frame.h_mm, std::min(least_frame_mm, all.height), all.height);
    const RectMm crop{std::clamp(frame.x_mm - width / 2, 0.0, all.width - width),
                      std::clamp(frame.y_mm - height / 2, 0.0, all.height - height), width, height};
    constexpr double nothing = 0.05; // mm: less than a pixel at 300 dpi
    const bool everything =
        crop.x < nothing && crop.y < nothing && crop.width > all.width - nothing && crop.height > all.height - nothing;
    recipe.crop = everything ? std::nullopt : std::optional(crop);
    recipe.flatten.reset();
    recipe.rim_mm = 0;
    return recipe;
}

Region PageView::crop_frame() const {
    if (changing_) return *changing_;
    const PagePtr page = choice_.current();
    return page ? frame_of(page->recipe, page->original.size_mm()) : Region{};
}

// Returns the corners of the recipe, or those that were found, or an initial frame.
Corners PageView::corners() const {
    if (moving_) return *moving_;
    const PagePtr page = choice_.current();
    if (!page) return {};
    if (page->recipe.flatten) return page->recipe.flatten->corners;
    const SizeMm size = page->original.size_mm(), all = turned_size(page->recipe, size);
    if (page->notices.askew) {
        Recipe found;
        found.flatten = Flatten{*page->notices.askew, size};
        return turned(found, page->recipe.turn_degrees / 90, size).flatten->corners;
    }
    return {PointMm{all.width * 0.1, all.height * 0.1},
            {all.width * 0.9, all.height * 0.1},
            {all.width * 0.9, all.height * 0.9},
            {all.width * 0.1, all.height * 0.9}};
}

bool PageView::press_tool(QPointF at) {
    const PagePtr page = choice_.current();
    if (!page) return false;
    start_mm_ = to_mm(at);
    const double mm_per_px = mm_per_inch / page_dpi() / scale();
    switch (tool_) {
    case PageTool::Crop:
        start_frame_ = crop_frame();
        grip_ = grip_at({Frame{start_frame_}}, start_mm_, mm_per_px);
        return grip_.part != Grip::Part::None;
    case PageTool::Corners: {
        const Corners now = corners();
        corner_ = -1;
        for (size_t i = 0; i < 4; ++i) {
            if (std::hypot(now[i].x - start_mm_.x, now[i].y - start_mm_.y) < 14 * mm_per_px)
                corner_ = static_cast<int>(i);
        }
        return corner_ >= 0;
    }
    case PageTool::PickColour:
        edits_.pick_colour(on_original(at));
        use_tool(PageTool::None);
        return true;
    case PageTool::PointEyes: {
        const PointMm centre = on_original(at);
        // A press on an existing mark removes it.
        Recipe recipe = page->recipe;
        const auto there = std::ranges::find_if(recipe.adjust.eyes, [&](const Spot& eye) {
            return std::hypot(eye.x_mm - centre.x, eye.y_mm - centre.y) < std::max(1.0, eye.radius_mm);
        });
        if (there != recipe.adjust.eyes.end()) {
            recipe.adjust.eyes.erase(there);
            if (recipe.adjust.eyes.empty()) recipe.adjust.red_eyes = 0;
            edits_.set_recipe(choice_.current_id(), recipe, tr("darken red eyes"));
        } else {
            pointing_ = Spot{centre.x, centre.y, 0};
        }
        return true;
    }
    case PageTool::None:
        break;
    }
    return false;
}

void PageView::move_tool(QPointF at, Qt::KeyboardModifiers keys) {
    const PagePtr page = choice_.current();
    if (!page) return;
    const SizeMm all = turned_size(page->recipe, page->original.size_mm());
    const double mm_per_px = mm_per_inch / page_dpi() / scale();
    if (tool_ == PageTool::Crop && grip_.part != Grip::Part::None) {
        Snapping snapping{guides_for(all, {}), {}, all, keys & Qt::AltModifier ? 0 : 6 * mm_per_px};
        Region moved = dragged(start_frame_, grip_, start_mm_, to_mm(at), snapping).at;
        if (grip_.part == Grip::Part::Bar) moved.angle_degrees = std::clamp(moved.angle_degrees, -45.0, 45.0);
        changing_ = moved;
        update();
    } else if (tool_ == PageTool::Corners && corner_ >= 0) {
        Corners now = corners();
        const cv::Point2d mm = to_mm(at);
        now[static_cast<size_t>(corner_)] = {std::clamp(mm.x, 0.0, all.width), std::clamp(mm.y, 0.0, all.height)};
        if (makes_a_page(now)) moving_ = now;
        update();
    } else if (tool_ == PageTool::PointEyes && pointing_) {
        const PointMm here = on_original(at);
        pointing_->radius_mm = std::hypot(here.x - pointing_->x_mm, here.y - pointing_->y_mm);
        update();
    }
}

void PageView::take_corners(const Corners& corners, bool by_keys) {
    const PagePtr page = choice_.current();
    Recipe recipe = page->recipe;
    recipe.flatten = Flatten{corners, flat_page_size(corners, turned_size(recipe, page->original.size_mm()))};
    recipe.crop.reset();
    recipe.tilt_degrees = 0;
    recipe.rim_mm = 0;
    edits_.set_recipe(choice_.current_id(), recipe, tr("flatten page"),
                      by_keys ? PageEdits::Gesture::Continuing : PageEdits::Gesture::Single);
}

bool PageView::move_corner(const QKeyEvent& key) {
    const PagePtr page = choice_.current();
    if (tool_ != PageTool::Corners || !page) return false;
    if (key.key() == Qt::Key_Space) {
        key_corner_ = (key_corner_ + 1) % 4;
        update();
        return true;
    }
    const double step = key.modifiers() & Qt::ControlModifier ? 0.1 : key.modifiers() & Qt::ShiftModifier ? 5 : 1;
    const double dx = key.key() == Qt::Key_Left ? -step : key.key() == Qt::Key_Right ? step : 0;
    const double dy = key.key() == Qt::Key_Up ? -step : key.key() == Qt::Key_Down ? step : 0;
    if (dx == 0 && dy == 0) return false;
    Corners now = corners();
    PointMm& corner = now[key_corner_];
    const SizeMm all = turned_size(page->recipe, page->original.size_mm());
    corner = {std::clamp(corner.x + dx, 0.0, all.width), std::clamp(corner.y + dy, 0.0, all.height)};
    if (makes_a_page(now)) take_corners(now, true);
    update();
    return true;
}

void PageView::release_tool(QPointF) {
    const PagePtr page = choice_.current();
    const SizeMm size = page ? page->original.size_mm() : SizeMm{};
    if (page && changing_)
        edits_.set_recipe(choice_.current_id(), with_frame(page->recipe, *changing_, size), tr("crop page"));
    if (page && moving_) take_corners(*moving_, false);
    if (page && pointing_) {
        Recipe recipe = page->recipe;
        Spot eye = *pointing_;
        if (eye.radius_mm < 0.3) eye.radius_mm = plain_click_radius_mm;
        recipe.adjust.eyes.push_back(eye);
        recipe.adjust.red_eyes = 1;
        recipe.adjust = kept_in_range(recipe.adjust);
        edits_.set_recipe(choice_.current_id(), recipe, tr("darken red eyes"));
    }
    grip_ = {};
    corner_ = -1;
    changing_.reset();
    moving_.reset();
    pointing_.reset();
    update();
}

void PageView::paint_tool(QPainter& painter, const QRectF& sheet) const {
    if (tool_ == PageTool::Crop) paint_crop(painter, sheet);
    if (tool_ == PageTool::Corners) paint_corners(painter, sheet);
    if (tool_ == PageTool::PointEyes) paint_eyes(painter);
}

namespace {
void paint_tag(QPainter& painter, QPointF above, const QString& words) {
    const auto& c = theme::colours();
    painter.setFont(theme::measure());
    const double width = QFontMetricsF(theme::measure()).horizontalAdvance(words) + 14;
    const QRectF tag(above.x() - width / 2, above.y(), width, 19);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.plum);
    painter.drawRoundedRect(tag, 3, 3);
    painter.setPen(c.on_plum);
    painter.drawText(tag, Qt::AlignCenter, words);
}

// Draws a veil over the part that is cut away.
void paint_veil(QPainter& painter, const QRectF& sheet, const QPolygonF& kept) {
    QPainterPath all, inside;
    all.addRect(sheet);
    inside.addPolygon(kept);
    inside.closeSubpath();
    QColor veil = theme::colours().table;
    veil.setAlpha(175);
    painter.fillPath(all.subtracted(inside), veil);
}
}

void PageView::paint_crop(QPainter& painter, const QRectF& sheet) const {
    const Region frame = crop_frame();
    const double by = scale() * page_dpi() / mm_per_inch;
    QPolygonF shape;
    for (const cv::Point2d& corner : corners_of(frame)) shape.append(to_screen({corner.x, corner.y}));
    paint_veil(painter, sheet, shape);
    painter.save();
    painter.translate(to_screen({frame.x_mm, frame.y_mm}));
    painter.rotate(frame.angle_degrees);
    const double w = frame.w_mm * by, h = frame.h_mm * by;
    const QRectF r(-w / 2, -h / 2, w, h);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(on_picture, 1, Qt::DashLine));
    painter.drawRect(r);
    if (changing_ && grip_.part == Grip::Part::Bar) {
        QColor line = on_picture;
        line.setAlpha(90);
        painter.setPen(QPen(line, 1));
        for (double x = r.left() + 10 * by; x < r.right(); x += 10 * by)
            painter.drawLine(QPointF(x, r.top()), QPointF(x, r.bottom()));
        for (double y = r.top() + 10 * by; y < r.bottom(); y += 10 * by)
            painter.drawLine(QPointF(r.left(), y), QPointF(r.right(), y));
    }
    paint_mounts(painter, r, 4.5);
    const double half = std::clamp(w * 0.2, 11.0, 45.0);
    painter.drawRoundedRect(QRectF(-half, r.top() - bar_distance_px - 2, 2 * half, 4), 2, 2);
    painter.restore();
    QString words = tr("%1 × %2 mm").arg(frame.w_mm, 0, 'f', 1).arg(frame.h_mm, 0, 'f', 1);
    if (frame.angle_degrees != 0) words += tr(" · turned %1°").arg(-frame.angle_degrees, 0, 'f', 1);
    paint_tag(
        painter,
        QPointF(to_screen({frame.x_mm, frame.y_mm}).x(), std::min(shape.boundingRect().bottom() + 6, height() - 26.0)),
        words);
}

void PageView::paint_corners(QPainter& painter, const QRectF& sheet) const {
    const PagePtr page = choice_.current();
    if (!page) return;
    const Corners now = corners();
    QPolygonF shape;
    for (const PointMm& corner : now) shape.append(to_screen(corner));
    paint_veil(painter, sheet, shape);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(on_picture, 1.5));
    painter.drawPolygon(shape);
    for (int i = 0; i < 4; ++i) {
        // Draws a mount at each corner, along the two sides that meet there.
        const QPointF at = shape[i], to_next = shape[(i + 1) % 4] - at, to_last = shape[(i + 3) % 4] - at;
        const auto arm = [&](QPointF along) {
            return at + along / std::max(1.0, std::hypot(along.x(), along.y())) * 18;
        };
        painter.setPen(QPen(on_picture, 5, Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
        painter.drawPolyline(QPolygonF{arm(to_next), at, arm(to_last)});
    }
    if (hasFocus()) { // the one that the arrows move
        painter.setPen(Qt::NoPen);
        painter.setBrush(on_picture);
        painter.drawEllipse(shape[static_cast<qsizetype>(key_corner_)], 7, 7);
    }
    const SizeMm flat = flat_page_size(now, turned_size(page->recipe, page->original.size_mm()));
    paint_tag(painter,
              QPointF(shape.boundingRect().center().x(), std::min(shape.boundingRect().bottom() + 6, height() - 26.0)),
              tr("result: %1 × %2 mm").arg(flat.width, 0, 'f', 0).arg(flat.height, 0, 'f', 0));
}

void PageView::paint_eyes(QPainter& painter) const {
    const PagePtr page = choice_.current();
    if (!page) return;
    const Original& o = page->original;
    const cv::Matx33d back = page_to_original(viewed_recipe(), {o.width_px, o.height_px}, o.dpi).inv();
    std::vector<Spot> eyes = page->recipe.adjust.eyes;
    if (pointing_) eyes.push_back(*pointing_);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(on_picture, 2));
    for (const Spot& eye : eyes) {
        const cv::Vec3d at = back * cv::Vec3d(mm_to_px(eye.x_mm, o.dpi) - 0.5, mm_to_px(eye.y_mm, o.dpi) - 0.5, 1);
        const QPointF centre = sheet_rect().topLeft() + QPointF(at[0] / at[2] + 0.5, at[1] / at[2] + 0.5) * scale();
        const double radius = std::max(4.0, mm_to_px(eye.radius_mm, o.dpi) * scale() * 1.3);
        painter.drawEllipse(centre, radius, radius);
    }
    paint_tag(painter, QPointF(width() / 2.0, height() - 30.0),
              tr("Click a red eye, or drag from its middle. Click again to undo. Esc when done."));
}

}
