#include "app/page/page_view.h"

#include "app/models/scanning/scanning.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/page_edits.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/room.h"

#include <QLocale>
#include <QMouseEvent>
#include <QPainter>

namespace yelvin {

PageView::PageView(const Around& around, QWidget* parent)
    : QWidget(parent), room_(around.room), tray_(around.tray), choice_(around.choice), edits_(around.edits),
      pictures_(around.pictures), run_(around.run) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("page");
    setAccessibleName(tr("Page"));
    setMouseTracking(true);
    inches_ = QLocale().measurementSystem() == QLocale::ImperialUSSystem;
    connect(&choice_, &Choice::changed, this, [this] {
        if (const PagePtr page = choice_.current(); !page || !whole_ || whole_->look.page != page->id) {
            centre_ = {0.5, 0.5};
            part_.reset();
            if (tool_ != PageTool::None) use_tool(PageTool::None);
        }
        ask();
        update();
        emit zoom_changed();
    });
    connect(&room_, &Room::changed, this, [this] {
        ask();
        update();
    });
    connect(&choice_, &Choice::trial_changed, this, [this] {
        ask();
        update();
    });
    connect(&pictures_, &Pictures::ready, this, [this](const QString& id) {
        if (id == choice_.current_id() && !whole_) update(); // the thumbnail, until there is more
    });
    if (PagePictures* pictures = pictures_.parts()) {
        connect(pictures, &PagePictures::ready, this, &PageView::take);
        connect(pictures, &PagePictures::unreadable, this, [this](const PageLook& look, const QString& sentence) {
            if (look == asked_) emit unreadable(sentence);
        });
    }
    connect(&run_, &Scanning::page_growing, this, [this](const QImage& so_far, int rows, int) {
        growing_ = so_far;
        rows_ = rows;
        update();
    });
    connect(&run_, &Scanning::changed, this, [this] {
        if (run_.passing() || growing_.isNull()) return;
        growing_ = {};
        ask();
        update();
    });
}

// ---- what is shown

Recipe PageView::viewed_recipe() const {
    if (held_) return {};
    Recipe recipe = choice_.shown_recipe();
    if (tool_ == PageTool::Crop || tool_ == PageTool::Corners) {
        // While cropping, the whole rotated original is shown.
        recipe.crop.reset();
        recipe.flatten.reset();
        recipe.tilt_degrees = 0;
        recipe.rim_mm = 0;
    }
    return recipe;
}

SizePx PageView::page_px() const {
    const PagePtr page = choice_.current();
    if (!page) return {1, 1};
    return developed_size(viewed_recipe(), {page->original.width_px, page->original.height_px}, page->original.dpi);
}

double PageView::page_dpi() const {
    const PagePtr page = choice_.current();
    return page ? page->original.dpi : 300;
}

int PageView::room_px() const {
    const bool mounts = tool_ == PageTool::Crop || tool_ == PageTool::Corners;
    return (mounts ? 18 : 3) + (rulers_ ? ruler : 0);
}

double PageView::scale() const {
    const SizePx full = page_px();
    const double by_width = (width() - 2.0 * room_px()) / full.width,
                 by_height = (height() - 2.0 * room_px()) / full.height;
    if (fit_ == Fit::Page) return std::max(1e-4, std::min(by_width, by_height));
    if (fit_ == Fit::Width) return std::max(1e-4, by_width);
    return zoom_ / devicePixelRatioF();
}

QRectF PageView::sheet_rect() const {
    const SizePx full = page_px();
    const QSizeF size = QSizeF(full.width, full.height) * scale();
    if (const auto two = pair()) {
        const double left = (width() - size.width() - two->size.width() - between) / 2;
        const double x = two->other_is_right ? left : left + two->size.width() + between;
        return {QPointF(std::round(x), std::round((height() - size.height()) / 2)), size};
    }
    // A page smaller than the view is centred; a larger one always covers the view.
    const double around = room_px();
    const auto origin = [around](double view, double page, double centre) {
        return page <= view - around ? (view - page) / 2
                                     : std::clamp(view / 2 - centre * page, view - page - around, around);
    };
    return {QPointF(std::round(origin(width(), size.width(), centre_.x())),
                    std::round(origin(height(), size.height(), centre_.y()))),
            size};
}

QPointF PageView::to_screen(PointMm on_page) const {
    const double by = scale() * page_dpi() / mm_per_inch;
    return sheet_rect().topLeft() + QPointF(on_page.x, on_page.y) * by;
}

QRectF PageView::to_screen(const cv::Rect2d& box) const {
    return {sheet_rect().topLeft() + QPointF(box.x, box.y) * scale(), QSizeF(box.width, box.height) * scale()};
}

cv::Point2d PageView::to_mm(QPointF screen) const {
    const QPointF off = (screen - sheet_rect().topLeft()) / (scale() * page_dpi() / mm_per_inch);
    return {off.x(), off.y()};
}

PointMm PageView::on_original(QPointF screen) const {
    const PagePtr page = choice_.current();
    if (!page) return {};
    const Original& o = page->original;
    const QPointF pixel = (screen - sheet_rect().topLeft()) / scale();
    const cv::Vec3d at = page_to_original(viewed_recipe(), {o.width_px, o.height_px}, o.dpi) *
                         cv::Vec3d(pixel.x() - 0.5, pixel.y() - 0.5, 1);
    return {px_to_mm(at[0] / at[2] + 0.5, o.dpi), px_to_mm(at[1] / at[2] + 0.5, o.dpi)};
}

void PageView::ask() {
    // During a scan, the growing page is shown instead, so that the scanner is not slowed down.
    if (!choice_.current() || !pictures_.parts() || !isVisible() || run_.passing()) return;
    if (!ask_for_page()) ask_for_other();
}

// Requests the visible part plus a quarter of its size on each side, so that panning a short way shows nothing blurred.
// Returns false if it is available already.
bool PageView::ask_for_page() {
    const PagePtr page = choice_.current();
    const QRectF sheet = sheet_rect();
    const double shown = scale() * devicePixelRatioF(), wanted = std::min(1.0, shown);
    const double to_picture = wanted / scale();
    const QRectF seen = sheet.intersected(QRectF(rect()));
    if (seen.isEmpty()) return false;
    const auto px = [&](double at) { return static_cast<int>(std::lround(at * to_picture)); };
    const SizePx full = page_px();
    const cv::Rect all(0, 0, std::max(1, static_cast<int>(std::lround(full.width * wanted))),
                       std::max(1, static_cast<int>(std::lround(full.height * wanted))));
    const int margin_x = all.width > px(width()) ? px(width() / 4.0) : all.width,
              margin_y = all.height > px(height()) ? px(height() / 4.0) : all.height;
    const cv::Rect part = cv::Rect(px(seen.left() - sheet.left()) - margin_x, px(seen.top() - sheet.top()) - margin_y,
                                   px(seen.width()) + 2 * margin_x, px(seen.height()) + 2 * margin_y) &
                          all;
    PageLook look{page->id, page->original, viewed_recipe(), wanted, part};
    look.is_quick = choice_.is_trying() && !held_ && look.recipe.ink == Ink::Black;
    if (asked_ == look) return true;
    // The part that was developed before may contain the visible part.
    const cv::Rect visible =
        cv::Rect(px(seen.left() - sheet.left()), px(seen.top() - sheet.top()), px(seen.width()), px(seen.height())) &
        all;
    for (const auto* held : {&part_, &whole_}) {
        if (*held && (*held)->look.page == look.page && (*held)->look.recipe == look.recipe &&
            (*held)->look.scale == look.scale && (look.is_quick || !(*held)->look.is_quick) &&
            ((*held)->look.part & visible) == visible)
            return false;
    }
    asked_ = look;
    other_asked_.reset(); // The current page comes before the page beside it.
    pictures_.parts()->look(look);
    return true;
}

void PageView::take(const PageLook& look, const QImage& image) {
    if (look == loupe_asked_) {
        under_loupe_ = Shown{look, image};
        return update();
    }
    if (look == other_asked_) {
        other_ = Shown{look, image};
        other_asked_.reset();
        return update();
    }
    const PagePtr page = choice_.current();
    if (!page || look.page != page->id) return;
    const SizePx full =
        developed_size(look.recipe, {look.original.width_px, look.original.height_px}, look.original.dpi);
    const bool all = look.part.width >= std::lround(full.width * look.scale) &&
                     look.part.height >= std::lround(full.height * look.scale);
    (all ? whole_ : part_) = Shown{look, image};
    if (look == asked_) asked_.reset();
    ask(); // The view may have changed while the picture was computed.
    update();
    emit zoom_changed();
}

bool PageView::is_sharp() const {
    const PagePtr page = choice_.current();
    if (!page || asked_) return false;
    const Recipe recipe = viewed_recipe();
    const double wanted = std::min(1.0, scale() * devicePixelRatioF());
    for (const auto* held : {&part_, &whole_}) {
        if (*held && (*held)->look.page == page->id && (*held)->look.recipe == recipe && (*held)->look.scale == wanted)
            return true;
    }
    return false;
}

void PageView::show_original(bool held) {
    held_ = held;
    ask();
    update();
}

void PageView::show_loupe(bool held) {
    loupe_ = held;
    under_loupe_.reset();
    loupe_asked_.reset();
    if (held) {
        QMouseEvent here(QEvent::MouseMove, mouse_, mapToGlobal(mouse_), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
        mouseMoveEvent(&here);
    }
    update();
}

void PageView::show_rulers(bool shown) {
    rulers_ = shown;
    ask();
    update();
}

void PageView::show_grid(bool shown) {
    grid_ = shown;
    update();
}

void PageView::set_fit() {
    fit_ = Fit::Page;
    centre_ = {0.5, 0.5};
    ask();
    update();
    emit zoom_changed();
}

void PageView::set_fit_width() {
    fit_ = Fit::Width;
    centre_ = {0.5, 0};
    ask();
    update();
    emit zoom_changed();
}

void PageView::set_zoom(double zoom) {
    fit_ = Fit::Zoom;
    zoom_ = std::clamp(zoom, 0.01, 16.0);
    ask();
    update();
    emit zoom_changed();
}

QString PageView::zoom_words() const {
    if (fits_page()) return tr("fit");
    if (fits_width()) return tr("width");
    return tr("%1%").arg(zoom_percent());
}

int PageView::zoom_percent() const { return static_cast<int>(std::lround(zoom_ * 100)); }

void PageView::use_tool(PageTool tool) {
    tool_ = tool;
    grip_ = {};
    changing_.reset();
    moving_.reset();
    pointing_.reset();
    corner_ = -1;
    setCursor(tool == PageTool::PickColour || tool == PageTool::PointEyes ? Qt::CrossCursor : Qt::ArrowCursor);
    if (tool != PageTool::None) {
        if (tool == PageTool::Crop || tool == PageTool::Corners) fit_ = Fit::Page;
        setFocus(Qt::OtherFocusReason);
    }
    ask();
    update();
    emit tool_changed();
    emit zoom_changed();
}

QColor PageView::colour_at(QPointF screen) const {
    const QRectF sheet = sheet_rect();
    for (const auto* shown : {&part_, &whole_}) {
        if (!*shown) continue;
        const double by = (*shown)->look.scale / scale();
        const QPoint at(cvFloor((screen.x() - sheet.left()) * by) - (*shown)->look.part.x,
                        cvFloor((screen.y() - sheet.top()) * by) - (*shown)->look.part.y);
        if ((*shown)->image.rect().contains(at)) return (*shown)->image.pixelColor(at);
    }
    return {};
}

QImage PageView::seen_at(const cv::Rect2d& part) const {
    const QRectF at = to_screen(part);
    QImage image((at.size() * devicePixelRatioF()).toSize().expandedTo({1, 1}), QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter painter(&image);
    painter.scale(devicePixelRatioF(), devicePixelRatioF());
    painter.translate(-at.topLeft());
    if (choice_.current()) paint_picture(painter, sheet_rect());
    return image;
}

// ---- mouse and keys

void PageView::resizeEvent(QResizeEvent*) { ask(); }

void PageView::zoom_at(QPointF screen, double factor) {
    if (!choice_.current()) return;
    const SizePx full = page_px();
    const double before = scale(),
                 after = std::clamp(before * devicePixelRatioF() * factor, 0.01, 16.0) / devicePixelRatioF();
    const QRectF sheet = sheet_rect();
    // The pixel under the mouse pointer remains under it.
    const QPointF pixel = (screen - sheet.topLeft()) / before;
    const QPointF middle = pixel + (QPointF(width() / 2.0, height() / 2.0) - screen) / after;
    centre_ = {std::clamp(middle.x() / full.width, 0.0, 1.0), std::clamp(middle.y() / full.height, 0.0, 1.0)};
    set_zoom(after * devicePixelRatioF());
}

void PageView::pan(QPointF by) {
    const QRectF sheet = sheet_rect();
    centre_ = {std::clamp(centre_.x() - by.x() / sheet.width(), 0.0, 1.0),
               std::clamp(centre_.y() - by.y() / sheet.height(), 0.0, 1.0)};
    ask();
    update();
    emit moved();
}

void PageView::show_part(const cv::Rect2d& part) {
    constexpr double around = 24;
    const QRectF at = to_screen(part).adjusted(-around, -around, around, around);
    const SizePx full = page_px();
    if (at.left() < 0 || at.right() > width()) centre_.setX((part.x + part.width / 2) / full.width);
    if (at.top() < 0 || at.bottom() > height()) centre_.setY((part.y + part.height / 2) / full.height);
    ask();
    update();
}

void PageView::scroll_to(double top) {
    const QRectF sheet = sheet_rect();
    if (sheet.height() <= height()) return;
    centre_.setY(std::clamp((top + height() / 2.0) / sheet.height(), 0.0, 1.0));
    ask();
    update();
}

}
