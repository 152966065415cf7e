#include "batch/batch.h"

#include "batch/output_folder.h"
#include "batch/pages.h"
#include "batch/progress.h"
#include "batch/run_folder.h"
#include "core/developing/develop.h"
#include "core/naming/file_name.h"
#include "core/output/separator_sheet.h"
#include "core/raster/paper.h"
#include "core/saving/safe_file.h"
#include "core/scanner/faults.h"
#include "core/ticket/estimates.h"
#include "core/tray/originals.h"
#include "core/tray/stack.h"
#include "jobs/page_looker.h"
#include "jobs/pass.h"
#include "jobs/save_job.h"
#include "jobs/trouble.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <atomic>
#include <condition_variable>
#include <mutex>
#include <thread>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

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
    // On the glass, each item can become a page of its own, cut out of the same picture.
    plan.finds = automatic && (ticket.from.frames == Frames::EachItem || ticket.from.frames == Frames::OneItem);
    if (plan.area.width == 0) plan.area = {0, 0, can.glass.width, can.glass.height};
    plan.frames = {Frame::upright(plan.area)};
    plan.jobs = {GlassPass{plan.area, {0}}};
    return plan;
}

// Reports that the scanner sends no data, and ends the scan if that lasts too long, because no user may be present to
// stop it. Watches on a thread of its own from its construction to its destruction.
class SilenceWatch {
  public:
    SilenceWatch(const Scanner& scanner, double longest_seconds)
        : thread_([&scanner, longest_seconds, this](const std::stop_token& over) {
              std::mutex mutex;
              std::unique_lock lock(mutex);
              std::condition_variable_any changed;
              constexpr std::chrono::milliseconds pace{250};
              for (bool said = false; !over.stop_requested();) {
                  changed.wait_for(lock, over, pace, [] { return false; });
                  const std::chrono::duration<double> silent = scanner.silent_for();
                  if (silent.count() > 0 && !said)
                      ProgressLine::of_standard_error().say(fmt::format(
                          "Note: {} is sending nothing; waiting up to {:.0f} s.", scanner.title(), longest_seconds));
                  said = silent.count() > 0;
                  if (silent.count() < longest_seconds) continue;
                  too_long_ = true;
                  stop_.request_stop();
                  return;
              }
          }) {}
    std::stop_token stop() const { return stop_.get_token(); }
    bool too_long() const { return too_long_; }

  private:
    std::stop_source stop_;
    std::atomic<bool> too_long_ = false;
    std::jthread thread_;
};

// Returns all pages that the scanner delivers, in order and not yet analysed. Errors are written to standard error.
std::vector<Page> scanned_pages(Scanner& scanner, const PassPlan& plan, const fs::path& folder,
                                double longest_silence_seconds, bool& left_out) {
    std::vector<Page> pages;
    PassEvents events;
    ProgressLine& line = ProgressLine::of_standard_error();
    events.begun = [&](const PageStart&) { line.show(fmt::format("scanning page {}", pages.size() + 1)); };
    events.side = [&](const Captured& side) { pages.push_back(page_of(side, 0, false)); };
    events.picture = [&](const Original& picture, const std::vector<OnGlass>& parts) {
        for (auto& [number, page] : pages_of(picture, parts)) pages.push_back(std::move(page));
    };
    const SilenceWatch silence(scanner, longest_silence_seconds);
    const PassEnd end = carry_out(scanner, plan, folder, events, silence.stop());
    line.clear();
    if (end.outcome) return pages;
    Error error = end.outcome.error();
    if (silence.too_long() && error.kind == ErrorKind::Stopped)
        error = scanner_fault(ErrorKind::NoAnswer, scanner.title(),
                              !plan.from_stack ? 0
                              : pages.empty()  ? 1
                                               : pages.back().sheet + 1);
    if (error.sentence.empty() && !pages.empty())
        error.sentence = fmt::format("Sheet {} is much longer than those before it and may be two sheets; its page was "
                                     "kept. Check it, and scan the rest again.",
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
    // Whether an uncertain side is blank is decided by the sheet's other side, which is its neighbour in the list.
    for (size_t i = 0; i < out.size(); ++i) {
        if (!out[i]->notices.in_doubt || out[i]->sheet == 0) continue;
        for (const size_t k : {i - 1, i + 1}) {
            if (k >= out.size() || out[k]->sheet != out[i]->sheet || out[k]->back == out[i]->back) continue;
            if (auto notices = looked_through(*out[i], *out[k], folder)) {
                Page decided = *out[i];
                decided.notices = std::move(*notices);
                out[i] = std::make_shared<const Page>(std::move(decided));
            }
        }
    }
    return out;
}

// Checks whether the scanner can do what the ticket asks for. The error says what to ask for instead.
Result<void> can_scan(const Scanner& scanner, const Ticket& ticket) {
    const Capabilities can = scanner.capabilities();
    const Source wanted = ticket.from.source;
    if (wanted == Source::HandFed || can.has(wanted)) return {};
    std::string there;
    for (const Source source : can.sources)
        there += fmt::format("{}{}", there.empty() ? "" : " or ", source_word(source));
    return fail(ErrorKind::Device,
                fmt::format("{} has no {}; use --set from.source={}.", scanner.title(), source_word(wanted), there));
}

SaveJob save_job(const Ticket& ticket, bool photographs, const ScanArguments& arguments, const Passwords& passwords) {
    SaveJob job;
    job.ticket = ticket;
    job.ticket.make = make_for(ticket.make, photographs);
    job.folder = arguments.out;
    job.absolute_folders = may_name_folders(arguments.ticket);
    job.passwords = passwords;
    return job;
}

// Saves one document of the run. Returns the exit status, which is not 0 unless all of it is saved.
int save_document_of(SaveJob job, const std::vector<PagePtr>& kept, const fs::path& originals,
                     const std::string& cabinet) {
    const std::atomic<bool> left_out = false;
    job.page_count = kept.size();
    job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
        const auto original = read_original(originals, kept[index]->original);
        if (!original) return std::unexpected(original.error());
        return std::optional(FinishedPage{develop(*original, kept[index]->recipe), std::nullopt});
    };
    return save_and_print(std::move(job), cabinet, left_out);
}

// Checks the free disk space: for one page in the scanner's raw size, and for the documents in a typical file size.
Result<void> has_room(const Scanner& scanner, const Ticket& ticket, const ScanRequest& request, const fs::path& out) {
    constexpr std::uint64_t least_bytes = 5'000'000;
    const RectMm area = request.area.width > 0 ? request.area : RectMm{0, 0, 210, 297};
    const double pixels = mm_to_px(area.width, request.dpi) * mm_to_px(area.height, request.dpi);
    const auto original = static_cast<std::uint64_t>(pixels * (request.ink == Ink::Colour ? 3 : 1));
    if (auto room = check_folder(temporary_folder(), original); !room) return room;
    const double page =
        Estimates().page_bytes(ticket.make, ticket.name, {area.width, area.height}, request.dpi, request.ink);
    const auto sheets = static_cast<double>(std::max(1, scanner.sheets_waiting().value_or(1)));
    return check_folder(out, std::max(least_bytes, static_cast<std::uint64_t>(page * sheets)));
}

// Saves the scanned pages, document by document. Returns the exit status.
int save_all(RunFolder& folder, const std::vector<PagePtr>& pages, const Ticket& ticket, const Passwords& passwords,
             const ScanArguments& arguments, bool left_out) {
    const auto verdicts = judged(pages, stack_rules(ticket));
    int status = left_out ? 1 : 0;
    std::vector<PagePtr> unsaved = pages;
    for (size_t begin = 0; begin < pages.size();) {
        size_t end = begin + 1;
        while (end < pages.size() && !verdicts[end].starts_document) ++end;
        std::vector<PagePtr> document(pages.begin() + static_cast<long>(begin), pages.begin() + static_cast<long>(end)),
            kept;
        for (size_t i = begin; i < end; ++i) {
            if (verdicts[i].dropped == Dropped::No) kept.push_back(pages[i]);
        }
        const std::string barcode = verdicts[begin].barcode;
        begin = end;
        const bool only_slips = kept.empty() && pages.size() > 1; // a blank sheet at the very start or end
        if (!only_slips) {
            SaveJob job = save_job(ticket, all_photographs(kept), arguments, passwords);
            job.barcode = barcode;
            const auto saved = caught("saving a document", [&]() -> Result<int> {
                return save_document_of(std::move(job), kept, folder.path(), arguments.cabinet);
            });
            if (!saved) complain(saved.error());
            status = std::max(status, saved.value_or(1));
            if (!saved || *saved != 0) continue;
        }
        std::erase_if(unsaved,
                      [&](const PagePtr& page) { return std::ranges::find(document, page) != document.end(); });
        folder.let_go(document, unsaved);
    }
    return status;
}

// Prints where the pages are that could not be saved, and the command that saves them.
void say_what_is_left(RunFolder& folder, const std::vector<PagePtr>& pages, const ScanArguments& arguments) {
    const size_t left = folder.name_what_is_left(pages);
    if (left == 0) return;
    std::string command = fmt::format("yelvin-batch make --out {}", quoted(arguments.out.string()));
    if (!arguments.ticket.file.empty()) command += fmt::format(" --ticket {}", quoted(arguments.ticket.file));
    const PasswordArguments& passwords = arguments.passwords;
    if (!passwords.open_file.empty()) command += fmt::format(" --password-file {}", quoted(passwords.open_file));
    if (!passwords.owner_file.empty())
        command += fmt::format(" --owner-password-file {}", quoted(passwords.owner_file));
    for (const std::string& setting : arguments.ticket.settings) command += fmt::format(" --set {}", quoted(setting));
    complain({ErrorKind::NotWritable,
              fmt::format("{} kept in {}. When the cause is solved, save {} with: {} {}/page-*.tif",
                          left == 1 ? "The scan is" : fmt::format("The {} scans are", left), folder.path().string(),
                          left == 1 ? "it" : "them", command, quoted(folder.path().string())),
              {}});
}

// Checks everything that can be checked before the first sheet is moved. `request` is what the scanner will be asked
// for.
Result<void> check_before_scan(const Scanner& scanner, const Ticket& ticket, const ScanRequest& request,
                               const Passwords& passwords, const ScanArguments& arguments) {
    ReaderPool readers;
    if (auto can = can_read(ticket, readers); !can) return can;
    for (const bool photographs : {false, true}) {
        if (photographs && ticket.make.format != Format::Auto) break;
        if (auto good = check_job(save_job(ticket, photographs, arguments, passwords), readers); !good) return good;
    }
    return has_room(scanner, ticket, request, arguments.out);
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

int run_scan(const ScanArguments& arguments) {
    const auto ticket = ticket_from(arguments.ticket);
    const auto bench = bench_from(arguments.papers);
    const auto passwords = passwords_from(arguments.passwords);
    for (const Error* error : {ticket ? nullptr : &ticket.error(), bench ? nullptr : &bench.error(),
                               passwords ? nullptr : &passwords.error()}) {
        if (!error) continue;
        complain(*error);
        return exit_status(*error);
    }
    const auto failed = [](const Error& error) {
        complain(error);
        return 1;
    };
    const auto scanner = scanner_named(arguments.device, *bench);
    if (!scanner) return failed(scanner.error());
    if (auto can = can_scan(**scanner, *ticket); !can) return failed(can.error());
    OutputFolder made;
    if (auto there = made.make(arguments.out); !there) return failed(there.error());
    const Capabilities can = (*scanner)->capabilities();
    const ScanRequest request = fitted(request_for(*ticket, (*scanner)->name(), area_for(ticket->from)), can);
    if (auto good = check_before_scan(**scanner, *ticket, request, *passwords, arguments); !good)
        return failed(good.error());
    ProgressLine& line = ProgressLine::of_standard_error();
    if (std::lround(request.dpi) != ticket->how.dpi)
        line.say(fmt::format("Note: {} scans at {:.0f} dpi instead of {}.", (*scanner)->title(), request.dpi,
                             ticket->how.dpi));
    for (const RunFolder::Left& left : RunFolder::left_by_others())
        line.say(fmt::format(
            "Note: an interrupted scan left {} in {}. Save {} with yelvin-batch make, or delete that folder.",
            left.originals == 1 ? "1 page" : fmt::format("{} pages", left.originals), left.folder.string(),
            left.originals == 1 ? "it" : "them"));

    auto folder = RunFolder::make();
    if (!folder) return failed(folder.error());
    bool left_out = false;
    std::vector<PagePtr> pages;
    const auto status = caught("checking the scans", [&]() -> Result<int> {
        std::vector<Page> scanned = scanned_pages(**scanner, plan_for(*ticket, request, can), folder->path(),
                                                  arguments.longest_silence_seconds, left_out);
        for (const Page& page : scanned) pages.push_back(std::make_shared<const Page>(page));
        if (pages.empty()) return 1;
        pages = looked_at(std::move(scanned), *ticket, folder->path());
        return save_all(*folder, pages, *ticket, *passwords, arguments, left_out);
    });
    if (!status) complain(status.error());
    say_what_is_left(*folder, pages, arguments);
    return status.value_or(1);
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
