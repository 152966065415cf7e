// The line above the view that says what was saved or went wrong, with what can be done about it.
#pragma once

#include "app/models/messages.h"

#include <QFrame>
#include <QStringList>

class QLabel;
class QPushButton;

namespace yelvin {

class Errands;
class Saving;

class NewsBar : public QFrame {
    Q_OBJECT
  public:
    NewsBar(Messages& messages, Saving& saving, Errands& errands, QWidget* parent);
    enum class News { Good, Bad };
    // `files`: the first of them can be opened, or shown in its folder.
    void say(const QString& words, News news, const QStringList& files = {}, const Offer& offer = {});

  private:
    Errands& errands_;
    QLabel* words_;
    QPushButton *open_, *folder_, *offer_button_;
    QStringList files_;
    Offer offer_;
};

}
