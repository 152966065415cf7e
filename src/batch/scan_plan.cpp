#include "batch/scan_plan.h"

#include "batch/pages.h"
#include "core/raster/paper.h"
#include "core/saving/safe_file.h"
#include "core/ticket/estimates.h"
#include "core/ticket/ticket_json.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdint>

namespace yelvin {

namespace {

// The paper's area; without a size if the scanner is to find out how large the paper is.
RectMm paper_area(const Ticket::From& from) {
    if (from.own_paper) return {0, 0, from.own_paper->width, from.own_paper->height};
    const auto paper = find_paper(from.paper);
    return paper ? RectMm{0, 0, paper->size.width, paper->size.height} : RectMm{};
}

Result<void> check_room(const Ticket& ticket, const ScanRequest& request, const Scanner& scanner,
                        const std::filesystem::path& out) {
    constexpr RectMm usual{0, 0, 210, 297}; // ISO 216, A4
    constexpr double least_bytes = 5'000'000;
    const RectMm area = request.area.width > 0 ? request.area : usual;
    const double pixels = mm_to_px(area.width, request.dpi) * mm_to_px(area.height, request.dpi);
    const double original_bytes = pixels * (request.ink == Ink::Colour ? 3 : 1);
    if (auto room = check_folder(temporary_folder(), static_cast<std::uint64_t>(original_bytes)); !room) return room;
    const double page_bytes =
        Estimates().page_bytes(ticket.make, ticket.name, {area.width, area.height}, request.dpi, request.ink);
    const int sheets = std::max(1, scanner.sheets_waiting().value_or(1));
    return check_folder(out, static_cast<std::uint64_t>(std::max(least_bytes, page_bytes * sheets)));
}

}

ScanRequest planned_request(const Ticket& ticket, const Scanner& scanner) {
    return fitted(request_for(ticket, scanner.name(), paper_area(ticket.from)), scanner.capabilities());
}

PassPlan planned_pass(const Ticket& ticket, const ScanRequest& request, const Capabilities& can) {
    PassPlan plan{.ticket = ticket, .from_stack = request.source != Source::Glass, .area = paper_area(ticket.from)};
    if (plan.from_stack) return plan;
    const bool any_paper = ticket.from.paper == "auto" && !ticket.from.own_paper;
    // On the glass, each item can become a page of its own, cut out of the same picture.
    plan.finds = any_paper && (ticket.from.frames == Frames::EachItem || ticket.from.frames == Frames::OneItem);
    if (plan.area.width == 0) plan.area = {0, 0, can.glass.width, can.glass.height};
    plan.frames = {Frame::upright(plan.area)};
    plan.jobs = {GlassPass{plan.area, {0}}};
    return plan;
}

SaveJob planned_save(const Ticket& ticket, bool only_photographs, const ScanArguments& arguments,
                     const Passwords& passwords) {
    SaveJob job;
    job.ticket = ticket;
    job.ticket.make = make_for(ticket.make, only_photographs);
    job.folder = arguments.out;
    job.absolute_folders = may_name_folders(arguments.ticket);
    job.passwords = passwords;
    return job;
}

Result<void> check_source(const Ticket& ticket, const Scanner& scanner) {
    const Capabilities can = scanner.capabilities();
    const Source wanted = ticket.from.source;
    if (wanted == Source::HandFed || can.has(wanted)) return {};
    std::string there;
    for (const Source source : can.sources)
        there += fmt::format("{}{}", there.empty() ? "" : " or ", source_word(source));
    return fail(ErrorKind::Device,
                fmt::format("{} has no {}; use --set from.source={}.", scanner.title(), source_word(wanted), there));
}

Result<void> check_before_scan(const Ticket& ticket, const ScanRequest& request, const Scanner& scanner,
                               const ScanArguments& arguments, const Passwords& passwords) {
    ReaderPool readers;
    if (auto can = can_read(ticket, readers); !can) return can;
    // Whether all pages are photographs decides about the format only if the ticket leaves it open.
    for (const bool only_photographs : {false, true}) {
        if (only_photographs && ticket.make.format != Format::Auto) break;
        const SaveJob job = planned_save(ticket, only_photographs, arguments, passwords);
        if (auto good = check_job(job, readers); !good) return good;
    }
    return check_room(ticket, request, scanner, arguments.out);
}

}
