#include "app/ticketbar/ticket_buttons.h"

#include "app/models/tickets/tickets.h"
#include "app/theme/parts.h"
#include "app/theme/theme.h"

#include <QHBoxLayout>
#include <QPushButton>

namespace yelvin {

namespace {
constexpr int button_height = 26, widest = 170;
}

TicketButtons::TicketButtons(Tickets& tickets, QWidget* parent) : QWidget(parent), tickets_(tickets) {
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(0, theme::gap, 0, 0);
    row_->setSpacing(6);
    row_->addStretch(1);
    connect(&tickets_, &Tickets::changed, this, &TicketButtons::refresh);
    refresh();
}

void TicketButtons::refresh() {
    const QStringList files = tickets_.buttons();
    QStringList now;
    QList<QPair<QString, QString>> facts; // name, colour
    for (const QString& file : files)
        for (const KeptTicket& kept : tickets_.kept().tickets)
            if (QString::fromStdString(kept.file.string()) == file) {
                facts.append({QString::fromStdString(kept.ticket.name), QString::fromStdString(kept.ticket.colour)});
                now += {file, facts.back().first, facts.back().second};
            }
    setVisible(!files.isEmpty());
    if (now == shown_) return;
    shown_ = now;
    const theme::FocusKept focus(this);
    while (row_->count() > 1) {
        QLayoutItem* last = row_->takeAt(1);
        last->widget()->hide();
        last->widget()->deleteLater();
        delete last;
    }
    for (int i = 0; i < facts.size(); ++i) {
        const auto& [name, colour] = facts[i];
        auto* button = new QPushButton(this);
        const QFontMetrics metrics(theme::body());
        button->setObjectName(QString("ticket-button-%1").arg(i + 1));
        button->setText(QString("%1  %2").arg(i + 1).arg(metrics.elidedText(name, Qt::ElideRight, widest - 40)));
        button->setAccessibleName(tr("Scan with %1").arg(name));
        button->setToolTip(tr("Scan with %1 (Ctrl+%2)").arg(name).arg(i + 1));
        button->setFixedHeight(button_height);
        button->setStyleSheet(QString("QPushButton { border-left: 4px solid %1; padding: 0 10px 0 8px; }")
                                  .arg(theme::ticket_colour(colour).name()));
        connect(button, &QPushButton::clicked, this, [this, file = files[i]] { emit scan_wanted(file); });
        row_->addWidget(button);
    }
}

void TicketButtons::press(int number) {
    const QStringList files = tickets_.buttons();
    if (number >= 1 && number <= files.size()) emit scan_wanted(files[number - 1]);
}

}
