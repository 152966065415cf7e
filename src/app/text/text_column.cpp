#include "app/text/text_column.h"

#include "app/text/text_marks.h"
#include "app/theme/theme.h"
#include "core/text/languages.h"
#include "core/text/word_order.h"

#include <QApplication>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>

#include <cmath>

namespace yelvin {

TextColumn::TextColumn(TextChoice& choice, QWidget* parent) : QAbstractScrollArea(parent), choice_(choice) {
    setObjectName("text-column");
    setAccessibleName(tr("Text of the page"));
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::StrongFocus);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    viewport()->setMouseTracking(true);
    viewport()->setAutoFillBackground(false);
    verticalScrollBar()->setSingleStep(24);
    connect(&choice_, &TextChoice::changed, this, &TextColumn::follow);
    connect(&choice_, &TextChoice::pointed, viewport(), qOverload<>(&QWidget::update));
}

void TextColumn::follow() {
    const ShownTextPtr now = choice_.shown();
    if (now != text_) {
        const bool other_page = !now || !text_ || now->page->id != text_->page->id;
        text_ = now;
        lay_out();
        if (other_page) verticalScrollBar()->setValue(0);
    }
    viewport()->update();
}

void TextColumn::set_page(const std::vector<double>& tops, double page_top) {
    if (tops == tops_ && page_top == page_top_) return;
    tops_ = tops;
    page_top_ = page_top;
    lay_out();
    viewport()->update();
}

void TextColumn::set_sentence(const QString& sentence, const QString& action) {
    if (sentence == sentence_ && action == action_) return;
    sentence_ = sentence;
    action_ = action;
    viewport()->update();
}

// ---- drawing

void TextColumn::paint_sentence(QPainter& painter) {
    const auto& c = theme::colours();
    painter.setFont(theme::body());
    painter.setPen(c.quiet);
    const QRectF field(text_side, 0, viewport()->width() - 2 * text_side, viewport()->height() * 0.4);
    painter.drawText(field, Qt::AlignHCenter | Qt::AlignBottom | Qt::TextWordWrap, sentence_);
    action_rect_ = {};
    if (action_.isEmpty()) return;
    QFont link = theme::strong();
    painter.setFont(link);
    painter.setPen(c.plum);
    const double wide = QFontMetricsF(link).horizontalAdvance(action_) + 8;
    action_rect_ = {(viewport()->width() - wide) / 2, field.bottom() + 10, wide, 22};
    painter.drawText(action_rect_, Qt::AlignCenter, action_);
}

void TextColumn::paint_words(QPainter& painter) {
    const auto& c = theme::colours();
    const QRectF seen = QRectF(viewport()->rect()).translated(-offset());
    const auto marks = [&](const std::optional<TextChoice::Stretch>& stretch, WordMark mark) {
        if (!stretch) return;
        for (size_t i = stretch->first; i <= stretch->last && i < words_.size(); ++i)
            paint_mark(painter, words_[i], mark);
    };
    marks(choice_.spoken(), WordMark::Spoken);
    for (const auto& found : choice_.found()) marks(found, WordMark::Found);
    marks(choice_.stretch(), WordMark::Stretch);
    if (const auto word = choice_.word(); word && *word < words_.size())
        paint_mark(painter, words_[*word], WordMark::Chosen);
    for (size_t i = 0; i < words_.size(); ++i) {
        if (!words_[i].intersects(seen)) continue;
        const TextParagraph& about = text_->text.paragraphs[text_->words[i].paragraph];
        painter.setFont(word_font(about.kind, text_->word(i).bold, larger_));
        painter.setPen(about.left_out ? c.quiet : c.ink);
        const Drawn& word = drawn(i);
        const bool fits = word.width <= words_[i].width() + 1;
        if (!fits) painter.setClipRect(words_[i].adjusted(0, -4, 0, 4));
        painter.drawStaticText(words_[i].topLeft(), word.text);
        if (!fits) painter.setClipping(false);
        if (about.left_out) {
            const double y = std::round(words_[i].center().y()) + 0.5;
            painter.drawLine(QPointF(words_[i].left() - 2, y), QPointF(words_[i].right() + 2, y));
        }
    }
    for (const size_t word : text_->doubtful)
        if (words_[word].intersects(seen)) paint_wave(painter, words_[word].adjusted(0, 0, 0, -1));
}

void TextColumn::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(viewport());
    painter.fillRect(viewport()->rect(), c.paper);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!text_ || text_->words.empty()) {
        paint_sentence(painter);
    } else {
        painter.save();
        painter.translate(offset());
        paint_words(painter);
        if (const auto pointed = choice_.pointed_at(); pointed && *pointed < paragraphs_.size()) {
            const QRectF& box = paragraphs_[*pointed].box;
            painter.fillRect(QRectF(box.left() - 12, box.top() + 1, 2, box.height() - 4), c.plum);
        }
        painter.setFont(theme::measure());
        painter.setPen(c.quiet);
        for (const Placed& paragraph : paragraphs_) {
            const QRectF note(paragraph.box.right() + 8, paragraph.box.top(), note_width + text_side - 22, 20);
            painter.drawText(note, Qt::AlignRight | Qt::AlignVCenter,
                             QFontMetricsF(painter.font()).elidedText(paragraph.note, Qt::ElideRight, note.width()));
        }
        painter.restore();
    }
    if (hasFocus()) {
        painter.setPen(QPen(c.plum, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(viewport()->rect().adjusted(3, 3, -4, -4));
    }
}

void TextColumn::resizeEvent(QResizeEvent*) { lay_out(); }

void TextColumn::scrollContentsBy(int, int) {
    viewport()->update();
    emit scrolled();
}

// ---- the mouse

void TextColumn::point_at(QPointF at) {
    const double y = at.y() - offset().y();
    std::optional<size_t> pointed;
    for (size_t p = 0; p < paragraphs_.size(); ++p)
        if (y >= paragraphs_[p].box.top() && y <= paragraphs_[p].box.bottom()) pointed = p;
    choice_.point_at(pointed);
}

void TextColumn::leaveEvent(QEvent*) { choice_.point_at(std::nullopt); }

void TextColumn::mousePressEvent(QMouseEvent* event) {
    pressed_ = text_ && !text_->words.empty() ? word_at(event->position(), false) : std::nullopt;
    pressed_at_ = event->position();
    stretches_ = false;
    if ((!text_ || text_->words.empty()) && action_rect_.contains(event->position())) return emit action_wanted();
    if (event->button() == Qt::RightButton) {
        if (const auto word = text_ ? word_at(event->position(), true) : std::nullopt)
            emit paragraph_pressed(text_->words[*word].paragraph, {event->globalPosition().toPoint(), QSize(1, 1)});
        pressed_.reset();
        return;
    }
    if (!pressed_) {
        pressed_ = text_ ? word_at(event->position(), true) : std::nullopt; // a stretch may begin beside it
        choice_.choose_none();
        stretches_ = true;
        return;
    }
    if (doubled_.isValid() && doubled_.elapsed() < QApplication::doubleClickInterval()) {
        choice_.stretch_over_paragraph(*pressed_);
        pressed_.reset();
    } else if ((event->modifiers() & Qt::ShiftModifier) && choice_.stretch()) {
        choice_.stretch_to(*pressed_);
        pressed_.reset();
    }
    doubled_.invalidate();
}

void TextColumn::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) {
        point_at(event->position());
        const bool link = (!text_ || text_->words.empty()) && action_rect_.contains(event->position());
        viewport()->setCursor(link                                ? Qt::PointingHandCursor
                              : word_at(event->position(), false) ? Qt::IBeamCursor
                                                                  : Qt::ArrowCursor);
        return;
    }
    if (!pressed_) return;
    const bool far = (event->position() - pressed_at_).manhattanLength() >= QApplication::startDragDistance();
    if (far && !choice_.stretch()) choice_.stretch_from(*pressed_);
    if (far) stretches_ = true;
    if (const auto word = far ? word_at(event->position(), true) : std::nullopt) choice_.stretch_to(*word);
}

void TextColumn::mouseReleaseEvent(QMouseEvent*) {
    const auto pressed = std::exchange(pressed_, std::nullopt);
    if (!pressed || stretches_) return;
    choice_.choose(*pressed);
    emit word_pressed();
}

void TextColumn::mouseDoubleClickEvent(QMouseEvent* event) {
    const auto word = text_ ? word_at(event->position(), false) : std::nullopt;
    if (!word) return;
    choice_.stretch_from(*word);
    doubled_.start();
}

}
