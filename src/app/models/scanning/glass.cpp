#include "app/models/scanning/glass.h"

#include "app/models/scanning/scanners.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/page_pictures.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/developing/develop.h"
#include "core/seeing/notice.h"
#include "jobs/trouble.h"

#include <algorithm>

namespace yelvin {

namespace {

constexpr double preview_dpi = 100;
constexpr std::chrono::milliseconds growing_pace{100};

// Whether the frame seems to contain a photograph, judged from the preview.
bool shows_photograph(const Raster& preview, const Region& at) {
    Recipe cut = frame_recipe(at, preview.size_mm());
    cut.tilt_degrees = std::abs(cut.tilt_degrees) < least_tilt_degrees ? 0 : cut.tilt_degrees;
    return notice(develop(preview, cut), Items::None).kind == PageKind::Photo;
}

std::vector<Frame> frames_around(const std::vector<Region>& items, const Raster& preview) {
    std::vector<Frame> frames;
    for (const Region& item : items) frames.push_back({item, true, shows_photograph(preview, item)});
    return frames;
}

// Returns only frames that were drawn by the user. Frames that were found belong to an item that may be gone.
std::vector<Frame> kept_frames(const nlohmann::json& kept) {
    std::vector<Frame> frames;
    if (!kept.is_array()) return frames;
    for (const auto& f : kept) {
        const bool numbers =
            f.is_array() && f.size() == 5 && std::ranges::all_of(f, [](const auto& n) { return n.is_number(); });
        if (numbers) frames.push_back({Region{f[0], f[1], f[2], f[3], f[4]}});
    }
    return frames;
}

}

Glass::Glass(Messages& messages, LastChoices& last, Scanners& scanners, Tickets& tickets, QObject* parent)
    : QObject(parent), messages_(messages), last_(last), scanners_(scanners), tickets_(tickets),
      frames_kind_(tickets.ticket().from.frames) {
    if (frames_kind_ == Frames::Drawn) frames_ = kept_frames(last.get("frames"));
    age_.setSingleShot(true);
    age_.setInterval(std::chrono::minutes(10));
    connect(&age_, &QTimer::timeout, this, &Glass::papers_changed);
    connect(&scanners_, &Scanners::papers_changed, this, &Glass::papers_changed);
    connect(&scanners_, &Scanners::exchanged, this, &Glass::forget);
    connect(&tickets_, &Tickets::changed, this, &Glass::follow_ticket);
}

Glass::~Glass() {
    if (previewing_) scanners_.stop();
}

void Glass::remember() {
    nlohmann::json frames = nlohmann::json::array();
    for (const Frame& f : frames_) frames.push_back({f.at.x_mm, f.at.y_mm, f.at.w_mm, f.at.h_mm, f.at.angle_degrees});
    last_.set("frames", std::move(frames));
}

// ---- the preview

void Glass::start_preview() {
    const auto stop = scanners_.take(ScannerLease::For::Preview);
    if (!stop) return;
    previewing_ = true;
    emit previewing_changed();
    scan_ = std::jthread([this, here = on_thread_of(this), stop = *stop] { scan_preview(stop, here); });
}

// Runs on a thread of its own.
void Glass::scan_preview(std::stop_token stop, const Executor& here) {
    const std::shared_ptr<Scanner> scanner = scanners_.scanner();
    const ScanRequest request = fitted({Source::Glass, {}, preview_dpi, Ink::Colour}, scanner->capabilities());
    const auto show = [&](const Raster& so_far) {
        here([this, image = to_image(so_far)] {
            preview_ = image;
            emit preview_growing();
        });
    };
    RasterSink sink;
    auto shown = std::chrono::steady_clock::now();
    sink.on_strip = [&](const Raster& so_far, int) {
        const auto now = std::chrono::steady_clock::now();
        if (now - shown < growing_pace) return;
        shown = now;
        show(so_far);
    };
    const auto done = caught("the preview", [&] { return scanner->scan(request, sink, std::move(stop)); });
    if (!done || sink.pages.empty()) return here([this, done] { end_preview(done, {}); });
    // The preview is shown before the search for items begins.
    show(sink.pages.front());
    const auto found = caught("finding items", [&]() -> Result<std::vector<Frame>> {
        return frames_around(find_regions(sink.pages.front()), sink.pages.front());
    });
    here([this, done, found = found.value_or(std::vector<Frame>{})] { end_preview(done, found); });
}

void Glass::end_preview(const Result<void>& done, std::vector<Frame> found) {
    previewing_ = false;
    out_of_date_ = !done; // A preview that failed is incomplete.
    found_frames_ = std::move(found);
    found_.clear();
    for (const Frame& frame : found_frames_) found_.push_back(frame.at);
    frame_what_was_found();
    if (done)
        age_.start();
    else if (done.error().kind != ErrorKind::Stopped)
        messages_.complain(done.error());
    remember();
    emit previewing_changed();
    emit changed();
    scanners_.give_back(ScannerLease::For::Preview);
    emit previewed(done.has_value());
}

void Glass::set_preview_lifetime(std::chrono::milliseconds lifetime) { age_.setInterval(lifetime); }

void Glass::papers_changed() {
    age_.stop();
    if (!is_current()) return;
    out_of_date_ = true;
    found_.clear();
    found_frames_.clear();
    frame_what_was_found(); // Removes the frames, because nothing is found now.
    emit changed();
}

// Another scanner was chosen, so the preview no longer applies.
void Glass::forget() {
    preview_ = {};
    found_.clear();
    found_frames_.clear();
    emit changed();
}

// ---- frames

void Glass::follow_ticket() {
    if (std::exchange(frames_kind_, tickets_.ticket().from.frames) == tickets_.ticket().from.frames) return;
    frame_what_was_found();
    emit changed();
}

// Places frames around the items that were found, as the ticket says. Frames that were drawn are not changed.
void Glass::frame_what_was_found() {
    const Frames kind = tickets_.ticket().from.frames;
    if (kind != Frames::EachItem && kind != Frames::OneItem) return;
    chosen_frame_ = -1;
    frames_ = found_frames_;
    if (kind == Frames::OneItem && found_.size() > 1) frames_ = {Frame::upright(hull_of(found_))};
}

void Glass::set_frames(std::vector<Frame> frames) {
    std::erase_if(frames, [](const Frame& f) { return f.at.w_mm < least_frame_mm || f.at.h_mm < least_frame_mm; });
    frames_ = std::move(frames);
    if (chosen_frame_ >= static_cast<int>(frames_.size())) chosen_frame_ = -1;
    remember();
    emit changed();
}

void Glass::choose_frame(int index) {
    const int chosen = index >= 0 && index < static_cast<int>(frames_.size()) ? index : -1;
    if (chosen == chosen_frame_) return;
    chosen_frame_ = chosen;
    emit changed();
}

void Glass::renumber_frame(int index, int to) {
    const int last = static_cast<int>(frames_.size()) - 1;
    if (index < 0 || index > last) return;
    to = std::clamp(to, 0, last);
    auto frames = frames_;
    const Frame moved = frames[static_cast<size_t>(index)];
    frames.erase(frames.begin() + index);
    frames.insert(frames.begin() + to, moved);
    chosen_frame_ = to;
    set_frames(std::move(frames));
}

}
