// The window is to close while documents are being saved: how many, and what becomes of them.
#pragma once

#include "app/run/question_card.h"

namespace yelvin {

class Closing;

class ClosingCard : public QuestionCard {
    Q_OBJECT
  public:
    ClosingCard(Closing& closing, QWidget* parent);

  signals:
    void close_wanted(); // at once

  protected:
    void give_up() override;

  private:
    Closing& closing_;
    void refresh();
};

}
