// A card above the view that asks a question while the user does something else. It never takes the focus, and Esc
// cancels the question only if the focus is in the card.
#pragma once

#include <QFrame>

class QHBoxLayout;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace yelvin {

class QuestionCard : public QFrame {
    Q_OBJECT
  protected:
    // The label is named `name`-words and shows plain text, because parts of it may come from elsewhere.
    QuestionCard(const QString& name, QWidget* parent);

    QLabel* words() const { return words_; }
    void add(QWidget* widget);                                      // at the right end
    void add_below(QWidget* widget);                                // below the sentence
    QPushButton* add_link(const QString& text, const char* name);   // an answer
    QPushButton* add_button(const QString& text, const char* name); // the answer that most users will give

    virtual void give_up() = 0;
    // Shows or hides the card. If the focus is in it when it is hidden, no other widget gets the focus.
    void appear(bool is_asked);

    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void paintEvent(QPaintEvent*) override;

  private:
    QHBoxLayout* row_;
    QVBoxLayout* left_;
    QLabel* words_;
};

}
