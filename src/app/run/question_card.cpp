#include "app/run/question_card.h"

#include "app/theme/parts.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

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
    row_->addWidget(words_, 1);
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
