#include "batch/batch.h"

#include "batch/upload_records.h"

#include "core/sending/delivery.h"
#include "core/sending/server_check.h"
#include "core/storage/new_id.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <chrono>
#include <thread>

namespace yelvin {

using nlohmann::json;
namespace fs = std::filesystem;

namespace {

int test(const Server& server, const SignIn& sign_in, const RemotePath& folder) {
    bool all = true;
    test_server(server, sign_in, folder, {}, [&](const ServerStep& step) {
        print({{"step", step_name(step.what)}, {"ok", step.ok}, {"warning", step.warns}, {"words", step.words}});
        if (step.ok) return;
        all = false;
        complain({ErrorKind::Offline, step.words, {}});
        if (step.identity.wants_plain_password)
            complain({ErrorKind::Untrusted, "To allow it, add --allow-plain-password.", {}});
        if (!step.identity.fingerprint.empty()) // Printed so that the user can pass it with the next call.
            complain({ErrorKind::Untrusted,
                      fmt::format("To accept it, add --fingerprint {}.", step.identity.fingerprint),
                      {}});
    });
    return all ? 0 : 1;
}

// Delivers the file. Failures that may be temporary are retried up to `tries` times: a server that asks to wait, or a
// connection that is lost.
Result<Sent> patiently(Remote& remote, const Delivery& delivery, int tries) {
    DeliveryState state;
    const auto record = [&](const DeliveryState& is) -> Result<void> {
        state = is;
        return {};
    };
    for (int i = 1;; ++i) {
        auto sent = deliver(remote, delivery, state, record, {});
        if (sent || i >= tries) return sent;
        const ErrorKind kind = sent.error().kind;
        if (kind != ErrorKind::Offline && kind != ErrorKind::Busy) return sent;
        constexpr std::chrono::seconds longest(60);
        std::this_thread::sleep_for(std::min(longest, remote.retry_after().value_or(std::chrono::seconds(i * i))));
    }
}

Result<void> leads_into(std::string_view folder, RemotePath& parts) {
    for (size_t at = 0; at < folder.size();) {
        const size_t end = std::min(folder.find('/', at), folder.size());
        const std::string part(folder.substr(at, end - at));
        at = end + 1;
        if (part.empty() || part == ".") continue;
        if (part == "..") return fail(ErrorKind::Usage, "The folder on the server must not contain \"..\".");
        parts.push_back(part);
    }
    return {};
}

}

int run_send(const SendingArguments& sending) {
    const auto passwords = passwords_from(sending.password);
    if (!passwords) return complain(passwords.error()), exit_status(passwords.error());
    const Server server{shown_address(sending.to), sending.to,  sending.user,
                        sending.fingerprint,       sending.key, sending.plain_password};
    const SignIn sign_in{passwords->open, sending.authorities};
    const auto address = address_of(server.address);
    if (!address) return complain(address.error()), exit_status(address.error());
    RemotePath folder;
    if (auto leads = leads_into(sending.folder, folder); !leads)
        return complain(leads.error()), exit_status(leads.error());
    if (sending.only_test) return test(server, sign_in, folder);
    if (sending.files.empty()) return complain({ErrorKind::Usage, "Give the files to send.", {}}), 2;
    auto remote = connect_to(server, sign_in, {});
    if (!remote) return complain(remote.error()), exit_status(remote.error());
    int status = 0;
    UploadRecords::remove_left_behind(**remote, server);
    for (const std::string& file : sending.files) {
        const fs::path path = file;
        const std::string token = new_id();
        const UploadRecords::Kept record(server, folder, token);
        const auto sent = patiently(**remote, {path, folder, path.filename().string(), token}, sending.tries);
        if (sent) {
            print({{"path", file}, {"url", sent->url}, {"bytes", sent->bytes}});
            continue;
        }
        complain({sent.error().kind, fmt::format("{} was not sent. {}", file, sent.error().sentence), {}});
        status = 1;
    }
    return status;
}

}
