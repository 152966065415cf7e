// The view of the glass: its preview and the frames on it. Dragging on empty glass draws a frame; dragging its corners
// resizes it, an edge moves alone, the inside moves it, the bar outside the top turns it. Lengths are mm from the
// marked corner (upper left).
#pragma once

#include "app/glass/frame_drag.h"

#include <QWidget>

class QPushButton;
class QLabel;

namespace yelvin {

class Glass;
class NextScan;
class Scanners;
class Tickets;

class GlassView : public QWidget {
    Q_OBJECT
  public:
    GlassView(Glass& glass, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent);
    QPointF to_screen(double x_mm, double y_mm) const;
    double mm_per_px() const;
    void turn_chosen(double degrees);
    void turn_chosen_quarter(int quarters);

  signals:
    void preview_wanted();
    void add_files_wanted();

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    Glass& glass_;
    Scanners& scanners_;
    Tickets& tickets_;
    NextScan& next_scan_;
    QPushButton *preview_button_, *bench_button_, *files_button_, *new_paper_;
    QLabel* hint_;
    Grip grip_;
    bool drawing_ = false;
    cv::Point2d start_mm_;
    Region start_frame_;
    std::optional<Dragged> changing_; // a frame that is being dragged
    QImage scaled_;                   // the preview at its size on the screen
    qint64 scaled_of_ = 0;

    QRectF glass_rect() const;
    double scale() const; // screen px for each mm
    QPointF to_mm(QPointF screen) const;
    std::vector<Frame> frames_now() const;
    Snapping snapping(Qt::KeyboardModifiers keys) const;
    void show_cursor(const Grip& under);
    void change_chosen(const std::function<void(Frame&)>& how);
    void refresh();
    void place_widgets();
    SizeMm glass_size() const;
    bool shows_feeder() const;
    void paint_glass(QPainter& painter);
    void paint_feeder(QPainter& painter) const;
    void paint_frame(QPainter& painter, const Region& frame, int number, bool chosen) const;
    void paint_guides(QPainter& painter) const;
    void paint_magnifier(QPainter& painter) const;
    void keep(std::vector<Frame> frames);
};

}
