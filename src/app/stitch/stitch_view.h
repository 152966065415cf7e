// The pieces laid out in the view as they lie on each other: dragged and turned by hand, they click into the
// nearest good fit. And the walk along the seams, dot for dot.
#pragma once

#include "app/models/stitching.h"

#include <QWidget>

namespace yelvin {

class StitchView : public QWidget {
    Q_OBJECT
  public:
    StitchView(Scanning& run, Stitching& stitching, QWidget* parent);

    void turn_chosen(double degrees);
    bool step_out(); // of the walk; false: there is none

    // For tests and whoever points at things: where a piece's middle, and its turning bar, are seen.
    QPointF middle_of(int piece) const;
    QPointF bar_of(int piece) const;

  protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

  private:
    Scanning& run_;
    Stitching& stitching_;
    struct Drag {
        int piece = -1;
        bool turns = false;
        QPointF from;
        Pose start, now;
    };
    std::optional<Drag> drag_;
    std::vector<Pose> parked_; // of pieces without a place: beside the picture
    double scale_ = 1;         // screen dots for a mm
    QPointF origin_;           // of the picture, on screen
    bool marks_seam_ = false;  // on the walk
    int asked_place_ = -2;
    int scanned_percent_ = 0; // of the piece that comes in

    void lay_out();
    Pose pose_of(size_t piece) const;
    QPolygonF outline_of(size_t piece) const; // on screen
    QPointF on_screen(cv::Point2d mm) const { return origin_ + QPointF(mm.x, mm.y) * scale_; }
    int piece_at(QPointF at) const;
    void ask_for_part();
    void paint_pieces(QPainter& painter);
    void paint_seams(QPainter& painter);
    void paint_numbers(QPainter& painter);
    void paint_walk(QPainter& painter);
    void paint_seam_marks(QPainter& painter, const Stitching::Place& place, QPointF middle, double dots);
    void paint_overview(QPainter& painter, const Stitching::Place& place);
    void paint_empty(QPainter& painter);
};

}
