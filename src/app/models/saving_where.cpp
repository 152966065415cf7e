// Before a document becomes a file: in which folder it goes, and what becomes of it while that is not there.
#include "app/models/document_names.h"
#include "app/models/messages.h"
#include "app/models/out_tray.h"
#include "app/models/papers.h"
#include "app/models/save_places.h"
#include "app/models/saving.h"
#include "app/models/tickets.h"

namespace yelvin {

namespace {
constexpr int look_again_ms = 2000; // for a folder that is gone

// A folder that will be there again: unlike one that is full or not the person's.
bool may_come_back(const Error& error) { return error.kind == ErrorKind::Missing; }
}

// Documents of one folder are saved together.
void Saving::save(const QStringList& document_ids) {
    if (!queue_) return;
    const Ticket& ticket = around_.tickets.ticket();
    std::map<std::string, QStringList> by_folder; // their own; empty: the ticket's
    for (const QString& id : document_ids)
        if (const DocumentPtr there = document(id.toStdString())) {
            by_folder[there->folder].append(id);
            waits_.erase(there->id);
        }
    for (const auto& [own, ids] : by_folder) save_where_found(ids, ticket, own);
}

void Saving::save_where_found(const QStringList& ids, const Ticket& ticket, const std::string& own) {
    ++finding_;
    around_.places.find(ticket, own, [this, ids, ticket, own](const Result<std::filesystem::path>& folder) {
        --finding_;
        if (folder)
            save_into(ids, ticket, *folder);
        else if (folder.error().kind != ErrorKind::Stopped) {
            if (may_come_back(folder.error())) wait(ids, ticket, own, folder.error());
            around_.messages.complain(folder.error());
        }
        emit changed();
    });
    if (finding_ > 0) emit changed();
}

void Saving::save_into(const QStringList& ids, const Ticket& ticket, const std::filesystem::path& folder) {
    std::vector<SaveOrder> orders;
    for (const QString& id : ids)
        if (const DocumentPtr there = document(id.toStdString()))
            orders.push_back(order_for(there, ticket, folder, there->kept_pages()));
    if (orders.empty()) return;
    for (SaveOrder& order : orders) order.first_stamp = take_stamps(order.document->id, ticket, order.pages.size());
    say_what_is_read_first(orders);
    protect_and_begin(std::move(orders));
}

// They stay in the tray and are saved, as the ticket was, once the folder is there again.
void Saving::wait(const QStringList& ids, const Ticket& ticket, const std::string& own, const Error& why) {
    const auto folder = own.empty() ? expanded_folder(ticket.save.folder) : std::filesystem::path(own);
    for (const QString& id : ids)
        waits_[id.toStdString()] = {ticket, own, folder, QString::fromStdString(why.sentence)};
    if (!look_again_.isActive()) look_again_.start(look_again_ms);
}

void Saving::look_for_folders() {
    std::erase_if(waits_, [this](const auto& each) {
        const DocumentPtr there = document(each.first);
        return !there || !there->saved_as.empty();
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
        if (waits.folder != folder || (how && !how->ticket.same_choices(waits.ticket))) continue; // the next time
        how = waits;
        ids.append(QString::fromStdString(id));
    }
    if (!how) return;
    for (const QString& id : ids) waits_.erase(id.toStdString());
    around_.messages.tell(tr("The folder %1 is there again: what waited for it is saved.")
                              .arg(shown_folder(QString::fromStdString(folder.string()))));
    save_into(ids, how->ticket, folder);
    emit changed();
}

QString Saving::why_waits(const std::string& document_id) const {
    const auto at = waits_.find(document_id);
    return at == waits_.end() ? QString() : at->second.why;
}

void Saving::wait_no_longer(const std::string& document_id) {
    if (waits_.erase(document_id) > 0) emit changed();
}

}
