#include "app/cabinet/narrow_column.h"

#include "app/models/cabinet/cabinet_search.h"
#include "app/models/saving/save_places.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QDir>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

namespace {

constexpr int count_height = 22, most_at_first = 6;

QString month_words(int month) { return QLocale::c().toString(QDate(month / 12, month % 12 + 1, 1), "MMMM yyyy"); }

// The folder's name, with its parent's name if another folder has the same name.
QString folder_words(const QString& folder, const std::vector<FacetCount<std::string>>& all) {
    const QString name = QDir(folder).dirName();
    int same = 0;
    for (const auto& each : all) same += QDir(QString::fromStdString(each.what)).dirName() == name;
    if (same < 2) return name.isEmpty() ? folder : name;
    return QDir(QFileInfo(folder).path()).dirName() + "/" + name;
}

}

CountRow::CountRow(const QString& words, int count, QWidget* parent) : QAbstractButton(parent), count_(count) {
    setText(words);
    setCheckable(true);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(count == 1 ? tr("%1, 1 document").arg(words) : tr("%1, %2 documents").arg(words).arg(count));
    setFocusPolicy(Qt::StrongFocus);
}

QSize CountRow::sizeHint() const { return {120, count_height}; }

void CountRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const auto& c = theme::colours();
    if (isChecked()) painter.fillRect(rect(), c.plum_wash);
    const QString count = QLocale::c().toString(count_);
    painter.setFont(theme::measure());
    painter.setPen(isChecked() ? c.plum : c.quiet);
    const int wide = painter.fontMetrics().horizontalAdvance(count);
    painter.drawText(rect().adjusted(0, 0, -8, 0), Qt::AlignVCenter | Qt::AlignRight, count);
    painter.setFont(isChecked() ? theme::strong() : theme::body());
    painter.setPen(isChecked() || underMouse() || hasFocus() ? c.plum : c.ink);
    const QRect room = rect().adjusted(8, 0, -wide - 16, 0);
    const QString shown = painter.fontMetrics().elidedText(text(), Qt::ElideMiddle, room.width());
    painter.drawText(room, Qt::AlignVCenter | Qt::AlignLeft, shown);
    if (isChecked()) painter.fillRect(QRect(0, 0, 3, height()), c.plum);
    if (hasFocus()) {
        painter.setPen(c.plum);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void CountRow::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) return click();
    if (event->key() == Qt::Key_Down) return (void)focusNextChild();
    if (event->key() == Qt::Key_Up) return (void)focusPreviousChild();
    QAbstractButton::keyPressEvent(event);
}

NarrowColumn::NarrowColumn(CabinetSearch& search, QWidget* parent) : QWidget(parent), search_(search) {
    setObjectName("narrow");
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    rows_ = new QVBoxLayout(inside);
    rows_->setContentsMargins(6, 8, 6, 8);
    rows_->setSpacing(1);
    column->addWidget(theme::scrolled(inside, this));
    connect(&search_, &CabinetSearch::answered, this, &NarrowColumn::refresh);
}

void NarrowColumn::section(const char* name, const QString& title, std::vector<Entry> entries, bool& all) {
    if (entries.empty()) return;
    if (rows_->count() > 0) rows_->addSpacing(10);
    auto* heading = new QLabel(title, this);
    heading->setProperty("quiet", true);
    heading->setContentsMargins(8, 0, 0, 2);
    rows_->addWidget(heading);
    const auto shown = [&](size_t i) { return all || i < most_at_first || entries[i].chosen; };
    size_t hidden = 0;
    for (size_t i = 0; i < entries.size(); ++i) {
        if (!shown(i)) {
            ++hidden;
            continue;
        }
        auto* row = new CountRow(entries[i].words, entries[i].count, this);
        row->setObjectName(QString("narrow-%1-%2").arg(name, entries[i].what));
        row->setToolTip(entries[i].tip);
        row->setChecked(entries[i].chosen);
        rows_->addWidget(row);
        connect(row, &QAbstractButton::clicked, this, entries[i].press);
    }
    if (hidden == 0) return;
    auto* more = theme::button(tr("%1 more").arg(hidden), theme::Kind::Item, QString("narrow-more-%1").arg(name), this);
    more->setContentsMargins(8, 0, 0, 0);
    rows_->addWidget(more);
    connect(more, &QPushButton::clicked, this, [this, &all] {
        all = true;
        refresh();
    });
}

void NarrowColumn::refresh() {
    const theme::FocusKept focus(this);
    theme::clear(rows_);
    const SearchResults& found = search_.found();
    const SearchFilter& now = search_.narrowing();
    std::vector<Entry> months, folders, senders, tickets;
    for (const auto& each : found.months) {
        const bool chosen = now.month == each.what;
        months.push_back({QString::number(each.what), month_words(each.what), tr("Saved in this month"), each.papers,
                          chosen, [this, what = each.what, chosen] {
                              SearchFilter to = search_.narrowing();
                              to.month = chosen ? std::nullopt : std::optional(what);
                              search_.narrow(to);
                          }});
    }
    const auto by = [&](const std::vector<FacetCount<std::string>>& counted,
                        std::optional<std::string> SearchFilter::*which, auto words, auto tip) {
        std::vector<Entry> out;
        for (const auto& each : counted) {
            const bool chosen = now.*which == each.what;
            const QString what_words = QString::fromStdString(each.what);
            out.push_back({what_words, words(what_words), tip(what_words), each.papers, chosen,
                           [this, what = each.what, which, chosen] {
                               SearchFilter to = search_.narrowing();
                               to.*which = chosen ? std::nullopt : std::optional(what);
                               search_.narrow(to);
                           }});
        }
        return out;
    };
    const auto same = [](const QString& words) { return words; };
    section("month", tr("When"), std::move(months), all_months_);
    section("folder", tr("Folder"),
            by(
                found.folders, &SearchFilter::folder,
                [&](const QString& folder) { return folder_words(folder, found.folders); },
                [](const QString& folder) { return shown_folder(folder); }),
            all_folders_);
    section("sender", tr("From"),
            by(
                found.senders, &SearchFilter::sender,
                [](const QString& sender) { return sender.isEmpty() ? tr("no sender found") : sender; }, same),
            all_senders_);
    section("ticket", tr("Ticket"),
            by(
                found.tickets, &SearchFilter::ticket,
                [](const QString& ticket) { return ticket.isEmpty() ? tr("added") : ticket; }, same),
            all_tickets_);
    rows_->addStretch();
}

}
