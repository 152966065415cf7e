#include "batch/batch.h"

#include "batch/scanners.h"
#include "core/developing/develop.h"
#include "core/output/separator_sheet.h"
#include "core/raster/paper.h"
#include "core/saving/file_name.h"
#include "core/saving/safe_file.h"
#include "core/tray/stack.h"
#include "core/tray/store_lock.h"
#include "jobs/page_looker.h"
#include "jobs/pass.h"
#include "jobs/save_job.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <thread>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// A folder of its own for the originals of this run, gone with it. Locked while the run lasts, so that the next one can
// tell what a killed one left.
class RunFolder {
  public:
    static Result<RunFolder> make() {
        remove_left_behind();
        const fs::path path = temporary_folder() / (name_begin + new_id());
        auto lock = StoreLock::take(path);
        if (!lock) return std::unexpected(lock.error());
        return RunFolder(path, std::move(*lock));
    }
    RunFolder(RunFolder&& other) noexcept : path_(std::exchange(other.path_, {})), lock_(std::move(other.lock_)) {}
    RunFolder& operator=(RunFolder&&) = delete;
    ~RunFolder() {
        std::error_code ignored;
        if (!path_.empty()) fs::remove_all(path_, ignored);
    }
    const fs::path& path() const { return path_; }

  private:
    static inline const std::string name_begin = "yelvin-scan-";
    fs::path path_;
    StoreLock lock_;

    RunFolder(fs::path path, StoreLock lock) : path_(std::move(path)), lock_(std::move(lock)) {}

    static void remove_left_behind() {
        std::error_code failure;
        for (fs::directory_iterator at(temporary_folder(), failure), end; !failure && at != end;
             at.increment(failure)) {
            std::error_code ignored;
            const bool ours = at->path().filename().string().starts_with(name_begin);
            if (ours && fs::exists(at->path() / "lock", ignored) && !is_in_use(at->path() / "lock"))
                fs::remove_all(at->path(), ignored);
        }
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

PassPlan plan_for(const Ticket& ticket, const ScanRequest& request, const Capabilities& can) {
    PassPlan plan{.ticket = ticket, .from_stack = request.source != Source::Glass, .area = area_for(ticket.from)};
    if (plan.from_stack) return plan;
    const bool automatic = ticket.from.paper == "auto" && !ticket.from.own_paper;
    // On the glass each item may be a page of its own, cut out of the one picture.
    plan.finds = automatic && (ticket.from.frames == Frames::EachItem || ticket.from.frames == Frames::OneItem);
    if (plan.area.width == 0) plan.area = {0, 0, can.glass.width, can.glass.height};
    plan.frames = {Frame::upright(plan.area)};
    plan.jobs = {GlassPass{plan.area, {0}}};
    return plan;
}

// All pages the scanner delivers, in order and not looked at; what went wrong goes to standard error.
std::vector<Page> scanned_pages(Scanner& scanner, const PassPlan& plan, const fs::path& folder, bool& left_out) {
    std::vector<Page> pages;
    PassEvents events;
    events.side = [&](const Captured& side) { pages.push_back(page_of(side, 0, false)); };
    events.picture = [&](const Original& picture, const std::vector<OnGlass>& parts) {
        for (auto& [number, page] : pages_of(picture, parts)) pages.push_back(std::move(page));
    };
    const PassEnd end = carry_out(scanner, plan, folder, events, {});
    if (end.outcome) return pages;
    Error error = end.outcome.error();
    if (error.sentence.empty() && !pages.empty())
        error.sentence = fmt::format("Sheet {} is much longer than those before it and may be two; its page is kept. "
                                     "Look at it, and scan the rest again.",
                                     pages.back().sheet);
    complain(error);
    left_out = true;
    return pages;
}

std::vector<PagePtr> looked_at(std::vector<Page> pages, const Ticket& ticket, const fs::path& folder) {
    ReaderPool readers;
    std::vector<PagePtr> out(pages.size());
    tbb::task_arena arena(static_cast<int>(std::max(1U, std::thread::hardware_concurrency())));
    arena.execute([&] {
        tbb::parallel_for(size_t{0}, pages.size(), [&](size_t i) {
            Page& page = pages[i];
            const PageOrigin origin = origin_of(page);
            if (const auto original = read_original(folder, page.original)) {
                page.notices = noticed(*original, ticket, readers, origin);
                page.recipe = recipe_for(page.notices, *original, ticket, origin);
                page.noticed = true;
            }
            out[i] = std::make_shared<const Page>(std::move(page));
        });
    });
    return out;
}

// What is wrong with asking this scanner for this ticket; a sentence that says what to ask for.
Result<void> can_scan(const Scanner& scanner, const Ticket& ticket) {
    const Capabilities can = scanner.capabilities();
    const Source wanted = ticket.from.source;
    if (wanted == Source::HandFed || can.has(wanted)) return {};
    std::string there;
    for (const Source source : can.sources)
        there += fmt::format("{}{}", there.empty() ? "" : " or ", source_word(source));
    return fail(ErrorKind::Device,
                fmt::format("{} has no {}; set from.source={}.", scanner.title(), source_word(wanted), there));
}

// A document of the run, as its files; gives the exit status.
int save_document_of(const std::vector<PagePtr>& kept, const std::string& barcode, const Ticket& ticket,
                     const fs::path& originals, const fs::path& out, const std::string& cabinet, bool& left_out) {
    SaveJob job;
    job.page_count = kept.size();
    job.ticket = ticket;
    job.ticket.make = make_for(ticket.make, all_photographs(kept));
    job.barcode = barcode;
    job.folder = out;
    job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
        const auto original = read_original(originals, kept[index]->original);
        if (!original) return std::unexpected(original.error());
        return std::optional(FinishedPage{develop(*original, kept[index]->recipe), std::nullopt});
    };
    return save_and_print(std::move(job), cabinet, left_out);
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
             const fs::path& out, const std::string& cabinet) {
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
    for (const Result<void>& checked : {can_scan(**scanner, *ticket), check_folder(out)}) {
        if (checked) continue;
        complain(checked.error());
        return 1;
    }
    const Capabilities can = (*scanner)->capabilities();
    const ScanRequest request = fitted(request_for(*ticket, (*scanner)->name(), area_for(ticket->from)), can);
    if (std::lround(request.dpi) != ticket->how.dpi)
        fmt::print(stderr, "Note: {} scans at {:.0f} dpi instead of {}.\n", (*scanner)->title(), request.dpi,
                   ticket->how.dpi);

    const auto folder = RunFolder::make();
    if (!folder) {
        complain(folder.error());
        return 1;
    }
    const fs::path& originals = folder->path();
    bool left_out = false;
    const std::vector<PagePtr> pages =
        looked_at(scanned_pages(**scanner, plan_for(*ticket, request, can), originals, left_out), *ticket, originals);
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
        begin = end;
        if (kept.empty() && pages.size() > 1) continue; // only slips: a blank sheet at the very start or end
        status = std::max(status, save_document_of(kept, barcode, *ticket, originals, out, cabinet, left_out));
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
