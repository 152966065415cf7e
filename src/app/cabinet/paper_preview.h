// The page of the paper that is looked at, with its words marked, and what can be done with it.
#pragma once

#include <QWidget>

class QLabel;

namespace yelvin {

class CabinetSearch;

class PaperPreview : public QWidget {
    Q_OBJECT
  public:
    PaperPreview(CabinetSearch& search, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent* event) override;

  private:
    CabinetSearch& search_;
};

}
