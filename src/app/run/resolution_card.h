// The card that asks for the resolution of added pictures that have none.
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
