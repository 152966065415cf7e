// The card that asks for passwords: for new files, for an existing file, or for signing in to a server.
#pragma once

#include "app/run/question_card.h"

class QCheckBox;
class QLineEdit;

namespace yelvin {

class PasswordKeeper;

class PasswordCard : public QuestionCard {
    Q_OBJECT
  public:
    PasswordCard(PasswordKeeper& keeper, QWidget* parent);

  protected:
    void give_up() override;

  private:
    PasswordKeeper& keeper_;
    QLineEdit *open_, *owner_;
    QCheckBox *shown_, *kept_;
    QLabel* wrong_;
    QPushButton* use_;

    void refresh();
    void give();
    void say_wrong(const QString& words);
};

}
