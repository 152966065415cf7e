// The slip under a word on the page: its picture enlarged and, beside it in an entry as wide, what was read. Enter: it
// is right, or it is what was typed. Tab: the next doubtful one.
#pragma once

#include <QFrame>
#include <QImage>
#include <QLineEdit>

#include <optional>

class QLabel;

namespace yelvin {

// Ctrl+Z takes back what is typed; where nothing is, it is the window's.
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
    // Under the word, or above it where there is no room; `picture` as it is on the page, before a better one comes.
    void show_for(const QRectF& word, const QImage& picture, const QString& read);
    void set_picture(const QImage& picture);
    void stand_at(const QRectF& word);
    // What was typed over what was read, if anything was, and not taken yet; from then on it counts as taken.
    std::optional<QString> take_typed();
    SlipEntry& entry() { return *entry_; }

  signals:
    void said(const QString& is);
    void walked(int step); // to the next doubtful word, or the one before

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
