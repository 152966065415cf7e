// The bar above the view with news: what was saved or failed, with links.
#pragma once

#include "app/models/window/messages.h"

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
    // Shows a sentence; the first of `files` can be opened or shown in its folder.
    void say(const QString& words, News news, const QStringList& files = {}, const Offer& offer = {});

  private:
    Errands& errands_;
    QLabel* words_;
    QPushButton *open_, *folder_, *offer_button_;
    QStringList files_;
    Offer offer_;
};

}
