// The column with the text of the page, with paragraphs beside those of the page if there is room.
#pragma once

#include "app/models/text/text_choice.h"

#include <QAbstractScrollArea>
#include <QElapsedTimer>
#include <QHash>
#include <QStaticText>

namespace yelvin {

class TextColumn : public QAbstractScrollArea {
    Q_OBJECT
  public:
    explicit TextColumn(TextChoice& choice, QWidget* parent);
    // `tops`: the top of each paragraph on the page as shown, px below the page's top. `page_top`: distance of the
    // column's top from the page's.
    void set_page(const std::vector<double>& tops, double page_top);
    // Shows instead of a text why there is none, with what can be done.
    void set_sentence(const QString& sentence, const QString& action);

    QRectF word_rect(size_t word) const;          // on the viewport
    double paragraph_top(size_t paragraph) const; // in the whole column
    void show_word(size_t word);                  // scrolls to it
    int paragraph_in_view() const;                // the first one whose beginning is visible; -1: none

  signals:
    void word_pressed();
    void paragraph_pressed(size_t paragraph, const QRect& anchor); // global coordinates
    void action_wanted();
    void scrolled(); // the user scrolled

  protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void scrollContentsBy(int dx, int dy) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;

  private:
    static constexpr double text_side = 34, note_width = 84; // px, of the margin and the notes
    static QFont word_font(ParagraphKind kind, bool bold, double larger);
    struct Placed {
        QRectF box; // of the paragraph
        QString note;
    };
    TextChoice& choice_;
    ShownTextPtr text_;
    std::vector<QRectF> words_; // boxes in the column
    // Prepared words: half a thousand of them are laid out and painted at every press.
    struct Drawn {
        QStaticText text;
        double width = 0;
    };
    QHash<QString, Drawn> drawn_; // by font and word
    std::vector<Placed> paragraphs_;
    std::vector<double> tops_;
    double page_top_ = 0, height_ = 0, larger_ = 1;
    QString sentence_, action_;
    QRectF action_rect_;
    std::optional<size_t> pressed_;
    QPointF pressed_at_;
    bool stretches_ = false;
    QElapsedTimer doubled_;

    void follow();
    void lay_out();
    const Drawn& drawn(size_t word);
    double lay_paragraph(size_t paragraph, double top, double width);
    double lay_table(size_t paragraph, double top, double width);
    void point_at(QPointF at);
    std::optional<size_t> word_at(QPointF at, bool nearest) const; // on the viewport
    void paint_sentence(QPainter& painter);
    void paint_words(QPainter& painter);
    QPointF offset() const;
};

}
