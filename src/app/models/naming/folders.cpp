#include "app/models/naming/folders.h"

#include "app/models/threads/pools.h"
#include "core/naming/file_name.h"
#include "core/saving/safe_file.h"
#include "jobs/trouble.h"

#include <fmt/format.h>
#include <sys/statvfs.h>

#include <QTimer>

#include <condition_variable>
#include <mutex>
#include <thread>

namespace yelvin {

// A query that runs on a thread of its own and may outlive the object that asked.
struct Folders::Asked {
    std::mutex mutex;
    std::condition_variable answered;
    std::optional<FolderState> state;
};

struct Folders::Post {
    std::mutex mutex;
    Folders* to = nullptr;
};

Folders::Folders(QObject* parent) : QObject(parent), post_(std::make_shared<Post>()) { post_->to = this; }

Folders::~Folders() {
    const std::lock_guard lock(post_->mutex);
    post_->to = nullptr;
}

namespace {

FolderState looked_at(const std::filesystem::path& folder, bool make) {
    FolderState state;
    NewFolders made;
    if (make) {
        if (const auto done = made.make(folder); !done) {
            state.is = FolderState::Is::Unusable;
            state.why = done.error();
            return state;
        }
    }
    if (const auto checked = check_folder(folder); !checked) {
        state.is = checked.error().kind == ErrorKind::Missing ? FolderState::Is::Missing : FolderState::Is::Unusable;
        state.why = checked.error();
        return state;
    }
    state.is = FolderState::Is::Good;
    struct statvfs space {};
    if (::statvfs(folder.c_str(), &space) == 0) state.free_bytes = space.f_bavail * space.f_frsize;
    state.names = std::make_shared<const std::set<std::string>>(stems_in(folder));
    return state;
}

FolderState silent(const std::filesystem::path& folder) {
    FolderState state;
    state.is = FolderState::Is::Silent;
    state.why = {
        ErrorKind::Missing,
        fmt::format("The folder {} is not responding; check the network, or choose another folder.", folder.string()),
        {}};
    return state;
}

}

std::shared_ptr<Folders::Asked> Folders::begin(const Path& folder, bool make) {
    auto& asked = under_way_[folder];
    if (asked && !make) return asked;
    asked = std::make_shared<Asked>();
    std::thread([folder, make, asked, post = post_] {
        const auto looked =
            caught("checking a folder", [&]() -> Result<FolderState> { return looked_at(folder, make); });
        FolderState state;
        if (looked) {
            state = *looked;
        } else {
            state.is = FolderState::Is::Unusable;
            state.why = looked.error();
        }
        {
            const std::lock_guard lock(asked->mutex);
            asked->state = std::move(state);
        }
        asked->answered.notify_all();
        const std::lock_guard lock(post->mutex);
        if (Folders* to = post->to) on_thread_of(to)([to, folder, asked] { to->take(folder, asked); });
    }).detach();
    QTimer::singleShot(limit, this, [this, folder, asked] {
        // Counts as silent for now; the answer may still come.
        if (under_way_[folder] == asked) tell(folder, silent(folder));
    });
    return asked;
}

bool Folders::wait_a_moment(Asked& asked) {
    if (waited_ == waited_.zero()) QTimer::singleShot(0, this, [this] { waited_ = {}; });
    const auto begun = std::chrono::steady_clock::now();
    std::unique_lock lock(asked.mutex);
    const bool answered = asked.answered.wait_for(lock, moment - waited_, [&] { return asked.state.has_value(); });
    waited_ += std::chrono::steady_clock::now() - begun;
    return answered;
}

void Folders::take(const Path& folder, const std::shared_ptr<Asked>& asked) {
    if (under_way_[folder] != asked) return; // Answered already, or asked again meanwhile.
    under_way_.erase(folder);
    const FolderState answer = [&] {
        const std::lock_guard lock(asked->mutex);
        return *asked->state;
    }();
    tell(folder, answer);
}

void Folders::tell(const Path& folder, const FolderState& answer) {
    // A copy, because receivers of the signal may forget the folder and thereby delete `answer`.
    const FolderState state = answer;
    const FolderState before = known_[folder].state;
    known_[folder] = {state, std::chrono::steady_clock::now()};
    for (const Then& then : std::exchange(waiting_[folder], {})) then(state);
    const bool same_names = before.names && state.names && *before.names == *state.names;
    if (before.is != state.is || (before.names && !same_names)) emit changed(QString::fromStdString(folder.string()));
}

FolderState Folders::of(const Path& folder) {
    constexpr std::chrono::milliseconds lifetime{1000};
    Known& known = known_[folder];
    const bool fresh =
        known.state.is != FolderState::Is::Unknown && std::chrono::steady_clock::now() - known.at < lifetime;
    if (fresh) return known.state;
    const bool is_asked = under_way_.contains(folder) && under_way_[folder];
    const bool was_good = known.state.is == FolderState::Is::Good;
    const auto asked = begin(folder, false);
    if (!is_asked && !was_good) wait_a_moment(*asked);
    const bool answered = [&] {
        const std::lock_guard lock(asked->mutex);
        return asked->state.has_value();
    }();
    if (answered) take(folder, asked);
    return known_[folder].state;
}

void Folders::wait_for(const Path& folder, const std::shared_ptr<Asked>& asked, Then then) {
    waiting_[folder].push_back(std::move(then));
    if (wait_a_moment(*asked)) return take(folder, asked);
    // A folder that did not answer before is not waited for again: its state is reported when it answers.
    if (known_[folder].state.is == FolderState::Is::Silent)
        QTimer::singleShot(moment, this, [this, folder] { tell(folder, known_[folder].state); });
}

void Folders::ask(const Path& folder, Then then) { wait_for(folder, begin(folder, false), std::move(then)); }

void Folders::make(const Path& folder, Then then) { wait_for(folder, begin(folder, true), std::move(then)); }

}
