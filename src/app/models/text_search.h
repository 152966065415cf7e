// Words found in the text of the document that is looked at: anywhere in it, small and large letters and accents alike.
#pragma once

#include "app/models/page_walk.h"
#include "app/models/text_choice.h"

#include <QPointer>

namespace yelvin {

class TextSearch : public QObject {
    Q_OBJECT
  public:
    TextSearch(OutTray& tray, Choice& choice, PageTexts& texts, TextChoice& words, QObject* parent = nullptr);

    // From the page looked at on, that page first. Ends with changed(), again and again while pages are gone through.
    void look_for(const QString& words);
    void end(); // nothing is marked any more
    void next(int step);

    bool is_looking() const { return walk_ != nullptr; }
    int count() const { return static_cast<int>(matches_.size()); }
    int at() const { return at_; } // the one that is shown, from 0; -1: none
    const QString& words() const { return words_; }

  signals:
    void changed();

  private:
    struct Match {
        qsizetype page = 0; // of the document, from 0
        QString page_id;
        TextChoice::Stretch words;
    };
    OutTray& tray_;
    Choice& choice_;
    PageTexts& texts_;
    TextChoice& choice_of_words_;
    QString words_;
    std::vector<Match> matches_; // in the document's order
    int at_ = -1;
    QPointer<PageWalk> walk_;

    enum class Then { Show, Stay };
    void take(qsizetype page, const QString& page_id, Then then);
    void mark();
    void show(int match);
};

// As it is compared: small letters without accents.
QString folded(const QString& words);
// Where the words stand in a text, in order.
std::vector<TextChoice::Stretch> places_of(const QString& words, const ShownText& text);

}
