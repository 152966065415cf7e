#include "batch/upload_records.h"

#include "core/json_text.h"
#include "core/private_files.h"
#include "core/sending/delivery.h"

#include <nlohmann/json.hpp>

#include <cstdlib>
#include <fstream>
#include <iterator>

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>

namespace fs = std::filesystem;
using nlohmann::json;

namespace yelvin::UploadRecords {

namespace {

// The state folder of the XDG Base Directory Specification: data that persists between runs but needs no backup.
fs::path folder_of_records() {
    const char* state = std::getenv("XDG_STATE_HOME"); // NOLINT(concurrency-mt-unsafe): never set by this program
    const char* home = std::getenv("HOME");            // NOLINT(concurrency-mt-unsafe)
    const fs::path base = state && *state == '/' ? fs::path(state) : fs::path(home ? home : "/") / ".local/state";
    return base / "yelvin/uploads";
}

struct Upload {
    std::string address, user, token;
    RemotePath folder;
};

std::optional<Upload> upload_in(const fs::path& record) {
    std::ifstream in(record);
    const auto read = json_from_text(std::string(std::istreambuf_iterator<char>(in), {}));
    try {
        if (!read) return std::nullopt;
        return Upload{read->at("address"), read->at("user"), read->at("token"), read->at("folder").get<RemotePath>()};
    } catch (const json::exception&) {
        return std::nullopt;
    }
}

}

Kept::Kept(const Server& server, const RemotePath& folder, const std::string& token)
    : file_(folder_of_records() / (token + ".json")) {
    if (make_private_folder(file_.parent_path()) || make_private_file(file_)) return;
    descriptor_ = ::open(file_.c_str(), O_WRONLY | O_CLOEXEC);
    if (descriptor_ < 0) return;
    ::flock(descriptor_, LOCK_EX | LOCK_NB);
    const std::string text =
        json{{"address", server.address}, {"user", server.user}, {"folder", folder}, {"token", token}}.dump(
            -1, ' ', false, json::error_handler_t::replace);
    if (::write(descriptor_, text.data(), text.size()) == static_cast<ssize_t>(text.size())) ::fsync(descriptor_);
}

Kept::~Kept() {
    if (descriptor_ < 0) return;
    ::unlink(file_.c_str());
    ::close(descriptor_);
}

void remove_left_behind(Remote& remote, const Server& server) {
    std::error_code failure;
    for (fs::directory_iterator at(folder_of_records(), failure), end; !failure && at != end; at.increment(failure)) {
        const int descriptor = ::open(at->path().c_str(), O_RDONLY | O_CLOEXEC);
        if (descriptor < 0) continue;
        const bool runs = ::flock(descriptor, LOCK_EX | LOCK_NB) != 0;
        const auto upload = runs ? std::nullopt : upload_in(at->path());
        if (upload && upload->address == server.address && upload->user == server.user) {
            RemotePath part = upload->folder;
            part.push_back(part_name(upload->token));
            if (remote.remove(part)) ::unlink(at->path().c_str());
        }
        ::close(descriptor);
    }
}

}
