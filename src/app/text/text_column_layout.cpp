// The part of TextColumn that places the words and finds them again.
#include "app/text/text_column.h"
#include "app/theme/theme.h"
#include "core/text/languages.h"
#include "core/text/word_order.h"

#include <QScrollBar>

#include <algorithm>
#include <cmath>
#include <utility>

namespace yelvin {

namespace {

constexpr double text_gap = 9, first_top = 18, last_gap = 30, longest_line = 680;
constexpr qsizetype most_drawn = 5000; // words kept as they were set

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

QFont TextColumn::word_font(ParagraphKind kind, bool bold, double larger) {
    QFont font = theme::body();
    const int size = kind == ParagraphKind::Heading ? 16 : kind == ParagraphKind::Table ? 13 : 14;
    font.setPixelSize(static_cast<int>(std::lround(size * larger)));
    if (bold || kind == ParagraphKind::Heading) font.setWeight(QFont::DemiBold);
    return font;
}

// Lays the words out in lines. Lines of a right-to-left text begin at the right edge.
double TextColumn::lay_paragraph(size_t paragraph, double top, double width) {
    const TextParagraph& about = text_->text.paragraphs[paragraph];
    const bool leftwards = runs_right_to_left(text_->text.layer.lines[about.first]);
    const QFontMetricsF plain(word_font(about.kind, false, larger_));
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
    const QFontMetricsF metrics(word_font(about.kind, false, larger_));
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
    const QFont font = word_font(kind, bold, larger_);
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

}
