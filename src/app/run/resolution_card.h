// The card that asks how large pictures are that do not say it: at which resolution they were made.
#pragma once

#include "app/desk.h"

#include <QFrame>

class QLabel;
class QSpinBox;

namespace yelvin {

class ResolutionCard : public QFrame {
    Q_OBJECT
  public:
    ResolutionCard(Desk& desk, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Desk& desk_;
    QLabel* words_;
    QSpinBox* dpi_;
    void refresh();
};

}
