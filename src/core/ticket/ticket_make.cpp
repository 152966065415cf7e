// The formats and file options of a ticket, in the ticket's file.
#include "core/developing/recipe_json.h"
#include "core/ticket/ticket_reader.h"

using nlohmann::json;

namespace yelvin {

namespace {

constexpr NamedValue<PdfALevel> pdf_a_levels[] = {{"1b", PdfALevel::A1b}, {"2u", PdfALevel::A2u}};
constexpr NamedValue<TiffCoding> tiff_codings[] = {
    {"auto", TiffCoding::Auto}, {"lzw", TiffCoding::Lzw}, {"deflate", TiffCoding::Deflate}, {"jpeg", TiffCoding::Jpeg}};
constexpr NamedValue<Per> pers[] = {{"document", Per::Document}, {"page", Per::Page}};
constexpr NamedValue<Permissions::Print> prints[] = {
    {"none", Permissions::Print::None}, {"coarse", Permissions::Print::Coarse}, {"full", Permissions::Print::Full}};
constexpr NamedValue<Stamp::At> places[] = {
    {"top-left", Stamp::At::TopLeft},       {"top", Stamp::At::Top},       {"top-right", Stamp::At::TopRight},
    {"bottom-left", Stamp::At::BottomLeft}, {"bottom", Stamp::At::Bottom}, {"bottom-right", Stamp::At::BottomRight}};
constexpr NamedValue<Ink> also_inks[] = {{"colour", Ink::Colour}, {"grey", Ink::Grey}, {"black", Ink::Black}};

std::string format_choices() {
    std::string allowed;
    for (const Format each : all_formats())
        allowed += fmt::format("{}\"{}\"", allowed.empty() ? "" : ", ", format_key(each));
    return allowed;
}

std::optional<Format> format_of(const json& value) {
    return value.is_string() ? format_of_key(value.get<std::string>()) : std::nullopt;
}

void read_format(TicketReader& in, Format& format) {
    const json* value = in.at("make.format");
    if (!value) return;
    if (const auto named = format_of(*value))
        format = *named;
    else
        in.wrong("make.format", *value, format_choices());
}

void read_properties(TicketReader& in, Properties& out) {
    if (const json* value = in.at("make.properties"); value && !value->is_object())
        return in.wrong("make.properties", *value, "an object with title, author, subject and keywords");
    if (const json* title = in.at("make.properties.title"); title && !title->is_null()) {
        out.title.emplace();
        read_name(in, "make.properties.title", Parts::MayBeNone, *out.title);
    }
    read_name(in, "make.properties.author", Parts::MayBeNone, out.author);
    read_name(in, "make.properties.subject", Parts::MayBeNone, out.subject);
    const json* keywords = in.at("make.properties.keywords");
    if (keywords && keywords->is_array() && std::ranges::all_of(*keywords, &json::is_string)) {
        std::string all;
        for (const json& each : *keywords) all += (all.empty() ? "" : ", ") + each.get<std::string>();
        out.keywords.clear();
        if (!all.empty()) out.keywords.push_back({NamePart::Kind::Words, all});
    } else {
        read_name(in, "make.properties.keywords", Parts::MayBeNone, out.keywords);
    }
}

json properties_json(const Properties& properties) {
    return {{"title", properties.title ? name_json(*properties.title) : json()},
            {"author", name_json(properties.author)},
            {"subject", name_json(properties.subject)},
            {"keywords", name_json(properties.keywords)}};
}

void read_stamp(TicketReader& in, Stamp& out) {
    if (const json* value = in.at("make.stamp"); value && !value->is_object())
        return in.wrong("make.stamp", *value, "an object with parts, at, size_pt, colour, turned and across_documents");
    read_name(in, "make.stamp.parts", Parts::MayBeNone, out.parts);
    in.choice("make.stamp.at", places, out.at);
    in.number("make.stamp.size_pt", 4, 72, out.size_pt);
    in.flag("make.stamp.turned", out.turned);
    in.flag("make.stamp.across_documents", out.across_documents);
    if (const json* colour = in.at("make.stamp.colour")) {
        const auto known = colour->is_string() ? colour_from_text(colour->get<std::string>()) : std::nullopt;
        if (known)
            out.colour = colour->get<std::string>();
        else
            in.wrong("make.stamp.colour", *colour, "a colour such as \"#26303a\"");
    }
}

// Reads one further file; errors are reported.
std::optional<FurtherFile> also_made(TicketReader& in, const json& entry) {
    constexpr std::string_view key = "make.also";
    FurtherFile out;
    const auto format = entry.is_object() && entry.contains("format") ? format_of(entry["format"]) : std::nullopt;
    if (!format || *format == Format::Auto) {
        in.wrong(key, entry,
                 "a list of {\"format\", \"ink\", \"dpi\", \"folder\"}, each with a format of " + format_choices() +
                     " but \"auto\"");
        return std::nullopt;
    }
    out.format = *format;
    TicketReader one(entry);
    if (entry.contains("ink") && !entry["ink"].is_null() && entry["ink"] != "auto") {
        Ink ink = Ink::Grey;
        one.choice("ink", also_inks, ink);
        out.ink = ink;
    }
    if (entry.contains("dpi") && !entry["dpi"].is_null() && entry["dpi"] != 0) one.number("dpi", 50, 4800, out.dpi);
    if (entry.contains("folder") && entry["folder"] != json(std::string())) one.words("folder", out.folder);
    if (one.error) {
        in.wrong(key, entry, "an ink of \"colour\", \"grey\" or \"black\", a dpi from 50 to 4800, and a folder");
        return std::nullopt;
    }
    return out;
}

void read_also(TicketReader& in, std::vector<FurtherFile>& out) {
    const json* value = in.at("make.also");
    if (!value) return;
    if (!value->is_array())
        return in.wrong("make.also", *value, "a list of {\"format\", \"ink\", \"dpi\", \"folder\"}");
    std::vector<FurtherFile> all;
    for (const json& entry : *value)
        if (const auto one = also_made(in, entry)) all.push_back(*one);
    if (all.size() == value->size()) out = std::move(all);
}

json also_json(const std::vector<FurtherFile>& all) {
    json out = json::array();
    for (const FurtherFile& each : all)
        out.push_back({{"format", format_key(each.format)},
                       {"ink", each.ink ? json(word_of(also_inks, *each.ink)) : json("auto")},
                       {"dpi", each.dpi},
                       {"folder", each.folder}});
    return out;
}

}

void read_make(TicketReader& in, Ticket::Make& make) {
    read_format(in, make.format);
    in.choice("make.per", pers, make.per);
    in.number("make.jpeg_quality", 1, 100, make.jpeg_quality);
    in.flag("make.lines_as_printed", make.lines_as_printed);
    in.flag("make.as_it_looks", make.as_it_looks);
    in.flag("make.searchable", make.searchable);
    in.flag("make.bookmarks", make.bookmarks);
    in.choice("make.pdf_a_level", pdf_a_levels, make.pdf_a_level);
    in.choice("make.tiff_coding", tiff_codings, make.tiff_coding);
    in.flag("make.password", make.password);
    if (const json* value = in.at("make.permissions"); value && !value->is_object())
        in.wrong("make.permissions", *value, "an object with print, change and copy");
    in.choice("make.permissions.print", prints, make.permissions.print);
    in.flag("make.permissions.change", make.permissions.change);
    in.flag("make.permissions.copy", make.permissions.copy);
    read_properties(in, make.properties);
    read_stamp(in, make.stamp);
    read_also(in, make.also);
}

json make_json(const Ticket::Make& make) {
    return {{"format", format_key(make.format)},
            {"per", word_of(pers, make.per)},
            {"jpeg_quality", make.jpeg_quality},
            {"lines_as_printed", make.lines_as_printed},
            {"as_it_looks", make.as_it_looks},
            {"searchable", make.searchable},
            {"bookmarks", make.bookmarks},
            {"pdf_a_level", word_of(pdf_a_levels, make.pdf_a_level)},
            {"tiff_coding", word_of(tiff_codings, make.tiff_coding)},
            {"password", make.password},
            {"permissions",
             {{"print", word_of(prints, make.permissions.print)},
              {"change", make.permissions.change},
              {"copy", make.permissions.copy}}},
            {"properties", properties_json(make.properties)},
            {"stamp",
             {{"parts", name_json(make.stamp.parts)},
              {"at", word_of(places, make.stamp.at)},
              {"size_pt", make.stamp.size_pt},
              {"colour", make.stamp.colour},
              {"turned", make.stamp.turned},
              {"across_documents", make.stamp.across_documents}}},
            {"also", also_json(make.also)}};
}

}
