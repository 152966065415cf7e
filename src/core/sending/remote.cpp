#include "core/sending/remote.h"

#include "core/sending/sftp.h"
#include "core/sending/web_dav.h"

#include <fmt/format.h>
#include <glib.h>

#include <algorithm>
#include <fstream>

namespace fs = std::filesystem;

namespace yelvin {

Result<void> Remote::make_folder(const RemotePath& path) {
    const auto there = entry_at(path);
    if (!there) return std::unexpected(there.error());
    if (*there && (*there)->is_folder) return {};
    if (*there)
        return fail(ErrorKind::BadInput, fmt::format("{} is a file, not a folder; check the address.", url(path)));
    if (path.empty())
        return fail(ErrorKind::Missing, fmt::format("The folder {} does not exist; check the address.", url(path)));
    if (auto above = make_folder({path.begin(), path.end() - 1}); !above) return above;
    return make_one_folder(path);
}

Result<std::unique_ptr<Remote>> connect_to(const Server& server, const SignIn& sign_in, const std::stop_token& stop) {
    const auto address = address_of(server.address);
    if (!address) return std::unexpected(address.error());
    if (address->kind == ServerKind::Sftp) return std::make_unique<Sftp>(server, *address, sign_in, stop);
    return std::make_unique<WebDav>(server, *address, sign_in, stop);
}

struct PrefixHash::Sum {
    std::unique_ptr<GChecksum, decltype(&g_checksum_free)> of{g_checksum_new(G_CHECKSUM_SHA256), g_checksum_free};
};

PrefixHash::PrefixHash(std::uint64_t most) : left_(most), sum_(std::make_unique<Sum>()) {}
PrefixHash::~PrefixHash() = default;

bool PrefixHash::take(const char* bytes, std::size_t size) {
    const auto some = static_cast<std::size_t>(std::min<std::uint64_t>(size, left_));
    left_ -= some;
    g_checksum_update(sum_->of.get(), reinterpret_cast<const guchar*>(bytes), static_cast<gssize>(some));
    return some == size;
}

std::string PrefixHash::hash() { return g_checksum_get_string(sum_->of.get()); }

Result<std::string> hash_of_file(const fs::path& file, std::uint64_t most) {
    std::ifstream in(file, std::ios::binary);
    if (!in) return fail(ErrorKind::Missing, fmt::format("The file {} can no longer be read.", file.string()));
    PrefixHash sum(most);
    std::string bytes(1 << 18, '\0');
    while (in && most > 0) {
        in.read(bytes.data(), static_cast<std::streamsize>(std::min<std::uint64_t>(bytes.size(), most)));
        most -= static_cast<std::uint64_t>(in.gcount());
        sum.take(bytes.data(), static_cast<std::size_t>(in.gcount()));
    }
    if (in.bad()) return fail(ErrorKind::Missing, fmt::format("The file {} can no longer be read.", file.string()));
    return sum.hash();
}

}
