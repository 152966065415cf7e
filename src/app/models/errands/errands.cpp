#include "app/models/errands/errands.h"

#include "app/models/errands/clipboard.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/saving.h"
#include "app/models/sending/sending.h"
#include "app/models/threads/apart.h"
#include "app/models/threads/pools.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/developing/develop.h"
#include "core/naming/file_name.h"
#include "core/tray/originals.h"
#include "jobs/page_looker.h"

#include <QFileInfo>
#include <QTimer>

namespace yelvin {

namespace {

constexpr const char* errands_kept_as = "errands";

}

Errands::Errands(const Around& around, std::unique_ptr<Outside> outside, QObject* parent)
    : QObject(parent), around_(around), outside_(std::move(outside)), mailing_(around.saving, *outside_, *this) {
    const auto kept = around_.last.get<std::vector<int>>(
        errands_kept_as, {static_cast<int>(Errand::Open), static_cast<int>(Errand::Show)});
    for (const Errand each : all_errands())
        if (std::ranges::find(kept, static_cast<int>(each)) != kept.end()) used_.push_back(each);
    connect(&around_.saving, &Saving::document_saved, this, &Errands::take_saved);
    connect(&around_.sending, &Sending::changed, this, &Errands::changed);
    // Actions begin after the message of saving itself.
    connect(&around_.saving, &Saving::saved, this, [this] {
        QTimer::singleShot(0, this, [this] {
            if (!running_) begin_next();
        });
    });
}

bool Errands::uses(Errand errand) const { return std::ranges::find(used_, errand) != used_.end(); }

std::vector<Errand> Errands::used() const { return used_; }

void Errands::use(Errand errand, bool is) {
    if (is == uses(errand)) return;
    std::vector<Errand> used;
    std::vector<int> kept;
    for (const Errand each : all_errands()) {
        if (each == errand ? !is : !uses(each)) continue;
        used.push_back(each);
        kept.push_back(static_cast<int>(each));
    }
    used_ = std::move(used);
    around_.last.set(errands_kept_as, kept);
    emit used_changed();
}

void Errands::take_saved(const QString& document_id, const QStringList& files, const Ticket& ticket) {
    const std::string id = document_id.toStdString();
    saved_[id] = {{files, with_values_of(id, ticket), QFileInfo(files.front()).completeBaseName()}, {}};
    for (const Errand errand : ticket.then.errands) {
        if (errand == Errand::Print && ticket.then.print.look_first) {
            QTimer::singleShot(0, this, [this, document_id] { emit look_wanted(document_id); });
            continue;
        }
        state_of(saved_[id], errand);
        waiting_.push_back({id, errand});
    }
    emit changed();
}

// Adds the values that were read from the separator sheet and from the text of the document.
Ticket Errands::with_values_of(const std::string& document_id, Ticket ticket) const {
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    if (!document || document->kept_pages().empty()) return ticket;
    const NameValues values = around_.papers.values_of(*document, ticket);
    Ticket::Then& then = ticket.then;
    for (auto* parts : {&then.mail.subject, &then.mail.words, &then.send.folder}) *parts = with_values(*parts, values);
    return ticket;
}

Errands::Saved* Errands::saved_of(const std::string& document_id) {
    if (const auto at = saved_.find(document_id); at != saved_.end()) return &at->second;
    // The document was saved in an earlier session; its file and its ticket are known.
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    if (!document || document->saved_as.empty()) return nullptr;
    const QString file = QString::fromStdString(document->saved_as);
    const Ticket ticket = with_values_of(document_id, around_.tickets.of(*document));
    return &(saved_[document_id] = {{{file}, ticket, QFileInfo(file).completeBaseName()}, {}});
}

void Errands::note_moved(const std::string& document_id, const QString& from, const QString& to) {
    Saved* saved = saved_of(document_id);
    if (!saved) return;
    for (QString& file : saved->files)
        if (file == from) file = to;
    saved->title = QFileInfo(saved->files.front()).completeBaseName();
    emit changed();
}

bool Errands::is_there(const QString& file) const {
    const std::filesystem::path path = file.toStdString();
    const FolderState state = around_.folders.of(path.parent_path());
    return state.names && state.names->contains(path.stem().string());
}

bool Errands::has_files(const std::string& document_id) const { return !files_of(document_id).isEmpty(); }

QStringList Errands::files_of(const std::string& document_id) const {
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    if (!document || document->saved_as.empty()) return {};
    const auto at = saved_.find(document_id);
    return at != saved_.end() ? at->second.files : QStringList{QString::fromStdString(document->saved_as)};
}

std::vector<ErrandState> Errands::of(const std::string& document_id) const {
    const auto at = saved_.find(document_id);
    auto states = at == saved_.end() ? std::vector<ErrandState>{} : at->second.states;
    const auto sent = around_.sending.of(document_id);
    if (sent.empty()) return states;
    const auto send = std::ranges::find(states, Errand::Send, &ErrandState::errand);
    ErrandState& state = send != states.end() ? *send : states.emplace_back(ErrandState{Errand::Send});
    state.is = ErrandState::Is::Done;
    for (const SendItem& each : sent) {
        if (each.state == SendItem::State::Sent) continue;
        const bool failed = each.state == SendItem::State::Failed;
        if (state.is != ErrandState::Is::Failed) state.is = failed ? ErrandState::Is::Failed : ErrandState::Is::Runs;
        state.why = send_state_words(each);
    }
    return states;
}

ErrandState& Errands::state_of(Saved& saved, Errand errand) {
    auto at = std::ranges::find(saved.states, errand, &ErrandState::errand);
    if (at == saved.states.end()) at = saved.states.insert(at, {errand, ErrandState::Is::Waits, {}});
    return *at;
}

void Errands::begin(const std::string& document_id, Errand errand) {
    Saved* saved = saved_of(document_id);
    if (!saved) return;
    const auto sent = around_.sending.of(document_id);
    const auto is_there = [](const SendItem& each) { return each.state == SendItem::State::Sent; };
    if (errand == Errand::Send && !std::ranges::all_of(sent, is_there))
        return around_.sending.retry_all_of(document_id);
    if (errand == Errand::Print) return emit look_wanted(QString::fromStdString(document_id));
    state_of(*saved, errand).is = ErrandState::Is::Waits;
    waiting_.push_back({document_id, errand});
    emit changed();
    if (!running_) begin_next();
}

void Errands::begin_next() {
    running_ = !waiting_.empty();
    if (!running_) return emit changed();
    const Step step = waiting_.front();
    waiting_.pop_front();
    Saved* saved = saved_of(step.document);
    if (!saved) return begin_next();
    state_of(*saved, step.errand) = {step.errand, ErrandState::Is::Runs, {}};
    emit changed();
    // An outside program that does not answer must not block the following tasks. Printing has no time limit.
    const Outside::Done done(this, [this, step](const Result<QString>& how) { end(step, how); });
    if (step.errand != Errand::Print)
        QTimer::singleShot(patience_, this, [done, step] {
            done(fail(ErrorKind::Busy, tr("“%1” did not respond for 90 seconds; try again from the document's tab.")
                                           .arg(errand_word(step.errand))
                                           .toStdString()));
        });
    look_at_files(step, saved->files, done);
}

// Checks the files on another thread, because they may be on a network share that does not answer.
void Errands::look_at_files(const Step& step, const QStringList& files, const Outside::Done& done) {
    using Sizes = std::vector<std::uintmax_t>;
    const auto look = [files]() -> Result<Sizes> {
        Sizes sizes;
        for (const QString& file : files) {
            const QFileInfo about(file);
            if (!about.exists())
                return fail(ErrorKind::Missing,
                            tr("%1 was moved or deleted; save the document again.").arg(file).toStdString());
            sizes.push_back(static_cast<std::uintmax_t>(about.size()));
        }
        return sizes;
    };
    const auto seen = [this, step, done](const Result<Sizes>& sizes) {
        if (!sizes) return done(std::unexpected(sizes.error()));
        Saved* saved = saved_of(step.document);
        if (!saved) // The document left the tray meanwhile.
            return done(fail(ErrorKind::Missing, tr("The document is no longer in the out tray.").toStdString()));
        saved->bytes = *sizes;
        carry_out(step, *saved, done);
    };
    apart(this, "looking for saved files", look, seen, patience_with(files.front().toStdString()));
}

void Errands::record(const Step& step, const Result<QString>& how) {
    if (Saved* saved = saved_of(step.document)) {
        const bool good = how.has_value();
        state_of(*saved, step.errand) = {step.errand, good ? ErrandState::Is::Done : ErrandState::Is::Failed,
                                         good ? QString() : QString::fromStdString(how.error().sentence)};
        if (!good) around_.messages.complain(how.error());
        if (good && !how->isEmpty()) around_.messages.tell(*how);
    }
}

void Errands::end(const Step& step, const Result<QString>& how) {
    record(step, how);
    begin_next();
}

void Errands::carry_out(const Step& step, const Saved& saved, const Outside::Done& done) {
    switch (step.errand) {
    case Errand::Open:
        return outside_->open({}, saved.files, done);
    case Errand::OpenWith:
        return outside_->open(saved.ticket.then.program, saved.files, done);
    case Errand::Show:
        return outside_->show(saved.files, done);
    case Errand::Mail:
        if (!Mailing::fits(saved))
            return done(
                fail(ErrorKind::BadInput,
                     tr("%1 exceeds your e-mail limit of %2 MB; click “e-mail” on its tab to choose what to do.")
                         .arg(saved.title)
                         .arg(saved.ticket.then.mail.limit_mb)
                         .toStdString()));
        return mailing_.send(saved, Mailing::Mails::One, done);
    case Errand::Clipboard:
        return put_on_clipboard(
            saved, saved.ticket.then.clipboard == ClipboardAs::Text ? text_of(step.document, saved.ticket) : QString(),
            around_.pools.errands(), on_thread_of(this), done);
    case Errand::Send:
        return send(step.document, saved, done);
    case Errand::Print:
        break;
    }
    print(step.document, saved.ticket.then.print, done);
}

PrintHow Errands::print_how(const std::string& document_id) const {
    const auto at = saved_.find(document_id);
    return at == saved_.end() ? PrintHow{} : at->second.ticket.then.print;
}

void Errands::print_chosen(const std::string& document_id, const PrintHow& how, const std::vector<size_t>& which) {
    Saved* saved = saved_of(document_id);
    if (!saved) return;
    state_of(*saved, Errand::Print) = {Errand::Print, ErrandState::Is::Runs, {}};
    emit changed();
    print(document_id, how,
          {this,
           [this, document_id](const Result<QString>& printed) {
               record({document_id, Errand::Print}, printed);
               emit changed();
           }},
          which);
}

void Errands::print(const std::string& document_id, const PrintHow& how, Outside::Done then,
                    const std::vector<size_t>& which) {
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    if (!document)
        return then(fail(ErrorKind::Missing,
                         tr("The document is no longer in the tray, so nothing was printed.").toStdString()));
    const auto saved = saved_.find(document_id);
    PrintJob job{saved != saved_.end() ? saved->second.title : around_.names.title_of(*document), how, {}, {}};
    auto pages = document->kept_pages();
    if (!which.empty()) {
        const auto all = std::exchange(pages, {});
        for (const size_t each : which)
            if (each < all.size()) pages.push_back(all[each]); // Pages may have been left out since.
    }
    for (const PagePtr& page : pages) {
        const auto& original = page->original;
        const auto size = developed_size(page->recipe, {original.width_px, original.height_px}, original.dpi);
        job.sizes.push_back({px_to_mm(size.width, original.dpi), px_to_mm(size.height, original.dpi)});
    }
    job.raster = [pages, folder = around_.tray.store_folder()](size_t page) -> Result<Raster> {
        const auto original = read_original(folder, pages[page]->original);
        if (!original) return std::unexpected(original.error());
        return develop(*original, pages[page]->recipe);
    };
    outside_->print(std::move(job), std::move(then));
}

// The action is done when the send queue has stored the files; the queue delivers them.
void Errands::send(const std::string& document_id, const Saved& saved, const Outside::Done& done) {
    SendHow how = saved.ticket.then.send;
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    // The document was saved with a ticket that names no server.
    if (how.server.empty() && how.address.empty() && document)
        how = with_values_of(document_id, around_.tickets.of(*document)).then.send;
    if (how.server.empty() && how.address.empty())
        return done(
            fail(ErrorKind::Missing,
                 tr("No server is chosen yet, so nothing was sent; choose one under “then …” in the ticket's sentence.")
                     .toStdString()));
    RemotePath folder;
    for (const auto& part : folder_within({}, how.folder, {}, today())) folder.push_back(part.string());
    around_.sending.send(document_id, saved.files, {how.server, how.address, folder}, [done](const Result<void>& held) {
        done(held ? Result<QString>(QString()) : std::unexpected(held.error()));
    });
}

// Returns the text of the document as it goes into files, or nothing if it has none.
QString Errands::text_of(const std::string& document_id, const Ticket& ticket) const {
    QStringList text;
    const DocumentPtr document = document_at(around_.tray.tray(), document_id);
    for (const PagePtr& page : document ? document->kept_pages() : std::vector<PagePtr>{}) {
        const auto read = around_.tray.text_of(*page, joined(reading_languages(*page, ticket)));
        if (!read) continue;
        const PageText for_file = text_for_file(*page, *read);
        const size_t words = for_file.words().size();
        if (words > 0) text.append(QString::fromStdString(running_text(for_file, 0, words - 1)));
    }
    return text.join("\n\n");
}

Errands::MailSaid Errands::mail_said(const std::string& document_id) const {
    const auto at = saved_.find(document_id);
    if (at == saved_.end()) return {};
    double dpi = 0;
    if (const DocumentPtr document = document_at(around_.tray.tray(), document_id))
        for (const PagePtr& page : document->kept_pages()) dpi = std::max<double>(dpi, page->original.dpi);
    return {Mailing::fits(at->second), static_cast<int>(Mailing::parted(at->second).size()),
            Mailing::lower_dpi(at->second, dpi)};
}

Outside::Done Errands::mail_begins(const std::string& document_id, Saved& saved) {
    state_of(saved, Errand::Mail) = {Errand::Mail, ErrandState::Is::Runs, {}};
    emit changed();
    return {this, [this, step = Step{document_id, Errand::Mail}](const Result<QString>& how) {
                record(step, how);
                emit changed();
            }};
}

void Errands::mail_anyway(const std::string& document_id, Mailing::Mails mails) {
    if (Saved* saved = saved_of(document_id)) mailing_.send(*saved, mails, mail_begins(document_id, *saved));
}

void Errands::mail_at_lower_dpi(const std::string& document_id, int dpi) {
    if (Saved* saved = saved_of(document_id))
        mailing_.send_at_lower_dpi(document_id, *saved, dpi, mail_begins(document_id, *saved));
}

}
