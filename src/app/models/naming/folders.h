// The state of folders: existing, writable, free space, names of their files. Each folder is examined on a detached
// thread of its own, because one on a network may not answer. Lives on the window's thread.
#pragma once

#include "core/error.h"

#include <QObject>
#include <QString>

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <vector>

namespace yelvin {

struct FolderState {
    enum class Is { Unknown, Good, Missing, Unusable, Silent } is = Is::Unknown; // Silent: it does not respond
    Error why;                                          // a sentence, for all but Good and Unknown
    std::uint64_t free_bytes = 0;                       // for Good
    std::shared_ptr<const std::set<std::string>> names; // names of its files without extensions; may be null
};

class Folders : public QObject {
    Q_OBJECT
  public:
    using Path = std::filesystem::path;
    // A local folder answers within milliseconds, so one event of the window waits up to this time for all folders
    // together. After the limit a folder counts as silent.
    static constexpr std::chrono::milliseconds moment{25}, limit{4000};
    explicit Folders(QObject* parent = nullptr);
    ~Folders() override;

    // Returns the last state and examines the folder again if that is more than a second old. Waits a moment for the
    // first answer only.
    FolderState of(const Path& folder);
    void forget(const Path& folder) { known_.erase(folder); } // files have come since
    // Examines the folder and calls `then` on this thread: at once if it answers within a moment, otherwise when it
    // does, and as Silent after the limit.
    using Then = std::function<void(const FolderState&)>;
    void ask(const Path& folder, Then then);
    // Creates the folder with the missing ones above it, and reports the result.
    void make(const Path& folder, Then then);

  signals:
    void changed(const QString& folder); // its state changed

  private:
    struct Asked;
    struct Post; // by which threads reach this object while it exists
    std::shared_ptr<Post> post_;
    struct Known {
        FolderState state;
        std::chrono::steady_clock::time_point at;
    };
    std::map<Path, Known> known_;
    std::map<Path, std::shared_ptr<Asked>> under_way_;
    std::map<Path, std::vector<Then>> waiting_;

    std::chrono::steady_clock::duration waited_{}; // in the present event

    std::shared_ptr<Asked> begin(const Path& folder, bool make);
    bool wait_a_moment(Asked& asked); // returns true if it has answered
    void take(const Path& folder, const std::shared_ptr<Asked>& asked);
    void tell(const Path& folder, const FolderState& answer);
    void wait_for(const Path& folder, const std::shared_ptr<Asked>& asked, Then then);
};

}
