// The selected words of the current page: one that is being corrected, or a range in reading order; and walking through
// doubtful words. Lives on the window's thread.
#pragma once

#include "app/models/text/page_texts.h"

#include <QObject>

#include <optional>

namespace yelvin {

class Choice;

class TextChoice : public QObject {
    Q_OBJECT
  public:
    TextChoice(OutTray& tray, Choice& choice, PageTexts& texts, QObject* parent = nullptr);

    ShownTextPtr shown(); // text of the current page; null if it was not read

    // The word that is being corrected, if any.
    std::optional<size_t> word() const { return word_; }
    void choose(size_t word);
    void choose_none();
    // Go to the next, or previous, doubtful word, through all pages of the document and around its end. Return false if
    // none is left.
    bool next_doubtful(int step);
    // Corrects the word and goes to the next doubtful one.
    void put_right(const QString& is);
    void step(int by); // to the next or previous word

    // The selected range, in either direction.
    struct Stretch {
        size_t first = 0, last = 0;
        bool contains(size_t word) const { return word >= first && word <= last; }
    };
    std::optional<Stretch> stretch() const { return stretch_; }
    void stretch_from(size_t word); // begins a range
    void stretch_to(size_t word);
    void stretch_on(int by); // moves the end of the range
    void stretch_over_paragraph(size_t word);
    void stretch_over_all();
    QString copied(); // the range, or the word; empty if there is neither

    // Words that are marked because they were found or are being read aloud.
    void mark_found(std::vector<Stretch> found);
    const std::vector<Stretch>& found() const { return found_; }
    void stretch_over(Stretch what);
    void mark_spoken(std::optional<Stretch> spoken);
    std::optional<Stretch> spoken() const { return spoken_; }

    // The paragraph under the mouse, on either side.
    void point_at(std::optional<size_t> paragraph);
    std::optional<size_t> pointed_at() const { return pointed_at_; }

    void want_look() { emit look_wanted(); }

  signals:
    void look_wanted(); // the Text view is needed
    void changed();
    void pointed(); // pointed_at() changed

  private:
    OutTray& tray_;
    Choice& choice_;
    PageTexts& texts_;
    QString page_id_;
    std::optional<size_t> word_, pointed_at_;
    std::optional<Stretch> stretch_, spoken_;
    std::vector<Stretch> found_;
    size_t stretch_from_ = 0, stretch_to_ = 0; // in the order in which they were selected

    void follow();
};

}
