#include "jobs/scanner_lease.h"

#include <utility>

namespace yelvin {

bool ScannerLease::take(For what, Kind kind) {
    if (what == For::Listing) {
        if (listing_ || (user_ && kind_ == Kind::Real)) return false;
        return listing_ = true;
    }
    if (user_ || (listing_ && kind == Kind::Real)) return false;
    user_ = what;
    kind_ = kind;
    return true;
}

void ScannerLease::give_back(For what) {
    if (!held_for(what)) return;
    if (what == For::Listing)
        listing_ = false;
    else
        user_.reset();
    if (const auto next = std::exchange(waiting_, nullptr)) next();
}

}
