// The card that asks whether to go on waiting for a scanner that sends nothing. The scan goes on until it is stopped.
#pragma once

#include "app/run/question_card.h"

#include <chrono>

namespace yelvin {

class Scanners;

class SilenceCard : public QuestionCard {
    Q_OBJECT
  public:
    SilenceCard(Scanners& scanners, QWidget* parent);

  protected:
    void give_up() override;

  private:
    Scanners& scanners_;
    std::chrono::seconds ask_from_{}; // asked again once it has lasted that long

    void wait_on();
    void refresh();
};

}
