// The chosen page as large as possible: zoom down to single dots, pan by dragging, the original while B is held. While
// a page is being scanned it shows that page growing.
#pragma once

#include "app/desk.h"

#include <QWidget>

class QLabel;

namespace yelvin {

class PageView : public QWidget {
    Q_OBJECT
  public:
    PageView(Desk& desk, QWidget* parent);
    void show_original(bool held);
    bool shows_original() const { return held_; }
    void set_fit();
    void set_zoom(double page_pixels_to_screen); // 1: one dot of the page is one of the screen
    QString zoom_words() const;

  signals:
    void zoom_changed();

  protected:
    void paintEvent(QPaintEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

  private:
    Desk& desk_;
    double zoom_ = 0;          // 0: fit
    QPointF centre_{0.5, 0.5}; // of the page, in parts of its size
    QPointF dragged_from_;
    bool held_ = false;
    QImage growing_;
    int rows_ = 0;

    Levels picture() const;
    double scale(QSize full) const;
    void zoom_at(QPointF screen, double factor);
    void paint_growing(QPainter& painter);
};

}
