#include "jobs/pass.h"

#include "core/storage/new_id.h"
#include "core/tray/originals.h"
#include "jobs/page_work.h"
#include "jobs/queued_sink.h"
#include "jobs/trouble.h"

#include <chrono>
#include <cmath>

namespace yelvin {

namespace {

// Returns the parts of a scan of `area` that become pages: the items that were found in it, or the frames that share
// the scan.
std::vector<OnGlass> parts_of(const PassPlan& plan, const GlassPass& job, const RectMm& area, const Original& picture,
                              const std::filesystem::path& store_folder) {
    std::vector<OnGlass> parts;
    if (plan.finds) {
        if (const auto raster = read_original(store_folder, picture)) {
            for (const Region& region : items_on(*raster, plan.ticket.from.frames))
                parts.push_back({parts.size(), region, false});
        }
        if (parts.empty()) parts.push_back({0, std::nullopt, false});
        return parts;
    }
    constexpr double same_mm = 0.01;
    for (const size_t number : job.frames) {
        Region at = plan.frames[number].at;
        at.x_mm -= area.x;
        at.y_mm -= area.y;
        const bool all = at.angle_degrees == 0 && at.w_mm > area.width - same_mm && at.h_mm > area.height - same_mm;
        parts.push_back({number, all ? std::nullopt : std::optional(at), !plan.frames[number].found});
    }
    return parts;
}

Result<void> carry_out_job(Scanner& scanner, const PassPlan& plan, const GlassPass& job, std::vector<int>& lengths_px,
                           const std::filesystem::path& store_folder, const PassEvents& events, std::stop_token stop) {
    ScanRequest request = request_for(plan.ticket, scanner.name(), job.area);
    request.sheets = plan.sheets;
    request = fitted(request, scanner.capabilities());
    std::vector<Original> on_glass; // one, unless the scanner delivers more than it was asked for
    CaptureSink capture(store_folder);
    capture.on_begin = events.begun;
    if (events.rows) capture.on_rows = [&](const cv::Mat& rows, int) { events.rows(rows); };
    capture.on_page = [&](const Captured& page) {
        if (!plan.from_stack)
            on_glass.push_back(page.original);
        else if (events.side)
            events.side(page);
    };
    QueuedSink queue(capture);
    LengthWatch watch(queue, request.cut_to_sheet);
    watch.lengths_px = std::move(lengths_px);
    const auto began = std::chrono::steady_clock::now();
    Result<void> done = scanner.scan(request, watch, std::move(stop));
    const std::chrono::duration<double> took = std::chrono::steady_clock::now() - began;
    if (auto kept = queue.finish(); !kept) done = kept;
    lengths_px = std::move(watch.lengths_px);
    if (on_glass.empty()) return done;
    if (done && events.timed) events.timed(request, on_glass.front().size_mm().height, took.count());
    if (!events.picture) return done;
    for (const Original& picture : on_glass) {
        // If the search for items fails, the picture itself is still kept as a page.
        const auto parts = caught("finding items", [&]() -> Result<std::vector<OnGlass>> {
            return parts_of(plan, job, request.area, picture, store_folder);
        });
        events.picture(picture, parts.value_or(std::vector{OnGlass{0, std::nullopt, false}}));
        if (!parts) done = std::unexpected(parts.error());
    }
    return done;
}

}

PassEnd carry_out(Scanner& scanner, const PassPlan& plan, const std::filesystem::path& store_folder,
                  const PassEvents& events, const std::stop_token& stop) {
    PassEnd end{{}, plan.lengths_px};
    const std::vector<GlassPass> jobs = plan.from_stack ? std::vector{GlassPass{plan.area, {}}} : plan.jobs;
    for (const GlassPass& job : jobs) {
        end.outcome = caught(
            "scanning", [&] { return carry_out_job(scanner, plan, job, end.lengths_px, store_folder, events, stop); });
        if (!end.outcome) break;
    }
    return end;
}

std::vector<std::pair<size_t, Page>> pages_of(const Original& picture, const std::vector<OnGlass>& parts) {
    std::vector<std::pair<size_t, Page>> pages;
    for (const OnGlass& part : parts) {
        Page page{new_id(), picture};
        page.notices.sheet = part.at;
        page.notices.framed = part.framed;
        if (part.at) page.recipe = frame_recipe(*part.at, picture.size_mm());
        pages.emplace_back(part.number, std::move(page));
    }
    return pages;
}

Page page_of(const Captured& side, int sheets_before, bool all_are_backs) {
    Page page{new_id(), side.original};
    page.sheet = sheets_before + side.sheet;
    page.back = side.back || all_are_backs;
    return page;
}

}
