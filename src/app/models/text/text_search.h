// Finds words in the text of the current document, ignoring case and accents. Lives on the window's thread.
#pragma once

#include "app/models/text/page_walk.h"
#include "app/models/text/text_choice.h"

#include <QPointer>

namespace yelvin {

class TextSearch : public QObject {
    Q_OBJECT
  public:
    TextSearch(OutTray& tray, Choice& choice, PageTexts& texts, TextChoice& words, QObject* parent = nullptr);

    // Searches from the current page on. Emits changed() repeatedly while pages are visited.
    void look_for(const QString& words);
    void end(); // removes all marks
    void next(int step);

    bool is_looking() const { return walk_ != nullptr; }
    int count() const { return static_cast<int>(matches_.size()); }
    int at() const { return at_; } // index of the current match; -1: none
    const QString& words() const { return words_; }

  signals:
    void changed();

  private:
    struct Match {
        qsizetype page = 0; // index in the document
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

// Returns a text as it is compared: small letters without accents.
QString folded(const QString& words);
// Returns the places of the words in a text, in order.
std::vector<TextChoice::Stretch> places_of(const QString& words, const ShownText& text);

}
