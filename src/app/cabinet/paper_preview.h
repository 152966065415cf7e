// The page of the current result with its matches marked, and the actions for it.
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
