#include "app/glass/glass_view.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tickets/tickets.h"
#include "app/theme/parts.h"

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>

#include <numbers>

namespace yelvin {

namespace {
constexpr int room = 22;
}

GlassView::GlassView(Glass& glass, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent)
    : QWidget(parent), glass_(glass), scanners_(scanners), tickets_(tickets), next_scan_(next_scan) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Glass"));
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
    bench_button_ = button(tr("Use the simulated scanner"), "use-bench");
    files_button_ = button(tr("Add files"), "add-files");
    new_paper_ = theme::link(tr("mark as out of date"), "new-paper", this);
    new_paper_->hide();
    new_paper_->setToolTip(tr("Other paper is on the glass now; the preview is out of date"));
    connect(new_paper_, &QPushButton::clicked, &glass_, &Glass::papers_changed);
    preview_button_->setToolTip(tr("A quick coarse scan (Ctrl+L)"));
    connect(preview_button_, &QPushButton::clicked, this, &GlassView::preview_wanted);
    connect(bench_button_, &QPushButton::clicked, &scanners_, &Scanners::use_bench);
    connect(files_button_, &QPushButton::clicked, this, &GlassView::add_files_wanted);
    connect(&glass_, &Glass::changed, this, &GlassView::refresh);
    connect(&tickets_, &Tickets::changed, this, &GlassView::refresh);
    connect(&scanners_, &Scanners::lease_changed, this, &GlassView::refresh);
    connect(&glass_, &Glass::preview_growing, this, &GlassView::refresh);
    connect(&scanners_, &Scanners::changed, this, &GlassView::refresh);
    refresh();
}

// A scanner without a glass has a size of 0; this avoids a division by it.
SizeMm GlassView::glass_size() const {
    const SizeMm glass = scanners_.capabilities().glass;
    return glass.width > 0 ? glass : SizeMm{216, 297};
}

bool GlassView::shows_feeder() const { return scanners_.chosen() && next_scan_.source() != Source::Glass; }

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

double GlassView::mm_per_px() const { return 1 / scale(); }

std::vector<Frame> GlassView::frames_now() const {
    std::vector<Frame> frames = glass_.frames();
    if (changing_ && grip_.frame >= 0 && grip_.frame < static_cast<int>(frames.size()))
        frames[static_cast<size_t>(grip_.frame)].at = changing_->at;
    else if (changing_ && drawing_)
        frames.push_back({changing_->at});
    return frames;
}

void GlassView::refresh() {
    const bool empty = glass_.preview().isNull();
    const bool feeder = shows_feeder();
    preview_button_->setVisible(scanners_.chosen() && (empty || feeder) && !scanners_.in_use());
    preview_button_->setText(feeder ? tr("Try the first sheet") : tr("Preview the glass"));
    preview_button_->setToolTip(feeder ? tr("Scans one sheet to check, then the rest (Ctrl+L)")
                                       : tr("A quick coarse scan (Ctrl+L)"));
    bench_button_->setVisible(!scanners_.chosen());
    files_button_->setVisible(!scanners_.chosen());
    if (!scanners_.chosen())
        hint_->setText(tr("No scanner is connected. Try everything with the simulated scanner, which scans drawings, "
                          "or add picture files and PDFs."));
    else if (feeder)
        hint_->setText(tr(
            "A feeder cannot be previewed. Try the first sheet, check it and go on with the rest, or scan all now."));
    else if (empty)
        hint_->setText(tr(
            "Lay the paper face down against the marked corner; which way up does not matter. Then preview or scan."));
    else if (glass_.is_out_of_date())
        hint_->setText(next_scan_.finds_in_scan()
                           ? tr("The paper may have changed since this preview. Preview again to see it (Ctrl+L), or "
                                "scan now: Yelvin finds it in the scan.")
                           : tr("The paper may have changed since this preview. Preview again to see it (Ctrl+L)."));
    else if (!next_scan_.frames_count())
        hint_->setText(tr(
            "The dashed area is scanned. To change it, drag on the glass to draw a frame; each frame becomes a page."));
    else if (glass_.frames().empty() && tickets_.ticket().from.frames != Frames::Drawn)
        hint_->setText(tr("Nothing was found on the glass, so the whole glass is scanned. Drag to draw a frame."));
    else if (glass_.frames().empty())
        hint_->setText(tr("Drag on the glass to draw a frame. Each frame becomes a page; without frames the whole "
                          "glass is scanned."));
    else
        hint_->setText(tr("Drag a corner to resize, the bar above to turn, the inside to move. Alt: no snapping. [ ] "
                          "quarter turn, D duplicate, 1–9 number, Delete remove."));
    new_paper_->setVisible(scanners_.chosen() && !feeder && !empty && !glass_.is_out_of_date() && !scanners_.in_use());
    place_widgets();
    update();
}

void GlassView::resizeEvent(QResizeEvent*) { place_widgets(); }

void GlassView::place_widgets() {
    QRectF glass = glass_rect();
    if (shows_feeder()) glass.translate(0, 92); // below the drawing and its words
    const int left_room = static_cast<int>(glass.left()) - 34;
    hint_->setGeometry(18, 22, std::clamp(left_room, 110, 210), 190);
    new_paper_->adjustSize();
    new_paper_->move(18, 22 + std::min(190, hint_->heightForWidth(hint_->width())) + 8);
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

// ---- the mouse

Snapping GlassView::snapping(Qt::KeyboardModifiers keys) const {
    const SizeMm glass = glass_size();
    const double reach = keys & Qt::AltModifier ? 0 : std::max(1.2, 7 * mm_per_px());
    return {guides_for(glass, glass_.found()), glass_.found(), glass, reach};
}

void GlassView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !scanners_.chosen() || shows_feeder()) return;
    const QPointF mm = to_mm(event->position());
    start_mm_ = {mm.x(), mm.y()};
    grip_ = grip_at(glass_.frames(), start_mm_, mm_per_px());
    drawing_ = grip_.frame < 0;
    glass_.choose_frame(grip_.frame);
    if (grip_.frame >= 0) start_frame_ = glass_.frames()[static_cast<size_t>(grip_.frame)].at;
    update();
}

void GlassView::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = to_mm(event->position());
    const cv::Point2d mm(at.x(), at.y());
    if (drawing_)
        changing_ = drawn(start_mm_, mm, snapping(event->modifiers()));
    else if (grip_.frame >= 0 && (event->buttons() & Qt::LeftButton))
        changing_ = dragged(start_frame_, grip_, start_mm_, mm, snapping(event->modifiers()));
    else
        return show_cursor(grip_at(glass_.frames(), mm, mm_per_px()));
    update();
}

void GlassView::show_cursor(const Grip& under) {
    using Part = Grip::Part;
    if (under.part == Part::None) return setCursor(Qt::CrossCursor);
    if (under.part == Part::Inside) return setCursor(Qt::SizeAllCursor);
    if (under.part == Part::Bar) return setCursor(Qt::PointingHandCursor);
    // The direction on the screen in which the side or corner moves.
    const double angle = glass_.frames()[static_cast<size_t>(under.frame)].at.angle_degrees +
                         std::atan2(under.side_y, under.side_x) * 180 / std::numbers::pi;
    const int eighth = static_cast<int>(std::lround(angle / 45)) & 3;
    constexpr Qt::CursorShape shapes[] = {Qt::SizeHorCursor, Qt::SizeFDiagCursor, Qt::SizeVerCursor,
                                          Qt::SizeBDiagCursor};
    setCursor(shapes[eighth]);
}

void GlassView::mouseReleaseEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    auto frames = frames_now();
    const bool changed = changing_ && changing_->at.w_mm >= least_frame_mm && changing_->at.h_mm >= least_frame_mm;
    const int touched = std::exchange(drawing_, false) ? static_cast<int>(frames.size()) - 1 : grip_.frame;
    grip_ = {};
    changing_.reset();
    if (changed) {
        frames[static_cast<size_t>(touched)].found = false;
        keep(std::move(frames));
        glass_.choose_frame(touched);
    }
    refresh();
}

void GlassView::keep(std::vector<Frame> frames) {
    const bool switches = !next_scan_.frames_count();
    glass_.set_frames(std::move(frames));
    if (!switches) return;
    Ticket ticket = tickets_.ticket(); // A user who draws a frame wants frames to be scanned.
    ticket.from.paper = "auto";
    ticket.from.own_paper.reset();
    ticket.from.frames = Frames::Drawn;
    tickets_.set(ticket);
}

// ---- keys

void GlassView::change_chosen(const std::function<void(Frame&)>& how) {
    const int chosen = glass_.chosen_frame();
    if (chosen < 0) return;
    auto frames = glass_.frames();
    Frame& frame = frames[static_cast<size_t>(chosen)];
    how(frame);
    frame.at = kept_on(frame.at, glass_size());
    frame.found = false;
    keep(std::move(frames));
}

void GlassView::turn_chosen(double degrees) {
    change_chosen([degrees](Frame& frame) { frame.at = turned_by(frame.at, degrees); });
}

// The frame keeps its place; another of its sides becomes the upper one.
void GlassView::turn_chosen_quarter(int quarters) {
    change_chosen([quarters](Frame& frame) {
        frame.at = turned_by(frame.at, 90.0 * quarters);
        std::swap(frame.at.w_mm, frame.at.h_mm);
    });
}

void GlassView::keyPressEvent(QKeyEvent* event) {
    auto frames = glass_.frames();
    const int chosen = glass_.chosen_frame();
    const double step = event->modifiers() & Qt::ShiftModifier     ? 5
                        : event->modifiers() & Qt::ControlModifier ? 0.1
                                                                   : 0.5;
    const auto nudge = [&](double dx, double dy) {
        change_chosen([&](Frame& frame) {
            frame.at.x_mm += dx * step;
            frame.at.y_mm += dy * step;
        });
    };
    const int key = event->key();
    if (key == Qt::Key_Left) return nudge(-1, 0);
    if (key == Qt::Key_Right) return nudge(1, 0);
    if (key == Qt::Key_Up) return nudge(0, -1);
    if (key == Qt::Key_Down) return nudge(0, 1);
    if (key == Qt::Key_Space && !frames.empty())
        return glass_.choose_frame((chosen + 1) % static_cast<int>(frames.size()));
    if (chosen < 0) return QWidget::keyPressEvent(event);
    if (key == Qt::Key_Delete || key == Qt::Key_Backspace) {
        frames.erase(frames.begin() + chosen);
        keep(frames);
        return glass_.choose_frame(std::min(chosen, static_cast<int>(frames.size()) - 1));
    }
    if (key == Qt::Key_D) {
        Frame copy = frames[static_cast<size_t>(chosen)];
        copy.at.x_mm += 8;
        copy.at.y_mm += 8;
        copy.at = kept_on(copy.at, glass_size());
        copy.found = false;
        frames.push_back(copy);
        keep(frames);
        return glass_.choose_frame(static_cast<int>(frames.size()) - 1);
    }
    if (key >= Qt::Key_1 && key <= Qt::Key_9) return glass_.renumber_frame(chosen, key - Qt::Key_1);
    QWidget::keyPressEvent(event);
}

}
