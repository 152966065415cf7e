#include "batch/batch.h"

#include "core/page/develop.h"
#include "core/raster/paper.h"
#include "devices/simulated/simulated_scanner.h"
#include "jobs/capture.h"
#include "jobs/save_job.h"

#include <fmt/format.h>

#include <charconv>
#include <cstdlib>
#include <random>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

// FILE or FILE@DEGREES, its middle in the middle of the glass.
LaidPaper laid(const std::string& text) {
    LaidPaper paper{text};
    const size_t at = text.rfind('@');
    if (at == std::string::npos) return paper;
    double degrees = 0;
    const auto [end, error] = std::from_chars(text.data() + at + 1, text.data() + text.size(), degrees);
    if (error == std::errc{} && end == text.data() + text.size()) {
        paper.file = text.substr(0, at);
        paper.angle_degrees = degrees;
    }
    return paper;
}

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

}

int run_devices(bool as_json) {
    const SimulatedScanner scanner;
    if (as_json) {
        const Capabilities can = scanner.capabilities();
        const nlohmann::json list = {{{"name", scanner.name()},
                                      {"state", state_words(scanner.state())},
                                      {"kind", "simulated"},
                                      {"resolutions", can.resolutions},
                                      {"glass_mm", {can.glass.width, can.glass.height}}}};
        fmt::print("{}\n", list.dump(2));
    } else {
        fmt::print("{} (simulated, {})\n", scanner.name(), state_words(scanner.state()));
    }
    return 0;
}

int run_scan(const std::string& device, const std::vector<std::string>& on_glass, const TicketArguments& arguments,
             const fs::path& out) {
    const auto ticket = ticket_from(arguments);
    if (!ticket) {
        complain(ticket.error());
        return exit_status(ticket.error());
    }
    SimulatedScanner scanner;
    if (device != scanner.name() && device != "simulated") {
        complain({ErrorKind::Device,
                  fmt::format("There is no scanner \"{}\"; yelvin-batch devices lists those there are.", device),
                  {}});
        return 1;
    }
    if (ticket->from.source != Source::Glass) {
        complain({ErrorKind::Device, fmt::format("{} has only a glass; set from.source=glass.", scanner.name()), {}});
        return 1;
    }
    if (auto checked = check_folder(out); !checked) {
        complain(checked.error());
        return 1;
    }
    BenchSetup bench;
    for (const std::string& text : on_glass) bench.glass.push_back(laid(text));
    scanner.set_bench(bench);

    const RunFolder originals;
    std::vector<Original> scanned;
    CaptureSink sink(originals.path);
    sink.on_page = [&](const Original& original) { scanned.push_back(original); };
    const ScanRequest request{Source::Glass, area_for(ticket->from), static_cast<double>(ticket->how.dpi),
                              ticket->how.ink.value_or(Ink::Colour)};
    if (auto done = scanner.scan(request, sink, {}); !done) {
        complain(done.error());
        if (scanned.empty()) return 1;
    }
    ReaderPool readers;
    SaveJob job;
    job.page_count = scanned.size();
    job.ticket = *ticket;
    job.folder = out;
    job.page = [&](size_t index) -> Result<std::optional<FinishedPage>> {
        const auto original = read_original(originals.path, scanned[index]);
        if (!original) return std::unexpected(original.error());
        const Notices notices = noticed(*original, *ticket, readers);
        if (ticket->pages.drop_blank && notices.blank(ticket->pages.blank_limit_percent))
            return std::optional<FinishedPage>{};
        return std::optional(FinishedPage{develop(*original, recipe_for(notices, *original, *ticket)), std::nullopt});
    };
    bool left_out = false;
    return save_and_print(std::move(job), left_out);
}

}
