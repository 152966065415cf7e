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
constexpr std::uint64_t worth_prefetching = 1'000'000; // bytes; smaller uploads take less than a new connection

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
            return fail(ErrorKind::BadInput,
                        fmt::format("{} is a pipe or a device, not a file; save its data to a file first.",
                                    delivery_.file.string()));
        bytes_ = fs::file_size(delivery_.file, gone);
        if (gone) return fail(ErrorKind::Missing, fmt::format("{} can no longer be read.", delivery_.file.string()));
        if (state_.phase == DeliveryState::Phase::Moving) return resume_moving();
        if (state_.phase == DeliveryState::Phase::PuttingDirectly) return put_directly();
        return begin();
    }

  private:
    using Phase = DeliveryState::Phase;
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
    Result<void> note(Phase phase, int attempt) {
        state_ = {phase, attempt};
        return record_(state_);
    }
    Sent sent() const { return {remote_.url(target()), bytes_, name_of_attempt(delivery_.name, state_.attempt)}; }

    // Creates the folder only if the server reports it missing: asking first would cost a round trip each time.
    Result<void> upload_part() {
        auto put = remote_.put(delivery_.file, part(), progress_);
        if (put || put.error().kind != ErrorKind::Missing) return put;
        if (auto made = remote_.make_folder(delivery_.folder); !made) return made;
        return remote_.put(delivery_.file, part(), progress_);
    }

    Result<Sent> begin() {
        if (bytes_ >= worth_prefetching) remote_.prefetch_entry(target());
        if (auto put = upload_part(); !put) return std::unexpected(put.error());
        if (auto whole = check_upload(part()); !whole) {
            (void)remote_.remove(part());
            return std::unexpected(whole.error());
        }
        return move_to_free_name(0);
    }

    Result<void> check_upload(const RemotePath& path) {
        auto metadata = remote_.metadata_of(path);
        if (!metadata) return std::unexpected(metadata.error());
        if (metadata->bytes != bytes_) { // not every server reports the size on HEAD
            const auto there = remote_.entry_at(path);
            if (!there) return std::unexpected(there.error());
            metadata->bytes = *there ? (*there)->bytes : 0;
        }
        if (*metadata->bytes != bytes_)
            return fail(ErrorKind::Offline, fmt::format("Of {} bytes, {} arrived on {}; the file is sent again.",
                                                        bytes_, *metadata->bytes, remote_.url(path)));
        if (!metadata->hash) return {};
        const auto own = hash_of_file(delivery_.file);
        if (own && *own == *metadata->hash) return {};
        return fail(ErrorKind::Offline,
                    fmt::format("The file on {} differs from the one sent; it is sent again.", remote_.url(path)));
    }

    Result<Sent> move_to_free_name(int attempt) {
        for (; attempt < most_attempts; ++attempt) {
            if (auto noted = note(Phase::Moving, attempt); !noted) return std::unexpected(noted.error());
            const auto taken = remote_.entry_at(target()); // not every server obeys "Overwrite: F"
            if (!taken) return std::unexpected(taken.error());
            if (*taken) continue;
            const auto named = remote_.move(part(), target());
            // If a proxy repeated the request, there is nothing left to move, or the name is taken by our own file.
            if (named ? *named == Remote::CreateResult::NameTaken : named.error().kind == ErrorKind::Missing) {
                const auto has = was_moved();
                if (!has) return std::unexpected(has.error());
                if (*has) return sent();
            }
            if (!named) return std::unexpected(named.error());
            if (*named == Remote::CreateResult::Created) return sent(); // The upload was verified before it was moved.
            if (*named == Remote::CreateResult::Unsupported) {
                if (auto gone = remote_.remove(part()); !gone) return std::unexpected(gone.error());
                if (auto noted = note(Phase::PuttingDirectly, 0); !noted) return std::unexpected(noted.error());
                return put_directly();
            }
        }
        return no_free_name();
    }

    std::unexpected<Error> no_free_name() const {
        return fail(ErrorKind::BadInput, fmt::format("All names like {} are in use on {}; choose another name.",
                                                     delivery_.name, remote_.url(delivery_.folder)));
    }

    Result<Sent> check_put() {
        const auto there = remote_.entry_at(target());
        if (!there) return std::unexpected(there.error());
        if (*there && (*there)->bytes == bytes_) return sent();
        return fail(ErrorKind::Offline, fmt::format("{} differs from the file that was sent.", remote_.url(target())));
    }

    // Whether the temporary upload is gone and the target has the file's contents.
    Result<bool> was_moved() {
        const auto left = remote_.entry_at(part());
        if (!left) return std::unexpected(left.error());
        return *left ? Result<bool>(false) : is_ours(bytes_);
    }

    // The move may have happened although its answer was lost.
    Result<Sent> resume_moving() {
        const auto left = remote_.entry_at(part());
        if (!left) return std::unexpected(left.error());
        if (*left && (*left)->bytes == bytes_) return move_to_free_name(state_.attempt);
        const auto same = *left ? Result<bool>(false) : is_ours(bytes_);
        if (!same) return std::unexpected(same.error());
        if (*same) return sent();
        if (auto noted = note(Phase::Begin, 0); !noted) return std::unexpected(noted.error());
        return begin();
    }

    // Whether the target has exactly `bytes` bytes and they equal the beginning of the file.
    Result<bool> is_ours(std::uint64_t bytes) {
        const auto there = remote_.entry_at(target());
        if (!there) return std::unexpected(there.error());
        if (!*there || (*there)->bytes != bytes) return false;
        const auto read = remote_.download_hash(target(), bytes);
        if (!read) return std::unexpected(read.error());
        return hash_of_file(delivery_.file, bytes) == *read;
    }

    Result<Sent> put_directly() {
        if (auto made = remote_.make_folder(delivery_.folder); !made) return std::unexpected(made.error());
        for (bool again = true; state_.attempt < most_attempts; again = false) {
            const auto there = remote_.entry_at(target());
            if (!there) return std::unexpected(there.error());
            if (*there && again) { // It may be this file, whole or in part, uploaded by an earlier attempt.
                const std::uint64_t size = (*there)->bytes;
                const auto ours = size <= bytes_ ? is_ours(size) : Result<bool>(false);
                if (!ours) return std::unexpected(ours.error());
                if (*ours && size == bytes_) return sent();
                if (*ours && size > 0) {
                    if (auto gone = remote_.remove(target()); !gone) return std::unexpected(gone.error());
                    continue;
                }
            }
            if (!*there) {
                const auto put = remote_.put_new(delivery_.file, target(), progress_);
                if (!put) return std::unexpected(put.error());
                if (*put == Remote::CreateResult::Created) return check_put();
                const auto ours = is_ours(bytes_); // A proxy may have sent our request twice.
                if (!ours) return std::unexpected(ours.error());
                if (*ours) return sent();
            }
            if (auto noted = note(Phase::PuttingDirectly, state_.attempt + 1); !noted)
                return std::unexpected(noted.error());
        }
        return no_free_name();
    }
};

}

Result<Sent> deliver(Remote& remote, const Delivery& delivery, DeliveryState state,
                     const std::function<Result<void>(const DeliveryState&)>& record,
                     const Remote::Progress& progress) {
    return Delivering(remote, delivery, state, record, progress).run();
}

}
