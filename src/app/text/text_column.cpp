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

namespace {

constexpr double text_side = 34, note_width = 84, text_gap = 9, first_top = 18, last_gap = 30, longest_line = 680;
constexpr qsizetype most_drawn = 5000; // words kept as they were set

QFont font_of(ParagraphKind kind, bool bold, double larger) {
    QFont font = theme::body();
    const int size = kind == ParagraphKind::Heading ? 16 : kind == ParagraphKind::Table ? 13 : 14;
    font.setPixelSize(static_cast<int>(std::lround(size * larger)));
    if (bold || kind == ParagraphKind::Heading) font.setWeight(QFont::DemiBold);
    return font;
}

QString kind_note(const TextParagraph& paragraph) {
    switch (paragraph.kind) {
    case ParagraphKind::Heading:
        return TextColumn::tr("heading");
    case ParagraphKind::Table:
        return TextColumn::tr("table");
    case ParagraphKind::ListItem:
        return TextColumn::tr("list");
    case ParagraphKind::Paragraph:
        break;
    }
    return {};
}

// The note beside a paragraph: its kind if it is no plain text, or its language if that differs from the page's.
QString note_of(const TextParagraph& paragraph, const std::string& page_language) {
    if (paragraph.left_out) return TextColumn::tr("left out");
    if (!paragraph.language.empty() && !page_language.empty() && paragraph.language != page_language)
        return QString::fromStdString(language_words(paragraph.language));
    return kind_note(paragraph);
}

}

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

// ---- layout

// Lays the words out in lines. Lines of a right-to-left text begin at the right edge.
double TextColumn::lay_paragraph(size_t paragraph, double top, double width) {
    const TextParagraph& about = text_->text.paragraphs[paragraph];
    const bool leftwards = runs_right_to_left(text_->text.layer.lines[about.first]);
    const QFontMetricsF plain(font_of(about.kind, false, larger_));
    const double lead = std::round(plain.height() * 1.25), indent = about.kind == ParagraphKind::ListItem ? 16 : 0;
    double x = indent, y = top;
    for (size_t i = 0; i < text_->words.size(); ++i) {
        if (text_->words[i].paragraph != paragraph) continue;
        const double wide = std::min(width - indent, drawn(i).width);
        if (x > indent && x + wide > width) {
            x = indent;
            y += lead;
        }
        words_[i] = {leftwards ? text_side + width - x - wide : text_side + x, y, wide, plain.height()};
        x += wide;
        if (i + 1 < text_->words.size()) {
            const Joint between = joint(text_->text, text_->words[i], text_->words[i + 1]);
            if (!between.between.empty()) x += plain.horizontalAdvance(' ');
        }
    }
    return y + lead;
}

// Lays out the rows of a table, with the words in their horizontal positions on the page.
double TextColumn::lay_table(size_t paragraph, double top, double width) {
    const TextParagraph& about = text_->text.paragraphs[paragraph];
    const QFontMetricsF metrics(font_of(about.kind, false, larger_));
    const double lead = std::round(metrics.height() * 1.3), by = width / std::max(1, about.box.width);
    double y = top - lead, end = 0;
    int row_middle = 0;
    std::optional<size_t> line;
    for (size_t i = 0; i < text_->words.size(); ++i) {
        if (text_->words[i].paragraph != paragraph) continue;
        const Word& word = text_->word(i);
        const int middle = word.box.y + word.box.height / 2;
        const bool new_line = line != text_->words[i].line,
                   same_row = line && std::abs(middle - row_middle) < word.box.height / 2 && word.box.x > about.box.x;
        if (new_line && !(same_row && end > 0 && text_side + (word.box.x - about.box.x) * by >= end)) {
            y += lead;
            end = 0;
        }
        if (new_line) row_middle = middle;
        line = text_->words[i].line;
        const double wide = drawn(i).width, x = std::max(text_side + (word.box.x - about.box.x) * by, end);
        words_[i] = {x, y, wide, metrics.height()};
        end = x + wide + metrics.horizontalAdvance(' ');
    }
    return y + lead;
}

void TextColumn::lay_out() {
    words_.assign(text_ ? text_->words.size() : 0, {});
    paragraphs_.clear();
    height_ = 0;
    // In a wide column the letters are larger, so that lines remain short enough to read.
    const double room = viewport()->width() - 2 * text_side - note_width;
    const double larger = std::clamp(room / 620, 1.0, 1.3);
    if (std::exchange(larger_, larger) != larger || drawn_.size() > most_drawn) drawn_.clear();
    const double width = std::clamp(room, 120.0, longest_line * larger_);
    double bottom = first_top - text_gap;
    const size_t count = text_ ? text_->text.paragraphs.size() : 0;
    for (size_t p = 0; p < count; ++p) {
        const TextParagraph& about = text_->text.paragraphs[p];
        const bool heading = about.kind == ParagraphKind::Heading,
                   below_heading = p > 0 && text_->text.paragraphs[p - 1].kind == ParagraphKind::Heading;
        double top = bottom + text_gap + (heading ? 5 : below_heading ? -7 : 0);
        // The text is aligned with its paragraph on the page, unless the text before it extends further down.
        if (p < tops_.size()) top = std::max(top, std::round(tops_[p] + page_top_));
        bottom = about.kind == ParagraphKind::Table ? lay_table(p, top, width) : lay_paragraph(p, top, width);
        paragraphs_.push_back({{text_side, top, width, bottom - top}, note_of(about, text_->text.layer.language)});
    }
    height_ = count > 0 ? bottom + last_gap : 0;
    verticalScrollBar()->setPageStep(viewport()->height());
    verticalScrollBar()->setRange(0, std::max(0, static_cast<int>(height_) - viewport()->height()));
}

const TextColumn::Drawn& TextColumn::drawn(size_t word) {
    const ParagraphKind kind = text_->text.paragraphs[text_->words[word].paragraph].kind;
    const bool bold = text_->word(word).bold;
    const QString said = QString::fromStdString(text_->said[word]);
    const QString key = QChar('a' + 2 * static_cast<int>(kind) + (bold ? 1 : 0)) + said;
    if (const auto at = drawn_.constFind(key); at != drawn_.constEnd()) return *at;
    const QFont font = font_of(kind, bold, larger_);
    Drawn made{QStaticText(said), QFontMetricsF(font).horizontalAdvance(said)};
    made.text.setTextFormat(Qt::PlainText);
    made.text.setPerformanceHint(QStaticText::AggressiveCaching);
    made.text.prepare({}, font);
    return *drawn_.insert(key, made);
}

QPointF TextColumn::offset() const { return {0, -static_cast<double>(verticalScrollBar()->value())}; }

QRectF TextColumn::word_rect(size_t word) const {
    return word < words_.size() ? words_[word].translated(offset()) : QRectF();
}

double TextColumn::paragraph_top(size_t paragraph) const {
    return paragraph < paragraphs_.size() ? paragraphs_[paragraph].box.top() : 0;
}

int TextColumn::paragraph_in_view() const {
    for (size_t p = 0; p < paragraphs_.size(); ++p)
        if (paragraphs_[p].box.top() >= verticalScrollBar()->value()) return static_cast<int>(p);
    return -1;
}

void TextColumn::show_word(size_t word) {
    if (word >= words_.size()) return;
    constexpr double around = 40;
    const double top = words_[word].top() - around, bottom = words_[word].bottom() + around;
    QScrollBar* bar = verticalScrollBar();
    if (top < bar->value() || bottom > bar->value() + viewport()->height())
        bar->setValue(static_cast<int>(words_[word].center().y() - viewport()->height() / 2.0));
}

std::optional<size_t> TextColumn::word_at(QPointF at, bool nearest) const {
    const QPointF there = at - offset();
    std::optional<size_t> found;
    double least = 0;
    for (size_t i = 0; i < words_.size(); ++i) {
        const QRectF box = words_[i].adjusted(-2, -3, 2, 3);
        if (box.contains(there)) return i;
        const double across = std::max({0.0, box.left() - there.x(), there.x() - box.right()}),
                     down = std::max({0.0, box.top() - there.y(), there.y() - box.bottom()});
        const double far = across + 20 * down;
        if (nearest && (!found || far < least)) found = i, least = far;
    }
    return found;
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
        painter.setFont(font_of(about.kind, text_->word(i).bold, larger_));
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
