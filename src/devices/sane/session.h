// An open SANE device with a thread of its own. Backends block, and some hang: every call has a time limit, and a
// device that does not answer is given up; its thread is left behind.
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

// Lists the devices that libsane knows; finding those on a network takes seconds. If it takes longer than `limit`,
// because a backend hangs, returns those that the last listing found. Thread-safe.
std::vector<Listing> list_devices(std::chrono::milliseconds limit = std::chrono::seconds(30));
std::string connection_of(const std::string& name); // "USB", "network" or "local", by the device's name

// Translates a status of libsane; nullopt for success.
std::optional<ErrorKind> fault_of(int status);
std::string status_words(int status);
inline constexpr int no_answer = 9; // SANE_STATUS_IO_ERROR, also returned for a device that was given up

// One item of the data that arrive during a scan, in order.
struct Arrival {
    enum class Kind { Frame, Bytes, FrameEnd, Failed, Done };
    Kind kind = Kind::Bytes;
    FrameParameters frame;
    std::vector<std::uint8_t> bytes;
    int status = 0;        // of Failed
    bool at_start = false; // whether sane_start() failed
};

class Session {
  public:
    explicit Session(std::string device);
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;
    ~Session(); // closes the device; a thread that hangs is left behind

    // The functions below block for at most `limit`. If that passes, the session is lost, and every later call fails at
    // once. An int result is libsane's status, 0 for success. Thread-safe.
    int open(std::chrono::milliseconds limit);
    std::vector<Option> options(std::chrono::milliseconds limit);
    // Sets an option. If it does not exist or cannot be set now, does nothing and returns success.
    int set(const std::string& name, const OptionValue& value, std::chrono::milliseconds limit);
    std::optional<OptionValue> get(const std::string& name, std::chrono::milliseconds limit);

    // Starts reading `pages` pages (0: until the device has no more). next() returns what arrived, or nullopt after
    // `limit`. Up to 48 MB are buffered, so that a slow disk does not stop the feeder at once. Reading ends after a
    // failure and after cancel().
    void start_reading(int pages);
    std::optional<Arrival> next(std::chrono::milliseconds limit);
    // Ends the reading and waits for it. Returns false if it hangs; the session is then lost.
    bool cancel(std::chrono::milliseconds limit);
    bool lost() const;

  private:
    struct State; // shared with the device's thread, which may outlive the session
    std::shared_ptr<State> state_;
    bool call(std::function<void(State&)> task, std::chrono::milliseconds limit); // false if the session is lost
};

}
