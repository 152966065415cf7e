#include "core/tray/ticket_in_use.h"

#include "core/ticket/ticket_json.h"

namespace yelvin {

nlohmann::json to_json(const TicketInUse& in_use) {
    nlohmann::json out{{"ticket", ticket_to_json(in_use.ticket)}};
    if (!in_use.file.empty()) out["file"] = in_use.file;
    if (!in_use.instead_of.empty()) out["instead_of"] = in_use.instead_of;
    return out;
}

Result<TicketInUse> ticket_in_use_from_json(const nlohmann::json& json) {
    const auto words = [&](const char* key) {
        const auto at = json.find(key);
        return at != json.end() && at->is_string() ? at->get<std::string>() : std::string();
    };
    if (!json.is_object() || !json.contains("ticket"))
        return fail(ErrorKind::BadInput, "The ticket of a document is damaged.");
    auto ticket = ticket_from_json(json.at("ticket"));
    if (!ticket) return std::unexpected(ticket.error());
    return TicketInUse{std::move(*ticket), words("file"), words("instead_of")};
}

}
