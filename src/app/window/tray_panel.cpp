#include "app/window/tray_panel.h"

#include "app/keys.h"
#include "app/theme/theme.h"
#include "app/tray/tray_metrics.h"
#include "app/window/tray_foot.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>

#include <cmath>

namespace yelvin {

namespace {

constexpr int edge_height = 7, below_slim = 3, below_full = 10;
constexpr int scroll_bar = 8;

// The edge between the view and the tray. It is dragged or moved with the arrow keys; a double-click switches the
// layout.
class TrayEdge : public QWidget {
  public:
    TrayEdge(TrayPanel& panel) : QWidget(&panel), panel_(panel) {
        setObjectName("tray-edge");
        setFixedHeight(edge_height);
        setCursor(Qt::SplitVCursor);
        setFocusPolicy(Qt::TabFocus);
        setAccessibleName(QObject::tr("height of the out tray"));
        setToolTip(
            with_key(QObject::tr("Drag, or press Up and Down, for a slim, full or taller out tray"), Do::TrayRest));
    }

  protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(Qt::NoPen);
        painter.setBrush(underMouse() || hasFocus() ? theme::colours().plum : theme::colours().hairline);
        painter.drawRoundedRect(QRectF((width() - 44) / 2.0, 2, 44, 3), 1.5, 1.5);
    }
    void enterEvent(QEnterEvent*) override { update(); }
    void leaveEvent(QEvent*) override { update(); }
    void keyPressEvent(QKeyEvent* event) override {
        constexpr int step = 12; // px
        const int by = event->key() == Qt::Key_Up ? step : event->key() == Qt::Key_Down ? -step : 0;
        if (by != 0) return panel_.step_by(by);
        QWidget::keyPressEvent(event);
    }
    void mousePressEvent(QMouseEvent* event) override { foot_ = event->globalPosition().y() + panel_.strip().height(); }
    void mouseMoveEvent(QMouseEvent* event) override {
        if (event->buttons() & Qt::LeftButton)
            panel_.drag_to(static_cast<int>(std::lround(foot_ - event->globalPosition().y())));
    }
    void mouseDoubleClickEvent(QMouseEvent*) override { panel_.change_rest(); }

  private:
    TrayPanel& panel_;
    double foot_ = 0; // where the strip ends, on the screen
};

}

TrayPanel::TrayPanel(const TrayModels& models, Room& room, QWidget* parent) : QWidget(parent), room_(room) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* row = new QHBoxLayout;
    row->setSpacing(theme::margin);
    scroll_ = new QScrollArea(this);
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setWidgetResizable(true);
    scroll_->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll_->setFocusPolicy(Qt::NoFocus);
    scroll_->viewport()->setAutoFillBackground(false);
    strip_ = new TrayStrip(models, scroll_);
    strip_->setAutoFillBackground(false);
    scroll_->setWidget(strip_);
    foot_ = new TrayFoot(models, this);
    row->addWidget(scroll_, 1);
    row->addWidget(foot_);
    column->addWidget(new TrayEdge(*this));
    column->addLayout(row);
    // Called after the strip has received its new size.
    const auto show = [this](const QRect& rect) {
        if (!rect.isNull()) scroll_->ensureVisible(rect.center().x(), rect.center().y(), rect.width() / 2 + 44, 0);
    };
    connect(strip_, &TrayStrip::show_rect, this, show, Qt::QueuedConnection);
    connect(strip_, &TrayStrip::dragging, this, [this](bool begins) {
        opened_for_drag_ = begins && !room_.tray_is_full(beside_);
        refresh();
    });
    connect(foot_, &TrayFoot::choose_wanted, strip_, &TrayStrip::open_choose_sheet);
    connect(&room_, &Room::changed, this, &TrayPanel::refresh);
    refresh();
}

void TrayPanel::stand_beside(Room::Beside beside) {
    if (beside_ == beside) return;
    beside_ = beside;
    refresh();
}

void TrayPanel::change_rest() { room_.set_tray_full(beside_, !room_.tray_is_full(beside_)); }

void TrayPanel::step_by(int px) {
    const bool full = room_.tray_is_full(beside_);
    if (full && px < 0 && room_.tray_height() == Room::least_tray) return room_.set_tray_full(beside_, false);
    if (full) return room_.set_tray_height(room_.tray_height() + px);
    if (px > 0) room_.set_tray_full(beside_, true);
}

void TrayPanel::drag_to(int strip_px) {
    const bool full = strip_px > (tray::slim_height + Room::least_tray) / 2;
    if (full) room_.set_tray_height(strip_px);
    room_.set_tray_full(beside_, full);
}

void TrayPanel::refresh() {
    const bool slim = !room_.tray_is_full(beside_) && !opened_for_drag_;
    if (slim) {
        strip_->set_slim();
        scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        scroll_->setFixedHeight(tray::slim_height);
    } else {
        strip_->set_full(room_.tray_height());
        scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
        scroll_->setFixedHeight(room_.tray_height() + scroll_bar);
    }
    layout()->setContentsMargins(0, 0, 0, slim ? below_slim : below_full);
    foot_->set_slim(slim);
}

}
