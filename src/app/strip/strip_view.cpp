#include "app/strip/strip_view.h"

#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/scanning/strip_model.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/page_pictures.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/ticketbar/wording.h"

#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QWheelEvent>

namespace yelvin {

namespace {
constexpr int left_room = 74, top_room = 36, side = 16, gap = 8, caption = 22;
}

StripView::StripView(StripModel& strip, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent)
    : QWidget(parent), strip_(strip), scanners_(scanners), tickets_(tickets), next_scan_(next_scan) {
    setObjectName("strip");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Test strip"));
    words_ = new QLabel(this);
    words_->setAlignment(Qt::AlignCenter);
    words_->setWordWrap(true);
    words_->setObjectName("strip-words");
    make_ = new QPushButton(tr("Make a test strip"), this);
    make_->setObjectName("make-strip");
    from_page_ = new QPushButton(tr("from the selected page"), this);
    from_page_->setObjectName("strip-from-page");
    connect(make_, &QPushButton::clicked, &strip_, &StripModel::start);
    connect(from_page_, &QPushButton::clicked, &strip_, &StripModel::start_from_page);
    connect(&strip_, &StripModel::changed, this, &StripView::refresh);
    connect(&tickets_, &Tickets::changed, this, &StripView::refresh);
    for (auto signal : {&Scanners::changed, &Scanners::lease_changed})
        connect(&scanners_, signal, this, &StripView::refresh);
    refresh();
}

void StripView::refresh() {
    if (!isVisible()) return;
    const Strip& strip = strip_.strip();
    const bool empty = strip.best.empty();
    const bool glass = scanners_.chosen() && next_scan_.source() == Source::Glass;
    words_->setVisible(empty);
    make_->setVisible(empty && !strip.scanning && glass);
    from_page_->setVisible(empty && !strip.scanning && strip_.page_will_do());
    if (strip.scanning)
        words_->setText(strip.percent > 0 ? tr("Scanning at %1 dpi… %2%").arg(strip_.best_dpi()).arg(strip.percent)
                                          : tr("Opening the page…"));
    else if (glass || strip_.page_will_do())
        words_->setText(
            tr("Which resolution does this paper need? One scan at %1 dpi shows the same detail at several "
               "resolutions, in colour, grey and black and white, with the file size and how much text is readable.")
                .arg(strip_.best_dpi() > 0 ? strip_.best_dpi() : 600));
    else
        words_->setText(tr("A test strip needs one fine scan from the glass, or a page scanned at 300 dpi or more. "
                           "Choose the glass in the sentence above, or select such a page in the tray."));
    if (!empty && of_ != strip.best.pixels.data) {
        of_ = strip.best.pixels.data;
        const SizeMm size = strip.best.size_mm();
        centre_mm_ = {size.width * 0.35, size.height * 0.3};
    }
    pictures_.clear();
    resizeEvent(nullptr);
    update();
}

void StripView::resizeEvent(QResizeEvent*) {
    const int middle = height() / 2 - 30;
    words_->setGeometry(width() / 2 - 230, middle - 70, 460, 80);
    int y = middle + 24;
    for (QPushButton* button : {make_, from_page_}) {
        if (button->isHidden()) continue;
        button->adjustSize();
        button->move(width() / 2 - button->width() / 2, y);
        y += 44;
    }
    pictures_.clear();
}

std::vector<int> StripView::columns() const {
    std::vector<int> out;
    for (const StripCell& cell : strip_.strip().cells) {
        if (std::ranges::find(out, cell.dpi) == out.end()) out.push_back(cell.dpi);
    }
    return out;
}

std::vector<Ink> StripView::rows() const {
    std::vector<Ink> out;
    for (const StripCell& cell : strip_.strip().cells) {
        if (std::ranges::find(out, cell.ink) == out.end()) out.push_back(cell.ink);
    }
    return out;
}

QRectF StripView::cell_rect(int dpi, Ink ink) const {
    const auto across = columns();
    const auto down = rows();
    const auto x = std::ranges::find(across, dpi) - across.begin();
    const auto y = std::ranges::find(down, ink) - down.begin();
    if (x == std::ssize(across) || y == std::ssize(down)) return {};
    const double w = (width() - left_room - side + gap) / static_cast<double>(across.size()),
                 h = (height() - top_room - side + gap) / static_cast<double>(down.size());
    return {left_room + w * static_cast<double>(x), top_room + h * static_cast<double>(y), w - gap, h - gap - caption};
}

RectMm StripView::detail() const {
    const auto across = columns();
    if (across.empty()) return {};
    const QRectF cell = cell_rect(across.front(), rows().front());
    const double height_mm = width_mm_ * cell.height() / std::max(1.0, cell.width());
    const SizeMm page = strip_.strip().best.size_mm();
    const double w = std::min(width_mm_, page.width), h = std::min(height_mm, page.height);
    return {std::clamp(centre_mm_.x - w / 2, 0.0, page.width - w),
            std::clamp(centre_mm_.y - h / 2, 0.0, page.height - h), w, h};
}

QImage StripView::cell_picture(int dpi, Ink ink) {
    const Strip& strip = strip_.strip();
    if (strip.best.empty()) return {};
    if (pictured_ != detail()) pictures_.clear();
    pictured_ = detail();
    const int key = dpi * 4 + static_cast<int>(ink);
    if (const auto at = pictures_.constFind(key); at != pictures_.constEnd()) return *at;
    const auto cell =
        std::ranges::find_if(strip.cells, [&](const StripCell& c) { return c.dpi == dpi && c.ink == ink; });
    // The threshold for black is known after the whole page was analysed in the background.
    if (cell == strip.cells.end() || (ink == Ink::Black && cell->bytes <= 0)) return {};
    return pictures_[key] = to_image(strip_detail(strip.best, dpi, ink, pictured_, cell->threshold));
}

void StripView::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    const Strip& strip = strip_.strip();
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (strip.best.empty()) return;
    const StripAdvice first = strip.advice.empty() ? StripAdvice{0} : strip.advice.front();
    const Ticket& ticket = tickets_.ticket();
    painter.setFont(theme::strong());
    painter.setPen(c.ink);
    for (const int dpi : columns()) {
        const QRectF at = cell_rect(dpi, rows().front());
        painter.drawText(QRectF(at.left(), 8, at.width(), 22), Qt::AlignCenter, tr("%1 dpi").arg(dpi));
    }
    for (const Ink ink : rows()) {
        const QRectF at = cell_rect(columns().front(), ink);
        QString words = wording::ink(ink);
        words[0] = words[0].toUpper();
        painter.drawText(QRectF(16, at.top(), left_room - 20, at.height()), Qt::AlignVCenter | Qt::TextWordWrap, words);
    }
    for (const StripCell& cell : strip.cells) {
        const QRectF at = cell_rect(cell.dpi, cell.ink);
        const QRectF whole = at.adjusted(0, 0, 0, caption);
        painter.fillRect(whole, c.paper);
        painter.drawImage(at, cell_picture(cell.dpi, cell.ink));
        const bool advised = first.dpi == cell.dpi && first.ink == cell.ink;
        const bool in_ticket = !ticket.how.dpi_auto && ticket.how.dpi == cell.dpi && ticket.how.ink == cell.ink;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(advised ? c.plum : c.hairline, advised ? 3 : 1));
        painter.drawRect(whole);
        if (in_ticket) {
            painter.setPen(QPen(c.ink, 1, Qt::DashLine));
            painter.drawRect(whole.adjusted(-4, -4, 4, 4));
        }
        painter.setFont(theme::measure());
        const QRectF line = whole.adjusted(7, whole.height() - caption, -7, 0);
        painter.setPen(c.ink);
        painter.drawText(line, Qt::AlignVCenter | Qt::AlignLeft,
                         cell.bytes > 0 ? bytes_words(cell.bytes) : QString("…"));
        if (cell.reads) {
            const long percent = std::lround(100 * *cell.reads);
            painter.setPen(percent < 90 ? c.brick : c.ink);
            painter.drawText(line, Qt::AlignVCenter | Qt::AlignRight, tr("%1% readable").arg(percent));
        }
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(3, 3, -4, -4));
    }
}

const StripCell* StripView::cell_at(QPointF at) const {
    for (const StripCell& cell : strip_.strip().cells) {
        if (cell_rect(cell.dpi, cell.ink).adjusted(0, 0, 0, caption).contains(at)) return &cell;
    }
    return nullptr;
}

void StripView::move_to(cv::Point2d centre) {
    const SizeMm page = strip_.strip().best.size_mm();
    const RectMm now = detail();
    centre_mm_ = {std::clamp(centre.x, now.width / 2, std::max(now.width / 2, page.width - now.width / 2)),
                  std::clamp(centre.y, now.height / 2, std::max(now.height / 2, page.height - now.height / 2))};
    update();
}

void StripView::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || !cell_at(event->position())) return;
    dragging_ = true;
    pressed_at_ = event->position();
    const RectMm now = detail();
    centre_at_press_ = {now.x + now.width / 2, now.y + now.height / 2};
    setCursor(Qt::ClosedHandCursor);
}

void StripView::mouseMoveEvent(QMouseEvent* event) {
    if (!dragging_) return;
    const QRectF cell = cell_rect(columns().front(), rows().front());
    const QPointF by = (event->position() - pressed_at_) * detail().width / cell.width();
    move_to(centre_at_press_ - cv::Point2d(by.x(), by.y()));
}

void StripView::mouseReleaseEvent(QMouseEvent*) {
    dragging_ = false;
    unsetCursor();
}

void StripView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const StripCell* cell = cell_at(event->position())) strip_.use(cell->dpi, cell->ink);
}

void StripView::wheelEvent(QWheelEvent* event) {
    width_mm_ = std::clamp(width_mm_ * std::pow(0.8, event->angleDelta().y() / 120.0), 6.0, 120.0);
    move_to(centre_mm_);
}

void StripView::keyPressEvent(QKeyEvent* event) {
    const double step = detail().width / 4;
    switch (event->key()) {
    case Qt::Key_Left:
        return move_to(centre_mm_ + cv::Point2d(-step, 0));
    case Qt::Key_Right:
        return move_to(centre_mm_ + cv::Point2d(step, 0));
    case Qt::Key_Up:
        return move_to(centre_mm_ + cv::Point2d(0, -step));
    case Qt::Key_Down:
        return move_to(centre_mm_ + cv::Point2d(0, step));
    case Qt::Key_Plus:
    case Qt::Key_Minus:
        width_mm_ = std::clamp(width_mm_ * (event->key() == Qt::Key_Plus ? 0.8 : 1.25), 6.0, 120.0);
        return move_to(centre_mm_);
    default:
        QWidget::keyPressEvent(event);
    }
}

}
