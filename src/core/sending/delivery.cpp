#include "core/sending/delivery.h"

#include <fmt/format.h>

namespace fs = std::filesystem;

namespace yelvin {

std::string part_name(const std::string& token) { return fmt::format(".yelvin-{}.part", token); }

std::string name_of_attempt(const std::string& name, int attempt) {
    if (attempt == 0) return name;
    const size_t dot = name.rfind('.');
    const bool has_end = dot != std::string::npos && dot > 0;
    return fmt::format("{} ({}){}", name.substr(0, has_end ? dot : name.size()), attempt + 1,
                       has_end ? name.substr(dot) : "");
}

namespace {

constexpr int most_attempts = 1000;
constexpr std::uint64_t worth_looking_ahead = 1'000'000; // bytes that take longer than another connection

class Delivering {
  public:
    Delivering(Remote& remote, const Delivery& delivery, DeliveryState state,
               const std::function<Result<void>(const DeliveryState&)>& record, const Remote::Progress& progress)
        : remote_(remote), delivery_(delivery), state_(state), record_(record), progress_(progress) {}

    Result<Sent> run() {
        std::error_code gone;
        const fs::file_status is = fs::status(delivery_.file, gone);
        if (!fs::exists(is))
            return fail(ErrorKind::Missing,
                        fmt::format("{} does not exist; check the name and the folder.", delivery_.file.string()));
        if (fs::is_directory(is))
            return fail(ErrorKind::BadInput,
                        fmt::format("{} is a folder; name the files in it.", delivery_.file.string()));
        if (!fs::is_regular_file(is))
            return fail(ErrorKind::BadInput, fmt::format("{} is a pipe or a device, not a file; save what it gives "
                                                         "first.",
                                                         delivery_.file.string()));
        bytes_ = fs::file_size(delivery_.file, gone);
        if (gone) return fail(ErrorKind::Missing, fmt::format("{} cannot be read any more.", delivery_.file.string()));
        if (state_.at == DeliveryState::At::Naming) return go_on_naming();
        if (state_.at == DeliveryState::At::Putting) return put_directly();
        return begin();
    }

  private:
    using At = DeliveryState::At;
    Remote& remote_;
    const Delivery& delivery_;
    DeliveryState state_;
    const std::function<Result<void>(const DeliveryState&)>& record_;
    const Remote::Progress& progress_;
    std::uint64_t bytes_ = 0;

    RemotePath in_folder(const std::string& name) const {
        RemotePath path = delivery_.folder;
        path.push_back(name);
        return path;
    }
    RemotePath part() const { return in_folder(part_name(delivery_.token)); }
    RemotePath target() const { return in_folder(name_of_attempt(delivery_.name, state_.attempt)); }
    Result<void> note(At at, int attempt) {
        state_ = {at, attempt};
        return record_(state_);
    }
    Sent arrived() const { return {remote_.url(target()), bytes_, name_of_attempt(delivery_.name, state_.attempt)}; }

    // A folder is made where the server misses it: asking first would cost its way there and back each time.
    Result<void> put_part() {
        auto put = remote_.put(delivery_.file, part(), progress_);
        if (put || put.error().kind != ErrorKind::Missing) return put;
        if (auto made = remote_.make_folder(delivery_.folder); !made) return made;
        return remote_.put(delivery_.file, part(), progress_);
    }

    Result<Sent> begin() {
        if (bytes_ >= worth_looking_ahead) remote_.look_ahead(target());
        if (auto put = put_part(); !put) return std::unexpected(put.error());
        if (auto whole = check(part()); !whole) {
            (void)remote_.remove(part());
            return std::unexpected(whole.error());
        }
        return give_name(0);
    }

    Result<void> check(const RemotePath& path) {
        auto told = remote_.told_of(path);
        if (!told) return std::unexpected(told.error());
        if (told->bytes != bytes_) { // not every server tells a file's size to HEAD
            const auto there = remote_.look(path);
            if (!there) return std::unexpected(there.error());
            told->bytes = *there ? (*there)->bytes : 0;
        }
        if (*told->bytes != bytes_)
            return fail(ErrorKind::Offline, fmt::format("Of {} bytes {} arrived at {}; it is sent again.", bytes_,
                                                        *told->bytes, remote_.url(path)));
        if (!told->hash) return {};
        const auto own = hash_of_file(delivery_.file);
        if (own && *own == *told->hash) return {};
        return fail(ErrorKind::Offline,
                    fmt::format("What arrived at {} is not what was sent; it is sent again.", remote_.url(path)));
    }

    Result<Sent> give_name(int attempt) {
        for (; attempt < most_attempts; ++attempt) {
            if (auto noted = note(At::Naming, attempt); !noted) return std::unexpected(noted.error());
            const auto taken = remote_.look(target()); // not every server minds what it is told
            if (!taken) return std::unexpected(taken.error());
            if (*taken) continue;
            const auto named = remote_.move(part(), target());
            // A request that somebody on the way repeated finds nothing to be moved any more, or the name taken.
            if (named ? *named == Remote::Named::Taken : named.error().kind == ErrorKind::Missing) {
                const auto has = has_its_name();
                if (!has) return std::unexpected(has.error());
                if (*has) return arrived();
            }
            if (!named) return std::unexpected(named.error());
            if (*named == Remote::Named::Yes) return arrived(); // whole before it was moved
            if (*named == Remote::Named::Cannot) {
                if (auto gone = remote_.remove(part()); !gone) return std::unexpected(gone.error());
                if (auto noted = note(At::Putting, 0); !noted) return std::unexpected(noted.error());
                return put_directly();
            }
        }
        return no_name();
    }

    std::unexpected<Error> no_name() const {
        return fail(ErrorKind::BadInput, fmt::format("All names like {} are taken at {}; give it another one.",
                                                     delivery_.name, remote_.url(delivery_.folder)));
    }

    Result<Sent> finished() {
        const auto there = remote_.look(target());
        if (!there) return std::unexpected(there.error());
        if (*there && (*there)->bytes == bytes_) return arrived();
        return fail(ErrorKind::Offline, fmt::format("{} is not what was sent.", remote_.url(target())));
    }

    // Whether the part is gone and what bears its name is the file.
    Result<bool> has_its_name() {
        const auto left = remote_.look(part());
        if (!left) return std::unexpected(left.error());
        return *left ? Result<bool>(false) : is_ours(bytes_);
    }

    // It may have its name already, although nobody was told.
    Result<Sent> go_on_naming() {
        const auto left = remote_.look(part());
        if (!left) return std::unexpected(left.error());
        if (*left && (*left)->bytes == bytes_) return give_name(state_.attempt);
        const auto same = *left ? Result<bool>(false) : is_ours(bytes_);
        if (!same) return std::unexpected(same.error());
        if (*same) return arrived();
        if (auto noted = note(At::Begin, 0); !noted) return std::unexpected(noted.error());
        return begin();
    }

    // Whether what bears the name now begins as the file does, and is no longer than `bytes`.
    Result<bool> is_ours(std::uint64_t bytes) {
        const auto there = remote_.look(target());
        if (!there) return std::unexpected(there.error());
        if (!*there || (*there)->bytes != bytes) return false;
        const auto read = remote_.read_back(target(), bytes);
        if (!read) return std::unexpected(read.error());
        return hash_of_file(delivery_.file, bytes) == *read;
    }

    Result<Sent> put_directly() {
        if (auto made = remote_.make_folder(delivery_.folder); !made) return std::unexpected(made.error());
        for (bool again = true; state_.attempt < most_attempts; again = false) {
            const auto there = remote_.look(target());
            if (!there) return std::unexpected(there.error());
            if (*there && again) { // perhaps ours, of the try before; whole or its beginning
                const std::uint64_t size = (*there)->bytes;
                const auto ours = size <= bytes_ ? is_ours(size) : Result<bool>(false);
                if (!ours) return std::unexpected(ours.error());
                if (*ours && size == bytes_) return arrived();
                if (*ours && size > 0) {
                    if (auto gone = remote_.remove(target()); !gone) return std::unexpected(gone.error());
                    continue;
                }
            }
            if (!*there) {
                const auto put = remote_.put_new(delivery_.file, target(), progress_);
                if (!put) return std::unexpected(put.error());
                if (*put == Remote::Named::Yes) return finished();
                const auto ours = is_ours(bytes_); // taken meanwhile: by a request of ours that somebody repeated?
                if (!ours) return std::unexpected(ours.error());
                if (*ours) return arrived();
            }
            if (auto noted = note(At::Putting, state_.attempt + 1); !noted) return std::unexpected(noted.error());
        }
        return no_name();
    }
};

}

Result<Sent> deliver(Remote& remote, const Delivery& delivery, DeliveryState state,
                     const std::function<Result<void>(const DeliveryState&)>& record,
                     const Remote::Progress& progress) {
    return Delivering(remote, delivery, state, record, progress).run();
}

}
