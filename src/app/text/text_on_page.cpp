#include "app/text/text_on_page.h"

#include "app/page/page_view.h"
#include "app/text/text_marks.h"
#include "app/theme/theme.h"
#include "core/text/text_places.h"

#include <QApplication>
#include <QMouseEvent>

#include <cmath>

namespace yelvin {

namespace {

constexpr double number_width = 18, number_height = 14, number_away = 9;

// The distance from the point to the box. Vertical distance counts more, so that words in the same line come first.
double away(const QRectF& box, QPointF at) {
    const double across = std::max({0.0, box.left() - at.x(), at.x() - box.right()}),
                 down = std::max({0.0, box.top() - at.y(), at.y() - box.bottom()});
    return std::hypot(across, 3 * down);
}

void paint_number(QPainter& painter, const QRectF& at, size_t number, bool out) {
    const auto& c = theme::colours();
    painter.setPen(QPen(out ? c.quiet : c.plum, 1, out ? Qt::DotLine : Qt::SolidLine));
    painter.setBrush(c.paper);
    painter.drawRoundedRect(at.adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    painter.setFont(theme::measure());
    painter.setPen(out ? c.quiet : c.plum);
    painter.drawText(at, Qt::AlignCenter, QString::number(number));
}

}

TextOnPage::TextOnPage(PageView& page, TextChoice& choice, PageTexts& texts)
    : QObject(&page), page_(page), choice_(choice), texts_(texts) {
    page_.lay_over(this);
    for (const auto signal : {&TextChoice::changed, &TextChoice::pointed})
        connect(&choice_, signal, &page_, qOverload<>(&QWidget::update));
}

// ---- positions

QRectF TextOnPage::rect_of(const ShownText& text, size_t word) const {
    return page_.to_screen(on_page(text.word(word).box, text.text.layer));
}

QRectF TextOnPage::box_of(const ShownText& text, size_t paragraph) const {
    return page_.to_screen(on_page(text.text.paragraphs[paragraph].box, text.text.layer));
}

// The number is to the left of the paragraph's first line. If numbers would overlap, every other one is moved further
// left.
QRectF TextOnPage::number_of(const ShownText& text, size_t paragraph) const {
    constexpr double least = 5;
    QRectF before;
    for (size_t i = 0; i <= paragraph; ++i) {
        const Word& first = text.text.layer.lines[text.text.paragraphs[i].first].words.front();
        const QRectF word = page_.to_screen(on_page(first.box, text.text.layer));
        const double x = std::max(least, box_of(text, i).left() - number_away - number_width);
        QRectF at(std::round(x), std::round(word.center().y() - number_height / 2), number_width, number_height);
        if (at.intersects(before)) at.moveLeft(std::max(least, at.left() - number_width - 3));
        before = at;
    }
    return before;
}

QRectF TextOnPage::word_rect(size_t word) const {
    const ShownTextPtr text = choice_.shown();
    return text && word < text->words.size() ? rect_of(*text, word) : QRectF();
}

QRectF TextOnPage::paragraph_rect(size_t paragraph) const {
    const ShownTextPtr text = choice_.shown();
    return text && paragraph < text->text.paragraphs.size() ? box_of(*text, paragraph) : QRectF();
}

QRectF TextOnPage::number_rect(size_t paragraph) const {
    const ShownTextPtr text = choice_.shown();
    return text && paragraph < text->text.paragraphs.size() ? number_of(*text, paragraph) : QRectF();
}

std::optional<size_t> TextOnPage::word_at(QPointF at) const {
    const auto nearest = nearest_word(at);
    return nearest && word_rect(*nearest).adjusted(-2, -3, 2, 3).contains(at) ? nearest : std::nullopt;
}

std::optional<size_t> TextOnPage::nearest_word(QPointF at) const {
    const ShownTextPtr text = choice_.shown();
    std::optional<size_t> nearest;
    double least = 0;
    for (size_t i = 0; text && i < text->words.size(); ++i) {
        const double far = away(rect_of(*text, i), at);
        if (!nearest || far < least) nearest = i, least = far;
    }
    return nearest;
}

std::optional<size_t> TextOnPage::number_at(QPointF at) const {
    const ShownTextPtr text = choice_.shown();
    for (size_t i = 0; text && i < text->text.paragraphs.size(); ++i)
        if (number_of(*text, i).adjusted(-3, -2, 3, 2).contains(at)) return i;
    return std::nullopt;
}

std::optional<size_t> TextOnPage::target() const {
    const ShownTextPtr text = choice_.shown();
    std::optional<size_t> nearest;
    double least = 0;
    for (size_t i = 0; text && i < text->text.paragraphs.size(); ++i) {
        const double far = away(box_of(*text, i).united(number_of(*text, i)), mouse_);
        if (!nearest || far < least) nearest = i, least = far;
    }
    return nearest;
}

// ---- drawing

void TextOnPage::paint(QPainter& painter) {
    const ShownTextPtr text = choice_.shown();
    if (!text) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    paint_words(painter, *text);
    paint_paragraphs(painter, *text);
    painter.restore();
}

void TextOnPage::paint_words(QPainter& painter, const ShownText& text) const {
    const auto marks = [&](const std::optional<TextChoice::Stretch>& stretch, WordMark mark) {
        if (!stretch) return;
        for (size_t i = stretch->first; i <= stretch->last && i < text.words.size(); ++i)
            paint_mark(painter, rect_of(text, i), mark);
    };
    marks(choice_.spoken(), WordMark::Spoken);
    for (const auto& found : choice_.found()) marks(found, WordMark::Found);
    marks(choice_.stretch(), WordMark::Stretch);
    if (const auto word = choice_.word(); word && *word < text.words.size())
        paint_mark(painter, rect_of(text, *word), WordMark::Chosen);
    for (const size_t word : text.doubtful) paint_wave(painter, rect_of(text, word));
    for (size_t i = 0; i < text.words.size(); ++i)
        if (text.text.paragraphs[text.words[i].paragraph].left_out)
            painter.fillRect(rect_of(text, i).adjusted(-1, -1, 1, 1), QColor(255, 255, 255, 165));
}

void TextOnPage::paint_paragraphs(QPainter& painter, const ShownText& text) const {
    const auto& c = theme::colours();
    const bool drags = drags_ && number_;
    const auto to = drags ? target() : std::nullopt;
    for (size_t i = 0; i < text.text.paragraphs.size(); ++i) {
        const bool out = text.text.paragraphs[i].left_out;
        const QRectF box = box_of(text, i), number = number_of(text, i);
        const bool pointed = choice_.pointed_at() == i;
        const double x = std::round(box.left() - number_away + 3) + 0.5;
        painter.setPen(pointed ? QPen(c.plum, 2) : QPen(c.hairline, 1));
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
        if (to && *to == i && *to != *number_) {
            painter.setPen(QPen(c.plum, 1.5));
            painter.setBrush(Qt::NoBrush);
            painter.drawRoundedRect(box.adjusted(-4, -3, 4, 3), 3, 3);
        }
        if (!drags || *number_ != i) paint_number(painter, number, i + 1, out);
    }
    if (!drags) return;
    const QSizeF size(number_width, number_height);
    paint_number(painter, {mouse_ - QPointF(size.width(), size.height()) / 2, size}, to.value_or(*number_) + 1, false);
}

// ---- the mouse

bool TextOnPage::press_right(const QMouseEvent& event) {
    const ShownTextPtr text = choice_.shown();
    auto paragraph = number_at(event.position());
    if (const auto word = nearest_word(event.position()); !paragraph && word) paragraph = text->words[*word].paragraph;
    if (paragraph) emit paragraph_pressed(*paragraph, {event.globalPosition().toPoint(), QSize(1, 1)});
    return true;
}

bool TextOnPage::press(const QMouseEvent& event) {
    pressed_at_ = mouse_ = event.position();
    drags_ = stretches_ = false;
    pressed_.reset();
    number_.reset();
    if (event.button() == Qt::RightButton) return press_right(event);
    if (event.button() != Qt::LeftButton) return false;
    number_ = number_at(event.position());
    if (number_) return true;
    pressed_ = word_at(event.position());
    if (!pressed_) { // the page is dragged
        choice_.choose_none();
        return false;
    }
    if (doubled_.isValid() && doubled_.elapsed() < QApplication::doubleClickInterval()) {
        choice_.stretch_over_paragraph(*pressed_);
        pressed_.reset();
    } else if ((event.modifiers() & Qt::ShiftModifier) && choice_.stretch()) {
        choice_.stretch_to(*pressed_);
        pressed_.reset();
    }
    doubled_.invalidate();
    return true;
}

bool TextOnPage::move(const QMouseEvent& event) {
    mouse_ = event.position();
    if (!(event.buttons() & Qt::LeftButton)) {
        const auto word = word_at(mouse_);
        choice_.point_at(word ? std::optional(choice_.shown()->words[*word].paragraph) : number_at(mouse_));
        page_.setCursor(number_at(mouse_) ? Qt::PointingHandCursor
                        : word_at(mouse_) ? Qt::IBeamCursor
                                          : Qt::ArrowCursor);
        return false;
    }
    const bool far = (mouse_ - pressed_at_).manhattanLength() >= QApplication::startDragDistance();
    if (number_) {
        drags_ = drags_ || far;
        page_.update();
        return true;
    }
    if (!pressed_) return false;
    if (!stretches_ && far) {
        stretches_ = true;
        choice_.stretch_from(*pressed_);
    }
    if (const auto word = stretches_ ? nearest_word(mouse_) : std::nullopt) choice_.stretch_to(*word);
    return true;
}

void TextOnPage::release_number(size_t number) {
    const auto to = target();
    const bool dragged = std::exchange(drags_, false);
    page_.update();
    const QRectF at = number_rect(number);
    if (dragged && to)
        texts_.move_paragraph(QString::fromStdString(choice_.shown()->page->id), number, *to);
    else if (!dragged)
        emit paragraph_pressed(number, {page_.mapToGlobal(at.topLeft().toPoint()), at.size().toSize()});
}

bool TextOnPage::release(const QMouseEvent& event) {
    mouse_ = event.position();
    if (const auto number = std::exchange(number_, std::nullopt)) {
        release_number(*number);
        return true;
    }
    const auto pressed = std::exchange(pressed_, std::nullopt);
    if (!pressed) return false;
    if (!stretches_) {
        choice_.choose(*pressed);
        emit word_pressed();
    }
    return true;
}

bool TextOnPage::double_press(const QMouseEvent& event) {
    const auto word = word_at(event.position());
    if (!word) return number_at(event.position()).has_value();
    choice_.stretch_from(*word);
    doubled_.start();
    return true;
}

}
