// The card shown if the window is closed while documents are being saved: how many, and what will happen to them.
#pragma once

#include "app/run/question_card.h"

namespace yelvin {

class Closing;

class ClosingCard : public QuestionCard {
    Q_OBJECT
  public:
    ClosingCard(Closing& closing, QWidget* parent);

  signals:
    void close_wanted(); // the window should close at once

  protected:
    void give_up() override;

  private:
    Closing& closing_;
    void refresh();
};

}
