// The part of Saving that decides in which folder a document is saved, and lets it wait while that folder is missing.
#include "app/models/naming/document_names.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/out_tray.h"
#include "app/models/window/messages.h"
#include "core/naming/file_name.h"

namespace yelvin {

namespace {
constexpr int look_again_ms = 2000; // for a folder that is gone

bool asks(const Ticket& ticket) { return ticket.save.where == Ticket::Save::Where::Asked; }

// Whether the folder may become available again, unlike one that is full or not writable.
bool may_come_back(const Error& error) { return error.kind == ErrorKind::Missing; }
}

void Saving::save(const QStringList& document_ids) {
    std::vector<Together> all;
    for (const QString& id : document_ids) {
        const DocumentPtr there = document(id.toStdString());
        if (!there) continue;
        const Ticket& ticket = around_.tickets.of(*there);
        const auto same = [&](const Together& each) {
            return each.ticket.name == ticket.name && each.ticket.same_choices(ticket);
        };
        auto at = std::ranges::find_if(all, same);
        if (at == all.end()) at = all.insert(at, {ticket, {}});
        at->ids.append(id);
    }
    save(all);
}

void Saving::save(const QStringList& document_ids, const Ticket& ticket) { save({Together{ticket, document_ids}}); }

// Saves the documents, grouped by folder and ticket.
void Saving::save(const std::vector<Together>& all) {
    if (!queue_) return;
    // If one of them has to wait, all wait, so that their numbers follow the order of the tray and the user is asked
    // for a folder only once.
    const auto waits = [this](const Together& each) {
        return std::ranges::any_of(each.ids, [this](const QString& id) { return is_looked_at(id.toStdString()); });
    };
    const bool later = std::ranges::any_of(all, waits);
    std::vector<Together> asked; // where their folder is asked for
    for (const auto& [ticket, document_ids] : all) {
        std::map<std::string, QStringList> by_folder; // their own; empty: the ticket's
        const auto kept = std::make_shared<const Ticket>(ticket);
        for (const QString& id : document_ids)
            if (const DocumentPtr there = document(id.toStdString()); there && !is_given(*there, ticket)) {
                waits_.erase(there->id);
                pending_->note(there->id, kept);
                given_[there->id] = there;
                if (later)
                    looked_at_[there->id] = {ticket, closed({id})};
                else
                    by_folder[there->folder].append(id);
            }
        for (const auto& [own, ids] : by_folder) {
            if (own.empty() && asks(ticket))
                asked.push_back({ticket, ids});
            else
                save_where_found({{ticket, ids}}, own);
        }
    }
    if (!asked.empty()) save_where_found(asked, {});
}

bool Saving::is_looked_at(const std::string& document_id) const {
    const DocumentPtr there = document(document_id);
    return there && std::ranges::any_of(
                        there->pages, [this](const PagePtr& page) { return around_.looking.is_looking_at(page->id); });
}

// Saves the documents that waited for the analysis of their pages. The analysis changes pages, and a document that
// changes while it is being saved does not count as saved.
void Saving::save_what_was_looked_at() {
    if (std::ranges::any_of(looked_at_, [this](const auto& each) { return is_looked_at(each.first); })) return;
    const auto ready = std::exchange(looked_at_, {});
    std::vector<Together> all; // in the tray's order
    for (const DocumentPtr& each : around_.tray.tray().documents) {
        const auto at = ready.find(each->id);
        if (at == ready.end()) continue;
        const Ticket& ticket = at->second.ticket;
        const bool same =
            !all.empty() && all.back().ticket.name == ticket.name && all.back().ticket.same_choices(ticket);
        if (!same) all.push_back({ticket, {}});
        all.back().ids.append(QString::fromStdString(each->id));
    }
    for (const auto& [id, how] : ready) {
        given_.erase(id);
        if (!document(id)) pending_->forget(id);
    }
    save(all);
    emit changed();
}

std::shared_ptr<void> Saving::closed(const QStringList& document_ids) {
    std::vector<PagePtr> pages;
    for (const QString& id : document_ids)
        if (const DocumentPtr there = document(id.toStdString()))
            pages.insert(pages.end(), there->pages.begin(), there->pages.end());
    return around_.tray.keep_closed(pages);
}

void Saving::save_where_found(const std::vector<Together>& all, const std::string& own) {
    ++finding_;
    QStringList every;
    for (const Together& each : all) every += each.ids;
    const Ticket& first = all.front().ticket;
    if (own.empty() && asks(first)) note_asked(every, true);
    around_.places.find(first, own, [this, all, every, own, closed = closed(every)](const auto& folder) {
        --finding_;
        note_asked(every, false);
        for (const auto& [ticket, ids] : all) {
            if (folder)
                save_into(ids, ticket, *folder);
            else
                may_come_back(folder.error()) ? wait(ids, ticket, own, folder.error()) : forget_pending(ids);
        }
        if (!folder && folder.error().kind != ErrorKind::Stopped) around_.messages.complain(folder.error());
        emit changed();
    });
    if (finding_ > 0) emit changed();
}

void Saving::forget_pending(const QStringList& document_ids) {
    for (const QString& id : document_ids) {
        pending_->forget(id.toStdString());
        given_.erase(id.toStdString());
    }
}

// Whether the document in its present state was handed to the save queue already, so that pressing Save again does not
// save it twice. If it waits for its folder, the folder is checked again.
bool Saving::is_given(const Document& document, const Ticket& ticket) const {
    const auto at = given_.find(document.id);
    const auto with = pending_->ticket_of(document.id);
    return at != given_.end() && !waits_.contains(document.id) && with && with->same_choices(ticket) &&
           same_pages(*at->second, document) && at->second->name == document.name &&
           at->second->folder == document.folder;
}

void Saving::note_asked(const QStringList& document_ids, bool is) {
    for (const QString& id : document_ids)
        is ? (void)asked_about_.insert(id.toStdString()) : (void)asked_about_.erase(id.toStdString());
    emit changed();
}

// Makes the order for one document. A document with a folder of its own is never added to another file.
SaveOrder Saving::order_into(const DocumentPtr& there, const Ticket& ticket, const std::filesystem::path& folder) {
    const bool may = there->folder.empty() && adds_to_file(ticket);
    // Pages of this document that are in the file already remain there.
    const bool is_part = may && !there->part_of.empty() && around_.growing.current(ticket) == there->part_of;
    const bool has_more = is_part && !there->pages_to_add().empty();
    SaveOrder order = order_for(there, ticket, folder, has_more ? there->pages_to_add() : there->kept_pages());
    if (may && adds_to_file(order.ticket)) order.grows = around_.growing.for_saving(ticket, folder);
    return order;
}

void Saving::save_into(const QStringList& ids, const Ticket& ticket, const std::filesystem::path& folder) {
    std::vector<SaveOrder> orders;
    for (const QString& id : ids) {
        if (const DocumentPtr there = document(id.toStdString()))
            orders.push_back(order_into(there, ticket, folder));
        else
            forget_pending({id});
    }
    if (orders.empty()) return;
    const auto all_closed = closed(ids);
    for (SaveOrder& order : orders) {
        order.first_stamp = take_stamps(order.document->id, ticket, order.pages.size());
        order.closed = all_closed;
    }
    say_what_is_read_first(orders);
    protect_and_begin(std::move(orders));
}

// The documents remain in the tray. They are saved with the ticket of this moment once the folder is available again.
void Saving::wait(const QStringList& ids, const Ticket& ticket, const std::string& own, const Error& why) {
    const auto folder = own.empty() ? expanded_folder(ticket.save.folder) : std::filesystem::path(own);
    const auto all_closed = closed(ids);
    for (const QString& id : ids)
        waits_[id.toStdString()] = {ticket, own, folder, QString::fromStdString(why.sentence), all_closed};
    if (!look_again_.isActive()) look_again_.start(look_again_ms);
}

void Saving::look_for_folders() {
    std::erase_if(waits_, [this](const auto& each) {
        const DocumentPtr there = document(each.first);
        if (there && there->saved_as.empty()) return false;
        forget_pending({QString::fromStdString(each.first)});
        return true;
    });
    if (waits_.empty()) return look_again_.stop();
    std::set<std::filesystem::path> folders;
    for (const auto& [id, waits] : waits_) folders.insert(waits.folder);
    for (const auto& folder : folders)
        around_.folders.ask(folder, [this, folder](const FolderState& state) {
            if (state.is == FolderState::Is::Good) save_what_waited(folder);
        });
}

void Saving::save_what_waited(const std::filesystem::path& folder) {
    QStringList ids;
    std::optional<Waits> how;
    for (const auto& [id, waits] : waits_) {
        // Documents with other choices are saved in a later round.
        if (waits.folder != folder || (how && !how->ticket.same_choices(waits.ticket))) continue;
        how = waits;
        ids.append(QString::fromStdString(id));
    }
    if (!how) return;
    const auto all_closed = closed(ids);
    for (const QString& id : ids) waits_.erase(id.toStdString());
    around_.messages.tell(tr("The folder %1 is available again; the documents that waited for it are being saved.")
                              .arg(shown_folder(QString::fromStdString(folder.string()))));
    save_into(ids, how->ticket, folder);
    emit changed();
}

QString Saving::why_waits(const std::string& document_id) const {
    const auto at = waits_.find(document_id);
    return at == waits_.end() ? QString() : at->second.why;
}

void Saving::wait_no_longer(const std::string& document_id) {
    if (waits_.erase(document_id) == 0) return;
    forget_pending({QString::fromStdString(document_id)});
    emit changed();
}

}
