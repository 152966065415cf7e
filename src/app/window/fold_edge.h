// The edge to which the side column folds.
#pragma once

#include <QAbstractButton>

namespace yelvin {

class Room;

class FoldEdge : public QAbstractButton {
    Q_OBJECT
  public:
    FoldEdge(Room& room, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Room& room_;
    void refresh();
};

}
