#include "batch/scanners.h"

#include "devices/sane/sane_scanner.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>

namespace yelvin {

namespace {

// Returns the number after the last "@" and removes both from `text`. Returns nothing if there is none.
std::optional<double> number_behind_at(std::string& text) {
    const size_t at = text.rfind('@');
    if (at == std::string::npos) return std::nullopt;
    double number = 0;
    const auto [end, error] = std::from_chars(text.data() + at + 1, text.data() + text.size(), number);
    if (error != std::errc{} || end != text.data() + text.size()) return std::nullopt;
    text.resize(at);
    return number;
}

SheetSide side(const std::string& file) { return {file == "blank" ? "" : file, 0}; }

}

Result<BenchSetup> bench_from(const BenchArguments& arguments) {
    BenchSetup bench;
    for (std::string text : arguments.on_glass) {
        const double degrees = number_behind_at(text).value_or(0);
        bench.glass.push_back({text, 108, 148.5, degrees});
    }
    for (std::string text : arguments.in_feeder) {
        StackSheet sheet;
        sheet.skew_degrees = number_behind_at(text).value_or(0);
        if (std::abs(sheet.skew_degrees) > 90) {
            sheet.upside_down = true;
            sheet.skew_degrees -= sheet.skew_degrees > 0 ? 180 : -180;
        }
        const size_t comma = text.find(',');
        sheet.front = side(text.substr(0, comma));
        if (comma != std::string::npos) sheet.back = side(text.substr(comma + 1));
        bench.stack.push_back(std::move(sheet));
    }
    for (std::string text : arguments.faults) {
        const auto sheet = number_behind_at(text);
        const auto kind = std::ranges::find(simulated_faults, text, &SimulatedFault::name);
        if (!sheet || *sheet < 1 || kind == std::end(simulated_faults))
            return fail(ErrorKind::Usage, fmt::format("\"{}\" is not a fault; use one such as jam@3.", text));
        bench.faults.push_back({kind->kind, static_cast<int>(*sheet), kind->sensed});
    }
    return bench;
}

std::vector<std::shared_ptr<Scanner>> all_scanners() {
    std::vector<std::shared_ptr<Scanner>> all{std::make_shared<SimulatedScanner>(BenchSetup{}, bench_scanner()),
                                              std::make_shared<SimulatedScanner>(BenchSetup{}, bench_feed_scanner())};
    for (auto& scanner : sane_scanners()) all.push_back(std::move(scanner));
    return all;
}

Result<std::shared_ptr<Scanner>> scanner_named(const std::string& name, const BenchSetup& bench) {
    for (const BenchModel& model : {bench_scanner(), bench_feed_scanner()}) {
        if (current_scanner_name(name) == model.name || (name == "simulated" && model.name == bench_scanner().name))
            return std::make_shared<SimulatedScanner>(bench, model);
    }
    // A device may exist without being listed, so it is opened to find out.
    auto scanner = std::make_shared<SaneScanner>(sane::Listing{name, "", "", ""});
    if (auto ready = scanner->prepare(); ready)
        return scanner;
    else if (ready.error().kind != ErrorKind::WrongSetting && ready.error().kind != ErrorKind::Offline)
        return std::unexpected(ready.error());
    return fail(ErrorKind::Device,
                fmt::format("There is no scanner \"{}\"; yelvin-batch devices lists the scanners.", name));
}

}
