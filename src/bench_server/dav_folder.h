// A folder of files as WebDAV (RFC 4918, class 1) shows it: what a request makes of it, without a network.
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
    std::optional<std::filesystem::path> file = {}; // in place of the body
};

class DavFolder {
  public:
    struct Manners {
        std::optional<std::uint64_t> quota; // bytes of all files together
        bool moves = true, minds_conditions = true;
    };
    DavFolder(std::filesystem::path folder, Manners manners) : folder_(std::move(folder)), manners_(manners) {}

    // `path`: decoded, from "/". `headers`: what the methods ask for, empty where it was not sent.
    struct Asked {
        std::string method, path, depth, destination, overwrite, if_none_match, digest_wanted;
    };
    DavReply answer(const Asked& asked) const;
    // Before a body is taken: whether it may come. Nothing: it may.
    std::optional<DavReply> refuses_put(const Asked& asked, std::uint64_t bytes) const;
    std::filesystem::path growing(const Asked& asked) const; // where a body goes until it is whole
    DavReply put(const Asked& asked, const std::filesystem::path& whole) const;

  private:
    std::filesystem::path folder_;
    Manners manners_;

    std::optional<std::filesystem::path> place_of(const std::string& path) const; // nothing: outside
    std::uint64_t used() const;
    DavReply listed(const std::filesystem::path& place, const std::string& path, bool deep) const;
    std::string properties(const std::filesystem::path& place, const std::string& path) const;
    DavReply moved(const Asked& asked, const std::filesystem::path& from, bool copies) const;
};

}
