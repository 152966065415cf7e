#include "bench_server/dav_folder.h"

#include "core/sending/remote.h"
#include "core/sending/server.h"
#include "core/xml_text.h"

#include <fmt/chrono.h>
#include <fmt/format.h>
#include <glib.h>

#include <algorithm>
#include <chrono>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

RemotePath parts_of_path(const std::string& path) {
    RemotePath parts;
    for (size_t at = 0; at < path.size();) {
        const size_t end = std::min(path.find('/', at), path.size());
        if (end > at) parts.push_back(path.substr(at, end - at));
        at = end + 1;
    }
    return parts;
}

// Of RFC 9110, 5.6.7.
std::string date_of(const fs::path& file) {
    std::error_code none;
    const auto time = std::chrono::file_clock::to_sys(fs::last_write_time(file, none));
    const auto seconds = std::chrono::floor<std::chrono::seconds>(time);
    return fmt::format("{:%a, %d %b %Y %H:%M:%S} GMT", fmt::gmtime(std::chrono::system_clock::to_time_t(seconds)));
}

// "sha-256=:…:" (RFC 9530).
std::string digest_words(const fs::path& file) {
    const auto hash = hash_of_file(file);
    if (!hash) return {};
    std::string bytes;
    for (size_t i = 0; i + 1 < hash->size(); i += 2)
        bytes += static_cast<char>(std::stoi(hash->substr(i, 2), nullptr, 16));
    gchar* encoded = g_base64_encode(reinterpret_cast<const guchar*>(bytes.data()), bytes.size());
    std::string out = fmt::format("sha-256=:{}:", encoded);
    g_free(encoded);
    return out;
}

DavReply plain(int status) { return {status}; }

}

std::optional<fs::path> DavFolder::place_of(const std::string& path) const {
    fs::path place = folder_;
    std::error_code failed;
    for (const std::string& part : parts_of_path(path)) {
        if (part == ".." || part.find('\0') != std::string::npos) return std::nullopt;
        if (part != ".") place /= part;
    }
    // A symbolic link may lead anywhere, so its target must be in the folder too.
    const fs::path real = fs::weakly_canonical(place, failed), root = fs::weakly_canonical(folder_, failed);
    const bool is_within = std::mismatch(root.begin(), root.end(), real.begin(), real.end()).first == root.end();
    if (failed || !is_within) return std::nullopt;
    return place;
}

std::uint64_t DavFolder::used() const {
    std::uint64_t sum = 0;
    std::error_code failed;
    for (fs::recursive_directory_iterator at(folder_, failed), end; !failed && at != end; at.increment(failed)) {
        std::error_code none;
        if (at->is_regular_file(none)) sum += at->file_size(none);
    }
    return sum;
}

std::string DavFolder::properties(const fs::path& place, const std::string& path) const {
    std::error_code none;
    const bool is_folder = fs::is_directory(place, none);
    RemotePath parts = parts_of_path(path);
    std::string href = encoded_path(parts);
    if (is_folder) href += '/';
    std::string out = fmt::format(
        "<D:response><D:href>{}</D:href><D:propstat><D:prop><D:displayname>{}</D:displayname><D:getlastmodified>{}"
        "</D:getlastmodified>",
        href, xml_text(parts.empty() ? "" : parts.back()), date_of(place));
    if (is_folder) {
        out += "<D:resourcetype><D:collection/></D:resourcetype>";
        if (behaviour_.quota) { // RFC 4331
            const std::uint64_t now = used();
            out += fmt::format(
                "<D:quota-available-bytes>{}</D:quota-available-bytes><D:quota-used-bytes>{}</D:quota-used-bytes>",
                *behaviour_.quota > now ? *behaviour_.quota - now : 0, now);
        }
    } else {
        out += fmt::format("<D:resourcetype/><D:getcontentlength>{}</D:getcontentlength>", fs::file_size(place, none));
    }
    return out + "</D:prop><D:status>HTTP/1.1 200 OK</D:status></D:propstat></D:response>";
}

DavReply DavFolder::listed(const fs::path& place, const std::string& path, bool deep) const {
    std::string out =
        "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n<D:multistatus xmlns:D=\"DAV:\">" + properties(place, path);
    std::error_code failed;
    if (deep && fs::is_directory(place, failed)) {
        std::vector<fs::path> within;
        for (fs::directory_iterator at(place, failed), end; !failed && at != end; at.increment(failed))
            within.push_back(at->path());
        std::ranges::sort(within);
        for (const fs::path& each : within) out += properties(each, path + "/" + each.filename().string());
    }
    return {207, {{"Content-Type", "application/xml; charset=utf-8"}}, out + "</D:multistatus>\n"};
}

DavReply DavFolder::moved(const Asked& asked, const fs::path& from, bool copies) const {
    if (!behaviour_.moves) return plain(501);
    const auto to = place_of(asked.destination);
    std::error_code failed;
    if (!to || asked.destination.empty()) return plain(400);
    if (!fs::exists(from, failed)) return plain(404);
    if (!fs::is_directory(to->parent_path(), failed)) return plain(409);
    const bool taken = fs::exists(*to, failed);
    if (taken && behaviour_.minds_conditions && asked.overwrite == "F") return plain(412);
    if (copies)
        fs::copy(from, *to, fs::copy_options::overwrite_existing | fs::copy_options::recursive, failed);
    else
        fs::rename(from, *to, failed);
    return plain(failed ? 500 : taken ? 204 : 201);
}

DavReply DavFolder::answer(const Asked& asked) const {
    const auto place = place_of(asked.path);
    if (!place) return plain(403);
    std::error_code failed;
    const bool there = fs::exists(*place, failed);
    if (asked.method == "OPTIONS")
        return {200, {{"DAV", "1"}, {"Allow", "OPTIONS, GET, HEAD, PUT, DELETE, MKCOL, PROPFIND, MOVE, COPY"}}};
    if (asked.method == "MKCOL") {
        if (there) return plain(405);
        return plain(!fs::is_directory(place->parent_path(), failed) ? 409
                     : fs::create_directory(*place, failed)          ? 201
                                                                     : 500);
    }
    if (!there) return plain(404);
    if (asked.method == "PROPFIND") return listed(*place, asked.path, asked.depth != "0");
    if (asked.method == "MOVE") return moved(asked, *place, false);
    if (asked.method == "COPY") return moved(asked, *place, true);
    if (asked.method == "DELETE") return plain(fs::remove_all(*place, failed) > 0 ? 204 : 500);
    if (asked.method != "GET" && asked.method != "HEAD") return plain(405);
    if (fs::is_directory(*place, failed))
        return {200, {{"Content-Type", "text/plain"}}, "A folder; open it as WebDAV.\n"};
    DavReply reply{200, {{"Content-Type", "application/octet-stream"}, {"Last-Modified", date_of(*place)}}, {}, *place};
    if (asked.digest_wanted.find("sha-256") != std::string::npos)
        reply.headers.emplace_back("Repr-Digest", digest_words(*place));
    return reply;
}

std::optional<DavReply> DavFolder::refuses_put(const Asked& asked, std::uint64_t bytes) const {
    const auto place = place_of(asked.path);
    std::error_code failed;
    if (!place) return plain(403);
    if (fs::is_directory(*place, failed)) return plain(405);
    if (!fs::is_directory(place->parent_path(), failed)) return plain(409);
    if (behaviour_.minds_conditions && asked.if_none_match == "*" && fs::exists(*place, failed)) return plain(412);
    if (behaviour_.quota && used() + bytes > *behaviour_.quota) return plain(507);
    return std::nullopt;
}

fs::path DavFolder::growing(const Asked&) const {
    return folder_.parent_path() / fmt::format(".growing-{:08x}{:08x}", g_random_int(), g_random_int());
}

DavReply DavFolder::put(const Asked& asked, const fs::path& whole) const {
    std::error_code failed;
    const auto refused = refuses_put(asked, fs::file_size(whole, failed));
    const auto place = place_of(asked.path);
    const bool taken = fs::exists(*place, failed);
    if (!refused) fs::rename(whole, *place, failed);
    if (refused || failed) fs::remove(whole, failed);
    return refused ? *refused : plain(failed ? 500 : taken ? 204 : 201);
}

}
