#include "app/models/at_once.h"

#include "app/models/errands.h"
#include "app/models/looking.h"
#include "app/models/messages.h"
#include "app/models/out_tray.h"
#include "app/models/papers.h"
#include "app/models/reading.h"
#include "app/models/saving.h"
#include "app/models/scanning.h"
#include "app/models/tickets.h"

#include <QFile>
#include <QFileInfo>

namespace yelvin {

AtOnce::AtOnce(const Around& around, QObject* parent) : QObject(parent), around_(around) {
    settle_.setSingleShot(true);
    settle_.setInterval(0); // what one event leads to is through
    connect(&settle_, &QTimer::timeout, this, &AtOnce::finish);
    connect(&around_.run, &Scanning::changed, this, &AtOnce::look);
    connect(&around_.looking, &Looking::changed, this, &AtOnce::look);
    connect(&around_.reading, &Reading::changed, this, &AtOnce::look);
    connect(&around_.saving, &Saving::document_saved, this,
            [this](const QString& id, const QStringList& files) { say_saved(id, files); });
}

void AtOnce::look() {
    const bool runs = around_.run.passing() || around_.run.waiting().what != Waiting::For::Nothing;
    if (runs && !runs_) { // a run begins: the ticket that it began with decides
        const Ticket& ticket = around_.tickets.ticket();
        const auto& errands = ticket.then.errands;
        copies_ = ticket.then.print.as_copy && std::ranges::find(errands, Errand::Print) != errands.end();
        armed_ = ticket.save.at_once || copies_;
        before_.clear();
        for (const std::string& id : page_ids(around_.tray.tray())) before_.insert(id);
    }
    runs_ = runs;
    if (armed_ && !runs_) settle_.start(0);
}

void AtOnce::finish() {
    if (!armed_ || runs_) return;
    constexpr int again_ms = 100; // not all that ends says so
    if (around_.looking.in_work() > 0 || (!copies_ && around_.reading.at_work())) return settle_.start(again_ms);
    armed_ = false;
    std::vector<std::string> documents;
    QStringList to_save;
    for (const auto& document : around_.tray.tray().documents) {
        const bool of_run = std::ranges::any_of(document->kept_pages(),
                                                [&](const PagePtr& page) { return !before_.contains(page->id); });
        if (!of_run || !document->saved_as.empty()) continue;
        documents.push_back(document->id);
        to_save.append(QString::fromStdString(document->id));
    }
    if (documents.empty()) return;
    if (copies_) return copy(documents);
    started_.insert(documents.begin(), documents.end());
    around_.saving.save(to_save);
}

// Printed, then gone from the tray; undo brings the pages back.
void AtOnce::copy(const std::vector<std::string>& documents) {
    const PrintHow how = around_.tickets.ticket().then.print;
    for (const std::string& id : documents) {
        const auto printed = [this, id](const Result<QString>& done) {
            if (!done) return around_.messages.complain(done.error());
            around_.tray.edit(without_document(around_.tray.tray(), id), tr("copied"));
            around_.messages.tell(done->isEmpty() ? tr("Copied; Ctrl+Z brings the pages back.") : *done);
        };
        around_.errands.print(id, how, {this, printed});
    }
}

void AtOnce::say_saved(const QString& document_id, const QStringList& files) {
    if (started_.erase(document_id.toStdString()) == 0) return;
    // Behind what is said of saving itself.
    QTimer::singleShot(0, this, [this, document_id, files] {
        QTimer::singleShot(0, this, [this, document_id, files] {
            around_.messages.tell(tr("Saved at once: %1").arg(QFileInfo(files.front()).fileName()),
                                  {tr("take back"), [this, document_id, files] { take_back(document_id, files); }});
        });
    });
}

// The files go to the wastebasket, the document is unsaved again.
void AtOnce::take_back(const QString& document_id, const QStringList& files) {
    for (const QString& file : files) {
        if (!QFileInfo::exists(file) || QFile::moveToTrash(file)) continue;
        return around_.messages.complain(
            tr("%1 could not be put into the wastebasket; it stays where it is.").arg(file));
    }
    around_.papers.forget_file(files.front());
    around_.tray.change(with_document_saved(around_.tray.tray(), document_id.toStdString(), {}));
    around_.messages.tell(tr("Taken back: the file is in the wastebasket, its pages are in the tray."));
}

}
