// The panel beside the test strip: proposed choices with their reasons, each with a button that sets it in the ticket.
#pragma once

#include "core/strip/test_strip.h"

#include <QWidget>

class QVBoxLayout;

namespace yelvin {

class StripModel;
class Tickets;

class AdvicePanel : public QWidget {
    Q_OBJECT
  public:
    AdvicePanel(StripModel& strip, Tickets& tickets, QWidget* parent);

  protected:
    void showEvent(QShowEvent*) override { refresh(); }

  private:
    StripModel& strip_;
    Tickets& tickets_;
    QVBoxLayout* column_;
    void refresh();
    void add_entry(const StripAdvice& advice, size_t number);
};

// Returns a proposed choice and its reason as texts.
QString advice_title(const StripAdvice& advice);
QString advice_reason(const StripAdvice& advice);

}
