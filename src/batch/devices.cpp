#include "batch/batch.h"
#include "core/ticket/ticket_json.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace yelvin {

namespace {

nlohmann::json description(const Scanner& scanner) {
    const Capabilities can = scanner.capabilities();
    nlohmann::json entry{
        {"name", scanner.name()},         {"title", scanner.title()},       {"state", state_words(scanner.state())},
        {"kind", scanner.kind()},         {"resolutions", can.resolutions}, {"sources", nlohmann::json::array()},
        {"inks", nlohmann::json::array()}};
    for (const Source source : can.sources) entry["sources"].push_back(source_word(source));
    for (const Ink ink : can.inks) entry["inks"].push_back(ink_word(ink));
    if (can.glass.width > 0) entry["glass_mm"] = {can.glass.width, can.glass.height};
    if (can.feeder.width > 0) entry["feeder_mm"] = {can.feeder.width, can.feeder.height};
    return entry;
}

}

int run_devices(bool as_json) {
    nlohmann::json list = nlohmann::json::array();
    for (const auto& scanner : all_scanners()) {
        const auto ready = scanner->prepare(); // a scanner that is not ready is listed with its state
        if (as_json) {
            list.push_back(description(*scanner));
            continue;
        }
        const std::string title = scanner->title() == scanner->name() ? "" : fmt::format("{}, ", scanner->title());
        fmt::print("{} ({}{}, {})\n", scanner->name(), title, scanner->kind(), state_words(scanner->state()));
    }
    if (as_json) print(list, 2);
    return 0;
}

}
