// A server that speaks WebDAV (RFC 4918).
#pragma once

#include "core/sending/transfer.h"

namespace yelvin {

class WebDav : public Remote {
  public:
    WebDav(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop);

    Result<std::optional<Entry>> look(const RemotePath& path) override;
    void look_ahead(const RemotePath& path) override;
    Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) override;
    Result<Named> move(const RemotePath& from, const RemotePath& to) override;
    Result<Named> put_new(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) override;
    Result<void> remove(const RemotePath& path) override;
    Result<std::string> read_back(const RemotePath& path, std::uint64_t most) override;
    Result<Told> told_of(const RemotePath& path) override;
    Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) override;
    std::string url(const RemotePath& path) const override { return url_of(path, false); }

  protected:
    Result<void> make_one_folder(const RemotePath& path) override;

  private:
    Transfer transfer_;
    std::string origin_;     // where redirects have led; the same host always
    bool broke_off_ = false; // the last exchange, without an answer
    struct Ahead {
        RemotePath path;
        bool answered = false;
        std::optional<std::string> answer = {}; // nothing: it is not there
    };
    std::optional<Ahead> ahead_;
    std::string url_of(const RemotePath& path, bool as_folder) const;
    // Follows redirects within the host. `fine`: statuses that are answers; all others are errors.
    Result<Transfer::Answer> ask(Transfer::Request request, std::initializer_list<long> fine);
    bool knows_sign_in() const;
    Error refusal(const Transfer::Answer& answer) const;
    Transfer::Answer run(const Transfer::Request& request);
    void take_answer_ahead(Transfer::Answer answer);
    Result<std::optional<Entry>> entry_in(const std::optional<std::string>& answer) const;
    Transfer::Request asking(const RemotePath& path, const std::string& wanted) const;
    Result<std::optional<std::string>> properties(const RemotePath& path, const std::string& wanted);
    Result<Named> put_with(const std::filesystem::path& file, const RemotePath& to, const Progress& progress,
                           bool only_new);
};

}
