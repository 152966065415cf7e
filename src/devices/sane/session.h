// One open SANE device with a thread of its own. Backends block, and some hang: whoever calls waits for an answer with
// a limit, and a device that does not answer is given up, its thread left to end by itself.
#pragma once

#include "core/error.h"
#include "devices/sane/frame_decoder.h"
#include "devices/sane/option_table.h"

#include <chrono>
#include <functional>
#include <memory>
#include <string>

namespace yelvin::sane {

struct Listing {
    std::string name; // "test:0"
    std::string vendor, model, type;
};

// Returns all the devices that libsane knows; network ones take seconds to be found. After `limit`, as when a backend
// hangs, returns those that the last listing found. Safe to call from any thread.
std::vector<Listing> list_devices(std::chrono::milliseconds limit = std::chrono::seconds(30));
std::string connection_of(const std::string& name); // "USB", "network" or "local", by the device's name

// What libsane's status becomes. Nothing for success.
std::optional<ErrorKind> fault_of(int status);
std::string status_words(int status);
inline constexpr int no_answer = 9; // SANE_STATUS_IO_ERROR: also for a device that was given up

// What arrives from a scan, in order.
struct Arrival {
    enum class Kind { Frame, Bytes, FrameEnd, Failed, Done };
    Kind kind = Kind::Bytes;
    FrameParameters frame;
    std::vector<std::uint8_t> bytes;
    int status = 0;        // of a failure
    bool at_start = false; // it was sane_start() that failed
};

class Session {
  public:
    explicit Session(std::string device);
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;
    ~Session(); // closes the device; one that hangs is left behind

    // The calls below block for at most `limit`; after that the session is lost and every call fails at once.
    // Where an int comes back it is libsane's status; 0 is success.
    int open(std::chrono::milliseconds limit);
    std::vector<Option> options(std::chrono::milliseconds limit);
    // Sets one option by name; one that is not there or not to be set now is left alone.
    int set(const std::string& name, const OptionValue& value, std::chrono::milliseconds limit);
    std::optional<OptionValue> get(const std::string& name, std::chrono::milliseconds limit);

    // Starts frames and reads them until `pages` of them are in (0: until the device has no more), a failure, or
    // cancel(). next() gives what arrived; nothing after `limit`. Up to 48 MB wait in between, so that a slow disk does
    // not stop the feeder at once.
    void start_reading(int pages);
    std::optional<Arrival> next(std::chrono::milliseconds limit);
    // Asks the reading to end and waits until it has, for at most `limit`. False: it hangs, and the session is lost.
    bool cancel(std::chrono::milliseconds limit);
    bool lost() const;

  private:
    struct State; // shared with the device's thread, which may outlive the session
    std::shared_ptr<State> state_;
    bool call(std::function<void(State&)> task, std::chrono::milliseconds limit); // false: lost
};

}
