#include "app/text/word_slip.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace yelvin {

namespace {
constexpr int arrow = 8, around = 9, picture_height = 40, least_width = 128, most_width = 208, entry_height = 28;
}

bool SlipEntry::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && !isModified()) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->matches(QKeySequence::Undo) || key->matches(QKeySequence::Redo)) {
            event->ignore();
            return false;
        }
    }
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Tab || key->key() == Qt::Key_Backtab) {
            emit walked(key->key() == Qt::Key_Tab ? 1 : -1);
            return true;
        }
        // Accept the event, so that the page does not handle it too.
        if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter) {
            emit answered();
            return true;
        }
    }
    return QLineEdit::event(event);
}

WordSlip::WordSlip(QWidget* page) : QFrame(page) {
    setObjectName("word-slip");
    setAccessibleName(tr("The word, enlarged"));
    entry_ = new SlipEntry(this);
    entry_->setObjectName("slip-entry");
    entry_->setAccessibleName(tr("Text of the word"));
    advice_ = new QLabel(this);
    advice_->setProperty("quiet", true);
    connect(entry_, &QLineEdit::textEdited, this, &WordSlip::advise);
    connect(entry_, &SlipEntry::answered, this, [this] {
        entry_->setModified(false); // The text counts as accepted, so leaving the slip does not emit it again.
        emit said(entry_->text());
    });
    connect(entry_, &SlipEntry::walked, this, &WordSlip::walked);
    hide();
}

std::optional<QString> WordSlip::take_typed() {
    if (!entry_->isModified()) return std::nullopt;
    entry_->setModified(false);
    const QString typed = entry_->text().simplified();
    return typed == read_ ? std::nullopt : std::optional(typed);
}

void WordSlip::advise() {
    const QString typed = entry_->text().simplified();
    advice_->setText(typed.isEmpty()  ? tr("Enter: no word · Tab: next")
                     : typed == read_ ? tr("Enter: correct · Tab: next")
                                      : tr("Enter: replace · Tab: next"));
}

void WordSlip::show_for(const QRectF& word, const QImage& picture, const QString& read) {
    read_ = read;
    picture_ = picture;
    entry_->setText(read);
    entry_->setModified(false);
    entry_->selectAll();
    advise();
    stand_at(word);
    show();
    raise();
}

void WordSlip::set_picture(const QImage& picture) {
    picture_ = picture;
    stand_at(word_);
}

// The picture is scaled to the height or width that the slip has room for.
int WordSlip::picture_width() const {
    if (picture_.isNull()) return least_width;
    const double wide = static_cast<double>(picture_.width()) * picture_height / std::max(1, picture_.height());
    return std::clamp(static_cast<int>(std::lround(wide)), least_width, most_width);
}

void WordSlip::lay_out() {
    const int each = picture_width(), top = around + (above_ ? 0 : arrow);
    const int advice_width = std::max(each, advice_->sizeHint().width() + 2);
    entry_->setGeometry(3 * around + each, top, advice_width, entry_height);
    advice_->setGeometry(3 * around + each, top + entry_height + 1, advice_width, 16);
    resize(4 * around + each + advice_width, 2 * around + entry_height + 17 + arrow);
}

void WordSlip::stand_at(const QRectF& word) {
    word_ = word;
    lay_out();
    const QRect view = parentWidget()->rect();
    above_ = word.bottom() + 4 + height() > view.height() && word.top() - 4 - height() > 0;
    lay_out();
    const int x = std::clamp(static_cast<int>(word.left()) - 30, 4, std::max(4, view.width() - width() - 4));
    move(x, static_cast<int>(above_ ? word.top() - 4 - height() : word.bottom() + 4));
    update();
}

void WordSlip::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF paper = QRectF(rect()).adjusted(1, above_ ? 1 : arrow, -1, above_ ? -arrow : -1);
    QPainterPath outline;
    outline.addRoundedRect(paper, 4, 4);
    const double x = std::clamp(word_.center().x() - this->x(), 16.0, width() - 16.0),
                 edge = above_ ? paper.bottom() : paper.top(), tip = above_ ? height() - 1 : 1;
    QPainterPath pointer;
    pointer.addPolygon(QPolygonF({QPointF(x - arrow, edge), QPointF(x, tip), QPointF(x + arrow, edge)}));
    painter.setBrush(c.paper);
    painter.setPen(QPen(c.plum, 1.5));
    painter.drawPath(outline.united(pointer));
    const int each = picture_width();
    const QRectF field(around, paper.top() + (paper.height() - picture_height) / 2, each, picture_height);
    painter.fillRect(field.adjusted(-2, -2, 2, 2), Qt::white);
    if (!picture_.isNull()) {
        const QSizeF size = QSizeF(picture_.size()).scaled(field.size(), Qt::KeepAspectRatio);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(QRectF(field.center() - QPointF(size.width(), size.height()) / 2, size), picture_);
    }
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(QPointF(2 * around + each - 0.5, paper.top() + 6),
                     QPointF(2 * around + each - 0.5, paper.bottom() - 6));
}

}
