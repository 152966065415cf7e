// The desk's glass: its preview, what was found on it, and the frames that become pages.
#include "app/desk.h"

#include "core/page/develop.h"
#include "core/raster/paper.h"

#include <opencv2/imgproc.hpp>

namespace yelvin {

namespace {

constexpr double preview_dpi = 100;

// Whether a frame holds a photograph, as far as a preview can tell.
bool shows_photograph(const Raster& preview, const Region& at) {
    Recipe cut = frame_recipe(at, preview.size_mm());
    cut.tilt_degrees = std::abs(cut.tilt_degrees) < least_tilt_degrees ? 0 : cut.tilt_degrees;
    return notice(develop(preview, cut), Items::None).kind == PageKind::Photo;
}

bool looks_for_items(Frames frames) { return frames == Frames::EachItem || frames == Frames::OneItem; }

std::vector<Frame> frames_around(const std::vector<Region>& items, const Raster& preview) {
    std::vector<Frame> frames;
    for (const Region& item : items) frames.push_back({item, true, shows_photograph(preview, item)});
    return frames;
}

}

// ---- the preview

void Desk::start_preview() {
    if (scanning_ || previewing_ || !scanner_) return;
    if (source() != Source::Glass) { // a feeder cannot be previewed; one sheet of it can be tried
        if (waiting_.what == Waiting::For::Nothing) begin_run(true);
        return;
    }
    previewing_ = true;
    emit busy_changed();
    scan_stop_ = {};
    const ScanRequest request = fitted({Source::Glass, {}, preview_dpi, Ink::Colour}, can_);
    scanner_thread_ = std::jthread([this, scanner = scanner_, request, stop = scan_stop_.get_token()] {
        RasterSink sink;
        auto shown = std::chrono::steady_clock::now();
        sink.on_strip = [&](const Raster& so_far, int) {
            const auto now = std::chrono::steady_clock::now();
            if (now - shown < std::chrono::milliseconds(100)) return;
            shown = now;
            on_desk([this, image = to_image(so_far)] {
                preview_ = image;
                emit preview_growing();
            });
        };
        const auto done = scanner->scan(request, sink, stop);
        if (!done || sink.pages.empty()) return on_desk([this, done] { preview_ended(done, {}); });
        const Raster& preview = sink.pages.front();
        // On screen first; then what lies there is looked for.
        on_desk([this, image = to_image(preview)] {
            preview_ = image;
            emit preview_growing();
        });
        on_desk([this, done, found = frames_around(find_regions(preview), preview)] { preview_ended(done, found); });
    });
}

void Desk::preview_ended(const Result<void>& done, std::vector<Frame> found) {
    previewing_ = false;
    const bool scan_now = std::exchange(scan_after_preview_, false) && done;
    preview_stale_ = !done; // what there is of it is half of it
    found_frames_ = std::move(found);
    found_.clear();
    for (const Frame& frame : found_frames_) found_.push_back(frame.at);
    frame_what_was_found();
    if (done)
        preview_age_.start();
    else if (done.error().kind != ErrorKind::Stopped)
        emit trouble(QString::fromStdString(done.error().sentence));
    remember();
    emit busy_changed();
    emit glass_changed();
    emit ticket_changed(); // the sentence counts the frames
    if (scan_now) begin_run(false);
}

// Frames that were drawn stay as they are.
void Desk::frame_what_was_found() {
    if (!looks_for_items(ticket_.from.frames)) return;
    chosen_frame_ = -1;
    frames_ = found_frames_;
    if (ticket_.from.frames == Frames::OneItem && found_.size() > 1) frames_ = {Frame::upright(hull_of(found_))};
}

void Desk::set_preview_lifetime(std::chrono::milliseconds lifetime) { preview_age_.setInterval(lifetime); }

void Desk::paper_changed() {
    preview_age_.stop();
    if (preview_.isNull() || preview_stale_) return;
    preview_stale_ = true;
    found_.clear();
    found_frames_.clear();
    frame_what_was_found(); // nothing any more
    emit glass_changed();
    emit ticket_changed();
}

// ---- frames

void Desk::set_frames(std::vector<Frame> frames) {
    std::erase_if(frames, [](const Frame& f) { return f.at.w_mm < least_frame_mm || f.at.h_mm < least_frame_mm; });
    frames_ = std::move(frames);
    if (chosen_frame_ >= static_cast<int>(frames_.size())) chosen_frame_ = -1;
    remember();
    emit glass_changed();
    emit ticket_changed(); // the sentence counts the frames
}

void Desk::choose_frame(int index) {
    const int chosen = index >= 0 && index < static_cast<int>(frames_.size()) ? index : -1;
    if (chosen == chosen_frame_) return;
    chosen_frame_ = chosen;
    emit glass_changed();
}

void Desk::renumber_frame(int index, int to) {
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

bool Desk::frames_count() const {
    return ticket_.from.paper == "auto" && !ticket_.from.own_paper && ticket_.from.frames != Frames::Whole;
}

std::vector<Frame> Desk::frames_to_scan() const {
    const auto from_corner = [](SizeMm size) {
        return std::vector<Frame>{Frame::upright({0, 0, size.width, size.height})};
    };
    if (ticket_.from.own_paper) return from_corner(*ticket_.from.own_paper);
    if (const auto paper = find_paper(ticket_.from.paper)) return from_corner(paper->size);
    if (frames_count() && !frames_.empty()) return frames_;
    return from_corner(capabilities().glass);
}

std::optional<SizeMm> Desk::larger_than_glass() const {
    const auto paper = find_paper(ticket_.from.paper);
    const SizeMm glass = can_.glass;
    if (!paper || ticket_.from.own_paper || source() != Source::Glass || !scanner_) return std::nullopt;
    const SizeMm size = paper->size;
    const double longer = std::max(size.width, size.height), shorter = std::min(size.width, size.height);
    const bool fits =
        longer <= std::max(glass.width, glass.height) + 2 && shorter <= std::min(glass.width, glass.height) + 2;
    return fits ? std::nullopt : std::optional(size);
}

bool Desk::finds_in_scan() const {
    const bool current = !preview_.isNull() && !preview_stale_;
    return frames_count() && looks_for_items(ticket_.from.frames) && frames_.empty() && !current;
}

std::vector<GlassPass> Desk::passes() const {
    const SizeMm glass = capabilities().glass;
    const double seconds = estimates_.seconds_per_mm(scanner_key().toStdString(), dpi_now(), request().ink);
    if (finds_in_scan()) return {{{0, 0, glass.width, glass.height}, {0}}};
    return quickest_passes(frames_to_scan(), glass, seconds, Estimates::seconds_per_pass);
}

// ---- what it comes to

int Desk::dpi_for(const Frame& frame) const {
    const bool small = std::max(frame.at.w_mm, frame.at.h_mm) <= small_photograph_mm;
    return resolution_for(ticket_.how, frame.photograph.value_or(false), small);
}

int Desk::dpi_now() const {
    if (source() != Source::Glass) return resolution_for(ticket_.how, false, false);
    int finest = 0;
    for (const Frame& frame : frames_to_scan()) finest = std::max(finest, dpi_for(frame));
    return finest;
}

double Desk::seconds_to_scan(int dpi) const {
    const double per_mm = estimates_.seconds_per_mm(scanner_key().toStdString(), dpi, request().ink);
    return seconds_for(passes(), per_mm, Estimates::seconds_per_pass);
}

double Desk::seconds_alone(const Frame& frame) const {
    const double per_mm =
        estimates_.seconds_per_mm(scanner_key().toStdString(), dpi_for(frame), ticket_.how.ink.value_or(Ink::Colour));
    return Estimates::seconds_per_pass + hull_of({frame.at}).height * per_mm;
}

double Desk::page_bytes(SizeMm size, double dpi, const std::optional<Ink>& ink, bool photograph) const {
    const Ink likely = ink.value_or(photograph ? Ink::Colour : Ink::Grey);
    return estimates_.page_bytes(make_for(ticket_.make, photograph), ticket_.name, size, dpi, likely);
}

double Desk::scan_bytes(const Ticket::Make& make) const {
    double bytes = 0;
    for (const Frame& frame : frames_to_scan()) {
        const bool photograph = frame.photograph.value_or(false);
        const Ink likely = ticket_.how.ink.value_or(photograph ? Ink::Colour : Ink::Grey);
        bytes += estimates_.page_bytes(make_for(make, photograph), ticket_.name, frame.size(), dpi_for(frame), likely);
    }
    return bytes;
}

bool Desk::bytes_are_learnt() const {
    return estimates_.learnt(make_for(ticket_.make, false), ticket_.name, ticket_.how.ink.value_or(Ink::Grey));
}

}
