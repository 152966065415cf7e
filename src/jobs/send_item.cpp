#include "jobs/send_item.h"

#include <algorithm>
#include <iterator>

namespace yelvin {

std::chrono::seconds pause_after(int tries) {
    constexpr int pauses[] = {5, 15, 45, 120, 360, 900};
    return std::chrono::seconds(pauses[std::clamp(tries - 1, 0, static_cast<int>(std::size(pauses)) - 1)]);
}

void SendItem::start_again() {
    state = State::Waiting;
    tries = 0;
    next_try = {};
    why.clear();
}

void SendItem::end_attempt(const Result<Sent>& how, const Remote* remote, std::chrono::sys_seconds now) {
    if (how) {
        state = State::Sent;
        url = how->url;
        name = how->name;
        done = bytes;
        why.clear();
        return;
    }
    if (state != State::Sending) return;
    const ErrorKind kind = how.error().kind;
    const bool was_stopped = kind == ErrorKind::Stopped;
    const bool may_pass = kind == ErrorKind::Offline || kind == ErrorKind::Busy || kind == ErrorKind::DiskFull;
    state = was_stopped || may_pass        ? State::Waiting
            : kind == ErrorKind::Encrypted ? State::NeedsPassword
                                           : State::Failed;
    why = was_stopped ? std::string() : how.error().sentence;
    if (may_pass) {
        std::chrono::seconds pause = pause_after(++tries);
        if (remote && remote->retry_after()) pause = std::max(pause, *remote->retry_after());
        next_try = now + pause;
    }
    if (remote && kind == ErrorKind::Untrusted) identity = remote->identity();
}

}
