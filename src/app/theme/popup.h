// The frame of a sheet that opens over the window. A click outside closes and deletes it.
#pragma once

#include <QFrame>

namespace yelvin::theme {

class Popup : public QFrame {
    Q_OBJECT
  public:
    explicit Popup(QWidget* parent);

  protected:
    // Opens it in the size of its contents, in the middle of the window, `below` px below its upper edge.
    void open_in_the_middle(int below_top_px);
};

}
