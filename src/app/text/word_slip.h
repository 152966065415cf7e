// The slip under a word on the page: its enlarged picture and an entry with the text. Enter confirms or corrects the
// word, Tab goes to the next doubtful one.
#pragma once

#include <QFrame>
#include <QImage>
#include <QLineEdit>

#include <optional>

class QLabel;

namespace yelvin {

// An entry in which Ctrl+Z undoes typing; if nothing was typed, it is the window's undo.
class SlipEntry : public QLineEdit {
    Q_OBJECT
  public:
    using QLineEdit::QLineEdit;

  protected:
    bool event(QEvent* event) override;

  signals:
    void walked(int step);
    void answered();
};

class WordSlip : public QFrame {
    Q_OBJECT
  public:
    explicit WordSlip(QWidget* page);
    // Shows the slip below the word, or above it if there is no room. `picture` is the word as on the page, until a
    // better one is available.
    void show_for(const QRectF& word, const QImage& picture, const QString& read);
    void set_picture(const QImage& picture);
    void stand_at(const QRectF& word);
    // Returns what was typed, if it differs from the text and was not taken yet, and marks it as taken.
    std::optional<QString> take_typed();
    SlipEntry& entry() { return *entry_; }

  signals:
    void said(const QString& is);
    void walked(int step); // to the next or previous doubtful word

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    SlipEntry* entry_;
    QLabel* advice_;
    QImage picture_;
    QString read_;
    QRectF word_;
    bool above_ = false;

    int picture_width() const;
    void lay_out();
    void advise();
};

}
