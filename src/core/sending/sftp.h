// A server that speaks SFTP, the file transfer of SSH (draft-ietf-secsh-filexfer-02, which OpenSSH has).
#pragma once

#include "core/sending/transfer.h"

namespace yelvin {

class Sftp : public Remote {
  public:
    Sftp(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop);

    Result<std::optional<Entry>> look(const RemotePath& path) override;
    Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) override;
    Result<Named> move(const RemotePath& from, const RemotePath& to) override;
    Result<Named> put_new(const std::filesystem::path&, const RemotePath&, const Progress&) override {
        return Named::Cannot;
    }
    Result<void> remove(const RemotePath& path) override;
    Result<std::string> read_back(const RemotePath& path, std::uint64_t most) override;
    Result<Told> told_of(const RemotePath&) override { return Told{}; }
    Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) override;
    std::string url(const RemotePath& path) const override;

  protected:
    Result<void> make_one_folder(const RemotePath& path) override;

  private:
    Transfer transfer_;
    std::string path_of(const RemotePath& path) const; // as the server's own commands take it, in quotes
    Result<Transfer::Answer> ask(const Transfer::Request& request, std::initializer_list<CURLcode> fine);
    Result<bool> command(const std::string& words); // false: refused
};

}
