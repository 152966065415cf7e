#include "app/models/tray/out_tray.h"

#include "app/models/threads/pools.h"
#include "app/models/window/messages.h"
#include "core/tray/tray_edits.h"
#include "jobs/trouble.h"

#include <QDesktopServices>
#include <QUrl>

namespace yelvin {

OutTray::OutTray(Messages& messages, Pools& pools, const QString& store_folder, QObject* parent)
    : QObject(parent), messages_(messages), when_there_(on_thread_while_there(this)) {
    const Executor here = on_thread_of(this);
    retry_.setInterval(std::chrono::seconds(5));
    retry_.setSingleShot(true);
    connect(&retry_, &QTimer::timeout, this, [this] { keeper_->retry(); });
    auto opened = TrayKeeper::open(store_folder.toStdString(), pools.keeping(), [this, here](const Error& error) {
        here([this, error] {
            // Reported once, not with every retry.
            if (!std::exchange(said_unkept_, true)) messages_.complain(error);
            retry_.start();
        });
    });
    if (!opened) { // Reported by an event, when the window is connected.
        here([this, why = opened.error()] { have_no_store(why); });
        no_store_ = opened.error();
        return;
    }
    keeper_ = std::move(*opened);
    pools.keeping()([this, here] {
        const auto read = caught("reading the out tray", [&] { return keeper_->load(); });
        here([this, read] {
            if (read)
                take_over(*read);
            else
                have_no_store(read.error());
        });
    });
}

void OutTray::keep_what_is_left() {
    if (keeper_) keeper_->retry();
}

void OutTray::have_no_store(const Error& why) {
    no_store_ = why;
    waiting_.clear();
    emit changed();
    complain_of_no_store();
}

void OutTray::complain_of_no_store() {
    // If another window uses the tray, its files are not damaged.
    if (no_store_->kind == ErrorKind::Busy) return messages_.complain(*no_store_);
    messages_.complain(*no_store_, {tr("start a new out tray"), [this] { emit fresh_tray_wanted(); }});
}

void OutTray::take_over(LoadedTray read) {
    tray_ = std::move(read.tray);
    history_ = std::move(read.history);
    tickets_ = std::move(read.tickets);
    new_document_ = tray_.documents.empty() || !tray_.documents.back()->saved_as.empty();
    is_loaded_ = true;
    emit changed();
    emit loaded();
    for (const auto& then : std::exchange(waiting_, {})) then();
    if (read.trouble.empty()) return;
    Offer show;
    if (!read.set_aside.empty())
        show = {tr("show"), [folder = QString::fromStdString(read.set_aside.string())] {
                    QDesktopServices::openUrl(QUrl::fromLocalFile(folder));
                }};
    messages_.complain(Error{ErrorKind::BadInput, read.trouble, {}}, show);
}

void OutTray::when_loaded(std::function<void()> then) {
    if (is_loaded_) return then();
    if (no_store_) return complain_of_no_store();
    waiting_.push_back(std::move(then));
}

// ---- changes and their history

// Whether the tray is invalid: each page must occur exactly once, in a document or among the pieces of a page.
bool OutTray::refuses(const Tray& tray) {
    const std::string contradiction = contradiction_in(tray);
    if (contradiction.empty()) return false;
    log_trouble("a change was rejected: " + contradiction);
    messages_.complain(tr("Nothing was changed, because a page would be in the out tray twice."));
    return true;
}

void OutTray::change(const Tray& tray) {
    if (tray == tray_ || refuses(tray)) return;
    tray_ = with_tickets(tray, ticket_of_new_.first);
    if (keeper_) keeper_->keep(tray_, std::exchange(history_changed_, false) ? &history_ : nullptr);
    said_unkept_ = false; // If writing fails again, it is reported again.
    emit changed();
}

void OutTray::edit(const Tray& tray, const QString& name, const std::string& gesture) {
    if (tray == tray_ || refuses(tray)) return;
    constexpr std::chrono::seconds together{2};
    const auto now = std::chrono::steady_clock::now();
    const bool joins = !gesture.empty() && gesture == gesture_ && now - gesture_at_ < together;
    gesture_ = gesture;
    gesture_at_ = now;
    if (!joins) {
        history_.undo.push_back({tray_, name.toStdString()});
        if (history_.undo.size() > most_steps) history_.undo.erase(history_.undo.begin());
        history_.redo.clear();
        history_changed_ = true;
    }
    change(tray);
}

namespace {
// Returns the older tray with the analysis results that pages have received since.
Tray with_notices_of(const Tray& older, const Tray& newer) {
    std::map<std::string, PagePtr> seen;
    for (const auto& document : newer.documents) {
        for (const auto& page : document->pages) {
            if (page->noticed) seen.emplace(page->id, page);
        }
    }
    Tray out = older;
    for (const auto& document : older.documents) {
        for (const auto& page : document->pages) {
            const auto now = page->noticed ? seen.end() : seen.find(page->id);
            if (now != seen.end()) out = with_page(out, now->second);
        }
    }
    return out;
}
}

void OutTray::step(std::vector<TrayStep>& from, std::vector<TrayStep>& to) {
    if (from.empty()) return;
    const TrayStep step = std::move(from.back());
    from.pop_back();
    const Tray before = tray_;
    to.push_back({before, step.name});
    history_changed_ = true;
    gesture_.clear();
    change(with_notices_of(step.tray, tray_));
    emit stepped(before);
}

void OutTray::undo() { step(history_.undo, history_.redo); }
void OutTray::redo() { step(history_.redo, history_.undo); }

QStringList OutTray::undo_names(int most) const {
    QStringList names;
    for (auto at = history_.undo.rbegin(); at != history_.undo.rend() && names.size() < most; ++at)
        names.append(QString::fromStdString(at->name));
    return names;
}

void OutTray::put_away_saved() {
    Tray left = tray_;
    for (const auto& document : tray_.documents) {
        if (!document->saved_as.empty()) left = without_document(left, document->id);
    }
    edit(left, tr("clear saved documents"));
}

// ---- tickets of documents

TicketInUsePtr OutTray::ticket(const std::string& id) const {
    if (const auto at = tickets_.find(id); at != tickets_.end()) return at->second;
    return id == ticket_of_new_.first ? ticket_of_new_.second : nullptr;
}

void OutTray::put_ticket(const std::string& id, TicketInUsePtr ticket) {
    if (keeper_) keeper_->keep_ticket(id, ticket);
    tickets_.insert_or_assign(id, std::move(ticket));
}

void OutTray::add_ticket(const std::string& id, TicketInUse ticket) {
    put_ticket(id, std::make_shared<const TicketInUse>(std::move(ticket)));
}

void OutTray::set_ticket_of_new(const std::string& id, TicketInUse ticket) {
    ticket_of_new_ = {id, std::make_shared<const TicketInUse>(std::move(ticket))};
    if (!tickets_.contains(id)) return; // A ticket that no document uses is not stored.
    put_ticket(id, ticket_of_new_.second);
    emit tickets_changed();
}

void OutTray::keep_ticket_of_new() {
    if (ticket_of_new_.second && !tickets_.contains(ticket_of_new_.first))
        put_ticket(ticket_of_new_.first, ticket_of_new_.second);
}

Tray OutTray::with_tickets(const Tray& tray, const std::string& ticket) const {
    Tray out = tray;
    for (DocumentPtr& document : out.documents) {
        if (!document->ticket.empty() || ticket.empty()) continue;
        Document given = *document;
        given.ticket = ticket;
        document = std::make_shared<const Document>(std::move(given));
    }
    return out;
}

// Whether the document was scanned with another ticket than the one with this id. Choices that were made for the
// document alone do not count as another ticket.
bool OutTray::goes_by_another(const Document& document, const std::string& id) const {
    const auto origin = [this](const std::string& of) {
        const TicketInUsePtr in_use = ticket(of);
        return in_use && !in_use->instead_of.empty() ? in_use->instead_of : of;
    };
    const std::string before = origin(document.ticket), now = origin(id);
    if (before.empty() || now.empty() || before == now) return false;
    const TicketInUsePtr a = ticket(before), b = ticket(now);
    return !a || !b || a->file.empty() || a->file != b->file; // The same file chosen again is the same ticket.
}

// ---- adding pages

bool OutTray::next_page_starts_document() const {
    if (new_document_ || tray_.documents.empty()) return true;
    const Document& last = *tray_.documents.back();
    return is_closed(last) || (last.id != takes_other_ && goes_by_another(last, ticket_of_new_.first)) ||
           (last.id != joined_once_ && scans_stay_apart());
}

bool OutTray::scans_stay_apart() const {
    return ticket_of_new_.second && ticket_of_new_.second->ticket.pages.documents != Documents::Joined;
}

OutTray::Asked OutTray::asked_for_next_page() const {
    if (tray_.documents.empty()) return Asked::Nothing;
    const std::string& last = tray_.documents.back()->id;
    if (new_document_) return Asked::NewDocument;
    return last == goes_on_in_ || last == takes_other_ || last == joined_once_ ? Asked::LastDocument : Asked::Nothing;
}

bool OutTray::is_closed(const Document& document) const {
    const auto is_kept_closed = [this](const PagePtr& page) { return kept_closed_.contains(page->id); };
    if (std::ranges::any_of(document.pages, is_kept_closed)) return true;
    return !document.saved_as.empty() && document.id != goes_on_in_;
}

std::shared_ptr<void> OutTray::keep_closed(const std::vector<PagePtr>& pages) {
    for (const PagePtr& page : pages) kept_closed_.insert(page->id);
    emit changed();
    // The holder may wait for a folder that never answers and may outlive the tray.
    return {nullptr, [this, pages, here = when_there_](void*) {
                here([this, pages] {
                    for (const PagePtr& page : pages) kept_closed_.erase(kept_closed_.find(page->id));
                    emit changed();
                });
            }};
}

void OutTray::set_next_page_starts_document(bool starts) {
    new_document_ = starts;
    goes_on_in_.clear();
    takes_other_.clear();
    joined_once_.clear();
    if (!starts && !tray_.documents.empty()) {
        const Document& last = *tray_.documents.back();
        if (is_closed(last)) goes_on_in_ = last.id;
        if (goes_by_another(last, ticket_of_new_.first)) takes_other_ = last.id;
        if (scans_stay_apart()) joined_once_ = last.id;
    }
    emit changed();
}

void OutTray::set_landing(std::optional<Landing> landing) {
    if (!landing && !landing_) return;
    landing_ = std::move(landing);
    emit changed();
}

Tray OutTray::with_arrived(const PagePtr& page, const Arrival& arrival) {
    if (landing_ && this->page(landing_->page)) {
        const Landing where = *landing_;
        landing_ = Landing{page->id, Landing::How::Behind}; // Further pages of this run follow this one.
        return where.how == Landing::How::Instead  ? with_page_replaced(tray_, where.page, page)
               : where.how == Landing::How::Before ? with_page_inserted(tray_, where.page, page)
                                                   : with_page_behind(tray_, where.page, page);
    }
    // new_document_ is set if the user asked for a new document since the previous page.
    if (arrival.starts_document || new_document_) return with_page_added(tray_, page, true);
    // Other pages may have been added to the end of the tray meanwhile.
    const auto follows = find_page(tray_, arrival.follows);
    const bool ends_its_document = follows && follows->page + 1 == tray_.documents[follows->document]->pages.size();
    const DocumentPtr joined = ends_its_document         ? tray_.documents[follows->document]
                               : tray_.documents.empty() ? nullptr
                                                         : tray_.documents.back();
    const bool asked_for = joined && joined->id == takes_other_;
    const std::string& goes_by = arrival.ticket.empty() ? ticket_of_new_.first : arrival.ticket;
    const bool of_another = joined && !follows && !asked_for && goes_by_another(*joined, goes_by);
    if (!joined || is_closed(*joined) || of_another) return with_page_added(tray_, page, true);
    return with_page_behind(tray_, joined->pages.back()->id, page);
}

void OutTray::add_page(const PagePtr& page, const Arrival& arrival) {
    if (arrival.ticket.empty() || arrival.ticket == ticket_of_new_.first) keep_ticket_of_new();
    const Tray with = with_tickets(with_arrived(page, arrival), arrival.ticket);
    new_document_ = false;
    joined_once_.clear();
    if (arrival.step == Step::New)
        edit(with, arrival.step_name);
    else
        change(with);
}

// ---- recognised text

std::optional<TextLayer> OutTray::text_of(const Page& page, const std::string& languages) const {
    return keeper_ ? keeper_->text(page, languages) : std::nullopt;
}

void OutTray::discard(const Original& original) {
    if (keeper_) keeper_->discard(original);
}

void OutTray::keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text) {
    if (!keeper_) return;
    keeper_->keep_text(page, languages, text);
    emit text_kept(page, languages, text);
}

void OutTray::tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then) {
    if (keeper_) keeper_->tell_read_pages(std::move(then));
}

void OutTray::tell_kept(const KeepingRule& rule, std::function<void(const std::vector<KeptDocument>&)> then) {
    if (!keeper_ || !is_loaded_) return;
    const auto now = std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now());
    keeper_->tell_kept(rule, now, [then = std::move(then), here = on_thread_of(this)](std::vector<KeptDocument> kept) {
        here([then, kept = std::move(kept)] { then(kept); });
    });
}

}
