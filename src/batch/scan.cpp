#include "batch/batch.h"

#include "batch/scanners.h"
#include "core/output/separator_sheet.h"
#include "core/page/develop.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"
#include "core/tray/stack.h"
#include "jobs/capture.h"
#include "jobs/queued_sink.h"
#include "jobs/save_job.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <random>
#include <thread>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// A folder of its own for the originals of this run, gone with it.
struct RunFolder {
    fs::path path;
    RunFolder() {
        std::random_device random;
        path = fs::temp_directory_path() / fmt::format("yelvin-scan-{:08x}{:08x}", random(), random());
        fs::create_directories(path);
    }
    RunFolder(const RunFolder&) = delete;
    RunFolder& operator=(const RunFolder&) = delete;
    ~RunFolder() {
        std::error_code ignored;
        fs::remove_all(path, ignored);
    }
};

RectMm area_for(const Ticket::From& from) {
    if (from.own_paper) return {0, 0, from.own_paper->width, from.own_paper->height};
    const auto paper = find_paper(from.paper);
    return paper ? RectMm{0, 0, paper->size.width, paper->size.height} : RectMm{};
}

std::string_view source_word(Source source) {
    switch (source) {
    case Source::Glass:
        return "glass";
    case Source::FeederFront:
        return "feeder-front";
    case Source::FeederBoth:
        return "feeder-both";
    case Source::HandFed:
        break;
    }
    return "hand-fed";
}

// All pages the scanner delivers, noticed; what went wrong goes to standard error.
std::vector<PagePtr> scanned_pages(Scanner& scanner, const Ticket& ticket, const ScanRequest& request,
                                   const fs::path& folder, ReaderPool& readers, bool& left_out) {
    std::vector<Captured> captured;
    CaptureSink capture(folder);
    capture.on_page = [&](const Captured& page) { captured.push_back(page); };
    QueuedSink queue(capture);
    LengthWatch watch(queue, request.cut_to_sheet);
    Result<void> done = scanner.scan(request, watch, {});
    if (auto kept = queue.finish(); !kept) done = kept;
    if (!done) {
        Error error = done.error();
        if (error.sentence.empty() && !captured.empty())
            error.sentence =
                fmt::format("Sheet {} is much longer than those before it and may be two; its page is kept. "
                            "Look at it, and scan the rest again.",
                            captured.back().sheet);
        complain(error);
        left_out = true;
    }
    // On the glass each item may be a page of its own, cut out of the one picture.
    const bool finds = request.source == Source::Glass && ticket.from.paper == "auto" && !ticket.from.own_paper;
    std::vector<std::optional<Region>> items(captured.size());
    if (finds && captured.size() == 1) {
        const Captured whole = captured.front();
        if (const auto picture = read_original(folder, whole.original)) {
            const std::vector<Region> found = items_on(*picture, ticket.from.frames);
            if (!found.empty()) {
                captured.assign(found.size(), whole);
                items.assign(found.begin(), found.end());
            }
        }
    }
    std::vector<PagePtr> pages(captured.size());
    tbb::task_arena arena(static_cast<int>(std::max(1U, std::thread::hardware_concurrency())));
    arena.execute([&] {
        tbb::parallel_for(size_t{0}, captured.size(), [&](size_t i) {
            Page page{new_id(), captured[i].original};
            const PageOrigin origin{request.source != Source::Glass, captured[i].back, items[i]};
            page.sheet = request.source == Source::Glass ? 0 : captured[i].sheet;
            page.back = captured[i].back;
            if (const auto original = read_original(folder, page.original)) {
                page.notices = noticed(*original, ticket, readers, origin);
                page.recipe = recipe_for(page.notices, *original, ticket, origin);
                page.noticed = true;
            }
            pages[i] = std::make_shared<const Page>(std::move(page));
        });
    });
    return pages;
}

}

int run_devices(bool as_json) {
    nlohmann::json list = nlohmann::json::array();
    for (const auto& scanner : all_scanners()) {
        const auto ready = scanner->prepare();
        if (!as_json) {
            const std::string title = scanner->title() == scanner->name() ? "" : fmt::format("{}, ", scanner->title());
            fmt::print("{} ({}{}, {})\n", scanner->name(), title, scanner->kind(), state_words(scanner->state()));
            continue;
        }
        const Capabilities can = scanner->capabilities();
        nlohmann::json entry{{"name", scanner->name()},
                             {"title", scanner->title()},
                             {"state", state_words(scanner->state())},
                             {"kind", scanner->kind()},
                             {"resolutions", can.resolutions},
                             {"sources", nlohmann::json::array()},
                             {"inks", nlohmann::json::array()}};
        for (const Source source : can.sources) entry["sources"].push_back(source_word(source));
        for (const Ink ink : can.inks) entry["inks"].push_back(ink_word(ink));
        if (can.glass.width > 0) entry["glass_mm"] = {can.glass.width, can.glass.height};
        if (can.feeder.width > 0) entry["feeder_mm"] = {can.feeder.width, can.feeder.height};
        list.push_back(std::move(entry));
    }
    if (as_json) fmt::print("{}\n", list.dump(2));
    return 0;
}

int run_scan(const std::string& device, const BenchArguments& papers, const TicketArguments& arguments,
             const fs::path& out) {
    const auto ticket = ticket_from(arguments);
    const auto bench = bench_from(papers);
    for (const Error* error : {ticket ? nullptr : &ticket.error(), bench ? nullptr : &bench.error()}) {
        if (!error) continue;
        complain(*error);
        return exit_status(*error);
    }
    const auto scanner = scanner_named(device, *bench);
    if (!scanner) {
        complain(scanner.error());
        return 1;
    }
    const Capabilities can = (*scanner)->capabilities();
    const Source wanted = ticket->from.source;
    if (wanted != Source::HandFed && !can.has(wanted)) {
        std::string there;
        for (const Source source : can.sources)
            there += fmt::format("{}{}", there.empty() ? "" : " or ", source_word(source));
        complain({ErrorKind::Device,
                  fmt::format("{} has no {}; set from.source={}.", (*scanner)->title(), source_word(wanted), there),
                  {}});
        return 1;
    }
    if (auto checked = check_folder(out); !checked) {
        complain(checked.error());
        return 1;
    }
    const ScanRequest request = fitted(request_for(*ticket, (*scanner)->name(), area_for(ticket->from)), can);
    if (std::lround(request.dpi) != ticket->how.dpi)
        fmt::print(stderr, "Note: {} scans at {:.0f} dpi instead of {}.\n", (*scanner)->title(), request.dpi,
                   ticket->how.dpi);

    const RunFolder originals;
    ReaderPool readers;
    bool left_out = false;
    const std::vector<PagePtr> pages = scanned_pages(**scanner, *ticket, request, originals.path, readers, left_out);
    if (pages.empty()) return 1;
    const auto verdicts = judged(pages, stack_rules(*ticket));
    int status = left_out ? 1 : 0;
    for (size_t begin = 0; begin < pages.size();) {
        size_t end = begin + 1;
        while (end < pages.size() && !verdicts[end].starts_document) ++end;
        std::vector<PagePtr> kept;
        for (size_t i = begin; i < end; ++i) {
            if (verdicts[i].dropped == Dropped::No) kept.push_back(pages[i]);
        }
        const std::string barcode = verdicts[begin].barcode;
        const bool only_slips = kept.empty() && pages.size() > 1;
        begin = end;
        if (only_slips) continue; // a blank sheet at the very start or end
        SaveJob job;
        job.page_count = kept.size();
        job.ticket = *ticket;
        job.ticket.make = make_for(ticket->make, std::ranges::all_of(kept, [](const PagePtr& page) {
                                       return page->noticed && page->notices.kind == PageKind::Photo;
                                   }));
        job.ticket.save.name = with_barcode(ticket->save.name, barcode);
        job.folder = out;
        job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
            const auto original = read_original(originals.path, kept[index]->original);
            if (!original) return std::unexpected(original.error());
            return std::optional(FinishedPage{develop(*original, kept[index]->recipe), std::nullopt});
        };
        status = std::max(status, save_and_print(std::move(job), left_out));
    }
    return status;
}

int run_separators(const fs::path& file, const std::vector<std::string>& texts) {
    const auto folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    if (auto checked = check_folder(folder); !checked) {
        complain(checked.error());
        return 1;
    }
    const auto saved = save_file(
        folder, [&](int attempt) { return numbered_name(file.stem().string(), attempt) + ".pdf"; },
        [&](const fs::path& growing) {
            return write_separator_sheets(growing, texts.empty() ? std::vector<std::string>{""} : texts);
        });
    if (!saved) {
        complain(saved.error());
        return exit_status(saved.error());
    }
    fmt::print("{}\n", nlohmann::json{{"path", saved->path.string()},
                                      {"format", "pdf"},
                                      {"pages", std::max<size_t>(1, texts.size())},
                                      {"bytes", saved->bytes}}
                           .dump());
    return 0;
}

}
