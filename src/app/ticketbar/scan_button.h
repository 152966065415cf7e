// The one big button, as high as the ticket bar: what a press does, and below it the scanner's state.
#pragma once

#include <QPushButton>

namespace yelvin {

class ScanButton : public QPushButton {
    Q_OBJECT
  public:
    explicit ScanButton(QWidget* parent);
    enum class State { Ready, Busy, Wrong };
    void say(const QString& does, const QString& scanner, State state);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    QString scanner_;
    State state_ = State::Ready;
};

}
