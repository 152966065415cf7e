// A server that speaks WebDAV (RFC 4918). See remote.h for the contracts, threads and errors.
#pragma once

#include "core/sending/transfer.h"

namespace yelvin {

class WebDav : public Remote {
  public:
    WebDav(const Server& server, const ServerAddress& address, const SignIn& sign_in, const std::stop_token& stop);

    Result<std::optional<Entry>> entry_at(const RemotePath& path) override;
    void prefetch_entry(const RemotePath& path) override;
    Result<void> put(const std::filesystem::path& file, const RemotePath& to, const Progress& progress) override;
    Result<CreateResult> move(const RemotePath& from, const RemotePath& to) override;
    Result<CreateResult> put_new(const std::filesystem::path& file, const RemotePath& to,
                                 const Progress& progress) override;
    Result<void> remove(const RemotePath& path) override;
    Result<std::string> download_hash(const RemotePath& path, std::uint64_t most) override;
    Result<Metadata> metadata_of(const RemotePath& path) override;
    Result<std::optional<std::uint64_t>> free_bytes(const RemotePath& folder) override;
    std::string url(const RemotePath& path) const override { return url_of(path, false); }

  protected:
    Result<void> make_one_folder(const RemotePath& path) override;

  private:
    Transfer transfer_;
    std::string origin_;     // scheme, host and port after redirects; the host never changes
    bool broke_off_ = false; // whether the last exchange ended without an answer
    struct Ahead {
        RemotePath path;
        bool answered = false;
        std::optional<std::string> answer = {}; // XML; nullopt: nothing exists there
    };
    std::optional<Ahead> ahead_; // of prefetch_entry()
    std::string url_of(const RemotePath& path, bool as_folder) const;
    // Runs a request, following redirects within the host. Statuses in `fine` are answers; all others are errors.
    Result<Transfer::Answer> ask(Transfer::Request request, std::initializer_list<long> fine);
    bool knows_sign_in() const;                          // whether the server's way of signing in is known
    Error refusal(const Transfer::Answer& answer) const; // a status as an error
    Transfer::Answer run(const Transfer::Request& request);
    void take_answer_ahead(Transfer::Answer answer);
    Result<std::optional<Entry>> entry_in(const std::optional<std::string>& answer) const;
    // A PROPFIND request for the properties `wanted` (XML elements).
    Transfer::Request asking(const RemotePath& path, const std::string& wanted) const;
    // Returns the XML of the answer, or nullopt if nothing exists at `path`.
    Result<std::optional<std::string>> properties(const RemotePath& path, const std::string& wanted);
    Result<CreateResult> put_with(const std::filesystem::path& file, const RemotePath& to, const Progress& progress,
                                  bool only_new);
};

}
