// The Scan button, as high as the ticket bar, with the scanner's state below its word.
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
