// The desk's passes: on the scanner's thread, one job of a feeder or the jobs that the frames on the glass take; then,
// on the window's, the pages that come of them.
#include "app/desk.h"
#include "app/growing_picture.h"

#include "jobs/capture.h"
#include "jobs/queued_sink.h"

namespace yelvin {

namespace {
constexpr std::chrono::milliseconds growing_pace{120};
}

Result<void> Desk::scan_pass(const PassPlan& plan, std::vector<int>& lengths, std::stop_token stop) {
    if (plan.from_stack) return scan_job(plan, {plan.area, {}}, lengths, stop);
    for (const GlassPass& pass : plan.passes) {
        if (auto done = scan_job(plan, pass, lengths, stop); !done) return done;
    }
    return {};
}

Result<void> Desk::scan_job(const PassPlan& plan, const GlassPass& pass, std::vector<int>& lengths,
                            std::stop_token stop) {
    const std::shared_ptr<Scanner> scanner = scanner_;
    ScanRequest request = request_for(plan.ticket, scanner->name(), pass.area);
    request.sheets = plan.sheets;
    request = fitted(request, can_);
    CaptureSink capture(store_->folder());
    GrowingPicture growing;
    auto shown = std::chrono::steady_clock::now() - growing_pace;
    capture.on_begin = [&](const PageStart& start) {
        growing.begin(start);
        on_desk([this, sheet = start.sheet, back = start.back] {
            if (!run_) return;
            progress_.sheet = run_->sheets_before + sheet;
            progress_.back = back || run_->pass == Run::Pass::Backs;
            emit run_changed();
        });
    };
    capture.on_rows = [&](const cv::Mat& rows, int) {
        growing.add(rows);
        const auto now = std::chrono::steady_clock::now();
        if (now - shown < growing_pace) return;
        shown = now;
        on_desk([this, image = growing.image(), rows = growing.rows(), all = growing.expected_rows()] {
            emit page_growing(image, rows, all);
        });
    };
    std::optional<Original> on_glass;
    capture.on_page = [&](const Captured& page) {
        if (!plan.from_stack) {
            on_glass = page.original;
            return;
        }
        on_desk([this, page, small = growing.small()] { page_captured(page.original, page.sheet, page.back, small); });
    };
    QueuedSink queue(capture);
    LengthWatch watch(queue, request.cut_to_sheet);
    watch.lengths_px = lengths;
    const auto began = std::chrono::steady_clock::now();
    Result<void> done = scanner->scan(request, watch, stop);
    const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
    if (auto kept = queue.finish(); !kept) done = kept;
    lengths = watch.lengths_px;
    if (!on_glass) return done;
    if (done)
        on_desk([this, name = scanner->name(), request, mm = on_glass->size_mm().height, seconds] {
            estimates_.learn_pass(name, request.dpi, request.ink, mm, seconds);
        });
    std::vector<OnPicture> items;
    if (plan.finds) {
        if (const auto picture = read_original(store_->folder(), *on_glass)) {
            for (const Region& region : items_on(*picture, plan.ticket.from.frames))
                items.push_back({items.size(), region, false});
        }
        if (items.empty()) items.push_back({0, std::nullopt, false});
    } else {
        for (const size_t number : pass.frames) {
            Region at = plan.frames[number].at;
            at.x_mm -= request.area.x;
            at.y_mm -= request.area.y;
            const bool all = at.angle_degrees == 0 && std::abs(at.w_mm - request.area.width) < 0.01 &&
                             std::abs(at.h_mm - request.area.height) < 0.01;
            items.push_back({number, all ? std::nullopt : std::optional(at), !plan.frames[number].found});
        }
    }
    on_desk([this, original = *on_glass, items, small = growing.small()] { glass_captured(original, items, small); });
    return done;
}

void Desk::glass_captured(const Original& original, const std::vector<OnPicture>& items, const QImage& small) {
    if (!run_) return;
    for (const OnPicture& item : items) {
        Page page{new_id(), original};
        page.notices.sheet = item.at;
        page.notices.framed = item.framed;
        if (item.at) page.recipe = frame_recipe(*item.at, original.size_mm());
        if (!item.at && !small.isNull()) keep_thumbnail(page, small);
        run_->ready.emplace(item.number, std::move(page));
    }
    add_ready_pages(false);
}

// Frames keep their order, whichever pass brought them.
void Desk::add_ready_pages(bool all) {
    if (!run_) return;
    while (!run_->ready.empty() && (all || run_->ready.begin()->first == run_->next_frame)) {
        const auto next = run_->ready.extract(run_->ready.begin());
        run_->next_frame = next.key() + 1;
        count_page(next.mapped());
    }
}

void Desk::page_captured(const Original& original, int sheet, bool back, const QImage& small) {
    if (!run_) return;
    Page page{new_id(), original};
    page.sheet = run_->sheets_before + sheet;
    page.back = back || run_->pass == Run::Pass::Backs;
    if (!small.isNull()) keep_thumbnail(page, small);
    count_page(page);
}

void Desk::count_page(const Page& page) {
    const bool first = run_->pages.empty();
    run_->pages.push_back(page.id);
    if (run_->pass == Run::Pass::Fronts) run_->fronts.push_back(page.id);
    if (run_->pass == Run::Pass::Backs) run_->backs.push_back(page.id);
    ++run_->pages_of_job;
    ++progress_.pages;
    const double minutes = std::chrono::duration<double>(std::chrono::steady_clock::now() - run_->began).count() / 60;
    if (progress_.pages >= 3 && minutes > 0) progress_.pages_a_minute = progress_.pages / minutes;
    progress_.sheets_waiting = scanner_->sheets_waiting();
    add_page(page, run_->ticket, first && run_->starts_document, first);
    if (run_->piece) emit piece_scanned(QString::fromStdString(page.id));
    emit run_changed();
}

}
