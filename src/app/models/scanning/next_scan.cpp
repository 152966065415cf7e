#include "app/models/scanning/next_scan.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/scanners.h"
#include "app/models/tickets/tickets.h"
#include "app/models/window/experience.h"
#include "core/raster/paper.h"
#include "jobs/page_work.h"

#include <algorithm>

namespace yelvin {

namespace {

RectMm from_corner(SizeMm size) { return {0, 0, size.width, size.height}; }

// The paper size that the ticket names, or nothing if it is automatic.
std::optional<SizeMm> named_size(const Ticket& ticket) {
    if (ticket.from.own_paper) return ticket.from.own_paper;
    if (const auto paper = find_paper(ticket.from.paper)) return paper->size;
    return std::nullopt;
}

}

const Ticket& NextScan::ticket() const { return instead_ ? *instead_ : tickets_.ticket(); }

ScanRequest NextScan::request() const {
    const auto size = named_size(ticket());
    const ScanRequest asked =
        request_for(ticket(), scanners_.key().toStdString(), size ? from_corner(*size) : RectMm{});
    return scanners_.chosen() ? fitted(asked, scanners_.capabilities()) : asked;
}

bool NextScan::two_passes() const { return needs_two_passes(ticket().from.source, scanners_.capabilities()); }

RunPlan NextScan::plan() const {
    const Source from = source();
    RunPlan plan;
    plan.pass.ticket = ticket();
    plan.pass.ticket.how.dpi = dpi();
    plan.pass.from_stack = from != Source::Glass;
    if (plan.pass.from_stack) {
        plan.pass.area = request().area;
    } else {
        plan.pass.frames = frames();
        plan.pass.finds = finds_in_scan();
        plan.pass.jobs = passes();
    }
    plan.scanner = scanners_.title().toStdString();
    plan.both = from == Source::FeederBoth;
    plan.two_passes = two_passes();
    plan.hand_fed = ticket().from.source == Source::HandFed;
    return plan;
}

RunPlan NextScan::piece_plan() const {
    RunPlan plan;
    Ticket& piece = plan.pass.ticket;
    piece = ticket();
    piece.from.source = Source::Glass;
    piece.from.paper = "auto";
    piece.from.frames = Frames::Whole;
    piece.pages.straighten = piece.pages.turn_upright = piece.pages.drop_blank = false;
    piece.read.languages.clear(); // The stitched picture is read, not its pieces.
    const RectMm all = from_corner(scanners_.capabilities().glass);
    plan.pass.frames = {Frame::upright(all)};
    plan.pass.jobs = {GlassPass{all, {0}}};
    plan.scanner = scanners_.title().toStdString();
    return plan;
}

// ---- the glass

bool NextScan::frames_count() const {
    return !named_size(ticket()) && ticket().from.paper == "auto" && ticket().from.frames != Frames::Whole;
}

std::vector<Frame> NextScan::frames() const {
    if (const auto size = named_size(ticket())) return {Frame::upright(from_corner(*size))};
    if (frames_count() && !glass_.frames().empty()) return glass_.frames();
    return {Frame::upright(from_corner(scanners_.capabilities().glass))};
}

bool NextScan::finds_in_scan() const {
    const Frames kind = ticket().from.frames;
    const bool looks = kind == Frames::EachItem || kind == Frames::OneItem;
    return frames_count() && looks && glass_.frames().empty() && !glass_.is_current();
}

std::vector<GlassPass> NextScan::passes() const {
    const SizeMm glass = scanners_.capabilities().glass;
    if (finds_in_scan()) return {{from_corner(glass), {0}}};
    const double per_mm = experience_.estimates().seconds_per_mm(scanners_.key().toStdString(), dpi(), request().ink);
    return quickest_passes(frames(), glass, per_mm, Estimates::seconds_per_pass);
}

std::optional<SizeMm> NextScan::larger_than_glass() const {
    const auto paper = find_paper(ticket().from.paper);
    if (!paper || ticket().from.own_paper || source() != Source::Glass || !scanners_.chosen()) return std::nullopt;
    const SizeMm glass = scanners_.capabilities().glass, size = paper->size;
    constexpr double spare_mm = 2;
    const bool fits = std::max(size.width, size.height) <= std::max(glass.width, glass.height) + spare_mm &&
                      std::min(size.width, size.height) <= std::min(glass.width, glass.height) + spare_mm;
    return fits ? std::nullopt : std::optional(size);
}

// ---- the resulting values

int NextScan::dpi_for(const Frame& frame) const {
    const bool small = std::max(frame.at.w_mm, frame.at.h_mm) <= small_photograph_mm;
    return resolution_for(ticket().how, frame.photograph.value_or(false), small);
}

int NextScan::dpi() const {
    if (source() != Source::Glass) return resolution_for(ticket().how, false, false);
    int finest = 0;
    for (const Frame& frame : frames()) finest = std::max(finest, dpi_for(frame));
    return finest;
}

double NextScan::seconds(int dpi) const {
    const double per_mm = experience_.estimates().seconds_per_mm(scanners_.key().toStdString(), dpi, request().ink);
    return seconds_for(passes(), per_mm, Estimates::seconds_per_pass);
}

double NextScan::seconds_alone(const Frame& frame) const {
    const double per_mm = experience_.estimates().seconds_per_mm(scanners_.key().toStdString(), dpi_for(frame),
                                                                 ticket().how.ink.value_or(Ink::Colour));
    return Estimates::seconds_per_pass + hull_of({frame.at}).height * per_mm;
}

double NextScan::page_bytes(SizeMm size, double dpi, const std::optional<Ink>& ink, bool photograph) const {
    const Ink likely = ink.value_or(photograph ? Ink::Colour : Ink::Grey);
    const Ticket& now = ticket();
    return experience_.estimates().page_bytes(make_for(now.make, photograph), now.name, size, dpi, likely);
}

double NextScan::bytes(const Ticket::Make& make) const {
    const Ticket& now = ticket();
    double sum = 0;
    for (const Frame& frame : frames()) {
        const bool photograph = frame.photograph.value_or(false);
        const Ink likely = now.how.ink.value_or(photograph ? Ink::Colour : Ink::Grey);
        sum += experience_.estimates().page_bytes(make_for(make, photograph), now.name, frame.size(), dpi_for(frame),
                                                  likely);
    }
    return sum;
}

bool NextScan::bytes_are_learnt() const {
    const Ticket& now = ticket();
    return experience_.estimates().learnt(make_for(now.make, false), now.name, now.how.ink.value_or(Ink::Grey));
}

}
