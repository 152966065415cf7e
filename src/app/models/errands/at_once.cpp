#include "app/models/errands/at_once.h"

#include "app/models/errands/errands.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/saving.h"
#include "app/models/scanning/scanning.h"
#include "app/models/text/reading.h"
#include "app/models/threads/apart.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"

#include <QFile>
#include <QFileInfo>

namespace yelvin {

namespace {

bool is_copied(const Ticket& ticket) {
    const auto& errands = ticket.then.errands;
    return ticket.then.print.as_copy && std::ranges::find(errands, Errand::Print) != errands.end();
}

bool contains(const std::vector<std::string>& pages, const PagePtr& page) {
    return std::ranges::find(pages, page->id) != pages.end();
}

}

AtOnce::AtOnce(const Around& around, QObject* parent) : QObject(parent), around_(around) {
    settle_.setSingleShot(true);
    settle_.setInterval(0); // Runs after all handlers of the present event.
    connect(&settle_, &QTimer::timeout, this, &AtOnce::see);
    connect(&around_.run, &Scanning::page_scanned, this, &AtOnce::take_page);
    connect(&around_.run, &Scanning::run_ended, this, &AtOnce::end_run);
    const auto again = [this] {
        if (!runs_.empty()) settle_.start();
    };
    connect(&around_.tray, &OutTray::changed, this, again);
    connect(&around_.looking, &Looking::changed, this, again);
    connect(&around_.reading, &Reading::changed, this, again);
    connect(&around_.saving, &Saving::document_saved, this,
            [this](const QString& id, const QStringList& files, const Ticket& ticket) {
                say_saved(id, files, adds_to_file(ticket));
            });
}

void AtOnce::take_page(const QString& page_id, const Ticket& ticket) {
    if (runs_.empty() || runs_.back().ended) runs_.emplace_back();
    runs_.back().ticket = ticket; // The ticket may have changed after the first sheet.
    runs_.back().pages.push_back(page_id.toStdString());
}

void AtOnce::end_run() {
    if (runs_.empty() || runs_.back().ended) return;
    Run& run = runs_.back();
    run.ended = true;
    if (!run.ticket.save.at_once && !is_copied(run.ticket)) return runs_.pop_back();
    std::vector<PagePtr> pages;
    for (const std::string& id : run.pages)
        if (const PagePtr page = around_.tray.page(id)) pages.push_back(page);
    run.closed = around_.tray.keep_closed(pages);
    settle_.start();
}

void AtOnce::hand_over() {
    is_ending_ = true;
    std::erase_if(runs_, [](const Run& run) { return is_copied(run.ticket); }); // nothing is printed any more
    see();
}

void AtOnce::see() {
    std::erase_if(runs_, [this](Run& run) { return is_through(run); });
}

bool AtOnce::is_through(Run& run) {
    const bool copied = is_copied(run.ticket);
    // The ticket's present choice decides while the run has not ended.
    if (!copied && !run.ticket.save.at_once) return false;
    if (copied && !run.ended) return false; // Copies leave the tray together.
    QStringList to_save;
    bool all = run.ended;
    for (const auto& document : around_.tray.tray().documents) {
        const auto is_of_run = [&run](const PagePtr& page) { return contains(run.pages, page); };
        if (!document->saved_as.empty() || run.begun.contains(document->id) ||
            std::ranges::none_of(document->kept_pages(), is_of_run))
            continue;
        if (!is_complete(*document, run)) {
            all = false;
            continue;
        }
        run.begun.insert(document->id);
        to_save.append(QString::fromStdString(document->id));
    }
    if (copied) {
        for (const QString& id : to_save) copy(id.toStdString(), run.ticket.then.print);
        return all;
    }
    for (const QString& id : to_save) started_.insert(id.toStdString());
    // A document is saved with the ticket that it was scanned with, even if the sentence has changed since. A document
    // that was given another ticket or choices of its own is saved with those.
    QStringList by_run, by_own;
    for (const QString& id : to_save) {
        const DocumentPtr document = document_at(around_.tray.tray(), id.toStdString());
        const bool other = around_.tickets.has_own(*document) || around_.tickets.of(*document).name != run.ticket.name;
        (other ? by_own : by_run).append(id);
    }
    if (!by_run.isEmpty()) around_.saving.save(by_run, run.ticket);
    if (!by_own.isEmpty()) around_.saving.save(by_own);
    return all;
}

// Whether the pages of the document are final, and their text is recognised or not wanted.
bool AtOnce::is_complete(const Document& document, const Run& run) const {
    const auto is_looked_at = [this](const std::string& id) { return !around_.looking.is_looking_at(id); };
    if (run.ended && !std::ranges::all_of(run.pages, is_looked_at)) return false;
    for (const PagePtr& page : document.pages) {
        if (!is_looked_at(page->id)) return false;
        if (run.ended || !contains(run.pages, page)) continue;
        // While the run continues, more pages may follow its last one, and a page without a verdict may begin a
        // document.
        if (page->id == run.pages.back() || !around_.run.is_decided(page->id)) return false;
    }
    return is_ending_ || is_copied(run.ticket) || std::ranges::none_of(document.kept_pages(), [&](const PagePtr& page) {
               return around_.reading.is_about_to_read(*page, run.ticket);
           });
}

// Prints the document, then removes it from the tray. Undo restores its pages.
void AtOnce::copy(const std::string& document_id, const PrintHow& how) {
    const auto printed = [this, document_id](const Result<QString>& done) {
        if (!done) return around_.messages.complain(done.error());
        around_.tray.edit(without_document(around_.tray.tray(), document_id), tr("print and clear"));
        around_.messages.tell(done->isEmpty() ? tr("Printed and cleared; Ctrl+Z brings the pages back.") : *done);
    };
    around_.errands.print(document_id, how, {this, printed});
}

void AtOnce::say_saved(const QString& document_id, const QStringList& files, bool added) {
    if (started_.erase(document_id.toStdString()) == 0) return;
    // Shown after the message of saving itself.
    QTimer::singleShot(0, this, [this, document_id, files, added] {
        QTimer::singleShot(0, this, [this, document_id, files, added] {
            // The file also contains pages of other documents.
            if (added)
                return around_.messages.tell(tr("Added automatically: %1").arg(QFileInfo(files.front()).fileName()));
            around_.messages.tell(tr("Saved automatically: %1").arg(QFileInfo(files.front()).fileName()),
                                  {tr("undo saving"), [this, document_id, files] { take_back(document_id, files); }});
        });
    });
}

// Moves the files to the wastebasket. The document is unsaved again.
void AtOnce::take_back(const QString& document_id, const QStringList& files) {
    const auto put_away = [files]() -> Result<void> {
        // The file in the main format is removed last, because the document counts as saved as long as it exists.
        for (auto file = files.rbegin(); file != files.rend(); ++file)
            if (QFileInfo::exists(*file) && !QFile::moveToTrash(*file))
                return fail(
                    ErrorKind::NotWritable,
                    tr("%1 could not be moved to the wastebasket; it stays where it is.").arg(*file).toStdString());
        return {};
    };
    const auto then = [this, document_id, files](const Result<void>& done) {
        if (!done) return around_.messages.complain(done.error());
        around_.papers.forget_file(files.front());
        around_.tray.change(with_document_saved(around_.tray.tray(), document_id.toStdString(), {}));
        around_.messages.tell(tr("Saving undone: the file is in the wastebasket, its pages in the tray."));
    };
    apart(this, "undoing a save", put_away, then);
}

}
