// A layer over the page of a PageView, which gets mouse events first. The view does not own its layers. All functions
// are called on the window's thread, with coordinates of the view.
#pragma once

class QContextMenuEvent;
class QMouseEvent;
class QPainter;

namespace yelvin {

class PageOver {
  public:
    virtual ~PageOver() = default;
    virtual void paint(QPainter& painter) = 0;
    // Return true if the event was handled, so that the page does not move.
    virtual bool press(const QMouseEvent& event) = 0;
    virtual bool move(const QMouseEvent& event) = 0;
    virtual bool release(const QMouseEvent& event) = 0;
    virtual bool double_press(const QMouseEvent& event) = 0;
};

}
