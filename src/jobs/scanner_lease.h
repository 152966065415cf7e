// One user of a scanner at a time. Whoever wants to scan, look at the glass or ask which scanners there are takes the
// lease and gives it back; all on one thread, the window's.
//
// A listing asks every real device, so it and the use of a real one keep each other out. The simulated ones take no
// notice of it: a network that does not answer holds nobody up at them.
#pragma once

#include <functional>
#include <optional>

namespace yelvin {

class ScannerLease {
  public:
    enum class For { Scan, Preview, Strip, Piece, Listing };
    enum class Kind { Simulated, Real };

    // False while somebody else has it. A listing has no kind.
    [[nodiscard]] bool take(For what, Kind kind = Kind::Real);
    void give_back(For what); // of somebody who does not have it: nothing
    bool held() const { return user_.has_value(); }
    bool held_for(For what) const { return what == For::Listing ? listing_ : user_ == what; }

    // Calls `then` once somebody has given the lease back; only the latest one waits. Who is called takes anew.
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
