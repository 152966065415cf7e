#include "app/glass/glass_view.h"

#include "app/theme/theme.h"
#include "app/ticketbar/placement.h"
#include "app/ticketbar/ticket_bar.h"

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

namespace yelvin {

namespace {
constexpr int room = 22, mount = 14;
constexpr double snap_mm = 1.5, smallest_mm = 2;

double snapped(double value, double to) { return std::abs(value - to) < snap_mm ? to : value; }
}

GlassView::GlassView(Desk& desk, QWidget* parent) : QWidget(parent), desk_(desk) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("glass");
    hint_ = new QLabel(this);
    hint_->setProperty("quiet", true);
    hint_->setWordWrap(true);
    hint_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    const auto button = [this](const QString& words, const char* name) {
        auto* made = new QPushButton(words, this);
        made->setObjectName(name);
        made->hide();
        return made;
    };
    preview_button_ = button(tr("Preview the glass"), "preview");
    bench_button_ = button(tr("Use the bench scanner"), "use-bench");
    files_button_ = button(tr("Add files"), "add-files");
    preview_button_->setToolTip(tr("A quick coarse look (Ctrl+L)"));
    connect(preview_button_, &QPushButton::clicked, &desk_, &Desk::start_preview);
    connect(bench_button_, &QPushButton::clicked, &desk_, &Desk::use_bench_scanner);
    connect(files_button_, &QPushButton::clicked, this, &GlassView::add_files_wanted);
    connect(&desk_, &Desk::glass_changed, this, &GlassView::refresh);
    connect(&desk_, &Desk::ticket_changed, this, &GlassView::refresh);
    connect(&desk_, &Desk::busy_changed, this, &GlassView::refresh);
    connect(&desk_, &Desk::preview_growing, this, &GlassView::refresh);
    connect(&desk_, &Desk::scanner_changed, this, &GlassView::refresh);
    refresh();
}

// A feeder-only scanner has no glass; its place is never divided by nothing.
SizeMm GlassView::glass_size() const {
    const SizeMm glass = desk_.capabilities().glass;
    return glass.width > 0 ? glass : SizeMm{216, 297};
}

bool GlassView::shows_feeder() const { return desk_.has_scanner() && desk_.source() != Source::Glass; }

QRectF GlassView::glass_rect() const {
    const SizeMm glass = glass_size();
    const double by = std::min((width() - 2.0 * room) / glass.width, (height() - 2.0 * room) / glass.height);
    const QSizeF size(glass.width * by, glass.height * by);
    return {QPointF(std::round((width() - size.width()) / 2), std::round((height() - size.height()) / 2)), size};
}

double GlassView::scale() const { return glass_rect().width() / glass_size().width; }
QPointF GlassView::to_screen(double x_mm, double y_mm) const {
    return glass_rect().topLeft() + QPointF(x_mm, y_mm) * scale();
}
QPointF GlassView::to_mm(QPointF screen) const { return (screen - glass_rect().topLeft()) / scale(); }
QRectF GlassView::screen_rect(const RectMm& f) const {
    return {to_screen(f.x, f.y), QSizeF(f.width, f.height) * scale()};
}

std::vector<RectMm> GlassView::frames_now() const {
    std::vector<RectMm> frames = desk_.frames();
    if (changing_ && grip_.frame >= 0 && grip_.frame < static_cast<int>(frames.size()))
        frames[static_cast<size_t>(grip_.frame)] = *changing_;
    else if (changing_ && drawing_)
        frames.push_back(*changing_);
    return frames;
}

void GlassView::refresh() {
    const bool empty = desk_.preview().isNull();
    const bool feeder = shows_feeder();
    preview_button_->setVisible(desk_.has_scanner() && (empty || feeder) && !desk_.previewing() && !desk_.scanning());
    preview_button_->setText(feeder ? tr("Try the first sheet") : tr("Preview the glass"));
    preview_button_->setToolTip(feeder ? tr("Scans one sheet to look at, then the rest (Ctrl+L)")
                                       : tr("A quick coarse look (Ctrl+L)"));
    bench_button_->setVisible(!desk_.has_scanner());
    files_button_->setVisible(!desk_.has_scanner());
    if (!desk_.has_scanner())
        hint_->setText(tr("No scanner is connected. Try everything with the bench scanner, which scans drawings, or "
                          "add picture files and PDFs."));
    else if (feeder)
        hint_->setText(
            tr("A feeder cannot be previewed. Try the first sheet, look at it, and go on with the rest; or scan "
               "at once."));
    else if (empty)
        hint_->setText(tr("Lay the paper face down against the marked corner; which way up does not matter. Then "
                          "preview, or scan at once."));
    else if (desk_.preview_out_of_date())
        hint_->setText(tr("The paper has been changed since this preview. Preview again to see it (Ctrl+L)."));
    else if (desk_.areas_to_scan() != desk_.frames() && desk_.ticket().from.paper != "auto")
        hint_->setText(
            tr("The dashed area is scanned. Drag on the glass to draw a frame instead; each frame becomes a page."));
    else if (desk_.frames().empty())
        hint_->setText(
            tr("Drag on the glass to draw a frame. Each frame becomes a page; without one, all of it is scanned."));
    else
        hint_->setText(
            tr("Drag a mount to resize a frame, an edge to move that edge, the inside to move it. Delete removes it."));
    if (selected_ >= static_cast<int>(desk_.frames().size())) selected_ = -1;
    place_widgets();
    update();
}

void GlassView::resizeEvent(QResizeEvent*) { place_widgets(); }

void GlassView::place_widgets() {
    QRectF glass = glass_rect();
    if (shows_feeder()) glass.translate(0, 92); // below the drawing and its words
    const int left_room = static_cast<int>(glass.left()) - 34;
    hint_->setGeometry(18, 22, std::clamp(left_room, 110, 210), 130);
    QList<QPushButton*> shown;
    for (QPushButton* button : {preview_button_, bench_button_, files_button_}) {
        if (!button->isHidden()) shown.append(button);
    }
    int y = static_cast<int>(glass.center().y()) - 20 * static_cast<int>(shown.size());
    for (QPushButton* button : shown) {
        button->adjustSize();
        button->move(static_cast<int>(glass.center().x()) - button->width() / 2, y);
        y += 44;
    }
}

void GlassView::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    const QRectF glass = glass_rect();
    if (shows_feeder()) return paint_feeder(painter);
    painter.fillRect(glass, QColor("#F0EFEA"));
    if (!desk_.preview().isNull()) {
        painter.drawImage(glass, desk_.preview());
        if (desk_.preview_out_of_date()) {
            QColor veil = c.table;
            veil.setAlpha(150);
            painter.fillRect(glass, veil);
        }
    }
    painter.setPen(QPen(c.hairline, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(glass);
    // The marked corner, as on the scanner's rim.
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.ink);
    painter.drawPolygon(QPolygonF{glass.topLeft() + QPointF(-2, -2), glass.topLeft() + QPointF(18, -2),
                                  glass.topLeft() + QPointF(-2, 18)});
    if (desk_.preview_out_of_date()) {
        const QString words = tr("? out of date");
        painter.setFont(theme::strong());
        const QRectF tag(glass.center().x() - 60, glass.top() + 16, 120, 26);
        painter.setBrush(c.paper);
        painter.setPen(c.amber);
        painter.drawRoundedRect(tag, theme::corner, theme::corner);
        painter.drawText(tag, Qt::AlignCenter, words);
    }
    const auto frames = frames_now();
    const bool by_frames = desk_.ticket().from.paper == "auto" && !desk_.ticket().from.own_paper &&
                           desk_.ticket().from.frames == Frames::Drawn;
    if (!by_frames) {
        const RectMm area = desk_.areas_to_scan().front();
        painter.setPen(QPen(c.plum, 1.2, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(screen_rect(area).intersected(glass));
    } else {
        for (size_t i = 0; i < frames.size(); ++i)
            paint_frame(painter, frames[i], static_cast<int>(i) + 1,
                        static_cast<int>(i) == selected_ || (drawing_ && i + 1 == frames.size()));
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

// How the paper lies in the feeder, and how much of it.
void GlassView::paint_feeder(QPainter& painter) const {
    const auto& c = theme::colours();
    const bool two = desk_.two_passes();
    const Flip flip = desk_.ticket().from.flip;
    const Source source = desk_.ticket().from.source == Source::HandFed ? Source::HandFed : desk_.source();
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
    QString state = desk_.scanner_state();
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

// Corner mounts as in a photo album, a thin line between them, the frame's number and, while it is dragged, its size.
void GlassView::paint_frame(QPainter& painter, const RectMm& frame, int number, bool chosen) const {
    const auto& c = theme::colours();
    const QRectF r = screen_rect(frame);
    const QColor plum("#7A2E5D"); // on the picture, which is light in the dark look too
    painter.setPen(QPen(plum, 1, Qt::DashLine));
    painter.setBrush(Qt::NoBrush);
    painter.drawRect(r);
    painter.setPen(Qt::NoPen);
    painter.setBrush(plum);
    const double size = std::min<double>(mount, std::min(r.width(), r.height()) / 2), thick = chosen ? 4.5 : 3.5;
    for (const int sx : {0, 1}) {
        for (const int sy : {0, 1}) {
            const QPointF corner(sx ? r.right() : r.left(), sy ? r.bottom() : r.top());
            const double dx = sx ? -1 : 1, dy = sy ? -1 : 1;
            const QPointF at = corner - QPointF(dx, dy) * 3;
            painter.drawPolygon(QPolygonF{at, at + QPointF(dx * size, 0), at + QPointF(dx * size, dy * thick),
                                          at + QPointF(dx * thick, dy * thick), at + QPointF(dx * thick, dy * size),
                                          at + QPointF(0, dy * size)});
        }
    }
    painter.setFont(theme::measure());
    const QRectF badge(r.left() + 7, r.bottom() - 24, 19, 17);
    if (r.width() > 34 && r.height() > 34) {
        painter.drawRoundedRect(badge, 2, 2);
        painter.setPen(Qt::white);
        painter.drawText(badge, Qt::AlignCenter, QString::number(number));
    }
    if (!changing_ || !chosen) return;
    const QString size_words = tr("%1 × %2 mm").arg(mm_words(frame.width), mm_words(frame.height));
    const int words_width = QFontMetrics(theme::measure()).horizontalAdvance(size_words) + 14;
    QRectF tag(r.center().x() - words_width / 2.0, r.bottom() + 8, words_width, 19);
    if (tag.bottom() > height() - 4) tag.moveBottom(r.bottom() - 8);
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.paper);
    painter.drawRoundedRect(tag, 3, 3);
    painter.setPen(c.ink);
    painter.drawText(tag, Qt::AlignCenter, size_words);
}

GlassView::Grip GlassView::grip_at(QPointF screen) const {
    const auto& frames = desk_.frames();
    for (int i = static_cast<int>(frames.size()) - 1; i >= 0; --i) {
        const QRectF r = screen_rect(frames[static_cast<size_t>(i)]);
        if (!r.adjusted(-8, -8, 8, 8).contains(screen)) continue;
        const auto near = [](double a, double b, double reach) { return std::abs(a - b) <= reach; };
        const double reach = std::min(12.0, std::min(r.width(), r.height()) / 3);
        Grip grip{i, near(screen.x(), r.left(), reach), near(screen.y(), r.top(), reach),
                  near(screen.x(), r.right(), reach), near(screen.y(), r.bottom(), reach)};
        const bool corner = (grip.left || grip.right) && (grip.top || grip.bottom);
        if (!corner) { // an edge is a narrower target than a mount
            grip = {i, near(screen.x(), r.left(), 6), near(screen.y(), r.top(), 6), near(screen.x(), r.right(), 6),
                    near(screen.y(), r.bottom(), 6)};
        }
        if (!grip.any()) grip = {i, true, true, true, true};
        return grip;
    }
    return {};
}

RectMm GlassView::dragged(QPointF mm) const {
    const SizeMm glass = glass_size();
    double left = start_frame_.x, top = start_frame_.y, right = left + start_frame_.width,
           bottom = top + start_frame_.height;
    const QPointF by = mm - start_mm_;
    if (grip_.left && grip_.right && grip_.top && grip_.bottom) {
        double x = snapped(start_frame_.x + by.x(), 0), y = snapped(start_frame_.y + by.y(), 0);
        x = std::clamp(snapped(x, glass.width - start_frame_.width), 0.0,
                       std::max(0.0, glass.width - start_frame_.width));
        y = std::clamp(snapped(y, glass.height - start_frame_.height), 0.0,
                       std::max(0.0, glass.height - start_frame_.height));
        return {x, y, start_frame_.width, start_frame_.height};
    }
    const auto side = [](double value, double most) { return std::clamp(snapped(snapped(value, 0), most), 0.0, most); };
    if (grip_.left) left = side(left + by.x(), glass.width);
    if (grip_.right) right = side(right + by.x(), glass.width);
    if (grip_.top) top = side(top + by.y(), glass.height);
    if (grip_.bottom) bottom = side(bottom + by.y(), glass.height);
    return {std::min(left, right), std::min(top, bottom), std::max(smallest_mm, std::abs(right - left)),
            std::max(smallest_mm, std::abs(bottom - top))};
}

void GlassView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !desk_.has_scanner() || shows_feeder()) return;
    const QPointF mm = to_mm(event->position());
    grip_ = grip_at(event->position());
    start_mm_ = mm;
    if (grip_.frame >= 0) {
        selected_ = grip_.frame;
        start_frame_ = desk_.frames()[static_cast<size_t>(grip_.frame)];
    } else {
        drawing_ = true;
        selected_ = -1;
        const SizeMm glass = glass_size();
        start_mm_ = {std::clamp(snapped(mm.x(), 0), 0.0, glass.width),
                     std::clamp(snapped(mm.y(), 0), 0.0, glass.height)};
    }
    update();
}

void GlassView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF mm = to_mm(event->position());
    if (drawing_) {
        const SizeMm glass = glass_size();
        const double x = std::clamp(snapped(mm.x(), glass.width), 0.0, glass.width),
                     y = std::clamp(snapped(mm.y(), glass.height), 0.0, glass.height);
        changing_ = RectMm{std::min(x, start_mm_.x()), std::min(y, start_mm_.y()), std::abs(x - start_mm_.x()),
                           std::abs(y - start_mm_.y())};
    } else if (grip_.frame >= 0 && (event->buttons() & Qt::LeftButton)) {
        changing_ = dragged(mm);
    } else {
        const Grip under = grip_at(event->position());
        const bool inside = under.left && under.right && under.top && under.bottom;
        const bool falls = (under.left && under.top) || (under.right && under.bottom),
                   rises = (under.right && under.top) || (under.left && under.bottom);
        setCursor(under.frame < 0             ? Qt::CrossCursor
                  : inside                    ? Qt::SizeAllCursor
                  : falls                     ? Qt::SizeFDiagCursor
                  : rises                     ? Qt::SizeBDiagCursor
                  : under.left || under.right ? Qt::SizeHorCursor
                                              : Qt::SizeVerCursor);
    }
    update();
}

void GlassView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    const auto frames = frames_now();
    const bool changed = changing_ && changing_->width >= smallest_mm && changing_->height >= smallest_mm;
    const bool drawn = drawing_;
    drawing_ = false;
    grip_ = {};
    changing_.reset();
    if (changed) {
        if (drawn) selected_ = static_cast<int>(frames.size()) - 1;
        keep(frames);
    }
    refresh();
}

void GlassView::keep(std::vector<RectMm> frames) {
    Ticket ticket = desk_.ticket();
    const bool switches = ticket.from.paper != "auto" || ticket.from.own_paper || ticket.from.frames != Frames::Drawn;
    desk_.set_frames(std::move(frames));
    if (switches) { // whoever draws a frame wants it scanned
        ticket.from.paper = "auto";
        ticket.from.own_paper.reset();
        ticket.from.frames = Frames::Drawn;
        desk_.set_ticket(ticket);
    }
}

void GlassView::keyPressEvent(QKeyEvent* event) {
    auto frames = desk_.frames();
    const bool chosen = selected_ >= 0 && selected_ < static_cast<int>(frames.size());
    const double step = event->modifiers() & Qt::ShiftModifier ? 5 : 0.5;
    const SizeMm glass = glass_size();
    const auto nudge = [&](double dx, double dy) {
        if (!chosen) return;
        RectMm& f = frames[static_cast<size_t>(selected_)];
        f.x = std::clamp(f.x + dx, 0.0, glass.width - f.width);
        f.y = std::clamp(f.y + dy, 0.0, glass.height - f.height);
        keep(frames);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        nudge(-step, 0);
        break;
    case Qt::Key_Right:
        nudge(step, 0);
        break;
    case Qt::Key_Up:
        nudge(0, -step);
        break;
    case Qt::Key_Down:
        nudge(0, step);
        break;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (chosen) {
            frames.erase(frames.begin() + selected_);
            selected_ = std::min<int>(selected_, static_cast<int>(frames.size()) - 1);
            keep(frames);
        }
        break;
    case Qt::Key_Space:
        if (!frames.empty()) selected_ = (selected_ + 1) % static_cast<int>(frames.size());
        update();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

}
