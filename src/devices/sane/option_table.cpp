#include "devices/sane/option_table.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace yelvin::sane {

namespace {

std::string lower(std::string text) {
    std::ranges::transform(text, text.begin(), [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    return text;
}

bool has_any(const std::string& text, std::initializer_list<const char*> parts) {
    return std::ranges::any_of(parts, [&](const char* part) { return text.find(part) != std::string::npos; });
}

const Option* usable(const std::vector<Option>& table, std::string_view name) {
    const Option* option = find(table, name);
    return option && option->usable() ? option : nullptr;
}

void read_sources(const std::vector<Option>& table, Meaning& out) {
    const auto add = [&](Source source, const std::string& word) {
        if (out.can.has(source)) return;
        out.can.sources.push_back(source);
        out.sources.emplace_back(source, word);
    };
    if (const Option* option = usable(table, "source"); option && !option->words.empty()) {
        out.source_option = option->name;
        // The shortest name of a source is preferred: "ADF" before "ADF (centre aligned)".
        std::vector<std::string> words = option->words;
        std::ranges::stable_sort(words, {}, &std::string::size);
        for (const std::string& word : words) {
            if (const auto source = source_of(word)) add(*source, word);
        }
    }
    // Some feeders have a separate option for scanning both sides.
    if (const Option* mode = find(table, "adf-mode"); mode && !out.can.has(Source::FeederBoth)) {
        const auto both =
            std::ranges::find_if(mode->words, [](const auto& w) { return has_any(lower(w), {"duplex"}); });
        if (both != mode->words.end() && out.can.has(Source::FeederFront)) {
            out.duplex_option = mode->name;
            add(Source::FeederBoth,
                std::ranges::find(out.sources, Source::FeederFront, &std::pair<Source, std::string>::first)->second);
        }
    }
    if (const Option* flag = find(table, "duplex");
        flag && flag->type == Type::Flag && !out.can.has(Source::FeederBoth) && out.can.has(Source::FeederFront)) {
        out.duplex_option = flag->name;
        add(Source::FeederBoth,
            std::ranges::find(out.sources, Source::FeederFront, &std::pair<Source, std::string>::first)->second);
    }
    if (out.can.sources.empty()) add(Source::Glass, "");
    std::ranges::sort(out.can.sources);
}

void read_modes(const std::vector<Option>& table, Meaning& out) {
    const Option* depth = usable(table, "depth");
    const auto depth_for = [&](Ink ink) -> std::optional<int> {
        if (!depth) return std::nullopt;
        const int wanted = ink == Ink::Black ? 1 : 8;
        return static_cast<int>(depth->nearest(wanted, true));
    };
    const auto add = [&](Ink ink, Mode mode) {
        if (std::ranges::find(out.can.inks, ink) != out.can.inks.end()) return;
        out.can.inks.push_back(ink);
        out.modes.emplace_back(ink, std::move(mode));
    };
    const Option* option = usable(table, "mode");
    if (option) {
        for (const std::string& word : option->words) {
            if (const auto ink = ink_of(word))
                add(*ink, {word, ink == Ink::Black ? std::nullopt : depth_for(*ink), false});
        }
    }
    if (out.can.inks.empty())
        add(Ink::Grey, {option && !option->words.empty() ? option->words.front() : "", depth_for(Ink::Grey), false});
    // Black is scanned as grey with a depth of one bit if the device offers that, otherwise as grey with a threshold
    // applied by this program.
    const auto grey = std::ranges::find(out.modes, Ink::Grey, &std::pair<Ink, Mode>::first);
    if (grey != out.modes.end()) {
        Mode black = grey->second;
        const bool one_bit = depth && std::ranges::find(depth->numbers, 1.0) != depth->numbers.end();
        if (one_bit) black.depth = 1;
        black.brought_down = !one_bit;
        add(Ink::Black, black);
    }
    std::ranges::sort(out.can.inks);
}

void read_resolutions(const std::vector<Option>& table, Meaning& out) {
    constexpr std::array customary{75, 100, 150, 200, 240, 300, 400, 600, 1200, 2400, 4800};
    for (const char* name : {"resolution", "x-resolution", "scan-resolution"}) {
        const Option* option = usable(table, name);
        if (!option) continue;
        out.resolution_option = name;
        if (!option->numbers.empty()) {
            for (const double dpi : option->numbers) {
                if (dpi >= 25) out.can.resolutions.push_back(static_cast<int>(std::lround(dpi)));
            }
            std::ranges::sort(out.can.resolutions);
        } else if (option->most > option->least) {
            out.can.range =
                ResolutionRange{std::max(1, static_cast<int>(std::ceil(option->least))), static_cast<int>(option->most),
                                std::max(1, static_cast<int>(std::lround(option->step)))};
            for (const int dpi : customary) {
                if (dpi >= option->least && dpi <= option->most) out.can.resolutions.push_back(dpi);
            }
        }
        return;
    }
}

// Returns the largest scan area in millimetres. Devices that give it in pixels refer to their current resolution.
SizeMm read_area(const std::vector<Option>& table, Meaning& out) {
    const Option *x = find(table, "br-x"), *y = find(table, "br-y");
    if (!x || !y) return {};
    SizeMm size{x->largest(), y->largest()};
    out.area_in_px = x->unit == Unit::Pixel;
    if (out.area_in_px) {
        const Option* resolution = find(table, out.resolution_option);
        const auto* dpi = resolution ? std::get_if<double>(&resolution->value) : nullptr;
        const double at = dpi && *dpi > 0 ? *dpi : 300;
        size = {px_to_mm(size.width, at), px_to_mm(size.height, at)};
    }
    return size;
}

bool is_well_known(const std::string& name, const Meaning& meaning) {
    constexpr std::array known{"source",     "mode",        "tl-x",           "tl-y",         "br-x",
                               "br-y",       "preview",     "resolution",     "x-resolution", "y-resolution",
                               "page-width", "page-height", "preview-in-gray"};
    return std::ranges::find(known, name) != known.end() || name == meaning.duplex_option;
}

std::optional<DeviceOption> further(const Option& option) {
    if (!option.usable() || option.values != 1 || option.name.empty()) return std::nullopt;
    DeviceOption out{option.name, option.title.empty() ? option.name : option.title, option.explanation};
    out.value = option.value;
    switch (option.type) {
    case Type::Flag:
        out.kind = DeviceOption::Kind::Flag;
        break;
    case Type::Int:
    case Type::Fixed: {
        constexpr std::array<const char*, 7> units{"", "px", "bit", "mm", "dpi", "%", "µs"};
        out.kind = DeviceOption::Kind::Number;
        out.unit = units[static_cast<size_t>(option.unit)];
        out.numbers = option.numbers;
        out.least = option.least;
        out.most = option.most;
        out.step = option.step > 0 ? option.step : option.type == Type::Int ? 1 : 0;
        break;
    }
    case Type::Text:
        out.kind = option.words.empty() ? DeviceOption::Kind::Text : DeviceOption::Kind::Choice;
        out.choices = option.words;
        break;
    case Type::Button:
        out.kind = DeviceOption::Kind::Button;
        break;
    case Type::Group:
        return std::nullopt;
    }
    return out;
}

}

double Option::largest() const {
    if (!numbers.empty()) return std::ranges::max(numbers);
    return most;
}

double Option::nearest(double wanted, bool up) const {
    if (!numbers.empty()) {
        if (up) {
            double best = largest();
            for (const double n : numbers) {
                if (n >= wanted - 1e-6 && n < best) best = n;
            }
            return best;
        }
        return *std::ranges::min_element(numbers, {}, [&](double n) { return std::abs(n - wanted); });
    }
    if (most <= least) return wanted;
    double value = std::clamp(wanted, least, most);
    if (step > 0) {
        const double steps = (value - least) / step;
        value = least + (up ? std::ceil(steps - 1e-6) : std::round(steps)) * step;
    }
    return std::min(value, most);
}

const Option* find(const std::vector<Option>& table, std::string_view name) {
    const auto at = std::ranges::find(table, name, &Option::name);
    return name.empty() || at == table.end() ? nullptr : &*at;
}

std::optional<Source> source_of(const std::string& word) {
    const std::string text = lower(word);
    if (has_any(text, {"transparen", "negative", "slide", "film", "tpu", "card"})) return std::nullopt;
    const bool feeder = has_any(text, {"adf", "feeder", "document", "sheet"});
    if (has_any(text, {"duplex", "both"}) && !has_any(text, {"flatbed"})) return Source::FeederBoth;
    if (has_any(text, {"back", "rear"})) return std::nullopt;
    if (has_any(text, {"flatbed", "glass", "platen", "normal", "fb"}))
        return feeder ? std::optional<Source>() : Source::Glass;
    if (feeder || has_any(text, {"front", "simplex"})) return Source::FeederFront;
    return std::nullopt; // "Auto" and others: which source they use is not known.
}

std::optional<Ink> ink_of(const std::string& word) {
    const std::string text = lower(word);
    if (has_any(text, {"infrared"})) return std::nullopt;
    if (has_any(text, {"colo", "rgb", "24bit", "48bit"}) && !has_any(text, {"lineart", "halftone"})) return Ink::Colour;
    if (has_any(text, {"gray", "grey", "monochrom"})) return Ink::Grey;
    if (has_any(text, {"lineart", "binary", "black", "bw", "b/w", "threshold", "text"})) return Ink::Black;
    return std::nullopt; // Halftone and error diffusion are not what black and white means here.
}

namespace {

// Whether the option is a sensor that reports a pressed button. The names are those that backends use (from memory of
// the backends' manual pages; the SANE standard defines none).
bool is_button(const Option& option) {
    static constexpr std::string_view names[] = {"scan", "start", "copy",  "email",    "e-mail", "file",
                                                 "pdf",  "fax",   "print", "function", "extra",  "memory"};
    if (!option.detectable || option.settable || (option.type != Type::Flag && option.type != Type::Int)) return false;
    const std::string name = lower(option.name);
    return std::ranges::find(names, name) != std::end(names) || name.starts_with("button");
}

}

Meaning meaning_of(const std::vector<Option>& table) {
    Meaning out;
    read_sources(table, out);
    read_modes(table, out);
    read_resolutions(table, out);
    const SizeMm largest = read_area(table, out);
    if (out.can.has(Source::Glass)) out.can.glass = largest;
    if (out.can.has(Source::FeederFront) || out.can.has(Source::FeederBoth)) out.can.feeder = largest;
    for (const Option& option : table) {
        if (option.active && is_button(option)) out.can.buttons.push_back(option.name);
        if (is_well_known(option.name, out)) continue;
        if (auto offered = further(option)) out.can.more.push_back(std::move(*offered));
    }
    return out;
}

void ask_areas(Meaning& meaning, const std::function<std::vector<Option>(const std::string& source)>& table_with) {
    if (meaning.source_option.empty() || meaning.sources.size() < 2) return;
    SizeMm glass, feeder;
    for (const auto& [source, word] : meaning.sources) {
        const SizeMm size = read_area(table_with(word), meaning);
        SizeMm& largest = source == Source::Glass ? glass : feeder;
        largest = {std::max(largest.width, size.width), std::max(largest.height, size.height)};
    }
    if (glass.width > 0 && glass.height > 0) meaning.can.glass = glass;
    if (feeder.width > 0 && feeder.height > 0) meaning.can.feeder = feeder;
}

}
