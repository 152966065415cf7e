#include "core/ticket/ticket_json.h"

#include "core/developing/recipe_json.h"
#include "core/json_text.h"
#include "core/raster/paper.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <fstream>
#include <span>

using nlohmann::json;

namespace yelvin {

namespace {

template <class E>
struct Choice {
    std::string_view word;
    E value;
};

constexpr Choice<Source> sources[] = {{"glass", Source::Glass},
                                      {"feeder-front", Source::FeederFront},
                                      {"feeder-both", Source::FeederBoth},
                                      {"hand-fed", Source::HandFed}};
constexpr Choice<Flip> flips[] = {{"book", Flip::Book}, {"notepad", Flip::Notepad}};
constexpr Choice<Frames> frames[] = {
    {"each-item", Frames::EachItem}, {"one-item", Frames::OneItem}, {"drawn", Frames::Drawn}, {"whole", Frames::Whole}};
constexpr Choice<std::optional<Ink>> inks[] = {
    {"auto", std::nullopt}, {"colour", Ink::Colour}, {"grey", Ink::Grey}, {"black", Ink::Black}};
constexpr Choice<SplitAt> splits[] = {{"never", SplitAt::Never},
                                      {"blank-sheet", SplitAt::BlankSheet},
                                      {"separator", SplitAt::Separator},
                                      {"every", SplitAt::Every}};
constexpr Choice<Per> pers[] = {{"document", Per::Document}, {"page", Per::Page}};

// Reads the keys of one ticket; the first wrong one is remembered, the rest then read nothing.
class TicketReader {
  public:
    explicit TicketReader(const json& ticket) : ticket_(ticket) {}

    const json* at(std::string_view key) const {
        const json* node = &ticket_;
        for (size_t begin = 0; begin <= key.size();) {
            const size_t dot = std::min(key.find('.', begin), key.size());
            const std::string name(key.substr(begin, dot - begin));
            if (!node->is_object() || !node->contains(name)) return nullptr;
            node = &(*node)[name];
            begin = dot + 1;
        }
        return node;
    }
    void wrong(std::string_view key, const json& was, std::string_view allowed) {
        if (error) return;
        error = Error{
            ErrorKind::BadInput, fmt::format("The ticket's {} is {}; allowed is {}.", key, was.dump(), allowed), {}};
    }
    template <class E, size_t N>
    void choice(std::string_view key, const Choice<E> (&choices)[N], E& out) {
        const json* value = at(key);
        if (!value) return;
        for (const auto& [word, meaning] : choices) {
            if (*value == word) {
                out = meaning;
                return;
            }
        }
        std::string allowed;
        for (const auto& [word, meaning] : choices)
            allowed += fmt::format("{}\"{}\"", allowed.empty() ? "" : ", ", word);
        wrong(key, *value, allowed);
    }
    void flag(std::string_view key, bool& out) {
        const json* value = at(key);
        if (!value) return;
        if (value->is_boolean())
            out = value->get<bool>();
        else
            wrong(key, *value, "true or false");
    }
    template <class N>
    void number(std::string_view key, double least, double most, N& out, std::string_view or_else = {}) {
        const json* value = at(key);
        if (!value) return;
        const bool right_type = std::is_integral_v<N> ? value->is_number_integer() : value->is_number();
        if (right_type && value->get<double>() >= least && value->get<double>() <= most)
            out = value->get<N>();
        else
            wrong(
                key, *value,
                fmt::format("a {}number from {} to {}{}", std::is_integral_v<N> ? "whole " : "", least, most, or_else));
    }
    void words(std::string_view key, std::string& out) {
        const json* value = at(key);
        if (!value) return;
        if (value->is_string() && !value->get<std::string>().empty())
            out = value->get<std::string>();
        else
            wrong(key, *value, "a text that is not empty");
    }

    std::optional<Error> error;

  private:
    const json& ticket_;
};

void read_format(TicketReader& in, Format& format) {
    const json* value = in.at("make.format");
    if (!value) return;
    const auto named = value->is_string() ? format_of_key(value->get<std::string>()) : std::nullopt;
    if (named) {
        format = *named;
        return;
    }
    std::string allowed;
    for (const Format each : all_formats())
        allowed += fmt::format("{}\"{}\"", allowed.empty() ? "" : ", ", format_key(each));
    in.wrong("make.format", *value, allowed);
}

void read_paper(TicketReader& in, Ticket::From& from) {
    constexpr std::string_view key = "from.paper";
    const json* value = in.at(key);
    if (!value) return;
    if (value->is_object()) {
        SizeMm own;
        in.number("from.paper.width_mm", 5, 2000, own.width);
        in.number("from.paper.height_mm", 5, 2000, own.height);
        if (own.width > 0 && own.height > 0) {
            from.own_paper = own;
            from.paper = "own";
            return;
        }
    } else if (value->is_string()) {
        const auto name = value->get<std::string>();
        const auto paper = find_paper(name);
        if (paper || name == "auto") {
            from.paper = paper ? std::string(paper->name) : name;
            from.own_paper.reset();
            return;
        }
    }
    std::string allowed = "\"auto\"";
    for (const PaperSize& paper : paper_sizes()) allowed += fmt::format(", \"{}\"", paper.name);
    in.wrong(key, *value, allowed + " or {\"width_mm\": …, \"height_mm\": …} from 5 to 2000");
}

// Corrections that every page gets; spots belong to single pages and are no choice.
void read_adjust(TicketReader& in, Adjust& out) {
    const json* value = in.at("pages.adjust");
    if (!value) return;
    if (!value->is_object()) return in.wrong("pages.adjust", *value, "an object of corrections");
    for (const AdjustField& field : adjust_fields()) {
        const std::string key = fmt::format("pages.adjust.{}", field.key);
        bool on = out.*field.value > 0;
        if (field.is_switch()) {
            in.flag(key, on);
            out.*field.value = on ? 1 : 0;
        } else {
            in.number(key, field.least, field.most, out.*field.value);
        }
    }
    if (const json* colour = in.at("pages.adjust.drop_colour")) {
        out.drop_colour = colour->is_string() ? colour_from_text(colour->get<std::string>()) : std::nullopt;
        if (!out.drop_colour) in.wrong("pages.adjust.drop_colour", *colour, "a colour such as \"#c03028\"");
    }
    out = kept_in_range(std::move(out));
}

void read_languages(TicketReader& in, std::vector<std::string>& out) {
    const json* value = in.at("read.languages");
    if (!value) return;
    const auto good = [](const json& entry) {
        if (!entry.is_string() || entry.get<std::string>().empty()) return false;
        const auto name = entry.get<std::string>();
        return std::ranges::all_of(name, [](unsigned char c) { return std::isalnum(c) || c == '_' || c == '-'; });
    };
    if (value->is_array() && std::ranges::all_of(*value, good))
        out = value->get<std::vector<std::string>>();
    else
        in.wrong("read.languages", *value,
                 "a list of language names such as [\"eng\"], [\"auto\"] for any, or [] for none");
}

void read_more(TicketReader& in, std::map<std::string, OptionValues>& out) {
    const json* value = in.at("from.more");
    if (!value) return;
    constexpr std::string_view allowed =
        "an object of scanners, each an object of options that are true, false, numbers or texts";
    if (!value->is_object()) return in.wrong("from.more", *value, allowed);
    for (const auto& [scanner, options] : value->items()) {
        if (!options.is_object()) return in.wrong("from.more", *value, allowed);
        for (const auto& [name, option] : options.items()) {
            if (option.is_boolean())
                out[scanner][name] = option.get<bool>();
            else if (option.is_number())
                out[scanner][name] = option.get<double>();
            else if (option.is_string())
                out[scanner][name] = option.get<std::string>();
            else
                return in.wrong("from.more", *value, allowed);
        }
    }
}

json more_json(const std::map<std::string, OptionValues>& more) {
    json out = json::object();
    for (const auto& [scanner, options] : more) {
        json& of_scanner = out[scanner];
        for (const auto& [name, option] : options)
            std::visit([&at = of_scanner[name]](const auto& value) { at = value; }, option);
    }
    return out;
}

std::optional<NamePart> name_part(const json& entry) {
    if (!entry.is_object()) return std::nullopt;
    if (entry.contains("words") && entry["words"].is_string()) return NamePart{NamePart::Kind::Words, entry["words"]};
    if (entry.contains("date") && entry["date"].is_string()) return NamePart{NamePart::Kind::Date, entry["date"]};
    if (entry.contains("barcode") && entry["barcode"] == true) return NamePart{NamePart::Kind::Barcode, ""};
    if (entry.contains("counter") && entry["counter"].is_number_integer()) {
        const int digits = entry["counter"];
        if (digits >= 1 && digits <= 9) return NamePart{NamePart::Kind::Counter, "", digits};
    }
    return std::nullopt;
}

void read_name(TicketReader& in, std::vector<NamePart>& out) {
    const json* value = in.at("save.name");
    if (!value) return;
    std::vector<NamePart> parts;
    if (value->is_array()) {
        for (const json& entry : *value) {
            if (const auto part = name_part(entry)) parts.push_back(*part);
        }
    } else if (value->is_string()) {
        parts = {{NamePart::Kind::Words, *value}};
    }
    const bool all_read = value->is_string() || (value->is_array() && parts.size() == value->size());
    if (all_read && !parts.empty())
        out = parts;
    else
        in.wrong("save.name", *value,
                 "a list of {\"date\": \"yyyy-mm-dd\"}, {\"words\": …}, {\"barcode\": true} and {\"counter\": 1 to 9}");
}

template <class E, size_t N>
std::string_view word_of(const Choice<E> (&choices)[N], const E& value) {
    return std::ranges::find_if(choices, [&](const auto& choice) { return choice.value == value; })->word;
}

json part_json(const NamePart& part) {
    switch (part.kind) {
    case NamePart::Kind::Date:
        return {{"date", part.text}};
    case NamePart::Kind::Counter:
        return {{"counter", part.digits}};
    case NamePart::Kind::Barcode:
        return {{"barcode", true}};
    case NamePart::Kind::Words:
        break;
    }
    return {{"words", part.text}};
}

}

Result<Ticket> ticket_from_json(const json& source) {
    if (!source.is_object())
        return fail(ErrorKind::BadInput, "A ticket is a JSON object; this file holds something else.");
    TicketReader in(source);
    int version = 1;
    in.number("yelvin_ticket", 1, 1, version);
    for (const char* group : {"from", "how", "pages", "read", "make", "save"}) {
        if (const json* value = in.at(group); value && !value->is_object()) in.wrong(group, *value, "an object");
    }
    Ticket ticket;
    ticket.rest = source;
    in.words("name", ticket.name);
    in.words("colour", ticket.colour);
    in.choice("from.source", sources, ticket.from.source);
    in.choice("from.flip", flips, ticket.from.flip);
    in.choice("from.frames", frames, ticket.from.frames);
    read_paper(in, ticket.from);
    in.number("from.next_sheet_seconds", 0, 600, ticket.from.next_sheet_seconds);
    read_more(in, ticket.from.more);
    in.choice("how.ink", inks, ticket.how.ink);
    if (const json* dpi = in.at("how.dpi"); dpi && *dpi == "auto") {
        ticket.how.dpi_auto = true;
    } else {
        in.number("how.dpi", 50, 4800, ticket.how.dpi, " or \"auto\"");
        ticket.dpi_given = dpi != nullptr;
    }
    in.flag("pages.straighten", ticket.pages.straighten);
    in.flag("pages.turn_upright", ticket.pages.turn_upright);
    in.flag("pages.drop_blank", ticket.pages.drop_blank);
    in.number("pages.blank_limit_percent", 0, 100, ticket.pages.blank_limit_percent);
    in.choice("pages.split", splits, ticket.pages.split);
    in.number("pages.split_every", 1, 1000, ticket.pages.split_every);
    if (const json* value = in.at("pages.separator"); value && !value->is_string())
        in.wrong("pages.separator", *value, "a text, or \"\" for this program's own separators only");
    else if (value)
        ticket.pages.separator = value->get<std::string>();
    read_adjust(in, ticket.pages.adjust);
    read_languages(in, ticket.read.languages);
    read_format(in, ticket.make.format);
    in.choice("make.per", pers, ticket.make.per);
    in.number("make.jpeg_quality", 1, 100, ticket.make.jpeg_quality);
    in.flag("make.lines_as_printed", ticket.make.lines_as_printed);
    in.words("save.folder", ticket.save.folder);
    read_name(in, ticket.save.name);
    if (in.error) return std::unexpected(*in.error);
    return ticket;
}

json ticket_to_json(const Ticket& t) {
    json paper = t.from.paper;
    if (t.from.own_paper) paper = {{"width_mm", t.from.own_paper->width}, {"height_mm", t.from.own_paper->height}};
    json name = json::array();
    for (const NamePart& part : t.save.name) name.push_back(part_json(part));
    const json known = {
        {"yelvin_ticket", 1},
        {"name", t.name},
        {"colour", t.colour},
        {"from",
         {{"source", word_of(sources, t.from.source)},
          {"flip", word_of(flips, t.from.flip)},
          {"paper", paper},
          {"frames", word_of(frames, t.from.frames)},
          {"next_sheet_seconds", t.from.next_sheet_seconds},
          {"more", more_json(t.from.more)}}},
        {"how", {{"ink", word_of(inks, t.how.ink)}, {"dpi", t.how.dpi_auto ? json("auto") : json(t.how.dpi)}}},
        {"pages",
         {{"straighten", t.pages.straighten},
          {"turn_upright", t.pages.turn_upright},
          {"drop_blank", t.pages.drop_blank},
          {"blank_limit_percent", t.pages.blank_limit_percent},
          {"split", word_of(splits, t.pages.split)},
          {"split_every", t.pages.split_every},
          {"separator", t.pages.separator},
          {"adjust", to_json(t.pages.adjust)}}},
        {"read", {{"languages", t.read.languages}}},
        {"make",
         {{"format", format_key(t.make.format)},
          {"per", word_of(pers, t.make.per)},
          {"jpeg_quality", t.make.jpeg_quality},
          {"lines_as_printed", t.make.lines_as_printed}}},
        {"save", {{"folder", t.save.folder}, {"name", name}}},
    };
    json out = t.rest;
    out.merge_patch(known);
    out["from"]["more"] = more_json(t.from.more); // likewise: an option given up must not come back
    out["pages"]["adjust"] = to_json(t.pages.adjust);
    if (!t.from.own_paper) out["from"]["paper"] = paper; // a patch would merge an old size into it
    return out;
}

Result<Ticket> load_ticket(const std::filesystem::path& file) {
    std::ifstream in(file);
    std::error_code failure;
    if (std::filesystem::is_directory(file, failure))
        return fail(ErrorKind::BadInput, fmt::format("{} is a folder; give the ticket's file in it.", file.string()));
    if (!in)
        return fail(ErrorKind::Missing, fmt::format("The ticket {} cannot be opened; check the name.", file.string()));
    const auto parsed = json_from_text(std::string{std::istreambuf_iterator<char>(in), {}});
    if (!parsed) {
        return fail(
            ErrorKind::BadInput,
            fmt::format("The ticket {} is not JSON; it is left as it is. Mend it or choose another.", file.string()));
    }
    auto ticket = ticket_from_json(*parsed);
    if (!ticket) return fail(ticket.error().kind, fmt::format("{} In {}.", ticket.error().sentence, file.string()));
    return ticket;
}

}
