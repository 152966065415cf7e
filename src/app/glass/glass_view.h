// The glass: its preview, and the frames drawn on it. A frame is drawn by dragging on the empty glass; its corner
// mounts resize it, its edges move alone, its inside moves it. All lengths are mm from the marked corner (upper left).
#pragma once

#include "app/desk.h"

#include <QWidget>

class QPushButton;
class QLabel;

namespace yelvin {

class GlassView : public QWidget {
    Q_OBJECT
  public:
    GlassView(Desk& desk, QWidget* parent);
    QPointF to_screen(double x_mm, double y_mm) const;
    int selected() const { return selected_; }

  signals:
    void add_files_wanted();

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    // Which sides of the frame follow the mouse; all of them when it is moved.
    struct Grip {
        int frame = -1;
        bool left = false, top = false, right = false, bottom = false;
        bool any() const { return left || top || right || bottom; }
    };
    Desk& desk_;
    QPushButton *preview_button_, *bench_button_, *files_button_;
    QLabel* hint_;
    int selected_ = -1;
    Grip grip_;
    bool drawing_ = false;
    QPointF start_mm_;
    RectMm start_frame_;
    std::optional<RectMm> changing_; // the frame while it is dragged

    QRectF glass_rect() const;
    double scale() const; // screen px for a mm
    QPointF to_mm(QPointF screen) const;
    QRectF screen_rect(const RectMm& frame) const;
    Grip grip_at(QPointF screen) const;
    RectMm dragged(QPointF mm) const;
    std::vector<RectMm> frames_now() const;
    void refresh();
    void place_widgets();
    SizeMm glass_size() const;
    bool shows_feeder() const;
    void paint_feeder(QPainter& painter) const;
    void paint_frame(QPainter& painter, const RectMm& frame, int number, bool chosen) const;
    void keep(std::vector<RectMm> frames);
};

}
