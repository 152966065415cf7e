// The card that asks how large pictures are that do not say it: at which resolution they were made.
#pragma once

#include "app/run/question_card.h"

class QSpinBox;

namespace yelvin {

class Incoming;

class ResolutionCard : public QuestionCard {
    Q_OBJECT
  public:
    ResolutionCard(Incoming& files, QWidget* parent);

  protected:
    void give_up() override;

  private:
    Incoming& files_;
    QSpinBox* dpi_;
    void refresh();
};

}
