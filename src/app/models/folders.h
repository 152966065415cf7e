// What folders are like: there, writable, how full, which names they hold. Each is asked on a thread of its own, since
// one on a network may not answer; the window waits for none of them.
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
    enum class Is { Unknown, Good, Missing, Unusable, Silent } is = Is::Unknown; // Silent: it does not answer
    Error why;                                          // of all but Good and Unknown: a sentence
    std::uint64_t free_bytes = 0;                       // of Good
    std::shared_ptr<const std::set<std::string>> names; // of the files in it, without extensions; may be null
};

class Folders : public QObject {
    Q_OBJECT
  public:
    using Path = std::filesystem::path;
    // A local folder answers within a few milliseconds, so that is waited for: so long for all that one event of the
    // window asks for together. After the limit a folder counts as silent.
    static constexpr std::chrono::milliseconds moment{25}, limit{4000};
    explicit Folders(QObject* parent = nullptr);
    ~Folders() override;

    // As it was last; asks anew where that is more than a second ago. Only the first answer is waited for, a moment.
    FolderState of(const Path& folder);
    void forget(const Path& folder) { known_.erase(folder); } // files have come since
    // Asked anew. `then` is called here: at once where it answers in a moment, else as soon as it does, and as Silent
    // after the limit.
    using Then = std::function<void(const FolderState&)>;
    void ask(const Path& folder, Then then);
    // Made with those above it; else why not.
    void make(const Path& folder, Then then);

  signals:
    void changed(const QString& folder); // what it is like

  private:
    struct Asked;
    struct Post; // through which threads reach this, as long as it is there
    std::shared_ptr<Post> post_;
    struct Known {
        FolderState state;
        std::chrono::steady_clock::time_point at;
    };
    std::map<Path, Known> known_;
    std::map<Path, std::shared_ptr<Asked>> under_way_;
    std::map<Path, std::vector<Then>> waiting_;

    std::chrono::steady_clock::duration waited_{}; // by the event that is under way

    std::shared_ptr<Asked> begin(const Path& folder, bool make);
    bool wait_a_moment(Asked& asked); // true: it has answered
    void take(const Path& folder, const std::shared_ptr<Asked>& asked);
    void tell(const Path& folder, const FolderState& answer);
    void wait_for(const Path& folder, const std::shared_ptr<Asked>& asked, Then then);
};

}
