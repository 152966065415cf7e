#include "app/theme/phrase_sheet.h"

#include "app/theme/theme.h"

#include <QCloseEvent>
#include <QKeyEvent>
#include <QLabel>
#include <QPainter>
#include <QScreen>
#include <QVBoxLayout>

namespace yelvin {

namespace {
constexpr int mark_width = 26, row_height = 27, column_gap = 18, side_margin = 12;
constexpr int widest_value = 340, widest_row = 720; // Longer texts, such as folders, are shortened in the middle.
}

SheetRow::SheetRow(const QString& value, const QString& advice, bool chosen, QWidget* parent)
    : QAbstractButton(parent), advice_(advice), chosen_(chosen) {
    setText(value);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(advice.isEmpty() ? value : value + ", " + advice);
    setCursor(Qt::PointingHandCursor);
    setObjectName("row");
}

void SheetRow::set_colour(const QColor& colour) {
    colour_ = colour;
    update();
}

void SheetRow::enterEvent(QEnterEvent*) {
    update();
    emit pointed(true);
}

void SheetRow::leaveEvent(QEvent*) {
    update();
    emit pointed(hasFocus());
}

void SheetRow::focusInEvent(QFocusEvent* event) {
    QAbstractButton::focusInEvent(event);
    emit pointed(true);
}

void SheetRow::focusOutEvent(QFocusEvent* event) {
    QAbstractButton::focusOutEvent(event);
    emit pointed(underMouse());
}

int SheetRow::value_width() const { return QFontMetrics(theme::strong()).horizontalAdvance(text()); }

int SheetRow::value_column() const {
    return advice_.isEmpty() ? value_width() : std::max(value_width_, std::min(value_width(), widest_value));
}

int SheetRow::full_width(int value_width) const {
    const int advice = advice_.isEmpty() ? 0 : column_gap + QFontMetrics(theme::measure()).horizontalAdvance(advice_);
    return mark_width + value_width + advice + side_margin;
}

QSize SheetRow::sizeHint() const { return {std::min(full_width(value_column()), widest_row), row_height}; }

void SheetRow::resizeEvent(QResizeEvent* event) {
    QAbstractButton::resizeEvent(event);
    const bool whole = full_width(value_column()) <= width() && value_width() <= std::max(value_column(), 1);
    if (!whole && toolTip().isEmpty()) setToolTip(accessibleName());
}

void SheetRow::paintEvent(QPaintEvent*) {
    const auto& c = theme::colours();
    QPainter painter(this);
    if (underMouse() || hasFocus()) painter.fillRect(rect(), c.plum_wash);
    if (hasFocus()) painter.fillRect(QRect(0, 0, 2, height()), c.plum);
    if (colour_.isValid()) painter.fillRect(QRect(0, 4, 5, height() - 8), colour_);
    if (chosen_) theme::icon("check", c.ink).paint(&painter, 8, (height() - 14) / 2, 14, 14);
    painter.setFont(theme::strong());
    painter.setPen(chosen_ ? c.plum : c.ink);
    constexpr int rounding = 2; // Avoids shortening a text that fits but for rounding.
    const int column = std::min(value_column() + rounding, width() - mark_width);
    painter.drawText(QRect(mark_width, 0, column, height()), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(text(), Qt::ElideMiddle, column));
    painter.setFont(theme::measure());
    painter.setPen(c.quiet);
    const int x = mark_width + column - rounding + column_gap, left = width() - x;
    painter.drawText(QRect(x, 0, left, height()), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(advice_, Qt::ElideMiddle, left));
}

PhraseSheet::PhraseSheet(QWidget* parent) : Popup(parent), layout_(new QVBoxLayout(this)) {
    layout_->setContentsMargins(1, 8, 1, 10);
    layout_->setSpacing(0);
}

SheetRow* PhraseSheet::add_row(const QString& value, const QString& advice, bool chosen, std::function<void()> action) {
    auto* row = new SheetRow(value, advice, chosen, this);
    row->installEventFilter(this);
    connect(row, &SheetRow::clicked, this, [this, action = std::move(action)] {
        close();
        action();
    });
    rows_.append(row);
    layout_->addWidget(row);
    // The first list's chosen row has the focus.
    if (chosen && !qobject_cast<SheetRow*>(focusWidget())) row->setFocus();
    return row;
}

void PhraseSheet::add_widget(QWidget* widget) {
    auto* holder = new QWidget(this);
    auto* inside = new QVBoxLayout(holder);
    inside->setContentsMargins(mark_width, 6, side_margin, 2);
    inside->addWidget(widget);
    layout_->addWidget(holder);
}

void PhraseSheet::add_heading(const QString& words) {
    auto* label = new QLabel(words, this);
    label->setFont(theme::strong());
    label->setContentsMargins(mark_width, 4, side_margin, 4);
    layout_->addWidget(label);
}

QLabel* PhraseSheet::add_advice(const QString& words) {
    auto* label = new QLabel(words, this);
    label->setProperty("quiet", true);
    label->setWordWrap(true);
    label->setContentsMargins(12, 8, side_margin, 0);
    label->setMinimumWidth(280);
    layout_->addWidget(label);
    return label;
}

void PhraseSheet::open_under(const QRect& anchor) {
    int widest = 0;
    for (SheetRow* row : rows_) widest = std::max(widest, row->value_width());
    for (SheetRow* row : rows_) row->set_columns(std::min(widest, widest_value));
    adjustSize();
    // The width decides into how many lines the text breaks.
    if (layout_->hasHeightForWidth()) resize(width(), std::max(height(), layout_->totalHeightForWidth(width())));
    const QRect screen =
        parentWidget()->window()->geometry().intersected(parentWidget()->screen()->availableGeometry());
    QPoint at(anchor.left() - 8, anchor.bottom() + 2);
    at.setX(std::clamp(at.x(), screen.left() + 4, std::max(screen.left() + 4, screen.right() - width() - 4)));
    // If there is no room below, the sheet opens above, so that the foot of the window stays visible.
    if (at.y() + height() > screen.bottom() - 4 && anchor.top() - height() - 2 >= screen.top())
        at.setY(anchor.top() - height() - 2);
    at.setY(std::clamp(at.y(), screen.top(), std::max(screen.top(), screen.bottom() - height() - 4)));
    move(at);
    show();
    if (!focusWidget() || !isAncestorOf(focusWidget())) {
        if (!rows_.isEmpty())
            rows_.front()->setFocus();
        else
            focusNextChild();
    }
}

void PhraseSheet::walk(int step) {
    if (rows_.isEmpty()) return;
    const auto at = rows_.indexOf(qobject_cast<SheetRow*>(focusWidget()));
    qsizetype first = 0, end = rows_.size();
    for (const qsizetype list_end : lists_) {
        if (at < list_end) {
            end = list_end;
            break;
        }
        first = list_end;
    }
    const auto next = std::clamp<qsizetype>(at + step, first, end - 1);
    rows_[next]->setFocus();
}

bool PhraseSheet::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down || key == Qt::Key_Up) {
            walk(key == Qt::Key_Down ? 1 : -1);
            return true;
        }
        if (key == Qt::Key_Return || key == Qt::Key_Enter) {
            if (auto* row = qobject_cast<SheetRow*>(watched)) row->click();
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

void PhraseSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape) return QFrame::keyPressEvent(event);
    if (!holds_something_typed() || std::exchange(escaped_once_, true)) return finish();
    add_advice(tr("Press Esc again to discard what you typed."))->setObjectName("escape-again");
    adjustSize();
}

namespace {

constexpr const char* kept_typed = "typed in sheets"; // a property of the window: in memory only

bool is_typed(const QLineEdit& entry) { return entry.isModified() && !entry.text().isEmpty(); }

}

void PhraseSheet::guard(QLineEdit* entry, const QString& about) {
    entry->setProperty("own_escape", true); // see Application
    const QString key = objectName() + '/' + entry->objectName() + '/' + about;
    guarded_.append({entry, key});
    const QVariantMap kept = parentWidget()->window()->property(kept_typed).toMap();
    if (!kept.contains(key)) return;
    entry->setText(kept.value(key).toString());
    entry->setModified(true);
}

void PhraseSheet::finish() {
    forgets_ = true;
    close();
}

void PhraseSheet::closeEvent(QCloseEvent* event) {
    QVariantMap kept = parentWidget()->window()->property(kept_typed).toMap();
    for (const auto& [entry, key] : guarded_) {
        if (!entry) continue;
        if (!forgets_ && is_typed(*entry) && entry->echoMode() == QLineEdit::Normal)
            kept.insert(key, entry->text());
        else
            kept.remove(key);
    }
    parentWidget()->window()->setProperty(kept_typed, kept);
    QFrame::closeEvent(event);
}

void PhraseSheet::mousePressEvent(QMouseEvent* event) {
    if (!rect().contains(event->position().toPoint()) && holds_something_typed()) return event->accept();
    QFrame::mousePressEvent(event);
}

bool PhraseSheet::holds_something_typed() const {
    return std::ranges::any_of(guarded_, [](const Guarded& each) { return each.entry && is_typed(*each.entry); });
}

QString PhraseSheet::asked_by(const std::function<QString()>& dialog) {
    const QPointer<PhraseSheet> here(this);
    hide();
    QString chosen = dialog();
    if (here) show();
    return chosen;
}

}
