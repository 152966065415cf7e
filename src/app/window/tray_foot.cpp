#include "app/window/tray_foot.h"

#include "app/keys.h"
#include "app/models/naming/document_names.h"
#include "app/models/saving/saving.h"
#include "app/models/sending/sending.h"
#include "app/models/text/reading.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/kept_originals.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/sending/servers_sheet.h"
#include "app/theme/parts.h"
#include "app/theme/phrase_sheet.h"
#include "app/ticketbar/ticket_bar.h"
#include "app/window/keeping_sheet.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace yelvin {

namespace {

constexpr int foot_width = 132, foot_button_height = 36, slim_button_width = 84, slim_button_height = 28;

// Documents.
struct Counted {
    size_t unsaved = 0, saved = 0;
};
Counted counted(const Tray& tray) {
    Counted count;
    for (const auto& document : tray.documents) ++(document->saved_as.empty() ? count.unsaved : count.saved);
    return count;
}

QRect on_screen(const QWidget* widget) { return {widget->mapToGlobal(QPoint(0, 0)), widget->size()}; }

}

TrayFoot::TrayFoot(const TrayModels& models, QWidget* parent) : QWidget(parent), models_(models) {
    column_ = new QVBoxLayout(this);
    column_->setContentsMargins(0, 0, 0, 0);
    column_->addStretch();
    summary_ = theme::quiet({}, this);
    column_->addWidget(summary_);
    reading_ = theme::link({}, "reading", this);
    column_->addWidget(reading_, 0, Qt::AlignLeft);
    choose_ = theme::link(tr("select…"), "choose", this);
    choose_->setToolTip(tr("Selects pages: all, odd, even, by number"));
    steps_ = theme::link(tr("undo…"), "history", this);
    auto* links = new QHBoxLayout;
    links->setSpacing(10);
    links->addWidget(choose_);
    links->addWidget(steps_);
    links->addStretch();
    column_->addLayout(links);
    put_away_ = theme::link(tr("clear saved documents"), "put-away", this);
    put_away_->setToolTip(tr("Removes saved documents from the tray; the files stay"));
    column_->addWidget(put_away_, 0, Qt::AlignLeft);
    sending_ = theme::link({}, "sending", this);
    column_->addWidget(sending_, 0, Qt::AlignLeft);
    keeping_ = theme::link({}, "keeping", this);
    column_->addWidget(keeping_, 0, Qt::AlignLeft);
    save_all_ = theme::button(tr("Save all"), theme::Kind::Plain, "save-all", this);
    save_all_->setToolTip(with_key(tr("Save every document"), Do::SaveAll));
    save_ = theme::button(tr("Save"), theme::Kind::Plain, "save", this);
    save_->setToolTip(with_key(tr("Save this document"), Do::Save));
    column_->addWidget(save_all_);
    column_->addWidget(save_);
    connect(steps_, &QPushButton::clicked, this, &TrayFoot::open_history);
    connect(reading_, &QPushButton::clicked, this,
            [this] { models_.reading.is_stopped() ? models_.reading.go_on() : models_.reading.stop(); });
    connect(choose_, &QPushButton::clicked, this, [this] { emit choose_wanted(on_screen(choose_)); });
    connect(save_, &QPushButton::clicked, this, &TrayFoot::save_current);
    connect(save_all_, &QPushButton::clicked, &models_.saving, &Saving::save_all);
    connect(put_away_, &QPushButton::clicked, &models_.tray, &OutTray::put_away_saved);
    connect(sending_, &QPushButton::clicked, this,
            [this] { open_sending_sheet(models_.for_sending(), on_screen(sending_), window()); });
    connect(&models_.sending, &Sending::changed, this, &TrayFoot::refresh_sending);
    connect(keeping_, &QPushButton::clicked, this,
            [this] { open_keeping_sheet(models_.kept, on_screen(keeping_), window()); });
    connect(&models_.kept, &KeptOriginals::changed, this, &TrayFoot::refresh_keeping);
    connect(&models_.tray, &OutTray::changed, this, &TrayFoot::refresh);
    connect(&models_.choice, &Choice::changed, this, &TrayFoot::refresh);
    connect(&models_.looking, &Looking::changed, this, &TrayFoot::refresh);
    connect(&models_.reading, &Reading::changed, this, [this] {
        refresh_summary();
        refresh_reading();
    });
    connect(&models_.saving, &Saving::changed, this, &TrayFoot::refresh);
    connect(&models_.document_tickets, &DocumentTickets::changed, this, &TrayFoot::refresh);
    set_slim(false);
}

void TrayFoot::set_slim(bool slim) {
    slim_ = slim;
    column_->setDirection(slim ? QBoxLayout::LeftToRight : QBoxLayout::TopToBottom);
    column_->setSpacing(slim ? 10 : 6);
    summary_->setWordWrap(!slim);
    if (slim) {
        summary_->setMinimumWidth(0);
        summary_->setMaximumWidth(QWIDGETSIZE_MAX);
    } else {
        summary_->setFixedWidth(foot_width);
    }
    for (QPushButton* each : {save_all_, save_})
        each->setFixedSize(slim ? slim_button_width : foot_width, slim ? slim_button_height : foot_button_height);
    refresh();
}

QWidget* TrayFoot::save_button() const { return save_; }

void TrayFoot::save_current() {
    const Tray& tray = models_.tray.tray();
    if (const auto place = find_page(tray, models_.choice.current_id().toStdString()))
        models_.saving.save({QString::fromStdString(tray.documents[place->document]->id)});
}

void TrayFoot::refresh() {
    const auto [unsaved, saved] = counted(models_.tray.tray());
    refresh_summary();
    refresh_reading();
    const bool saving = models_.saving.at_work();
    choose_->setVisible(page_ids(models_.tray.tray()).size() > 1);
    steps_->setVisible(models_.tray.can_undo() || models_.tray.can_redo());
    steps_->setToolTip(
        models_.tray.can_undo()
            ? tr("%1, and earlier steps").arg(with_key(tr("Undo: %1").arg(models_.tray.undo_name()), Do::Undo))
            : with_key(tr("Redo: %1").arg(models_.tray.redo_name()), Do::Redo));
    put_away_->setVisible(saved > 0 && !saving);
    save_all_->setEnabled(unsaved > 0 && !saving);
    save_all_->setVisible(unsaved > 1);
    refresh_keeping();
    refresh_sending();
    refresh_save();
}

void TrayFoot::refresh_summary() {
    const auto [unsaved, saved] = counted(models_.tray.tray());
    const auto pages_words = [](size_t count) { return count == 1 ? tr("1 page") : tr("%1 pages").arg(count); };
    const size_t pages = models_.tray.tray().page_count(), documents = unsaved + saved;
    const int in_work = models_.looking.in_work();
    QString words;
    if (models_.choice.several())
        words = tr("%1 pages selected").arg(models_.choice.chosen().size());
    else if (models_.saving.at_work())
        words = tr("Saving…");
    else if (in_work > 0)
        words = tr("Checking %1…").arg(pages_words(static_cast<size_t>(in_work)));
    else if (const int left = models_.reading.left(); left > 0 && !models_.reading.is_stopped())
        words = tr("Reading the text of %1…").arg(pages_words(static_cast<size_t>(left)));
    else if (models_.tray.cannot_be_opened())
        words = tr("The out tray cannot be opened.");
    else if (!models_.tray.is_loaded())
        words = tr("Reading the out tray…");
    else if (pages == 0)
        words = tr("The out tray is empty.");
    else
        words = tr("%1 in %2, %3")
                    .arg(pages_words(pages), documents == 1 ? tr("1 document") : tr("%1 documents").arg(documents),
                         saved == 0     ? tr("none saved yet")
                         : unsaved == 0 ? tr("all saved")
                                        : tr("%1 saved").arg(saved));
    summary_->setText(words);
    // The slim tray has room only for work in progress.
    const bool news = models_.choice.several() || models_.saving.at_work() || in_work > 0 || models_.reading.left() > 0;
    summary_->setVisible(!slim_ || news || !models_.tray.is_loaded());
}

// Shows how many pages are left for text recognition, with an action to stop or continue it.
void TrayFoot::refresh_reading() {
    const int left = models_.reading.left();
    const bool stopped = models_.reading.is_stopped();
    reading_->setVisible(left > 0);
    reading_->setText(!stopped    ? tr("stop reading")
                      : left == 1 ? tr("read 1 more page")
                                  : tr("read %1 more pages").arg(left));
    reading_->setToolTip(stopped ? tr("Goes on reading the text of pages; the others are read when saving")
                                 : tr("Stops reading text in the background; pages without text are read when saving"));
}

// Shows what is kept, if anything. The slim tray has no room for it.
void TrayFoot::refresh_keeping() {
    keeping_->setText(keeping_words(models_.kept));
    const size_t count = models_.kept.all().size();
    const QString how_many = count == 1 ? tr("1 saved document that was cleared from the tray")
                                        : tr("%1 saved documents that were cleared from the tray").arg(count);
    keeping_->setToolTip(tr("The originals of %1 are still kept (%2)")
                             .arg(how_many, bytes_words(static_cast<double>(models_.kept.bytes()))));
    const bool any = count > 0 || counted(models_.tray.tray()).saved > 0;
    keeping_->setVisible(any && !slim_);
}

void TrayFoot::refresh_sending() {
    const int left = models_.sending.left();
    sending_->setVisible(!models_.sending.items().empty());
    sending_->setText(left > 0 ? tr("sending %1…").arg(left) : tr("sent"));
    sending_->setToolTip(tr("Files waiting for servers, and files that were sent"));
}

void TrayFoot::refresh_save() {
    const Tray& tray = models_.tray.tray();
    const auto place = find_page(tray, models_.choice.current_id().toStdString());
    save_->setEnabled(place && !models_.saving.at_work());
    if (!place) return;
    const QString title = models_.names.title_of(*tray.documents[place->document]);
    save_->setToolTip(with_key(tr("Save %1").arg(title), Do::Save));
    save_->setAccessibleName(tr("Save %1").arg(title));
}

void TrayFoot::open_history() {
    auto* sheet = new PhraseSheet(window());
    sheet->setObjectName("history-sheet");
    if (models_.tray.can_redo())
        sheet->add_row(tr("redo: %1").arg(models_.tray.redo_name()), key_of(Do::Redo).keys, false,
                       [this] { models_.tray.redo(); });
    // The menu lists the latest steps. Undoing an earlier one undoes those after it as well.
    constexpr int shown = 8;
    const QStringList names = models_.tray.undo_names(shown);
    for (int i = 0; i < names.size(); ++i) {
        sheet->add_row(tr("undo: %1").arg(names[i]),
                       i == 0 ? QString(key_of(Do::Undo).keys) : tr("%1 steps").arg(i + 1), false, [this, i] {
                           for (int step = 0; step <= i; ++step) models_.tray.undo();
                       });
    }
    sheet->add_advice(tr("Steps can be undone even after saving or a restart."));
    sheet->open_under(on_screen(steps_));
}

}
