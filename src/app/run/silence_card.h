// The card that asks whether to keep waiting for a scanner that sends nothing. The scan continues until it is stopped.
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
    std::chrono::seconds ask_from_{}; // length of the silence at which it asks again

    void wait_on();
    void refresh();
};

}
