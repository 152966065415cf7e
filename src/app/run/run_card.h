// The card above the view while a run goes on or waits: its progress, what happened, and two or three answers.
#pragma once

#include <QFrame>

class QLabel;
class QPushButton;
class QSpinBox;

namespace yelvin {

class Scanning;

class RunCard : public QFrame {
    Q_OBJECT
  public:
    RunCard(Scanning& run, QWidget* parent);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    Scanning& run_;
    QLabel *title_, *words_;
    QSpinBox* gap_;
    QPushButton *main_, *second_, *third_;

    void refresh();
    void show_progress();
    void show_waiting();
    void set_button(QPushButton* button, const QString& words, const QString& tip);
};

}
