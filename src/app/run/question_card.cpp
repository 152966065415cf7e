#include "app/run/question_card.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace yelvin {

QuestionCard::QuestionCard(const QString& name, QWidget* parent) : QFrame(parent) {
    setObjectName(name);
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(18, 10, 12, 10);
    row_->setSpacing(10);
    words_ = new QLabel(this);
    words_->setObjectName(name + "-words");
    words_->setTextFormat(Qt::PlainText);
    words_->setWordWrap(true);
    left_ = new QVBoxLayout;
    left_->setSpacing(0);
    left_->addWidget(words_);
    row_->addLayout(left_, 1);
}

void QuestionCard::add_below(QWidget* widget) { left_->addWidget(widget); }

void QuestionCard::appear(bool is_asked) {
    QWidget* focus = QApplication::focusWidget();
    // Otherwise hiding the card would move the focus to another widget.
    if (!is_asked && focus && isAncestorOf(focus)) focus->clearFocus();
    setVisible(is_asked);
}

// Handled before the window's own shortcut gets the key.
bool QuestionCard::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Escape) {
        event->accept();
        return true;
    }
    return QFrame::event(event);
}

void QuestionCard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape) return give_up();
    QFrame::keyPressEvent(event);
}

void QuestionCard::add(QWidget* widget) { row_->addWidget(widget); }

QPushButton* QuestionCard::add_link(const QString& text, const char* name) {
    auto* link = theme::link(text, name, this);
    add(link);
    return link;
}

QPushButton* QuestionCard::add_button(const QString& text, const char* name) {
    auto* press = theme::button(text, theme::Kind::Plain, name, this);
    add(press);
    return press;
}

void QuestionCard::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    painter.fillRect(rect(), c.paper);
    painter.fillRect(QRect(0, 0, 5, height()), c.amber);
    painter.setPen(QPen(c.hairline, 1));
    painter.drawLine(0, height() - 1, width(), height() - 1);
}

}
