// A card above the view that asks something while the person does something else: what it is about, and what can be
// answered. It never takes the focus; Esc gives the question up only where the focus is in it.
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
    // The label's object is named `name`-words; it shows plain text, since parts of it may come from somebody else.
    QuestionCard(const QString& name, QWidget* parent);

    QLabel* words() const { return words_; }
    void add(QWidget* widget);                                      // to the right of what is there
    void add_below(QWidget* widget);                                // under the words
    QPushButton* add_link(const QString& text, const char* name);   // an answer
    QPushButton* add_button(const QString& text, const char* name); // the one most will give

    virtual void give_up() = 0;
    // Shows or hides the card. If the focus is in it when it is hidden, no other widget receives the focus.
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
