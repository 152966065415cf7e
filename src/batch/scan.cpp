#include "batch/batch.h"
#include "batch/output_folder.h"
#include "batch/progress.h"
#include "batch/run_folder.h"
#include "batch/scan_plan.h"
#include "batch/silence_watch.h"
#include "core/developing/develop.h"
#include "core/scanner/faults.h"
#include "core/tray/originals.h"
#include "core/tray/stack.h"
#include "jobs/page_looker.h"
#include "jobs/page_work.h"
#include "jobs/reader_pool.h"
#include "jobs/trouble.h"

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <memory>
#include <thread>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// What is known when a run begins.
struct ScanSetup {
    const ScanArguments& arguments;
    Ticket ticket;
    Passwords passwords;
    std::shared_ptr<Scanner> scanner;
    ScanRequest request;
};

// The pages of a run, in order.
struct ScannedPages {
    std::vector<Page> pages; // not yet analysed
    bool is_complete = true; // whether the pass ended without an error
};

// Returns the error of a pass, completed by what only the run knows.
Error pass_error(Error error, const ScanSetup& setup, const std::vector<Page>& pages, bool was_silent) {
    if (was_silent && error.kind == ErrorKind::Stopped) {
        const bool from_glass = setup.request.source == Source::Glass;
        const int sheet = from_glass ? 0 : pages.empty() ? 1 : pages.back().sheet + 1;
        return scanner_fault(ErrorKind::NoAnswer, setup.scanner->title(), sheet);
    }
    if (error.sentence.empty() && !pages.empty())
        error.sentence = fmt::format("Sheet {} is much longer than those before it and may be two sheets; its page was "
                                     "kept. Check it, and scan the rest again.",
                                     pages.back().sheet);
    return error;
}

// Scans. An error is written to standard error.
ScannedPages scanned(const ScanSetup& setup, const fs::path& folder) {
    ScannedPages out;
    std::vector<Page>& pages = out.pages;
    ProgressLine& line = ProgressLine::of_standard_error();
    PassEvents events;
    events.begun = [&](const PageStart&) { line.show(fmt::format("scanning page {}", pages.size() + 1)); };
    events.side = [&](const Captured& side) { pages.push_back(page_of(side, 0, false)); };
    events.picture = [&](const Original& picture, const std::vector<OnGlass>& parts) {
        for (auto& [number, page] : pages_of(picture, parts)) pages.push_back(std::move(page));
    };
    const SilenceWatch silence(*setup.scanner, setup.arguments.longest_silence_seconds);
    const PassPlan plan = planned_pass(setup.ticket, setup.request, setup.scanner->capabilities());
    const PassEnd end = carry_out(*setup.scanner, plan, folder, events, silence.stop());
    line.clear();
    if (end.outcome) return out;
    complain(pass_error(end.outcome.error(), setup, pages, silence.too_long()));
    out.is_complete = false;
    return out;
}

// Analyses a page. A page whose original cannot be read is returned as it is; saving it reports the error.
void analyse(Page& page, const Ticket& ticket, const fs::path& folder, ReaderPool& readers) {
    const auto original = read_original(folder, page.original);
    if (!original) return;
    const PageOrigin origin = origin_of(page);
    page.notices = noticed(*original, ticket, readers, origin);
    page.recipe = recipe_for(page.notices, *original, ticket, origin);
    page.noticed = true;
}

// Decides whether uncertain sides are blank, by the other side of the same sheet, which is next to it in the list.
void decide_doubtful_sides(std::vector<PagePtr>& pages, const fs::path& folder) {
    for (size_t i = 0; i < pages.size(); ++i) {
        if (!pages[i]->notices.in_doubt || pages[i]->sheet == 0) continue;
        for (const size_t k : {i - 1, i + 1}) {
            if (k >= pages.size() || pages[k]->sheet != pages[i]->sheet || pages[k]->back == pages[i]->back) continue;
            auto notices = looked_through(*pages[i], *pages[k], folder);
            if (!notices) continue;
            Page decided = *pages[i];
            decided.notices = std::move(*notices);
            pages[i] = std::make_shared<const Page>(std::move(decided));
        }
    }
}

// Returns the analysed pages, in the same order. Analyses several at a time.
std::vector<PagePtr> analysed(std::vector<Page> pages, const Ticket& ticket, const fs::path& folder) {
    ReaderPool readers;
    std::vector<PagePtr> out(pages.size());
    tbb::task_arena arena(static_cast<int>(std::max(1U, std::thread::hardware_concurrency())));
    arena.execute([&] {
        tbb::parallel_for(size_t{0}, pages.size(), [&](size_t i) {
            analyse(pages[i], ticket, folder, readers);
            out[i] = std::make_shared<const Page>(std::move(pages[i]));
        });
    });
    decide_doubtful_sides(out, folder);
    return out;
}

// A document of the run.
struct ScannedDocument {
    std::vector<PagePtr> pages; // all of its scans
    std::vector<PagePtr> kept;  // without blank sides and separator sheets
    std::string barcode;        // of the separator sheet in front of it
};

std::vector<ScannedDocument> documents_of(const std::vector<PagePtr>& pages, const Ticket& ticket) {
    const auto verdicts = judged(pages, stack_rules(ticket));
    std::vector<ScannedDocument> documents;
    for (size_t i = 0; i < pages.size(); ++i) {
        if (documents.empty() || verdicts[i].starts_document) documents.push_back({{}, {}, verdicts[i].barcode});
        documents.back().pages.push_back(pages[i]);
        if (verdicts[i].dropped == Dropped::No) documents.back().kept.push_back(pages[i]);
    }
    return documents;
}

// Saves a document and prints a line for each of its files. Returns the exit status, which is not 0 unless all of it is
// saved.
int save(const ScannedDocument& document, const ScanSetup& setup, const fs::path& originals) {
    const auto status = caught("saving a document", [&]() -> Result<int> {
        SaveJob job = planned_save(setup.ticket, all_photographs(document.kept), setup.arguments, setup.passwords);
        job.barcode = document.barcode;
        job.page_count = document.kept.size();
        job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
            const Page& page = *document.kept[index];
            const auto original = read_original(originals, page.original);
            if (!original) return std::unexpected(original.error());
            return std::optional(FinishedPage{develop(*original, page.recipe), std::nullopt});
        };
        const std::atomic<bool> left_out = false;
        return save_and_print(std::move(job), setup.arguments.cabinet, left_out);
    });
    if (!status) complain(status.error());
    return status.value_or(1);
}

// Saves document after document, and deletes the originals of each that is saved. Returns the exit status.
int save_all(const std::vector<PagePtr>& pages, const ScanSetup& setup, RunFolder& folder) {
    int status = 0;
    std::vector<PagePtr> unsaved = pages;
    for (const ScannedDocument& document : documents_of(pages, setup.ticket)) {
        // A blank or separator sheet at the very start or end is no document.
        const bool has_no_page = document.kept.empty() && pages.size() > 1;
        if (!has_no_page) {
            const int saved = save(document, setup, folder.path());
            status = std::max(status, saved);
            if (saved != 0) continue;
        }
        std::erase_if(unsaved, [&](const PagePtr& page) {
            return std::ranges::find(document.pages, page) != document.pages.end();
        });
        folder.let_go(document.pages, unsaved);
    }
    return status;
}

std::string command_that_saves(const ScanArguments& arguments, const fs::path& folder) {
    std::string command = fmt::format("yelvin-batch make --out {}", quoted(arguments.out.string()));
    const auto add = [&](std::string_view option, const std::string& value) {
        if (!value.empty()) command += fmt::format(" {} {}", option, quoted(value));
    };
    add("--ticket", arguments.ticket.file);
    add("--password-file", arguments.passwords.open_file);
    add("--owner-password-file", arguments.passwords.owner_file);
    for (const std::string& setting : arguments.ticket.settings) add("--set", setting);
    return fmt::format("{} {}/page-*.tif", command, quoted(folder.string()));
}

// Prints where the pages are that could not be saved, and the command that saves them.
void report_unsaved(RunFolder& folder, const std::vector<PagePtr>& pages, const ScanArguments& arguments) {
    const size_t left = folder.name_what_is_left(pages);
    if (left == 0) return;
    const bool one = left == 1;
    complain({ErrorKind::NotWritable,
              fmt::format("{} kept in {}. When the cause is solved, save {} with: {}",
                          one ? "The scan is" : fmt::format("The {} scans are", left), folder.path().string(),
                          one ? "it" : "them", command_that_saves(arguments, folder.path())),
              {}});
}

void note_differences(const ScanSetup& setup) {
    ProgressLine& line = ProgressLine::of_standard_error();
    if (std::lround(setup.request.dpi) != setup.ticket.how.dpi)
        line.say(fmt::format("Note: {} scans at {:.0f} dpi instead of {}.", setup.scanner->title(), setup.request.dpi,
                             setup.ticket.how.dpi));
    for (const RunFolder::Left& left : RunFolder::left_by_others()) {
        const bool one = left.originals == 1;
        line.say(fmt::format(
            "Note: an interrupted scan left {} in {}. Save {} with yelvin-batch make, or delete that folder.",
            one ? "1 page" : fmt::format("{} pages", left.originals), left.folder.string(), one ? "it" : "them"));
    }
}

// Scans and saves. Pages that cannot be saved stay in the run's folder, after an exception too.
Result<int> carry_out_run(const ScanSetup& setup) {
    auto folder = RunFolder::make();
    if (!folder) return std::unexpected(folder.error());
    std::vector<PagePtr> pages;
    const auto status = caught("checking the scans", [&]() -> Result<int> {
        ScannedPages scans = scanned(setup, folder->path());
        for (const Page& page : scans.pages) pages.push_back(std::make_shared<const Page>(page));
        if (pages.empty()) return 1;
        pages = analysed(std::move(scans.pages), setup.ticket, folder->path());
        const int saved = save_all(pages, setup, *folder);
        return scans.is_complete ? saved : std::max(1, saved);
    });
    if (!status) complain(status.error());
    report_unsaved(*folder, pages, setup.arguments);
    return status.value_or(1);
}

// Returns the exit status, or the error that kept the run from beginning.
Result<int> run(ScanSetup setup, const BenchSetup& bench) {
    auto scanner = scanner_named(setup.arguments.device, bench);
    if (!scanner) return std::unexpected(scanner.error());
    setup.scanner = std::move(*scanner);
    if (auto can = check_source(setup.ticket, *setup.scanner); !can) return std::unexpected(can.error());
    OutputFolder out;
    if (auto there = out.make(setup.arguments.out); !there) return std::unexpected(there.error());
    setup.request = planned_request(setup.ticket, *setup.scanner);
    if (auto good = check_before_scan(setup.ticket, setup.request, *setup.scanner, setup.arguments, setup.passwords);
        !good)
        return std::unexpected(good.error());
    note_differences(setup);
    return carry_out_run(setup);
}

}

int run_scan(const ScanArguments& arguments) {
    const auto ticket = ticket_from(arguments.ticket);
    const auto bench = bench_from(arguments.papers);
    const auto passwords = passwords_from(arguments.passwords);
    for (const Error* wrong : {ticket ? nullptr : &ticket.error(), bench ? nullptr : &bench.error(),
                               passwords ? nullptr : &passwords.error()}) {
        if (!wrong) continue;
        complain(*wrong);
        return exit_status(*wrong);
    }
    const auto status = run({arguments, *ticket, *passwords, nullptr, {}}, *bench);
    if (status) return *status;
    complain(status.error());
    return 1;
}

}
