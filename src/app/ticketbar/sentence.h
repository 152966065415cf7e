// The ticket as one sentence of words and phrases. The template is one translatable string with numbered places (%1 to
// %99), so that a translation may reorder them; each place is a phrase that can be pressed.
#pragma once

#include <QList>
#include <QString>
#include <QWidget>

namespace yelvin {

struct Phrase {
    QString key;         // what it changes: "source", "ink", and so on
    QString words;       // "automatic colour"
    QString became = {}; // what an automatic value became, shown quietly behind it: "grey"
    bool wrong = false;  // whether the choice cannot be carried out
    QString why = {};    // tooltip: why the automatic value became this
    QString lead = {};   // plain words in front of it, omitted if the phrase is empty
    bool operator==(const Phrase&) const = default;
};

struct SentencePiece {
    QString words;
    int phrase = -1; // index of the phrase; -1 for plain words
};
// Splits a template at its places. Places whose phrase is missing or empty are omitted.
QList<SentencePiece> pieces_of(const QString& pattern, const QList<Phrase>& phrases);

class Sentence : public QWidget {
    Q_OBJECT
  public:
    explicit Sentence(QWidget* parent);
    static constexpr int line_height = 23;
    void set(const QString& pattern, const QList<Phrase>& phrases);
    QString text() const; // the whole sentence as text
    QRect phrase_rect(const QString& key) const;
    void set_open(const QString& key); // draws the phrase as pressed while its sheet is open
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;
    QSize sizeHint() const override { return {400, heightForWidth(width() > 0 ? width() : 400)}; }

  signals:
    void pressed(const QString& key, const QRect& global_anchor);

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    bool focusNextPrevChild(bool next) override;
    bool event(QEvent*) override;

  private:
    struct Run {
        QString words;
        QRect rect;
        int phrase = -1;
        bool quiet = false;
    };
    QString pattern_;
    QList<Phrase> phrases_;
    QList<Run> runs_;
    int hovered_ = -1, focused_ = 0;
    QString open_;

    int lay_out(int width, QList<Run>& runs) const;
    int phrase_at(QPoint at) const;
    int next_phrase(int from, int step) const; // `from` if there is none
    void press(int phrase);
};

}
