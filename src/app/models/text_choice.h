// Which words of the page looked at are chosen: one to be put right, or a stretch of them in the order of reading; and
// where the next doubtful one is.
#pragma once

#include "app/models/page_texts.h"

#include <QObject>

#include <optional>

namespace yelvin {

class Choice;

class TextChoice : public QObject {
    Q_OBJECT
  public:
    TextChoice(OutTray& tray, Choice& choice, PageTexts& texts, QObject* parent = nullptr);

    ShownTextPtr shown(); // of the page looked at; null where nothing was read

    // The word that is put right; nothing while there is none.
    std::optional<size_t> word() const { return word_; }
    void choose(size_t word);
    void choose_none();
    // The doubtful word behind the chosen one, on the pages behind too, then from the first page on; likewise before
    // it. False: there is none left in the document.
    bool next_doubtful(int step);
    // The chosen word as it now stands, and the next doubtful one is chosen.
    void put_right(const QString& is);
    void step(int by); // to the next word, or the one before

    // What is copied: from one word to another, whichever comes first.
    struct Stretch {
        size_t first = 0, last = 0;
        bool contains(size_t word) const { return word >= first && word <= last; }
    };
    std::optional<Stretch> stretch() const { return stretch_; }
    void stretch_from(size_t word); // begins it
    void stretch_to(size_t word);
    void stretch_on(int by); // its end that moves
    void stretch_over_paragraph(size_t word);
    void stretch_over_all();
    QString copied(); // the stretch, else the chosen word; empty: neither

    // Marked for other reasons: found, or being read aloud.
    void mark_found(std::vector<Stretch> found);
    const std::vector<Stretch>& found() const { return found_; }
    void stretch_over(Stretch what);
    void mark_spoken(std::optional<Stretch> spoken);
    std::optional<Stretch> spoken() const { return spoken_; }

    // The paragraph that the mouse is over, on either side.
    void point_at(std::optional<size_t> paragraph);
    std::optional<size_t> pointed_at() const { return pointed_at_; }

    void want_look() { emit look_wanted(); }

  signals:
    void look_wanted(); // where words are put right
    void changed();
    void pointed(); // pointed_at()

  private:
    OutTray& tray_;
    Choice& choice_;
    PageTexts& texts_;
    QString page_id_;
    std::optional<size_t> word_, pointed_at_;
    std::optional<Stretch> stretch_, spoken_;
    std::vector<Stretch> found_;
    size_t stretch_from_ = 0, stretch_to_ = 0; // as they were pressed

    void follow();
};

}
