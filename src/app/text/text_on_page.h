// The text on the page: waves under doubtful words, selecting words like in a book, and the numbers of paragraphs in
// reading order, which are dragged to another place or clicked to correct a paragraph.
#pragma once

#include "app/models/text/text_choice.h"
#include "app/page/page_over.h"

#include <QElapsedTimer>
#include <QObject>
#include <QPointF>
#include <QRectF>

namespace yelvin {

class PageView;

class TextOnPage : public QObject, public PageOver {
    Q_OBJECT
  public:
    TextOnPage(PageView& page, TextChoice& choice, PageTexts& texts);

    // Places on the view; empty if there is none.
    QRectF word_rect(size_t word) const;
    QRectF paragraph_rect(size_t paragraph) const;
    QRectF number_rect(size_t paragraph) const;

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    bool release(const QMouseEvent& event) override;
    bool double_press(const QMouseEvent& event) override;

  signals:
    void paragraph_pressed(size_t paragraph, const QRect& anchor); // global coordinates
    void word_pressed();                                           // a word was selected

  private:
    PageView& page_;
    TextChoice& choice_;
    PageTexts& texts_;
    std::optional<size_t> pressed_, number_; // the word, or the paragraph number, that was pressed
    QPointF pressed_at_, mouse_;
    bool drags_ = false, stretches_ = false;
    QElapsedTimer doubled_; // time since a double-click: a third click selects the paragraph

    QRectF rect_of(const ShownText& text, size_t word) const;
    QRectF box_of(const ShownText& text, size_t paragraph) const;
    QRectF number_of(const ShownText& text, size_t paragraph) const;
    std::optional<size_t> word_at(QPointF at) const; // exactly at this place
    std::optional<size_t> nearest_word(QPointF at) const;
    std::optional<size_t> number_at(QPointF at) const;
    std::optional<size_t> target() const; // place where the dragged number would go
    bool press_right(const QMouseEvent& event);
    void release_number(size_t number);
    void paint_words(QPainter& painter, const ShownText& text) const;
    void paint_paragraphs(QPainter& painter, const ShownText& text) const;
};

}
