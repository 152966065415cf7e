#include "app/models/sending/servers.h"

#include "app/models/window/last_choices.h"

#include <algorithm>

namespace yelvin {

namespace {
constexpr const char* servers_kept_as = "servers";
}

Servers::Servers(LastChoices& last, QObject* parent) : QObject(parent), last_(last) {
    const nlohmann::json kept = last_.get(servers_kept_as);
    if (!kept.is_array()) return;
    for (const nlohmann::json& each : kept)
        if (Server server = server_from_json(each); !server.name.empty() && !named(server.name))
            all_.push_back(std::move(server));
}

std::optional<Server> Servers::named(const std::string& name) const {
    const auto at = std::ranges::find(all_, name, &Server::name);
    return at == all_.end() ? std::nullopt : std::optional(*at);
}

bool Servers::is_free(const std::string& name, const std::string& but) const { return name == but || !named(name); }

void Servers::put(const Server& server, const std::string& before) {
    std::erase_if(all_, [&](const Server& each) { return each.name == before || each.name == server.name; });
    all_.push_back(server);
    keep();
}

void Servers::remove(const std::string& name) {
    std::erase_if(all_, [&](const Server& each) { return each.name == name; });
    keep();
}

void Servers::keep() {
    std::ranges::sort(all_, {}, &Server::name);
    nlohmann::json kept = nlohmann::json::array();
    for (const Server& each : all_) kept.push_back(to_json(each));
    last_.set(servers_kept_as, kept);
    emit changed();
}

}
