// Something that lies over the page that a PageView shows, and takes the mouse before it.
#pragma once

class QContextMenuEvent;
class QMouseEvent;
class QPainter;

namespace yelvin {

class PageOver {
  public:
    virtual ~PageOver() = default;
    virtual void paint(QPainter& painter) = 0; // in the view's coordinates
    // True: it is taken, and the page does not move.
    virtual bool press(const QMouseEvent& event) = 0;
    virtual bool move(const QMouseEvent& event) = 0;
    virtual bool release(const QMouseEvent& event) = 0;
    virtual bool double_press(const QMouseEvent& event) = 0;
};

}
