// The view of the pieces in their places, where they are dragged and turned by hand and click into the nearest good
// fit; and the walk along the seams at full resolution.
#pragma once

#include "app/models/scanning/stitching.h"

#include <QWidget>

namespace yelvin {

class StitchView : public QWidget {
    Q_OBJECT
  public:
    StitchView(Scanning& run, Stitching& stitching, QWidget* parent);

    void turn_chosen(double degrees);
    bool step_out(); // leaves the walk; returns false if there is none

    // Places of a piece's middle and of its turning bar on the screen.
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
    std::vector<Pose> parked_; // places beside the picture for pieces without a place
    double scale_ = 1;         // screen px for each mm
    QPointF origin_;           // place of the picture on the screen
    bool marks_seam_ = false;  // whether the seam is marked on the walk
    int asked_place_ = -2;
    int scanned_percent_ = 0; // of the piece that is being scanned

    void lay_out();
    Pose pose_of(size_t piece) const;
    QPolygonF outline_of(size_t piece) const; // on the screen
    QPointF on_screen(cv::Point2d mm) const { return origin_ + QPointF(mm.x, mm.y) * scale_; }
    int piece_at(QPointF at) const;
    void ask_for_part();
    void paint_pieces(QPainter& painter);
    void paint_seams(QPainter& painter);
    void paint_numbers(QPainter& painter);
    void paint_walk(QPainter& painter);
    void paint_seam_marks(QPainter& painter, const Stitching::Place& place, QPointF middle, double px_per_mm);
    void paint_overview(QPainter& painter, const Stitching::Place& place);
    void paint_empty(QPainter& painter);
};

}
