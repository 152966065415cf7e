// The card that asks in which folder is to be saved, where the ticket leaves that open.
#pragma once

#include "app/run/question_card.h"

class QLineEdit;
class QStringListModel;

namespace yelvin {

class SavePlaces;

class FolderCard : public QuestionCard {
    Q_OBJECT
  public:
    FolderCard(SavePlaces& places, QWidget* parent);

  protected:
    void give_up() override;

  private:
    SavePlaces& places_;
    QLineEdit* folder_;
    QStringListModel* used_; // folders that are offered while one is typed

    void choose_on_disk();
    void give();
    void refresh();
};

}
