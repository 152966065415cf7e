// The card that asks for a folder to save in, if the ticket asks each time.
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
    QStringListModel* used_; // folders for completion

    void choose_on_disk();
    void give();
    void refresh();
};

}
