#include "app/text/find_bar.h"

#include "app/models/text/text_search.h"
#include "app/theme/parts.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

namespace yelvin {

FindBar::FindBar(TextSearch& search, QWidget* parent) : QWidget(parent), search_(search) {
    setObjectName("find-bar");
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    entry_ = new QLineEdit(this);
    entry_->setObjectName("find-entry");
    entry_->setPlaceholderText(tr("find in this document"));
    entry_->setAccessibleName(tr("Find in this document"));
    entry_->setMaximumWidth(240);
    entry_->installEventFilter(this);
    row->addWidget(entry_, 1);
    count_ = new QLabel(this);
    count_->setObjectName("found");
    count_->setProperty("quiet", true);
    row->addWidget(count_);
    row->addStretch();
    const auto link = [&](const QString& words, const char* name, const QString& tip) {
        auto* made = theme::link(words, name, this);
        made->setToolTip(tip);
        row->addWidget(made);
        return made;
    };
    connect(link(tr("previous"), "find-before", tr("Previous match (Shift+Enter)")), &QPushButton::clicked, this,
            [this] { search_.next(-1); });
    connect(link(tr("next"), "find-next", tr("Next match (Enter)")), &QPushButton::clicked, this,
            [this] { search_.next(1); });
    connect(link(tr("close"), "find-done", tr("Closes the search (Esc)")), &QPushButton::clicked, this,
            &FindBar::closed);
    connect(entry_, &QLineEdit::textEdited, this, [this](const QString& words) { search_.look_for(words); });
    connect(&search_, &TextSearch::changed, this, &FindBar::say);
}

void FindBar::begin(const QString& words) {
    if (!words.isEmpty()) entry_->setText(words);
    entry_->selectAll();
    entry_->setFocus(Qt::OtherFocusReason);
    search_.look_for(entry_->text());
}

void FindBar::say() {
    if (search_.words().isEmpty()) return count_->clear();
    const QString places = search_.count() == 1 ? tr("1 match") : tr("%1 matches").arg(search_.count());
    count_->setText(search_.count() == 0 ? (search_.is_looking() ? tr("searching…") : tr("no match"))
                    : search_.at() < 0   ? places
                                         : tr("%1 of %2").arg(search_.at() + 1).arg(places));
}

bool FindBar::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::KeyPress) return QWidget::eventFilter(watched, event);
    const auto* key = static_cast<QKeyEvent*>(event);
    if (key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter || key->key() == Qt::Key_Down ||
        key->key() == Qt::Key_Up) {
        search_.next(key->key() == Qt::Key_Up || (key->modifiers() & Qt::ShiftModifier) ? -1 : 1);
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

}
