// The view of the test strip: one detail at every resolution and colour mode, side by side. Dragging in any picture
// moves the detail, the wheel enlarges it; all show the same part.
#pragma once

#include "core/strip/test_strip.h"

#include <QWidget>

class QLabel;
class QPushButton;

namespace yelvin {

class NextScan;
class Scanners;
class StripModel;
class Tickets;

class StripView : public QWidget {
    Q_OBJECT
  public:
    StripView(StripModel& strip, Scanners& scanners, Tickets& tickets, NextScan& next_scan, QWidget* parent);
    QRectF cell_rect(int dpi, Ink ink) const; // place of a cell's picture; empty if there is none
    RectMm detail() const;                    // mm of the page
    QImage cell_picture(int dpi, Ink ink);

  protected:
    void paintEvent(QPaintEvent*) override;
    void showEvent(QShowEvent*) override { refresh(); }
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    StripModel& strip_;
    Scanners& scanners_;
    Tickets& tickets_;
    NextScan& next_scan_;
    QLabel* words_;
    QPushButton *make_, *from_page_;
    cv::Point2d centre_mm_;
    double width_mm_ = 34;
    QPointF pressed_at_;
    cv::Point2d centre_at_press_;
    bool dragging_ = false;
    const uchar* of_ = nullptr; // pixels of the scan whose pictures they are
    QHash<int, QImage> pictures_;
    RectMm pictured_;

    std::vector<int> columns() const;
    std::vector<Ink> rows() const;
    const StripCell* cell_at(QPointF at) const;
    void refresh();
    void move_to(cv::Point2d centre);
};

}
