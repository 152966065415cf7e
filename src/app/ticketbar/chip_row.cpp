#include "app/ticketbar/chip_row.h"

#include "app/theme/parts.h"
#include "app/theme/theme.h"
#include "app/ticketbar/chip_choices.h"

#include <QEvent>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace yelvin {

namespace {

using Kind = NamePart::Kind;
constexpr int chip_gap = 4, row_width = 540;

NamePart fresh(Kind kind) {
    NamePart part{kind, ""};
    if (kind == Kind::Date || kind == Kind::PaperDate) part.text = "yyyy-mm-dd";
    if (kind == Kind::PaperDate) part.if_missing = NamePart::Missing::ScanDate;
    if (kind == Kind::Sender) part.most_words = 4;
    return part;
}

}

ChipRow::ChipRow(For what, Parts parts, std::function<QString(const NamePart&)> becomes, QWidget* parent)
    : QWidget(parent), what_(what), parts_(std::move(parts)), becomes_(std::move(becomes)), row_(new QWidget(this)),
      below_(new QWidget(this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(row_);
    column->addWidget(below_);
    choices_ = new QVBoxLayout(below_);
    choices_->setContentsMargins(0, 0, 0, 0);
    row_->installEventFilter(this);
    setMinimumWidth(row_width);
    const bool is_name = what_ == For::Name;
    auto* add = theme::link(is_name ? tr("+ add") : tr("+ subfolder"), is_name ? "chip-add" : "chip-add-folder", row_);
    add->setAccessibleName(tr("add a part"));
    add_ = add;
    connect(add, &QPushButton::clicked, this, [this] { show_list(parts_.size()); });
    below_->hide();
    build();
}

QString ChipRow::shown(const NamePart& part) const {
    if (part.kind == Kind::Slash) return "/";
    const QString value = becomes_ ? becomes_(part) : QString();
    return value.isEmpty() ? QStringLiteral("–") : value;
}

void ChipRow::build() {
    // The old chips' indices are no longer valid, and hiding them moves the focus from one to the next.
    for (Chip* chip : chips_) QObject::disconnect(chip, nullptr, this, nullptr);
    // This function may have been called by a signal of one of them, so delete them later.
    for (Chip* chip : std::exchange(chips_, {})) {
        chip->hide();
        chip->setObjectName({});
        chip->deleteLater();
    }
    for (size_t i = 0; i < parts_.size(); ++i) {
        auto* chip = new Chip(shown(parts_[i]), parts_[i].kind, row_);
        chip->show();
        chips_.append(chip);
        connect(chip, &Chip::clicked, this, [this, i] { choose(chosen_ == i ? std::nullopt : std::optional(i)); });
        connect(chip, &Chip::pointed, this, [this, i](bool is) {
            if (i < parts_.size()) emit pointed(parts_[i], is);
        });
        connect(chip, &Chip::walk_wanted, this, [this, i](int step) {
            const auto to = static_cast<qsizetype>(i) + step;
            if (to >= 0 && to < chips_.size()) chips_[to]->setFocus();
        });
        connect(chip, &Chip::move_wanted, this, [this, i](int step) { move(i, step); });
        connect(chip, &Chip::remove_wanted, this, [this, i] { remove(i); });
        connect(chip, &Chip::add_wanted, this, [this, i] { show_list(i + 1); });
        connect(chip, &Chip::dragged, this, [this](QPoint at) {
            drop_at_ = place_at(at);
            row_->update();
        });
        connect(chip, &Chip::dropped, this, [this, i](QPoint at) { drop(i, at); });
    }
    order_tabs();
    lay_out();
}

// Tab order: the chips from left to right, the link that adds one, then what is below.
void ChipRow::order_tabs() {
    QList<QWidget*> order;
    for (Chip* chip : chips_) order.append(chip);
    order.append(add_);
    for (QWidget* child : below_->findChildren<QWidget*>())
        if (child->focusPolicy() & Qt::TabFocus && !child->isHidden()) order.append(child);
    for (qsizetype i = 1; i < order.size(); ++i) QWidget::setTabOrder(order[i - 1], order[i]);
}

// Places the chips from left to right, in as many lines as needed.
void ChipRow::lay_out() {
    int x = 0, y = 0;
    const int wide = std::max(row_width, row_->width());
    for (Chip* chip : chips_) {
        const QSize size = chip->sizeHint();
        if (x > 0 && x + size.width() > wide) {
            x = 0;
            y += Chip::height_px + chip_gap;
        }
        chip->setGeometry(x, y, size.width(), Chip::height_px);
        x += size.width() + chip_gap;
    }
    const QSize add = add_->sizeHint();
    if (x + add.width() > wide) {
        x = 0;
        y += Chip::height_px + chip_gap;
    }
    const int high = chips_.isEmpty() ? add.height() : Chip::height_px;
    add_->setGeometry(x, y + (high - add.height()) / 2, add.width(), add.height());
    row_->setFixedHeight(y + high);
}

void ChipRow::clear_below() {
    while (QLayoutItem* item = choices_->takeAt(0)) {
        if (QWidget* widget = item->widget()) {
            widget->hide();
            widget->setParent(nullptr);
            widget->deleteLater();
        }
        delete item;
    }
}

void ChipRow::choose(std::optional<size_t> chip) {
    chosen_ = chip;
    for (qsizetype i = 0; i < chips_.size(); ++i) chips_[i]->set_chosen(chip && static_cast<size_t>(i) == *chip);
    clear_below();
    if (chip) show_choices(*chip);
    below_->setVisible(chip.has_value());
    fit();
}

// Adjusts the height of the sheet.
void ChipRow::fit() {
    order_tabs();
    for (QWidget* at = this; at && at != window(); at = at->parentWidget())
        if (at->layout()) at->layout()->activate();
    if (QWidget* sheet = window(); sheet != this) sheet->adjustSize();
}

void ChipRow::show_choices(size_t chip) {
    auto* box = new QWidget(below_);
    auto* line = new QHBoxLayout(box);
    line->setContentsMargins(0, 0, 0, 0);
    auto* choices = new_chip_choices(
        parts_[chip], [this, chip](const NamePart& part) { set_part(chip, part); }, box);
    line->addWidget(choices, 1);
    auto* gone = theme::link(tr("remove"), "chip-remove", box);
    connect(gone, &QPushButton::clicked, this, [this, chip] { remove(chip); });
    line->addWidget(gone);
    choices_->addWidget(box);
    box->show();
    for (QWidget* child : choices->findChildren<QWidget*>())
        if (child->focusPolicy() & Qt::TabFocus && child->inherits("QLineEdit")) return child->setFocus();
}

// Lists the kinds of parts; a click adds one at this index and shows its choices.
void ChipRow::show_list(size_t behind) {
    choose(std::nullopt);
    auto* box = new QWidget(below_);
    auto* grid = new QGridLayout(box);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setSpacing(2);
    int at = 0;
    for (const PartCaption& each : part_captions()) {
        const bool fits = what_ == For::Name ? each.kind != Kind::Slash : each.kind != Kind::Counter;
        if (!fits) continue;
        auto* button =
            theme::button(part_caption(each.kind), theme::Kind::Item, part_widget_name("chip-new", each.kind), box);
        connect(button, &QPushButton::clicked, this, [this, behind, kind = each.kind] {
            parts_.insert(parts_.begin() + static_cast<std::ptrdiff_t>(std::min(behind, parts_.size())), fresh(kind));
            build();
            emit changed();
            choose(behind);
            if (kind != Kind::Words && behind < static_cast<size_t>(chips_.size()))
                chips_[static_cast<qsizetype>(behind)]->setFocus();
        });
        grid->addWidget(button, at / 3, at % 3);
        ++at;
    }
    choices_->addWidget(box);
    below_->show();
    box->show();
    box->layout()->itemAt(0)->widget()->setFocus();
    fit();
}

void ChipRow::set_part(size_t chip, const NamePart& part) {
    if (chip >= parts_.size() || parts_[chip] == part) return;
    parts_[chip] = part;
    chips_[static_cast<qsizetype>(chip)]->set_value(shown(part));
    lay_out();
    emit changed();
}

void ChipRow::show_values() {
    for (qsizetype i = 0; i < chips_.size(); ++i) chips_[i]->set_value(shown(parts_[static_cast<size_t>(i)]));
    lay_out();
}

void ChipRow::focus_first() {
    if (!chips_.isEmpty()) chips_.front()->setFocus();
}

void ChipRow::move(size_t chip, int step) {
    const auto to = static_cast<std::ptrdiff_t>(chip) + step;
    if (to < 0 || to >= std::ssize(parts_)) return;
    std::swap(parts_[chip], parts_[static_cast<size_t>(to)]);
    choose(std::nullopt);
    build();
    chips_[to]->setFocus();
    emit changed();
}

void ChipRow::remove(size_t chip) {
    if (chip >= parts_.size()) return;
    if (what_ == For::Name && parts_.size() == 1) return; // A name has at least one part.
    parts_.erase(parts_.begin() + static_cast<std::ptrdiff_t>(chip));
    choose(std::nullopt);
    build();
    if (chips_.isEmpty())
        add_->setFocus();
    else
        chips_[std::min<qsizetype>(static_cast<qsizetype>(chip), chips_.size() - 1)]->setFocus();
    emit changed();
}

// Returns the index of the chip before which a chip dropped at this point is placed.
int ChipRow::place_at(QPoint at) const {
    for (qsizetype i = 0; i < chips_.size(); ++i) {
        const QRect r = chips_[i]->geometry();
        if (at.y() < r.bottom() + chip_gap && at.x() < r.center().x()) return static_cast<int>(i);
        const bool last_of_line = i + 1 == chips_.size() || chips_[i + 1]->y() > r.y();
        if (last_of_line && at.y() < r.bottom() + chip_gap) return static_cast<int>(i) + 1;
    }
    return static_cast<int>(chips_.size());
}

void ChipRow::drop(size_t chip, QPoint at) {
    const auto to = static_cast<size_t>(place_at(at));
    drop_at_ = -1;
    if (to != chip && to != chip + 1) {
        const NamePart part = parts_[chip];
        parts_.erase(parts_.begin() + static_cast<std::ptrdiff_t>(chip));
        const size_t place = to > chip ? to - 1 : to;
        parts_.insert(parts_.begin() + static_cast<std::ptrdiff_t>(place), part);
        choose(std::nullopt);
        build();
        chips_[static_cast<qsizetype>(place)]->setFocus();
        emit changed();
    }
    row_->update();
}

bool ChipRow::eventFilter(QObject* watched, QEvent* event) {
    if (watched == row_ && event->type() == QEvent::Resize) lay_out();
    if (watched == row_ && event->type() == QEvent::Paint && drop_at_ >= 0 && !chips_.isEmpty()) {
        QPainter painter(row_);
        const bool at_end = drop_at_ >= chips_.size();
        const QRect r = at_end ? chips_.back()->geometry() : chips_[drop_at_]->geometry();
        const int x = at_end ? r.right() + 2 : r.left() - 3;
        painter.fillRect(QRect(x, r.top(), 3, r.height()), theme::colours().plum);
    }
    return QWidget::eventFilter(watched, event);
}

}
