// A folder of files as a WebDAV server (RFC 4918, class 1), without the network: turns requests into replies. Used by
// yelvin-bench-server.
//
// Reads and writes files, and keeps nothing in memory between two requests: one object may answer on several threads,
// as far as their requests are about different files.
#pragma once

#include <cstdint>
#include <filesystem>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace yelvin {

struct DavReply {
    int status = 200;
    std::vector<std::pair<std::string, std::string>> headers = {};
    std::string body = {};
    std::optional<std::filesystem::path> file = {}; // sent instead of the body
};

class DavFolder {
  public:
    struct Behaviour {
        std::optional<std::uint64_t> quota; // limit for all files together, in bytes
        bool moves = true, minds_conditions = true;
    };
    DavFolder(std::filesystem::path folder, Behaviour behaviour) : folder_(std::move(folder)), behaviour_(behaviour) {}

    // A request. `path` is decoded and begins with "/"; the others are headers, empty if they were not sent.
    struct Asked {
        std::string method, path, depth, destination, overwrite, if_none_match, digest_wanted;
    };
    DavReply answer(const Asked& asked) const;
    // Called before the body of a PUT is read: returns a reply that refuses it, or nullopt.
    std::optional<DavReply> refuses_put(const Asked& asked, std::uint64_t bytes) const;
    std::filesystem::path growing(const Asked& asked) const; // temporary file for the body
    DavReply put(const Asked& asked, const std::filesystem::path& whole) const;

  private:
    std::filesystem::path folder_;
    Behaviour behaviour_;

    std::optional<std::filesystem::path> place_of(const std::string& path) const; // nullopt: outside of the folder
    std::uint64_t used() const;
    DavReply listed(const std::filesystem::path& place, const std::string& path, bool deep) const;
    std::string properties(const std::filesystem::path& place, const std::string& path) const;
    DavReply moved(const Asked& asked, const std::filesystem::path& from, bool copies) const;
};

}
