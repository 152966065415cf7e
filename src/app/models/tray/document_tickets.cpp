#include "app/models/tray/document_tickets.h"

#include "app/models/tickets/tickets.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/storage/new_id.h"

#include <map>

namespace yelvin {

namespace {
constexpr const char* current_kept_as = "ticket of new documents";
}

DocumentTickets::DocumentTickets(Messages& messages, LastChoices& last, Tickets& tickets, OutTray& tray,
                                 QObject* parent)
    : QObject(parent), messages_(messages), last_(last), tickets_(tickets), tray_(tray),
      current_(last.get(current_kept_as, std::string())) {
    if (current_.empty()) begin_another();
    connect(&tickets_, &Tickets::another_chosen, this, &DocumentTickets::begin_another);
    connect(&tickets_, &Tickets::changed, this, &DocumentTickets::follow_sentence);
    connect(&tray_, &OutTray::tickets_changed, this, &DocumentTickets::tell);
    tray_.when_loaded([this] { look_through_loaded(); });
}

void DocumentTickets::tell() {
    ++revision_;
    emit changed();
}

void DocumentTickets::begin_another() {
    current_ = new_id();
    last_.set(current_kept_as, current_);
}

void DocumentTickets::follow_sentence() {
    const unsigned before = revision_;
    tray_.set_ticket_of_new(current_, {tickets_.ticket(), tickets_.chosen_file().toStdString(), {}});
    if (revision_ == before) tell(); // No document uses the ticket yet, but the next one will.
}

// Handles the loaded documents. If the ticket in the sentence differs from the one at the end of the last session, the
// documents keep their tickets. Documents without a ticket come from a version that did not store it.
void DocumentTickets::look_through_loaded() {
    const TicketInUsePtr before = tray_.ticket(current_);
    const bool same = before && before->file == tickets_.chosen_file().toStdString() &&
                      before->ticket.same_choices(tickets_.ticket());
    if (before && !same) begin_another();
    follow_sentence();
    Tray now = tray_.tray();
    int without = 0;
    for (DocumentPtr& document : now.documents) {
        if (tray_.ticket(document->ticket)) continue;
        Document given = *document;
        given.ticket = current_;
        document = std::make_shared<const Document>(std::move(given));
        ++without;
    }
    if (without == 0) return;
    tray_.keep_ticket_of_new();
    tray_.change(now);
    messages_.tell(
        without == 1
            ? tr("A document in the tray had no ticket; it now uses the one in the sentence.")
            : tr("%1 documents in the tray had no ticket; they now use the one in the sentence.").arg(without));
}

const Ticket& DocumentTickets::of(const Document& document) const {
    // Most calls are for documents that use the ticket of the sentence.
    const TicketInUsePtr in_use = document.ticket == current_ ? nullptr : tray_.ticket(document.ticket);
    return in_use ? in_use->ticket : tickets_.ticket();
}

const Ticket& DocumentTickets::of_page(const std::string& page_id) const {
    if (!(seen_ == tray_.tray())) {
        seen_ = tray_.tray();
        pages_.clear();
        for (const DocumentPtr& document : seen_.documents)
            for (const PagePtr& page : document->pages) pages_.emplace(page->id, document);
    }
    const auto at = pages_.find(page_id);
    return at == pages_.end() ? tickets_.ticket() : of(*at->second);
}

std::string DocumentTickets::of_next_scan() {
    tray_.keep_ticket_of_new();
    return current_;
}

bool DocumentTickets::has_own(const Document& document) const {
    const TicketInUsePtr in_use = tray_.ticket(document.ticket);
    return in_use && !in_use->instead_of.empty();
}

bool DocumentTickets::follows(const Document& document) const { return document.ticket == current_; }

int DocumentTickets::following() const {
    const auto& documents = tray_.tray().documents;
    return static_cast<int>(std::ranges::count_if(documents, [&](const DocumentPtr& each) { return follows(*each); }));
}

// ---- for single documents

bool DocumentTickets::is_own_pattern(const Document& document, const std::vector<NamePart>& before) const {
    return has_own(document) && of(document).save.name != before;
}

void DocumentTickets::give(const QStringList& document_ids, const QString& step, const std::string& gesture,
                           const std::function<std::string(const Document&)>& ticket_for) {
    Tray now = tray_.tray();
    for (const QString& id : document_ids) {
        const DocumentPtr document = document_at(now, id.toStdString());
        if (!document) continue;
        const std::vector<NamePart> named = of(*document).save.name;
        now = with_document_ticket(now, document->id, ticket_for(*document));
        // A typed name is removed if another name pattern is chosen for the document.
        if (const DocumentPtr given = document_at(now, document->id);
            !document->name.empty() && is_own_pattern(*given, named))
            now = with_document_name(now, document->id, {});
    }
    tray_.edit(now, step, gesture);
    tell();
}

void DocumentTickets::change(const QStringList& document_ids, const std::function<void(Ticket&)>& how) {
    std::map<std::string, std::string> made; // Documents that shared a ticket share the changed one.
    // Successive changes of the same kind are one undo step.
    const std::string gesture = "ticket of " + document_ids.join(' ').toStdString();
    give(document_ids, tr("own choices"), gesture, [&](const Document& document) {
        auto [at, is_new] = made.try_emplace(document.ticket);
        if (!is_new) return at->second;
        const TicketInUsePtr before = tray_.ticket(document.ticket);
        TicketInUse own{of(document), before ? before->file : std::string(), document.ticket};
        if (before && !before->instead_of.empty()) own.instead_of = before->instead_of;
        how(own.ticket);
        if (own.ticket.same_choices(of(document))) return at->second = document.ticket;
        at->second = new_id();
        tray_.add_ticket(at->second, std::move(own));
        return at->second;
    });
}

void DocumentTickets::put_as(const QStringList& document_ids, const QString& ticket_file) {
    std::string id = current_;
    QString name = QString::fromStdString(tickets_.ticket().name);
    if (ticket_file.isEmpty() || ticket_file != tickets_.chosen_file()) {
        auto ticket = tickets_.accepted(ticket_file);
        if (!ticket) return;
        name = QString::fromStdString(ticket->name);
        id = new_id();
        tray_.add_ticket(id, {std::move(*ticket), ticket_file.toStdString(), {}});
    } else {
        tray_.keep_ticket_of_new();
    }
    give(document_ids, tr("make as %1").arg(name), {}, [&id](const Document&) { return id; });
}

void DocumentTickets::give_up_own(const QStringList& document_ids) {
    give(document_ids, tr("as its ticket says"), {}, [&](const Document& document) {
        const TicketInUsePtr in_use = tray_.ticket(document.ticket);
        const bool known = in_use && !in_use->instead_of.empty() && tray_.ticket(in_use->instead_of);
        return known ? in_use->instead_of : document.ticket;
    });
}

}
