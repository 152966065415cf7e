#include "app/glass/frame_panel.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tickets/tickets.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/ticketbar/ticket_bar.h"

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

namespace {

// An entry of the list; clicking it selects its frame.
class Entry : public QWidget {
  public:
    std::function<void()> press;
    using QWidget::QWidget;

  protected:
    void mousePressEvent(QMouseEvent*) override {
        if (press) press();
    }
};

}

FramePanel::FramePanel(Glass& glass, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent)
    : QWidget(parent), glass_(glass), scanners_(scanners), tickets_(tickets), next_scan_(next_scan) {
    setFixedWidth(theme::side_width);
    setObjectName("frame-panel");
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(14, 13, 14, 12);
    outer->setSpacing(0);
    title_ = new QLabel(this);
    title_->setContentsMargins(0, 0, 0, 10);
    outer->addWidget(title_);
    auto* inside = new QWidget;
    list_ = new QVBoxLayout(inside);
    list_->setContentsMargins(0, 0, 0, 0);
    list_->setSpacing(0);
    outer->addWidget(theme::scrolled(inside, this), 1);

    make_fields();
    outer->addWidget(theme::hairline(this));
    outer->addWidget(fields_);
    total_ = new QLabel(this);
    total_->setObjectName("frames-total");
    total_->setProperty("quiet", true);
    total_->setWordWrap(true);
    outer->addWidget(total_);
    pieces_ = theme::link(tr("larger than the glass? scan it in pieces"), "scan-in-pieces", this);
    pieces_->setToolTip(tr("A map, a poster, an A3 sheet: scanned piece by piece and stitched automatically"));
    outer->addSpacing(4);
    outer->addWidget(pieces_, 0, Qt::AlignLeft);
    connect(pieces_, &QPushButton::clicked, this, &FramePanel::pieces_wanted);

    connect(&glass_, &Glass::changed, this, &FramePanel::refresh);
    connect(&tickets_, &Tickets::changed, this, &FramePanel::refresh);
    for (auto signal : {&Scanners::changed, &Scanners::lease_changed})
        connect(&scanners_, signal, this, &FramePanel::refresh);
    refresh();
}

QString FramePanel::length_words(double mm) const {
    return inches_ ? QString::number(mm / mm_per_inch, 'f', 2) : mm_words(mm);
}

void FramePanel::make_fields() {
    fields_ = new QWidget(this);
    auto* grid = new QGridLayout(fields_);
    grid->setContentsMargins(0, 8, 0, 8);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    chosen_title_ = new QLabel(fields_);
    chosen_title_->setFont(theme::strong());
    unit_ = theme::link({}, "frame-unit", fields_);
    auto* head = new QHBoxLayout;
    head->addWidget(chosen_title_, 1);
    head->addWidget(unit_);
    grid->addLayout(head, 0, 0, 1, 4);
    const auto spin = [&](const QString& words, const char* name, int row, int column) {
        auto* label = new QLabel(words, fields_);
        label->setProperty("quiet", true);
        auto* box = new QDoubleSpinBox(fields_);
        box->setObjectName(name);
        box->setAccessibleName(words);
        box->setKeyboardTracking(false);
        box->setButtonSymbols(QAbstractSpinBox::NoButtons);
        grid->addWidget(label, row, column);
        grid->addWidget(box, row, column + 1);
        connect(box, &QDoubleSpinBox::valueChanged, this, &FramePanel::take_fields);
        return box;
    };
    width_ = spin(tr("width"), "frame-width", 1, 0);
    height_ = spin(tr("height"), "frame-height", 1, 2);
    x_ = spin(tr("left"), "frame-x", 2, 0);
    y_ = spin(tr("top"), "frame-y", 2, 2);
    angle_ = spin(tr("turned"), "frame-angle", 3, 0);
    angle_->setRange(-180, 180);
    angle_->setSuffix("°");
    angle_->setDecimals(2);
    auto* order = new QHBoxLayout;
    earlier_ = theme::link(tr("earlier"), "frame-earlier", fields_);
    later_ = theme::link(tr("later"), "frame-later", fields_);
    earlier_->setToolTip(tr("Lowers its number by one (or type a number on the glass)"));
    later_->setToolTip(tr("Raises its number by one (or type a number on the glass)"));
    order->addStretch();
    order->addWidget(earlier_);
    order->addWidget(later_);
    grid->addLayout(order, 3, 2, 1, 2);
    connect(unit_, &QPushButton::clicked, this, [this] {
        inches_ = !inches_;
        refresh();
    });
    connect(earlier_, &QPushButton::clicked, this,
            [this] { glass_.renumber_frame(glass_.chosen_frame(), glass_.chosen_frame() - 1); });
    connect(later_, &QPushButton::clicked, this,
            [this] { glass_.renumber_frame(glass_.chosen_frame(), glass_.chosen_frame() + 1); });
}

void FramePanel::refresh() {
    if (!isVisible()) return;
    refresh_list();
    refresh_fields();
    pieces_->setVisible(scanners_.chosen() && next_scan_.source() == Source::Glass);
    if (!scanners_.chosen()) return total_->clear();
    if (next_scan_.source() != Source::Glass) return total_->clear();
    const double seconds = std::max(1.0, next_scan_.seconds(next_scan_.dpi()));
    const auto passes = static_cast<int>(next_scan_.passes().size()),
               frames = static_cast<int>(next_scan_.frames().size());
    const auto about = std::lround(seconds);
    total_->setText(frames <= 1   ? tr("About %1 s to scan.").arg(about)
                    : passes == 1 ? tr("About %1 s to scan, in one pass.").arg(about)
                                  : tr("About %1 s to scan, in %2 passes.").arg(about).arg(passes));
}

void FramePanel::refresh_list() {
    QString now = inches_ ? "in" : "mm";
    const auto frames = next_scan_.frames();
    const bool drawn = next_scan_.frames_count() && !glass_.frames().empty();
    for (const Frame& f : frames)
        now += QString("|%1 %2 %3 %4 %5 %6")
                   .arg(f.at.w_mm)
                   .arg(f.at.h_mm)
                   .arg(f.at.x_mm)
                   .arg(f.at.y_mm)
                   .arg(f.at.angle_degrees)
                   .arg(next_scan_.dpi_for(f)) +
               bytes_words(next_scan_.page_bytes(f.size(), next_scan_.dpi_for(f), tickets_.ticket().how.ink,
                                                 f.photograph.value_or(false)));
    const ScanRequest request = next_scan_.request();
    now += QString("|%1 %2 %3 %4 %5 %6")
               .arg(glass_.chosen_frame())
               .arg(drawn)
               .arg(static_cast<int>(request.source))
               .arg(request.cut_to_sheet)
               .arg(scanners_.chosen())
               .arg(next_scan_.finds_in_scan()) +
           QString("%1 %2").arg(request.area.width).arg(request.area.height);
    if (now == shown_) return;
    shown_ = now;
    const theme::FocusKept focus(this);
    theme::clear(list_);
    const auto title = [&](const QString& strong, const QString& quiet) {
        title_->setText(QString("<b>%1</b>%2")
                            .arg(strong, quiet.isEmpty()
                                             ? QString()
                                             : QString(" <span style='font-weight:400;color:%1'>· %2</span>")
                                                   .arg(theme::colours().quiet.name(), quiet)));
    };
    if (!scanners_.chosen()) {
        title(tr("Frames"), tr("none without a scanner"));
    } else if (next_scan_.source() != Source::Glass) {
        title(tr("Scan area"), {});
        const QString size = tr("%1 × %2 mm").arg(mm_words(request.area.width), mm_words(request.area.height));
        add_plain(request.cut_to_sheet ? tr("Each sheet, cropped to its size") : size,
                  request.cut_to_sheet ? tr("crooked and mixed sheets too") : tr("the same for all sheets"));
    } else if (next_scan_.finds_in_scan()) {
        title(tr("Scan area"), {});
        add_plain(tickets_.ticket().from.frames == Frames::EachItem ? tr("Each item on the glass")
                                                                    : tr("Everything on it as one page"),
                  tr("found in the scan; preview to see it first"));
    } else {
        title(drawn ? tr("Frames") : tr("Scan area"), drawn ? tr("%1 on the glass").arg(frames.size()) : QString());
        for (int i = 0; i < static_cast<int>(frames.size()); ++i)
            add_entry(i + 1, frames[static_cast<size_t>(i)], drawn);
    }
    list_->addStretch();
}

void FramePanel::add_plain(const QString& strong, const QString& quiet) {
    list_->addWidget(theme::hairline(this));
    auto* words = new QLabel(strong, this);
    words->setFont(theme::strong());
    words->setWordWrap(true);
    words->setContentsMargins(0, 9, 0, 2);
    list_->addWidget(words);
    auto* more = new QLabel(quiet, this);
    more->setProperty("quiet", true);
    more->setWordWrap(true);
    list_->addWidget(more);
}

// Returns the facts of a frame; lines break only between facts.
QStringList FramePanel::facts_of(const Frame& frame) const {
    const Ticket& ticket = tickets_.ticket();
    const int dpi = next_scan_.dpi_for(frame);
    const bool photograph = frame.photograph.value_or(false);
    QStringList facts{tr("%1 × %2 px").arg(scanned_px(frame.at.w_mm, dpi)).arg(scanned_px(frame.at.h_mm, dpi))};
    if (photograph) facts.append(tr("a photograph"));
    if (ticket.how.dpi_auto) facts.append(tr("%1 dpi").arg(dpi));
    const double tilt = std::remainder(frame.at.angle_degrees, 90.0);
    const int quarters = static_cast<int>(std::lround(frame.at.angle_degrees / 90)) & 3;
    if (quarters == 1) facts.append(tr("right edge on top"));
    if (quarters == 2) facts.append(tr("bottom edge on top"));
    if (quarters == 3) facts.append(tr("left edge on top"));
    if (std::abs(tilt) >= least_tilt_degrees)
        facts.append(tr("tilted %1°, will be straightened").arg(std::abs(tilt), 0, 'f', 1));
    const QString kind = QString::fromUtf8(format_words(make_for(ticket.make, photograph).format).data());
    facts.append(tr("%1, about %2")
                     .arg(kind, bytes_words(next_scan_.page_bytes(frame.size(), dpi, ticket.how.ink, photograph))));
    const double seconds = next_scan_.seconds_alone(frame);
    if (seconds >= 1) facts.append(tr("%1 s").arg(std::lround(seconds)));
    return facts;
}

void FramePanel::add_entry(int number, const Frame& frame, bool drawn) {
    const auto& c = theme::colours();
    list_->addWidget(theme::hairline(this));
    auto* entry = new Entry(this);
    auto* row = new QHBoxLayout(entry);
    row->setContentsMargins(0, 8, 0, 8);
    row->setSpacing(8);
    if (drawn) {
        auto* badge = new QLabel(QString::number(number), entry);
        badge->setFixedSize(17, 17);
        badge->setAlignment(Qt::AlignCenter);
        badge->setFont(theme::measure());
        badge->setStyleSheet(
            QString("background: %1; color: %2; border-radius: 2px;").arg(c.plum.name(), c.on_plum.name()));
        row->addWidget(badge, 0, Qt::AlignTop);
    }
    auto* words = new QVBoxLayout;
    words->setSpacing(2);
    auto* size = new QLabel(inches_ ? tr("%1 × %2 in").arg(length_words(frame.at.w_mm), length_words(frame.at.h_mm))
                                    : tr("%1 × %2 mm").arg(length_words(frame.at.w_mm), length_words(frame.at.h_mm)),
                            entry);
    size->setFont(theme::strong());
    if (drawn && number - 1 == glass_.chosen_frame()) size->setStyleSheet(QString("color: %1").arg(c.plum.name()));
    words->addWidget(size);
    // The panel is as high as its lines, so that a long list scrolls instead of being squeezed.
    constexpr int words_width = theme::side_width - 2 * 14 - 25 - 58;
    auto* more = new QLabel(theme::facts_in_lines(facts_of(frame), theme::measure(), words_width), entry);
    more->setProperty("quiet", true);
    more->setWordWrap(true);
    more->ensurePolished();
    more->setFixedWidth(words_width);
    more->setMinimumHeight(more->heightForWidth(words_width));
    words->addWidget(more);
    row->addLayout(words);
    row->addStretch();
    if (drawn) {
        entry->press = [this, number] { glass_.choose_frame(number - 1); };
        entry->setCursor(Qt::PointingHandCursor);
        auto* remove = theme::link(tr("remove"), QString("frame-remove:%1").arg(number), entry);
        remove->setAccessibleName(tr("remove frame %1").arg(number));
        row->addWidget(remove, 0, Qt::AlignTop);
        connect(remove, &QPushButton::clicked, this, [this, number] {
            auto left = glass_.frames();
            if (number <= static_cast<int>(left.size())) left.erase(left.begin() + number - 1);
            glass_.set_frames(left);
        });
    }
    list_->addWidget(entry);
}

void FramePanel::refresh_fields() {
    const int chosen = glass_.chosen_frame();
    const bool shown = chosen >= 0 && next_scan_.frames_count() && next_scan_.source() == Source::Glass;
    fields_->setVisible(shown);
    if (!shown) return;
    filling_ = true;
    const Region& at = glass_.frames()[static_cast<size_t>(chosen)].at;
    chosen_title_->setText(tr("Frame %1").arg(chosen + 1));
    unit_->setText(inches_ ? tr("in mm") : tr("in inches"));
    const SizeMm glass = scanners_.capabilities().glass;
    const double by = inches_ ? 1 / mm_per_inch : 1;
    const auto fill = [&](QDoubleSpinBox* box, double mm, double least, double most) {
        box->setDecimals(inches_ ? 3 : 1);
        box->setSuffix(inches_ ? tr(" in") : tr(" mm"));
        box->setRange(least * by, most * by);
        if (std::abs(box->value() - mm * by) > (inches_ ? 0.0006 : 0.06)) box->setValue(mm * by);
    };
    const double longest = std::hypot(glass.width, glass.height);
    fill(width_, at.w_mm, least_frame_mm, longest);
    fill(height_, at.h_mm, least_frame_mm, longest);
    const cv::Point2d corner = corners_of(at).front();
    fill(x_, corner.x, -longest, longest);
    fill(y_, corner.y, -longest, longest);
    if (std::abs(angle_->value() - at.angle_degrees) > 0.006) angle_->setValue(at.angle_degrees);
    earlier_->setEnabled(chosen > 0);
    later_->setEnabled(chosen + 1 < static_cast<int>(glass_.frames().size()));
    filling_ = false;
}

// Applies the typed values: the upper left corner stays where the fields say.
void FramePanel::take_fields() {
    const int chosen = glass_.chosen_frame();
    if (filling_ || chosen < 0) return;
    const double by = inches_ ? mm_per_inch : 1;
    auto frames = glass_.frames();
    Frame& frame = frames[static_cast<size_t>(chosen)];
    const QObject* typed = sender();
    if (typed == angle_) {
        frame.at.angle_degrees = angle_->value();
    } else {
        Region at = frame.at;
        if (typed == width_) at.w_mm = width_->value() * by;
        if (typed == height_) at.h_mm = height_->value() * by;
        cv::Point2d corner = corners_of(frame.at).front();
        if (typed == x_) corner.x = x_->value() * by;
        if (typed == y_) corner.y = y_->value() * by;
        const cv::Point2d off = corner - corners_of(at).front();
        at.x_mm += off.x;
        at.y_mm += off.y;
        frame.at = at;
    }
    frame.at = kept_on(frame.at, scanners_.capabilities().glass);
    frame.found = false;
    glass_.set_frames(std::move(frames));
}

}
