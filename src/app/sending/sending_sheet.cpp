// The sheet with the items of the send queue and the actions for each.
#include "app/models/sending/sending.h"
#include "app/models/sending/servers.h"
#include "app/sending/servers_sheet.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/theme/theme.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace yelvin {

namespace {

constexpr int list_width = 460, most_height = 420;

struct SendingSheetText {
    Q_DECLARE_TR_FUNCTIONS(SendingSheetText)
};

using State = SendItem::State;

class SendingList : public QWidget {
  public:
    SendingList(const SendingModels& models, PhraseSheet* sheet) : models_(models), sheet_(sheet) {
        column_ = new QVBoxLayout(this);
        column_->setContentsMargins(0, 0, 0, 0);
        column_->setSpacing(10);
        connect(&models_.sending, &Sending::changed, this, [this] { build(); });
        connect(&models_.sending, &Sending::progress, this, [this] { refresh_states(); });
        build();
    }

  private:
    SendingModels models_;
    PhraseSheet* sheet_;
    QVBoxLayout* column_;
    std::map<long long, QLabel*> states_;

    void build() {
        const theme::FocusKept focus(this);
        theme::clear(column_);
        states_.clear();
        const auto& items = models_.sending.items();
        for (auto at = items.rbegin(); at != items.rend(); ++at) add(*at); // the latest first
        if (items.empty())
            column_->addWidget(theme::quiet(SendingSheetText::tr("No files are waiting or were sent."), this));
        column_->addStretch();
        sheet_->adjustSize();
    }
    void refresh_states() {
        for (const SendItem& each : models_.sending.items())
            if (const auto at = states_.find(each.id); at != states_.end()) at->second->setText(send_state_words(each));
    }

    void add(const SendItem& item) {
        auto* box = new QVBoxLayout;
        box->setSpacing(2);
        auto* name = new QLabel(QString::fromStdString(item.name));
        name->setFont(theme::strong());
        name->setObjectName(QString("sending-name-%1").arg(item.id));
        box->addWidget(name);
        box->addWidget(theme::quiet(SendingSheetText::tr("to %1").arg(server_words(item)), this));
        auto* state = new QLabel(send_state_words(item));
        state->setObjectName(QString("sending-state-%1").arg(item.id));
        state->setWordWrap(true);
        const auto& c = theme::colours();
        const QColor colour = item.state == State::Failed                         ? c.brick
                              : item.state == State::Sent                         ? c.moss
                              : item.state == State::Waiting && !item.why.empty() ? c.amber
                                                                                  : c.ink;
        state->setStyleSheet(QString("color: %1").arg(colour.name()));
        states_[item.id] = state;
        box->addWidget(state);
        box->addLayout(links_for(item));
        column_->addLayout(box);
    }

    QHBoxLayout* links_for(const SendItem& item) {
        auto* row = new QHBoxLayout;
        row->setSpacing(12);
        const long long id = item.id;
        const auto link = [&](const QString& words, const char* name, auto action) {
            auto* made = theme::link(words, QString("sending-%1-%2").arg(name).arg(id), this);
            row->addWidget(made);
            connect(made, &QPushButton::clicked, this, action);
        };
        Sending& sending = models_.sending;
        if (item.state == State::Sent) {
            auto* where = new QLabel(QString::fromStdString(item.url));
            where->setFont(theme::measure());
            where->setWordWrap(true);
            where->setTextInteractionFlags(Qt::TextSelectableByMouse);
            row->addWidget(where, 1);
            return row;
        }
        if (!item.identity.fingerprint.empty() && item.state == State::Failed)
            link(SendingSheetText::tr("trust this server"), "accept", [&sending, id] { sending.accept_identity(id); });
        if (item.identity.wants_plain_password && item.state == State::Failed)
            link(SendingSheetText::tr("send the password unencrypted"), "accept-plain",
                 [&sending, id] { sending.accept_identity(id); });
        if (item.state == State::Waiting || item.state == State::Sending)
            link(SendingSheetText::tr("pause"), "hold", [&sending, id] { sending.pause(id); });
        if (item.state != State::Sending)
            link(item.state == State::Paused ? SendingSheetText::tr("go on") : SendingSheetText::tr("try now"), "again",
                 [&sending, id] { sending.retry(id); });
        if (item.state != State::Sending)
            for (const Server& each : models_.servers.all()) {
                if (each.name == item.server.name) continue;
                link(SendingSheetText::tr("to %1").arg(QString::fromStdString(each.name)), "else",
                     [&sending, id, to = each.name] { sending.send_elsewhere(id, to); });
                break; // Offer one other server; more would not fit into the row.
            }
        link(SendingSheetText::tr("remove"), "out", [&sending, id] { sending.remove(id); });
        row->addStretch();
        return row;
    }
};

}

void open_sending_sheet(const SendingModels& models, const QRect& anchor, QWidget* parent) {
    auto* sheet = new PhraseSheet(parent);
    sheet->setObjectName("sending-sheet");
    sheet->add_heading(SendingSheetText::tr("Sending to servers"));
    auto* list = new SendingList(models, sheet);
    QScrollArea* area = theme::scrolled(list, sheet);
    area->setFixedWidth(list_width);
    area->setFixedHeight(std::min(most_height, std::max(60, list->sizeHint().height() + 8)));
    sheet->add_widget(area);
    sheet->add_row(SendingSheetText::tr("clear sent files"), {}, false,
                   [sending = &models.sending] { sending->clear_sent(); });
    sheet->add_advice(SendingSheetText::tr(
        "Files wait here until sent, even after a restart. Each arrives exactly once, even if the connection breaks."));
    sheet->open_under(anchor);
}

}
