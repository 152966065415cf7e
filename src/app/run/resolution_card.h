// The card that asks how large pictures are that do not say it: at which resolution they were made.
#pragma once

#include <QFrame>

class QLabel;
class QSpinBox;

namespace yelvin {

class Incoming;

class ResolutionCard : public QFrame {
    Q_OBJECT
  public:
    ResolutionCard(Incoming& files, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Incoming& files_;
    QLabel* words_;
    QSpinBox* dpi_;
    void refresh();
};

}
