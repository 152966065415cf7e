#include "core/ticket/ticket_json.h"

#include "core/developing/recipe_json.h"
#include "core/json_text.h"
#include "core/raster/paper.h"
#include "core/ticket/ticket_reader.h"

#include <fstream>

using nlohmann::json;

namespace yelvin {

namespace {

constexpr NamedValue<Source> sources[] = {{"glass", Source::Glass},
                                          {"feeder-front", Source::FeederFront},
                                          {"feeder-both", Source::FeederBoth},
                                          {"hand-fed", Source::HandFed}};
constexpr NamedValue<Flip> flips[] = {{"book", Flip::Book}, {"notepad", Flip::Notepad}};
constexpr NamedValue<Frames> frames[] = {
    {"each-item", Frames::EachItem}, {"one-item", Frames::OneItem}, {"drawn", Frames::Drawn}, {"whole", Frames::Whole}};
constexpr NamedValue<std::optional<Ink>> inks[] = {
    {"auto", std::nullopt}, {"colour", Ink::Colour}, {"grey", Ink::Grey}, {"black", Ink::Black}};
constexpr NamedValue<Documents> documents[] = {
    {"joined", Documents::Joined}, {"each-scan", Documents::EachScan}, {"each-item", Documents::EachItem}};
constexpr NamedValue<SplitAt> splits[] = {{"never", SplitAt::Never},
                                          {"blank-sheet", SplitAt::BlankSheet},
                                          {"separator", SplitAt::Separator},
                                          {"every", SplitAt::Every}};
constexpr NamedValue<Ticket::Save::Where> wheres[] = {{"fixed", Ticket::Save::Where::Fixed},
                                                      {"asked", Ticket::Save::Where::Asked},
                                                      {"temporary", Ticket::Save::Where::Temporary}};
constexpr NamedValue<Ticket::Save::Grows> growths[] = {{"no", Ticket::Save::Grows::No},
                                                       {"always", Ticket::Save::Grows::Always},
                                                       {"day", Ticket::Save::Grows::Day},
                                                       {"month", Ticket::Save::Grows::Month}};

// The name of a ticket; may be empty.
void read_like(TicketReader& in, std::string_view key, std::string& out) {
    const json* value = in.at(key);
    if (!value) return;
    if (value->is_string())
        out = value->get<std::string>();
    else
        in.wrong(key, *value, "the name of a ticket, or \"\" for its own choices");
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

// Corrections for every page; spots belong to single pages and cannot be chosen here.
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

}

std::string_view source_word(Source source) { return word_of(sources, source); }

Result<Ticket> ticket_from_json(const json& source) {
    if (!source.is_object())
        return fail(ErrorKind::BadInput, "A ticket is a JSON object; this file is something else.");
    TicketReader in(source);
    int version = 1;
    in.number("yelvin_ticket", 1, 1, version);
    for (const char* group : {"from", "how", "pages", "read", "make", "save", "then", "back"}) {
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
    in.choice("pages.documents", documents, ticket.pages.documents);
    in.choice("pages.split", splits, ticket.pages.split);
    in.number("pages.split_every", 1, 1000, ticket.pages.split_every);
    if (const json* value = in.at("pages.separator"); value && !value->is_string())
        in.wrong("pages.separator", *value, "a text, or \"\" for this program's own separators only");
    else if (value)
        ticket.pages.separator = value->get<std::string>();
    read_adjust(in, ticket.pages.adjust);
    read_languages(in, ticket.read.languages);
    read_make(in, ticket.make);
    in.words("save.folder", ticket.save.folder);
    read_name(in, "save.name", Parts::Some, ticket.save.name);
    in.choice("save.where", wheres, ticket.save.where);
    read_name(in, "save.within", Parts::Folders, ticket.save.within);
    in.flag("save.make_folder", ticket.save.make_folder);
    in.flag("save.at_once", ticket.save.at_once);
    in.choice("save.grows", growths, ticket.save.grows);
    read_then(in, ticket.then);
    read_like(in, "scan_like", ticket.scan_like);
    read_like(in, "put_like", ticket.put_like);
    in.number("back.after_minutes", 0, 1440, ticket.back.after_minutes);
    in.flag("back.on_close", ticket.back.on_close);
    in.flag("fixed", ticket.fixed);
    if (in.error) return std::unexpected(*in.error);
    return ticket;
}

json ticket_to_json(const Ticket& t) {
    json paper = t.from.paper;
    if (t.from.own_paper) paper = {{"width_mm", t.from.own_paper->width}, {"height_mm", t.from.own_paper->height}};
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
          {"documents", word_of(documents, t.pages.documents)},
          {"split", word_of(splits, t.pages.split)},
          {"split_every", t.pages.split_every},
          {"separator", t.pages.separator},
          {"adjust", to_json(t.pages.adjust)}}},
        {"read", {{"languages", t.read.languages}}},
        {"make", make_json(t.make)},
        {"save",
         {{"where", word_of(wheres, t.save.where)},
          {"folder", t.save.folder},
          {"within", name_json(t.save.within)},
          {"make_folder", t.save.make_folder},
          {"name", name_json(t.save.name)},
          {"at_once", t.save.at_once},
          {"grows", word_of(growths, t.save.grows)}}},
        {"then", then_json(t.then)},
        {"scan_like", t.scan_like},
        {"put_like", t.put_like},
        {"back", {{"after_minutes", t.back.after_minutes}, {"on_close", t.back.on_close}}},
        {"fixed", t.fixed},
    };
    json out = t.rest;
    out.merge_patch(known);
    out["from"]["more"] = more_json(t.from.more); // likewise: an option given up must not come back
    out["pages"]["adjust"] = to_json(t.pages.adjust);
    out["make"]["properties"] = known["make"]["properties"];
    if (!t.from.own_paper) out["from"]["paper"] = paper; // a patch would merge an old size into it
    return out;
}

Result<Ticket> load_ticket(const std::filesystem::path& file) {
    std::ifstream in(file);
    std::error_code failure;
    if (std::filesystem::is_directory(file, failure))
        return fail(ErrorKind::BadInput, fmt::format("{} is a folder; name the ticket's file in it.", file.string()));
    if (!in)
        return fail(ErrorKind::Missing, fmt::format("The ticket {} cannot be opened; check the name.", file.string()));
    const auto parsed = json_from_text(std::string{std::istreambuf_iterator<char>(in), {}});
    if (!parsed) {
        return fail(ErrorKind::BadInput,
                    fmt::format("The ticket {} is not valid JSON and was not changed. Correct it or choose another.",
                                file.string()));
    }
    auto ticket = ticket_from_json(*parsed);
    if (!ticket) return fail(ticket.error().kind, fmt::format("{} In {}.", ticket.error().sentence, file.string()));
    return ticket;
}

}
