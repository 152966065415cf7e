#include "app/noticed/adjust_parts.h"

#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

#include <cmath>

namespace yelvin {

Fold::Fold(const QString& title, const QString& name, bool open, QWidget* parent) : QWidget(parent), title_(title) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 6, 0, 6);
    heading_ = new QPushButton(title, this);
    heading_->setProperty("kind", "fold");
    heading_->setObjectName(name);
    heading_->setCursor(Qt::PointingHandCursor);
    row->addWidget(heading_);
    row->addStretch();
    state_ = new QLabel(this);
    state_->setProperty("quiet", true);
    row->addWidget(state_);
    column->addLayout(row);
    inside_ = new QWidget(this);
    inside_layout_ = new QVBoxLayout(inside_);
    inside_layout_->setContentsMargins(0, 0, 0, 10);
    inside_layout_->setSpacing(5);
    column->addWidget(inside_);
    connect(heading_, &QPushButton::clicked, this, [this] {
        set_open(inside_->isHidden());
        bring_into_view();
    });
    set_open(open);
}

// Scrolls the opened fold into view, after the layout is complete.
void Fold::bring_into_view() {
    if (inside_->isHidden()) return;
    QTimer::singleShot(0, this, [this] {
        for (QWidget* above = parentWidget(); above; above = above->parentWidget()) {
            if (auto* area = qobject_cast<QScrollArea*>(above)) return area->ensureWidgetVisible(this, 0, 4);
        }
    });
}

void Fold::set_open(bool open) {
    inside_->setVisible(open);
    heading_->setText((open ? QString::fromUtf8("▾ ") : QString::fromUtf8("▸ ")) + title_);
    heading_->setAccessibleName(title_ + (open ? tr(", open") : tr(", closed")));
}

namespace {
bool counts_in_steps_of_ratio(const AdjustField& field) { return field.value == &Adjust::gamma; }
constexpr int ratio_steps = 40; // on each side of 1
}

SliderRow::SliderRow(const AdjustField& field, const QString& name, const QString& unit, QWidget* parent)
    : QWidget(parent), field_(field), unit_(unit),
      rest_words_(field.rest == 0 ? QString("0") : QString::number(field.rest)) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    auto* label = new QLabel(name, this);
    label->setFixedWidth(94);
    row->addWidget(label);
    slider_ = new QSlider(Qt::Horizontal, this);
    slider_->setObjectName("adjust:" + QString::fromUtf8(field.key.data(), static_cast<qsizetype>(field.key.size())));
    slider_->setAccessibleName(name);
    slider_->setRange(position_of(field.least), position_of(field.most));
    slider_->setPageStep(std::max(1, (slider_->maximum() - slider_->minimum()) / 10));
    row->addWidget(slider_, 1);
    number_ = new QPushButton(this);
    number_->setProperty("kind", "number");
    number_->setFixedWidth(46);
    number_->setToolTip(tr("Click to reset"));
    number_->setAccessibleName(tr("reset %1").arg(name));
    row->addWidget(number_);
    show_value(field.rest);
    connect(slider_, &QSlider::valueChanged, this, [this](int position) {
        if (showing_) return;
        const double value = value_of(position);
        put_number(value);
        slider_->isSliderDown() ? emit tried(value) : emit kept(value);
    });
    connect(slider_, &QSlider::sliderReleased, this, [this] { emit kept(value_of(slider_->value())); });
    connect(number_, &QPushButton::clicked, this, [this] {
        show_value(field_.rest);
        emit kept(field_.rest);
    });
}

double SliderRow::value_of(int position) const {
    if (counts_in_steps_of_ratio(field_)) return std::pow(field_.most, static_cast<double>(position) / ratio_steps);
    return position * field_.step;
}
int SliderRow::position_of(double value) const {
    if (counts_in_steps_of_ratio(field_))
        return static_cast<int>(std::lround(std::log(value) / std::log(field_.most) * ratio_steps));
    return static_cast<int>(std::lround(value / field_.step));
}

void SliderRow::put_number(double value) {
    const bool rests = std::abs(value - field_.rest) < field_.step / 2;
    const int decimals = field_.step < 0.1 ? 2 : field_.step < 1 ? 1 : 0;
    const QString sign = field_.least < 0 && value > 0 ? "+" : "";
    number_->setText(rests ? rest_words_ : sign + QString::number(value, 'f', decimals) + unit_);
    number_->setEnabled(!rests);
}

void SliderRow::show_value(double value) {
    if (slider_->isSliderDown()) return;
    showing_ = true;
    slider_->setValue(position_of(value));
    showing_ = false;
    put_number(value);
}

// ---- levels

namespace {
constexpr int graph_height = 46, handle_height = 11, side = 6;
}

LevelsView::LevelsView(QWidget* parent) : QWidget(parent) {
    setFixedHeight(graph_height + handle_height);
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("levels");
    setAccessibleName(tr("Black point and white point"));
    setToolTip(tr("Drag the points: levels left of the first become black, right of the second white. Keys: arrows "
                  "move a point, Space selects the other."));
}

void LevelsView::set_counts(const QList<int>& counts) {
    counts_ = counts;
    update();
}
void LevelsView::set_points(double black, double white) {
    if (dragged_ != 0) return;
    black_ = black;
    white_ = white;
    update();
}

double LevelsView::x_of(double level) const { return side + level / 255 * (width() - 2.0 * side); }
double LevelsView::level_at(double x) const {
    return std::clamp((x - side) / (width() - 2.0 * side) * 255, 0.0, 255.0);
}

void LevelsView::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF graph(side, 0, width() - 2.0 * side, graph_height);
    painter.fillRect(graph, c.desk);
    if (!counts_.isEmpty()) {
        // The square root is shown, because most pixels of a page are paper and the others should be visible as well.
        double most = 1;
        for (const int count : counts_) most = std::max(most, std::sqrt(static_cast<double>(count)));
        QPolygonF shape{graph.bottomLeft()};
        for (int level = 0; level < 256; ++level)
            shape.append(
                QPointF(x_of(level),
                        graph.bottom() - (graph_height - 3) * std::sqrt(static_cast<double>(counts_[level])) / most));
        shape.append(graph.bottomRight());
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.quiet);
        painter.drawPolygon(shape);
    }
    QColor veil = c.paper;
    veil.setAlpha(150);
    painter.fillRect(QRectF(graph.left(), 0, x_of(black_) - graph.left(), graph_height), veil);
    painter.fillRect(QRectF(x_of(white_), 0, graph.right() - x_of(white_), graph_height), veil);
    for (const int which : {1, 2}) {
        const double x = x_of(which == 1 ? black_ : white_);
        painter.setPen(QPen(c.plum, 1));
        painter.drawLine(QPointF(x, 0), QPointF(x, graph_height));
        painter.setPen(QPen(c.plum, hasFocus() && keyed_ == which ? 2.5 : 1.5));
        // The colour that the point produces, equal in the light and the dark look.
        painter.setBrush(which == 1 ? QColor("#26303A") : QColor("#FBF9F4"));
        painter.drawPolygon(QPolygonF{QPointF(x, graph_height - 1), QPointF(x + 5, graph_height + handle_height - 2),
                                      QPointF(x - 5, graph_height + handle_height - 2)});
    }
}

void LevelsView::drag_to(double x) {
    const double level = std::round(level_at(x));
    if (dragged_ == 1) black_ = std::min(level, white_ - 1);
    if (dragged_ == 2) white_ = std::max(level, black_ + 1);
    update();
}

void LevelsView::mousePressEvent(QMouseEvent* event) {
    const double x = event->position().x();
    dragged_ = keyed_ = std::abs(x - x_of(black_)) <= std::abs(x - x_of(white_)) ? 1 : 2;
    drag_to(x);
    emit tried(black_, white_);
}
void LevelsView::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_ == 0) return;
    drag_to(event->position().x());
    emit tried(black_, white_);
}
void LevelsView::mouseReleaseEvent(QMouseEvent*) {
    if (dragged_ == 0) return;
    dragged_ = 0;
    emit kept(black_, white_);
}
void LevelsView::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (event->key() == Qt::Key_Space) {
        keyed_ = 3 - keyed_;
        return update();
    }
    if (by == 0) return QWidget::keyPressEvent(event);
    dragged_ = keyed_;
    drag_to(x_of((keyed_ == 1 ? black_ : white_) + by));
    dragged_ = 0;
    emit kept(black_, white_);
}

}
