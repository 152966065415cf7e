#include "devices/sane/sane_scanner.h"

#include "core/scanner/faults.h"

#include <fmt/format.h>

#include <algorithm>

namespace yelvin {

using sane::Arrival;
using sane::Option;
using namespace std::chrono_literals;

namespace {

// Time limits for opening a device and for setting or reading an option, which is slow over some networks, and for a
// stop.
constexpr std::chrono::milliseconds patience = 30s, stop_limit = 900ms;

}

SaneScanner::SaneScanner(sane::Listing listing, SanePatience patience)
    : listing_(std::move(listing)), patience_(patience) {}

std::string SaneScanner::title() const {
    const std::string title = listing_.vendor.empty() ? listing_.model : listing_.vendor + " " + listing_.model;
    return title.empty() ? listing_.name : title;
}

void SaneScanner::set_state(ScannerState state) {
    const std::scoped_lock lock(mutex_);
    state_ = state;
}

std::unexpected<Error> SaneScanner::fault(int status, int sheet) {
    const ErrorKind kind = sane::fault_of(status).value_or(ErrorKind::Device);
    if (const auto state = state_after(kind)) set_state(*state);
    const std::string detail = fmt::format("{}: {}", listing_.name, sane::status_words(status));
    if (kind == ErrorKind::Stopped)
        return fail(kind, fmt::format("The scan was stopped at {} itself; pages that are in are kept.", title()),
                    detail);
    return std::unexpected(scanner_fault(kind, title(), sheet, detail));
}

Result<void> SaneScanner::prepare() {
    std::shared_ptr<sane::Session> session;
    {
        const std::scoped_lock lock(mutex_);
        if (session_ && !session_->lost()) return {};
        session_.reset();
    }
    session = std::make_shared<sane::Session>(listing_.name);
    if (const int status = session->open(patience); status != 0) return fault(status, 0);
    const std::vector<Option> table = session->options(patience);
    sane::Meaning meaning = sane::meaning_of(table);
    sane::ask_areas(meaning, [&](const std::string& source) {
        return session->set(meaning.source_option, source, patience) == 0 ? session->options(patience)
                                                                          : std::vector<Option>{};
    });
    if (const Option* source = sane::find(table, meaning.source_option); source && meaning.sources.size() > 1)
        session->set(source->name, source->value, patience); // as the device had it
    const std::scoped_lock lock(mutex_);
    session_ = std::move(session);
    meaning_ = std::move(meaning);
    state_ = ScannerState::Ready;
    return {};
}

Capabilities SaneScanner::capabilities() const {
    const std::scoped_lock lock(mutex_);
    return meaning_.can;
}

ScannerState SaneScanner::state() const {
    const std::scoped_lock lock(mutex_);
    return state_;
}

namespace {

bool says_pressed(const OptionValue& value) {
    if (const bool* flag = std::get_if<bool>(&value)) return *flag;
    const double* number = std::get_if<double>(&value);
    return number && *number != 0;
}

}

std::optional<std::string> SaneScanner::take_button_press() {
    std::shared_ptr<sane::Session> session;
    std::vector<std::string> buttons;
    {
        const std::scoped_lock lock(mutex_);
        if (!session_ || state_ == ScannerState::Busy) return std::nullopt;
        session = session_;
        buttons = meaning_.can.buttons;
    }
    const auto down = std::ranges::find_if(buttons, [&](const std::string& name) {
        const auto value = session->get(name, patience);
        return value && says_pressed(*value);
    });
    const std::scoped_lock lock(mutex_);
    const auto before = std::exchange(button_down_, down == buttons.end() ? std::nullopt : std::optional(*down));
    return before == button_down_ ? std::nullopt : button_down_;
}

// Sets the options for the request, in the order in which options usually depend on each other.
Result<void> SaneScanner::choose(sane::Session& session, const ScanRequest& request, const sane::Meaning& meaning,
                                 double& dpi_in_force) {
    int failed = 0;
    const auto set = [&](const std::string& name, const OptionValue& value) {
        if (failed == 0 && !name.empty()) failed = session.set(name, value, patience);
    };
    // Options that an earlier scan set and this request does not name are reset to the device's own values.
    for (const std::string& name : std::exchange(touched_, {})) {
        const auto at = std::ranges::find(meaning.can.more, name, &DeviceOption::name);
        if (!request.more.contains(name) && at != meaning.can.more.end()) set(name, at->value);
    }
    for (const auto& [source, word] : meaning.sources) {
        if (source == request.source) set(meaning.source_option, word);
    }
    if (!meaning.duplex_option.empty()) {
        const std::vector<Option> table = session.options(patience);
        const Option* duplex = sane::find(table, meaning.duplex_option);
        const bool both = request.source == Source::FeederBoth;
        if (duplex && duplex->type == sane::Type::Flag) set(duplex->name, both);
        for (const std::string& word : duplex ? duplex->words : std::vector<std::string>{}) {
            if ((word.find("uplex") != std::string::npos) == both) set(duplex->name, word);
        }
    }
    for (const auto& [ink, mode] : meaning.modes) {
        if (ink != request.ink) continue;
        if (!mode.word.empty()) set("mode", mode.word);
        if (mode.depth) set("depth", static_cast<double>(*mode.depth));
    }
    set(meaning.resolution_option, request.dpi);
    if (meaning.resolution_option == "x-resolution") set("y-resolution", request.dpi);
    for (const auto& [name, value] : request.more) {
        set(name, value);
        touched_.insert(name);
    }
    if (failed != 0) return fault(failed, 0);
    if (session.lost()) return fault(sane::no_answer, 0);
    return choose_area(session, request.area, meaning, dpi_in_force = request.dpi);
}

// Reads back the resolution that the device uses, and sets the area in the device's unit.
Result<void> SaneScanner::choose_area(sane::Session& session, const RectMm& area, const sane::Meaning& meaning,
                                      double& dpi_in_force) {
    int failed = 0;
    const std::vector<Option> table = session.options(patience);
    if (const Option* resolution = sane::find(table, meaning.resolution_option)) {
        if (const auto* value = std::get_if<double>(&resolution->value); value && *value > 0) dpi_in_force = *value;
    }
    if (area.width <= 0 || area.height <= 0) return {};
    const auto set = [&](const char* name, double mm, bool up, bool needs_range) {
        const Option* option = sane::find(table, name);
        if (failed != 0 || !option || !option->usable() || (needs_range && option->most <= 0)) return;
        const double in_unit = option->unit == sane::Unit::Pixel ? mm_to_px(mm, dpi_in_force) : mm;
        failed = session.set(name, option->nearest(in_unit, up), patience);
    };
    set("page-width", area.x + area.width, true, true);
    set("page-height", area.y + area.height, true, true);
    set("tl-x", area.x, false, false);
    set("tl-y", area.y, false, false);
    set("br-x", area.x + area.width, true, false);
    set("br-y", area.y + area.height, true, false);
    if (failed != 0) return fault(failed, 0);
    return {};
}

// Decodes the frames of a page and passes its rows to the sink.
class SaneScanner::PageTaker {
  public:
    PageTaker(PageSink& sink, double dpi, bool make_black, bool both_sides)
        : sink_(sink), dpi_(dpi), make_black_(make_black), both_(both_sides) {}

    Result<void> frame(const sane::FrameParameters& parameters) {
        if (!open_) decoder_ = {};
        if (auto begun = decoder_.begin(parameters); !begun) return begun;
        last_frame_ = parameters.last_frame;
        if (open_) return {};
        open_ = true;
        ink_ = make_black_ ? Ink::Black : decoder_.ink();
        const int sheet = both_ ? pages / 2 + 1 : pages + 1;
        return sink_.begin_page(
            {decoder_.width_px(), std::max(0, decoder_.lines()), dpi_, ink_, sheet, both_ && pages % 2 == 1});
    }
    Result<void> bytes(std::span<const std::uint8_t> data) {
        if (!open_) return {};
        cv::Mat rows = decoder_.feed(data);
        if (rows.empty()) return {};
        // Some backends send more lines than they announced.
        if (decoder_.lines() > 0) rows = rows.rowRange(0, std::min(rows.rows, decoder_.lines() - rows_));
        if (rows.empty()) return {};
        if (make_black_ && decoder_.ink() == Ink::Grey) rows = rows >= 128;
        rows_ += rows.rows;
        return sink_.strip(rows);
    }
    Result<void> frame_end() {
        if (!last_frame_ || !open_) return {};
        open_ = false;
        if (rows_ == 0) return fail(ErrorKind::Device, "");
        rows_ = 0;
        ++pages;
        return sink_.end_page();
    }
    int sheet() const { return both_ ? pages / 2 + 1 : pages + 1; }
    int pages = 0;

  private:
    PageSink& sink_;
    double dpi_;
    bool make_black_, both_;
    sane::FrameDecoder decoder_;
    Ink ink_ = Ink::Grey;
    bool open_ = false, last_frame_ = true;
    int rows_ = 0;
};

std::chrono::milliseconds SaneScanner::longest_silence(const ScanRequest& request, double dpi) const {
    constexpr SizeMm usual{216, 356};
    const double width = request.area.width > 0 ? request.area.width : usual.width;
    const double height = request.area.height > 0 ? request.area.height : usual.height;
    const double megapixels = mm_to_px(width, dpi) * mm_to_px(height, dpi) / 1e6;
    const auto for_pixels = std::chrono::duration<double, std::milli>(patience_.per_megapixel) * megapixels;
    return patience_.at_first + std::chrono::duration_cast<std::chrono::milliseconds>(for_pixels);
}

Result<void> SaneScanner::take(const Arrival& arrival, PageTaker& taker, bool feeder) {
    Result<void> taken;
    switch (arrival.kind) {
    case Arrival::Kind::Frame:
        taken = taker.frame(arrival.frame);
        break;
    case Arrival::Kind::Bytes:
        taken = taker.bytes(arrival.bytes);
        break;
    case Arrival::Kind::FrameEnd:
        taken = taker.frame_end();
        break;
    case Arrival::Kind::Failed:
        // After at least one page, an empty feeder is the normal end of a stack.
        if (arrival.at_start && taker.pages > 0 && sane::fault_of(arrival.status) == ErrorKind::FeederEmpty)
            set_state(ScannerState::FeederEmpty);
        else
            taken = fault(arrival.status, feeder ? taker.sheet() : 0);
        break;
    case Arrival::Kind::Done:
        break;
    }
    // If the sink refuses a page without a message, as for two sheets at once, its owner reports the error.
    if (taken || taken.error().kind != ErrorKind::Device || !taken.error().sentence.empty()) return taken;
    return fail(ErrorKind::Device,
                fmt::format("{} delivered an empty or broken picture. Switch it off and on, and scan again.", title()),
                taken.error().detail);
}

Result<void> SaneScanner::take_pages(sane::Session& session, const ScanRequest& request, double dpi, bool black,
                                     PageSink& sink, const std::stop_token& stop) {
    const bool feeder = request.source != Source::Glass, both = request.source == Source::FeederBoth;
    PageTaker taker(sink, dpi, black, both);
    session.start_reading(feeder ? request.sheets * (both ? 2 : 1) : 1);
    const std::chrono::milliseconds longest = longest_silence(request, dpi);
    auto last_heard = std::chrono::steady_clock::now();
    Result<void> outcome;
    for (bool going = true; going && outcome;) {
        if (stop.stop_requested()) {
            outcome = stopped();
            break;
        }
        const auto arrival = session.next(50ms);
        const auto now = std::chrono::steady_clock::now();
        if (!arrival) {
            if (now - last_heard >= longest)
                silent_for_ = std::chrono::duration_cast<std::chrono::milliseconds>(now - last_heard);
            continue;
        }
        last_heard = now;
        silent_for_ = 0ms;
        going = arrival->kind != Arrival::Kind::Failed && arrival->kind != Arrival::Kind::Done;
        outcome = take(*arrival, taker, feeder);
    }
    silent_for_ = 0ms;
    if (!session.cancel(stop_limit)) set_state(ScannerState::Offline);
    return outcome;
}

Result<void> SaneScanner::scan(const ScanRequest& asked, PageSink& sink, std::stop_token stop) {
    if (auto ready = prepare(); !ready) return ready;
    std::shared_ptr<sane::Session> session;
    sane::Meaning meaning;
    {
        const std::scoped_lock lock(mutex_);
        if (state_ == ScannerState::Busy) return std::unexpected(scanner_fault(ErrorKind::Busy, title(), 0));
        session = session_;
        meaning = meaning_;
        state_ = ScannerState::Busy;
    }
    const ScanRequest request = fitted(asked, meaning.can);
    double dpi = request.dpi;
    Result<void> done = choose(*session, request, meaning, dpi);
    if (done) {
        const auto mode = std::ranges::find(meaning.modes, request.ink, &std::pair<Ink, sane::Mode>::first);
        const bool black = mode != meaning.modes.end() && mode->second.brought_down;
        done = take_pages(*session, request, dpi, black, sink, stop);
    }
    const std::scoped_lock lock(mutex_);
    if (state_ == ScannerState::Busy) state_ = ScannerState::Ready;
    if (session->lost()) session_.reset(); // the next scan connects anew
    return done;
}

std::vector<std::shared_ptr<Scanner>> sane_scanners() {
    std::vector<std::shared_ptr<Scanner>> out;
    for (sane::Listing& listing : sane::list_devices())
        out.push_back(std::make_shared<SaneScanner>(std::move(listing)));
    return out;
}

}
