#include "app/models/saving/pending_saves.h"

#include "core/json_text.h"
#include "core/private_files.h"
#include "core/ticket/ticket_json.h"
#include "jobs/trouble.h"

#include <fstream>
#include <iterator>
#include <vector>

namespace yelvin {

namespace {

constexpr const char* file_name = "saving.json";

using ByDocument = PendingSaves::ByDocument;

// {"tickets": [ticket, …], "documents": [{"document": id, "ticket": which}, …]}
nlohmann::json to_json(const ByDocument& all) {
    std::map<std::shared_ptr<const Ticket>, size_t> numbers;
    nlohmann::json tickets = nlohmann::json::array(), documents = nlohmann::json::array();
    for (const auto& [document, ticket] : all) {
        const auto [at, is_new] = numbers.try_emplace(ticket, numbers.size());
        if (is_new) tickets.push_back(ticket_to_json(*ticket));
        documents.push_back({{"document", document}, {"ticket", at->second}});
    }
    return {{"tickets", tickets}, {"documents", documents}};
}

// Throws nlohmann::json::exception if a key is missing or has the wrong type.
ByDocument from_json(const nlohmann::json& json) {
    std::vector<std::shared_ptr<const Ticket>> tickets; // null: cannot be used
    for (const auto& each : json.at("tickets")) {
        const auto ticket = ticket_from_json(each);
        tickets.push_back(ticket ? std::make_shared<const Ticket>(*ticket) : nullptr);
    }
    ByDocument out;
    for (const auto& each : json.at("documents")) {
        const auto which = each.at("ticket").get<size_t>();
        if (which >= tickets.size() || !tickets[which]) continue;
        out.insert_or_assign(each.at("document").get<std::string>(), tickets[which]);
    }
    return out;
}

void write(const std::filesystem::path& file, const ByDocument& all) {
    std::error_code failed;
    if (all.empty())
        std::filesystem::remove(file, failed);
    else
        failed = write_private_file(file, to_json(all).dump(1, ' ', false, nlohmann::json::error_handler_t::replace));
    if (failed) log_trouble("the list of documents to be saved was not written: " + failed.message());
}

}

PendingSaves::PendingSaves(const std::filesystem::path& store_folder, Executor keeping)
    : file_(store_folder / file_name), keeping_(std::move(keeping)) {}

ByDocument PendingSaves::left_in(const std::filesystem::path& store_folder) {
    std::ifstream file(store_folder / file_name);
    const auto json = json_from_text(std::string(std::istreambuf_iterator<char>(file), {}));
    if (!json) return {};
    try {
        return from_json(*json);
    } catch (const nlohmann::json::exception& wrong) {
        log_trouble(std::string("the list of documents to be saved cannot be read: ") + wrong.what());
        return {};
    }
}

void PendingSaves::note(const std::string& document, std::shared_ptr<const Ticket> ticket) {
    all_.insert_or_assign(document, std::move(ticket));
    keep();
}

void PendingSaves::forget(const std::string& document) {
    if (all_.erase(document) > 0) keep();
}

void PendingSaves::take_over(ByDocument left) { all_.merge(std::move(left)); }

std::shared_ptr<const Ticket> PendingSaves::ticket_of(const std::string& document) const {
    const auto at = all_.find(document);
    return at == all_.end() ? nullptr : at->second;
}

void PendingSaves::keep() {
    const std::lock_guard lock(latest_->guard);
    latest_->all = all_;
    if (std::exchange(latest_->is_handed_over, true)) return; // A task that writes the newest state is already queued.
    keeping_([file = file_, latest = latest_] {
        ByDocument all;
        {
            const std::lock_guard taking(latest->guard);
            latest->is_handed_over = false;
            all = latest->all;
        }
        write(file, all);
    });
}

}
