#include "app/ticketbar/sentence.h"

#include "app/theme/theme.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

namespace yelvin {

namespace {
QFont sentence_font(bool phrase) {
    QFont font = theme::title();
    font.setWeight(phrase ? QFont::Medium : QFont::Normal);
    return font;
}
}

QList<SentencePiece> pieces_of(const QString& pattern, const QList<Phrase>& phrases) {
    QList<SentencePiece> pieces;
    QString plain;
    for (qsizetype i = 0; i < pattern.size(); ++i) {
        if (pattern[i] != '%') {
            plain += pattern[i];
            continue;
        }
        qsizetype end = i + 1;
        while (end < pattern.size() && end < i + 3 && pattern[end].isDigit()) ++end;
        const int place = pattern.mid(i + 1, end - i - 1).toInt() - 1;
        if (place < 0) {
            plain += pattern[i];
            continue;
        }
        i = end - 1;
        if (place >= phrases.size() || phrases[place].words.isEmpty()) continue;
        plain += phrases[place].lead;
        if (!plain.isEmpty()) pieces.append({plain, -1});
        plain.clear();
        pieces.append({phrases[place].words, place});
    }
    if (!plain.isEmpty()) pieces.append({plain, -1});
    return pieces;
}

Sentence::Sentence(QWidget* parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("sentence");
    QSizePolicy policy(QSizePolicy::Expanding, QSizePolicy::Minimum);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

void Sentence::set(const QString& pattern, const QList<Phrase>& phrases) {
    if (pattern == pattern_ && phrases == phrases_) return; // Avoids a new layout for each page of a run.
    pattern_ = pattern;
    phrases_ = phrases;
    focused_ = std::clamp<int>(focused_, 0, std::max<int>(0, static_cast<int>(phrases.size()) - 1));
    const int height = lay_out(width(), runs_);
    setMinimumHeight(height);
    setAccessibleName(text());
    updateGeometry();
    update();
}

QString Sentence::text() const {
    QString out;
    for (const auto& piece : pieces_of(pattern_, phrases_)) {
        out += piece.words;
        if (piece.phrase >= 0 && !phrases_[piece.phrase].became.isEmpty())
            out += " (" + phrases_[piece.phrase].became + ")";
    }
    return out;
}

// Breaks lines only between words; returns the height.
int Sentence::lay_out(int width, QList<Run>& runs) const {
    runs.clear();
    int x = 0, y = 0;
    const auto place = [&](const QString& words, int phrase, bool quiet) {
        const QFontMetrics metrics(sentence_font(phrase >= 0 && !quiet));
        qsizetype begin = 0;
        while (begin < words.size()) {
            qsizetype end = words.indexOf(' ', begin);
            end = end < 0 ? words.size() : end + 1;
            const QString word = words.mid(begin, end - begin);
            const QString bare = word.endsWith(' ') ? word.chopped(1) : word;
            if (x > 0 && x + metrics.horizontalAdvance(bare) > width) {
                x = 0;
                y += line_height;
            }
            const int advance = metrics.horizontalAdvance(word);
            if (!(x == 0 && bare.isEmpty())) {
                if (!runs.isEmpty() && runs.back().phrase == phrase && runs.back().quiet == quiet &&
                    runs.back().rect.top() == y && phrase >= 0) {
                    runs.back().words += word;
                    runs.back().rect.setWidth(runs.back().rect.width() + advance);
                } else {
                    runs.append({word, QRect(x, y, advance, line_height), phrase, quiet});
                }
                x += advance;
            }
            begin = end;
        }
    };
    for (const auto& piece : pieces_of(pattern_, phrases_)) {
        place(piece.words, piece.phrase, false);
        if (piece.phrase >= 0 && !phrases_[piece.phrase].became.isEmpty())
            place(" (" + phrases_[piece.phrase].became + ")", piece.phrase, true);
    }
    return y + line_height;
}

int Sentence::heightForWidth(int width) const {
    if (width == this->width() && !runs_.isEmpty()) return runs_.back().rect.bottom() + 1;
    QList<Run> runs;
    return lay_out(width, runs);
}

void Sentence::resizeEvent(QResizeEvent*) { setMinimumHeight(lay_out(width(), runs_)); }

void Sentence::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    for (const Run& run : runs_) {
        const bool phrase = run.phrase >= 0 && !run.quiet;
        const QFont font = sentence_font(phrase);
        const QString bare = run.words.endsWith(' ') ? run.words.chopped(1) : run.words;
        const int bare_width = QFontMetrics(font).horizontalAdvance(bare);
        const bool lit = run.phrase >= 0 && (run.phrase == hovered_ || (hasFocus() && run.phrase == focused_) ||
                                             phrases_[run.phrase].key == open_);
        if (lit && phrase) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(c.plum_wash);
            painter.drawRoundedRect(QRect(run.rect.left() - 3, run.rect.top(), bare_width + 6, line_height - 1), 3, 3);
        }
        painter.setFont(font);
        painter.setPen(run.quiet || run.phrase < 0  ? c.quiet
                       : phrases_[run.phrase].wrong ? c.brick
                       : lit                        ? c.plum
                                                    : c.ink);
        painter.drawText(run.rect.adjusted(0, 0, 40, -3), Qt::AlignLeft | Qt::AlignVCenter, run.words);
        if (!phrase) continue;
        QPen dots(phrases_[run.phrase].wrong ? c.brick : lit ? c.plum : c.quiet, 1.4, Qt::DotLine, Qt::RoundCap);
        painter.setPen(dots);
        painter.drawLine(run.rect.left(), run.rect.bottom() - 3, run.rect.left() + bare_width, run.rect.bottom() - 3);
    }
}

int Sentence::phrase_at(QPoint at) const {
    for (const Run& run : runs_) {
        if (run.phrase >= 0 && run.rect.contains(at)) return run.phrase;
    }
    return -1;
}

QRect Sentence::phrase_rect(const QString& key) const {
    for (const Run& run : runs_) {
        if (run.phrase >= 0 && phrases_[run.phrase].key == key) return run.rect;
    }
    return {};
}

void Sentence::set_open(const QString& key) {
    open_ = key;
    update();
}

void Sentence::press(int phrase) {
    if (phrase < 0 || phrase >= phrases_.size()) return;
    const QRect rect = phrase_rect(phrases_[phrase].key);
    emit pressed(phrases_[phrase].key, {mapToGlobal(rect.topLeft()), rect.size()});
}

void Sentence::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) press(phrase_at(event->pos()));
}

void Sentence::mouseMoveEvent(QMouseEvent* event) {
    hovered_ = phrase_at(event->pos());
    setCursor(hovered_ >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}

void Sentence::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void Sentence::focusInEvent(QFocusEvent* event) {
    if (event->reason() == Qt::TabFocusReason) focused_ = 0;
    if (event->reason() == Qt::BacktabFocusReason) focused_ = next_phrase(static_cast<int>(phrases_.size()), -1);
    update();
}

int Sentence::next_phrase(int from, int step) const {
    for (int at = from + step; at >= 0 && at < phrases_.size(); at += step) {
        if (!phrases_[at].words.isEmpty()) return at;
    }
    return std::clamp<int>(from, 0, std::max<int>(0, static_cast<int>(phrases_.size()) - 1));
}

// Tab visits all phrases before it leaves the sentence.
bool Sentence::focusNextPrevChild(bool next) {
    const int to = next_phrase(focused_, next ? 1 : -1);
    if (hasFocus() && to != focused_) {
        focused_ = to;
        update();
        return true;
    }
    return QWidget::focusNextPrevChild(next);
}

void Sentence::keyPressEvent(QKeyEvent* event) {
    switch (event->key()) {
    case Qt::Key_Return:
    case Qt::Key_Enter:
    case Qt::Key_Space:
    case Qt::Key_Down:
        press(focused_);
        break;
    case Qt::Key_Right:
        focused_ = next_phrase(focused_, 1);
        update();
        break;
    case Qt::Key_Left:
        focused_ = next_phrase(focused_, -1);
        update();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool Sentence::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        const int phrase = phrase_at(help->pos());
        if (phrase >= 0)
            QToolTip::showText(help->globalPos(),
                               phrases_[phrase].why + (phrases_[phrase].why.isEmpty() ? "" : "\n") +
                                   tr("Change this: click it, or press Tab to reach it and Enter"),
                               this);
        else
            QToolTip::hideText();
        return true;
    }
    return QWidget::event(event);
}

}
