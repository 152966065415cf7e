// Ensures that a scanner has one user at a time. Scans, previews, test strips, pieces and listings take the lease and
// give it back. Used on one thread, the window's.
//
// A listing asks every real device, so it excludes the use of a real one and vice versa. Simulated scanners are
// independent of it, so that a network that does not answer does not delay them.
#pragma once

#include <functional>
#include <optional>

namespace yelvin {

class ScannerLease {
  public:
    enum class For { Scan, Preview, Strip, Piece, Listing };
    enum class Kind { Simulated, Real };

    // Returns false while somebody else has the lease. `kind` is ignored for a listing.
    [[nodiscard]] bool take(For what, Kind kind = Kind::Real);
    void give_back(For what); // does nothing for a user who does not have it
    bool held() const { return user_.has_value(); }
    bool held_for(For what) const { return what == For::Listing ? listing_ : user_ == what; }

    // Calls `then` when the lease is given back; it must take() again. Only the latest caller waits.
    void when_given_back(std::function<void()> then) { waiting_ = std::move(then); }
    bool somebody_waits() const { return static_cast<bool>(waiting_); }
    void forget_waiting() { waiting_ = nullptr; }

  private:
    std::optional<For> user_;
    Kind kind_ = Kind::Simulated; // of what the user holds
    bool listing_ = false;
    std::function<void()> waiting_;
};

}
