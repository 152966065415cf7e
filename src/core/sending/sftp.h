// A server that speaks SFTP, the file transfer of SSH (draft-ietf-secsh-filexfer-02, which OpenSSH implements). See
// remote.h for the contracts, threads and errors.
#pragma once

#include "core/sending/transfer.h"

namespace yelvin {

class Sftp : public Remote {
  public:
    Sftp(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop);

    Result<std::optional<Entry>> entry_at(const RemotePath& path) override;
    Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) override;
    Result<CreateResult> move(const RemotePath& from, const RemotePath& to) override;
    Result<CreateResult> put_new(const std::filesystem::path&, const RemotePath&, const Progress&) override {
        return CreateResult::Unsupported;
    }
    Result<void> remove(const RemotePath& path) override;
    Result<std::string> download_hash(const RemotePath& path, std::uint64_t most) override;
    Result<Metadata> metadata_of(const RemotePath&) override { return Metadata{}; }
    Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) override;
    std::string url(const RemotePath& path) const override;

  protected:
    Result<void> make_one_folder(const RemotePath& path) override;

  private:
    Transfer transfer_;
    std::string path_of(const RemotePath& path) const; // the path in quotes, as SFTP commands take it
    // Runs a request. Codes in `fine` are answers; all others are errors.
    Result<Transfer::Answer> ask(const Transfer::Request& request, std::initializer_list<CURLcode> fine);
    // Runs a command of the SFTP protocol. Returns false if the server refused it.
    Result<bool> command(const std::string& words);
};

}
