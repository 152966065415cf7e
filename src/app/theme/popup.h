// The frame of a sheet that opens over the window: a press outside closes it, and it is gone then.
#pragma once

#include <QFrame>

namespace yelvin::theme {

class Popup : public QFrame {
    Q_OBJECT
  public:
    explicit Popup(QWidget* parent);

  protected:
    // As large as what is in it, in the middle of the window, so far below its upper edge.
    void open_in_the_middle(int below_top_px);
};

}
