#include "app/page/page_view.h"

#include "app/models/choice.h"
#include "app/models/page_edits.h"
#include "app/models/pictures.h"
#include "app/models/scanning.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QLocale>
#include <QMouseEvent>
#include <QWheelEvent>

namespace yelvin {

PageView::PageView(Choice& choice, PageEdits& edits, Pictures& pictures, Scanning& run, QWidget* parent)
    : QWidget(parent), choice_(choice), edits_(edits), pictures_(pictures), run_(run) {
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
        // All of the turned original, so that there is something to cut.
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

double PageView::scale() const {
    const SizePx full = page_px();
    const double by_width = (width() - 2.0 * room) / full.width, by_height = (height() - 2.0 * room) / full.height;
    if (fit_ == Fit::Page) return std::max(1e-4, std::min(by_width, by_height));
    if (fit_ == Fit::Width) return std::max(1e-4, by_width);
    return zoom_ / devicePixelRatioF();
}

QRectF PageView::sheet_rect() const {
    const SizePx full = page_px();
    const QSizeF size = QSizeF(full.width, full.height) * scale();
    // Kept in view: a page smaller than the view is centred, a larger one never leaves it.
    const auto origin = [](double view, double page, double centre) {
        return page <= view - room
                   ? (view - page) / 2
                   : std::clamp(view / 2 - centre * page, view - page - room, static_cast<double>(room));
    };
    return {QPointF(std::round(origin(width(), size.width(), centre_.x())),
                    std::round(origin(height(), size.height(), centre_.y()))),
            size};
}

QPointF PageView::to_screen(PointMm on_page) const {
    const double by = scale() * page_dpi() / mm_per_inch;
    return sheet_rect().topLeft() + QPointF(on_page.x, on_page.y) * by;
}

cv::Point2d PageView::to_mm(QPointF screen) const {
    const QPointF off = (screen - sheet_rect().topLeft()) / (scale() * page_dpi() / mm_per_inch);
    return {off.x(), off.y()};
}

PointMm PageView::on_original(QPointF screen) const {
    const PagePtr page = choice_.current();
    if (!page) return {};
    const Original& o = page->original;
    const QPointF dot = (screen - sheet_rect().topLeft()) / scale();
    const cv::Vec3d at = page_to_original(viewed_recipe(), {o.width_px, o.height_px}, o.dpi) *
                         cv::Vec3d(dot.x() - 0.5, dot.y() - 0.5, 1);
    return {px_to_mm(at[0] / at[2] + 0.5, o.dpi), px_to_mm(at[1] / at[2] + 0.5, o.dpi)};
}

// What is visible, and a quarter more on each side, so that a short way of panning shows nothing blurred.
void PageView::ask() {
    const PagePtr page = choice_.current();
    PagePictures* pictures = pictures_.parts();
    // While pages come in, the growing one is shown; the scanner's pace comes first.
    if (!page || !pictures || !isVisible() || run_.passing()) return;
    const QRectF sheet = sheet_rect();
    const double shown = scale() * devicePixelRatioF(), wanted = std::min(1.0, shown);
    const double to_picture = wanted / scale();
    const QRectF seen = sheet.intersected(QRectF(rect()));
    if (seen.isEmpty()) return;
    const auto dots = [&](double at) { return static_cast<int>(std::lround(at * to_picture)); };
    const SizePx full = page_px();
    const cv::Rect all(0, 0, std::max(1, static_cast<int>(std::lround(full.width * wanted))),
                       std::max(1, static_cast<int>(std::lround(full.height * wanted))));
    const int margin_x = all.width > dots(width()) ? dots(width() / 4.0) : all.width,
              margin_y = all.height > dots(height()) ? dots(height() / 4.0) : all.height;
    const cv::Rect part =
        cv::Rect(dots(seen.left() - sheet.left()) - margin_x, dots(seen.top() - sheet.top()) - margin_y,
                 dots(seen.width()) + 2 * margin_x, dots(seen.height()) + 2 * margin_y) &
        all;
    const PageLook look{page->id, page->original, viewed_recipe(), wanted, part};
    if (asked_ == look) return;
    // What was developed already may hold all that is visible now.
    const cv::Rect visible = cv::Rect(dots(seen.left() - sheet.left()), dots(seen.top() - sheet.top()),
                                      dots(seen.width()), dots(seen.height())) &
                             all;
    for (const auto* held : {&part_, &whole_}) {
        if (*held && (*held)->look.page == look.page && (*held)->look.recipe == look.recipe &&
            (*held)->look.scale == look.scale && ((*held)->look.part & visible) == visible)
            return;
    }
    asked_ = look;
    pictures->look(look);
}

void PageView::take(const PageLook& look, const QImage& image) {
    if (look == loupe_asked_) {
        under_loupe_ = Shown{look, image};
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
    ask(); // something may have changed while it was made
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
    if (fit_ == Fit::Page) return tr("fit");
    if (fit_ == Fit::Width) return tr("width");
    return tr("%1 %").arg(std::lround(zoom_ * 100));
}

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

// ---- mouse and keys

void PageView::resizeEvent(QResizeEvent*) { ask(); }

void PageView::zoom_at(QPointF screen, double factor) {
    if (!choice_.current()) return;
    const SizePx full = page_px();
    const double before = scale(),
                 after = std::clamp(before * devicePixelRatioF() * factor, 0.01, 16.0) / devicePixelRatioF();
    const QRectF sheet = sheet_rect();
    // The dot under the mouse stays under it.
    const QPointF dot = (screen - sheet.topLeft()) / before;
    const QPointF middle = dot + (QPointF(width() / 2.0, height() / 2.0) - screen) / after;
    centre_ = {std::clamp(middle.x() / full.width, 0.0, 1.0), std::clamp(middle.y() / full.height, 0.0, 1.0)};
    set_zoom(after * devicePixelRatioF());
}

void PageView::pan(QPointF by) {
    const QRectF sheet = sheet_rect();
    centre_ = {std::clamp(centre_.x() - by.x() / sheet.width(), 0.0, 1.0),
               std::clamp(centre_.y() - by.y() / sheet.height(), 0.0, 1.0)};
    ask();
    update();
}

void PageView::wheelEvent(QWheelEvent* event) { zoom_at(event->position(), std::pow(1.0015, event->angleDelta().y())); }

void PageView::mousePressEvent(QMouseEvent* event) {
    dragged_from_ = event->position();
    if (event->button() != Qt::LeftButton) return;
    if (rulers_ && event->position().x() < ruler && event->position().y() < ruler) {
        inches_ = !inches_;
        return update();
    }
    press_tool(event->position());
}

void PageView::mouseMoveEvent(QMouseEvent* event) {
    mouse_ = event->position();
    if (loupe_) {
        if (const PagePtr page = choice_.current(); page && pictures_.parts()) {
            const double wanted = std::min(1.0, scale() * devicePixelRatioF() * loupe_power);
            const QPointF dot = (mouse_ - sheet_rect().topLeft()) / scale() * wanted;
            const int half = static_cast<int>(loupe_size * wanted / (scale() * loupe_power)) / 2 + 40;
            loupe_asked_ = PageLook{page->id, page->original, viewed_recipe(), wanted,
                                    cv::Rect(cvRound(dot.x()) - half, cvRound(dot.y()) - half, 2 * half, 2 * half)};
            // Kept on the page by develop_part(); asked for like that, so that the answer is known again.
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
    if (tool_ != PageTool::None) release_tool(event->position());
}

void PageView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (tool_ != PageTool::None) return;
    if (fit_ != Fit::Page) return set_fit();
    if (choice_.current()) zoom_at(event->position(), 1 / (scale() * devicePixelRatioF()));
}

void PageView::keyPressEvent(QKeyEvent* event) {
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
