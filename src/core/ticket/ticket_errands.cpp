// The parts of names, and what happens to finished files, as the ticket's file says them.
#include "core/ticket/ticket_reader.h"

using nlohmann::json;

namespace yelvin {

namespace {

constexpr NamedValue<ClipboardAs> clipboards[] = {
    {"file", ClipboardAs::File}, {"picture", ClipboardAs::Picture}, {"text", ClipboardAs::Text}};
constexpr NamedValue<Errand> errand_names[] = {{"open", Errand::Open}, {"open-with", Errand::OpenWith},
                                               {"show", Errand::Show}, {"print", Errand::Print},
                                               {"mail", Errand::Mail}, {"clipboard", Errand::Clipboard}};

std::optional<NamePart> name_part(const json& entry) {
    if (!entry.is_object()) return std::nullopt;
    if (entry.contains("words") && entry["words"].is_string()) return NamePart{NamePart::Kind::Words, entry["words"]};
    if (entry.contains("date") && entry["date"].is_string()) return NamePart{NamePart::Kind::Date, entry["date"]};
    if (entry.contains("barcode") && entry["barcode"] == true) return NamePart{NamePart::Kind::Barcode, ""};
    if (entry.contains("heading") && entry["heading"].is_number_integer()) {
        const int words = entry["heading"];
        if (words >= 1 && words <= 20) return NamePart{NamePart::Kind::Heading, "", 3, words};
    }
    if (entry.contains("counter") && entry["counter"].is_number_integer()) {
        const int digits = entry["counter"];
        if (digits >= 1 && digits <= 9) return NamePart{NamePart::Kind::Counter, "", digits};
    }
    return std::nullopt;
}

json part_json(const NamePart& part) {
    switch (part.kind) {
    case NamePart::Kind::Date:
        return {{"date", part.text}};
    case NamePart::Kind::Counter:
        return {{"counter", part.digits}};
    case NamePart::Kind::Barcode:
        return {{"barcode", true}};
    case NamePart::Kind::Heading:
        return {{"heading", part.most_words}};
    case NamePart::Kind::Words:
        break;
    }
    return {{"words", part.text}};
}

}

void read_name(TicketReader& in, std::string_view key, Parts least, std::vector<NamePart>& out) {
    const json* value = in.at(key);
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
    if (least == Parts::MayBeNone && value->is_string() && value->get<std::string>().empty()) parts.clear();
    if (all_read && (least == Parts::MayBeNone || !parts.empty()))
        out = parts;
    else
        in.wrong(
            key, *value,
            "a list of {\"date\": \"yyyy-mm-dd\"}, {\"words\": …}, {\"barcode\": true}, {\"heading\": 1 to 20} and "
            "{\"counter\": 1 to 9}");
}

json name_json(const std::vector<NamePart>& parts) {
    json out = json::array();
    for (const NamePart& part : parts) out.push_back(part_json(part));
    return out;
}

namespace {

void read_errands(TicketReader& in, std::vector<Errand>& out) {
    const json* value = in.at("then.do");
    if (!value) return;
    std::vector<Errand> errands;
    std::string allowed;
    for (const auto& each : errand_names) allowed += fmt::format("{}\"{}\"", allowed.empty() ? "" : ", ", each.word);
    if (!value->is_array()) return in.wrong("then.do", *value, "a list of " + allowed);
    for (const json& entry : *value) {
        const auto* named = std::ranges::find_if(errand_names, [&](const auto& each) { return entry == each.word; });
        if (named == std::end(errand_names) || std::ranges::count(errands, named->value) > 0)
            return in.wrong("then.do", *value, "a list of " + allowed + ", each once");
        errands.push_back(named->value);
    }
    out = errands;
}

}

void read_then(TicketReader& in, Ticket::Then& then) {
    read_errands(in, then.errands);
    const auto text = [&in](std::string_view key, std::string& out) {
        const json* value = in.at(key);
        if (value && !value->is_string()) in.wrong(key, *value, "a text, which may be empty");
        if (value && value->is_string()) out = value->get<std::string>();
    };
    text("then.program", then.program);
    in.choice("then.clipboard", clipboards, then.clipboard);
    text("then.print.printer", then.print.printer);
    in.number("then.print.copies", 1, 99, then.print.copies);
    in.flag("then.print.fitted", then.print.fitted);
    in.flag("then.print.two_on_a_sheet", then.print.two_on_a_sheet);
    in.flag("then.print.both_sides", then.print.both_sides);
    in.flag("then.print.grey", then.print.grey);
    in.flag("then.print.look_first", then.print.look_first);
    in.flag("then.print.as_copy", then.print.as_copy);
    if (const json* to = in.at("then.mail.to")) {
        if (to->is_array() && std::ranges::all_of(*to, &json::is_string))
            then.mail.to = to->get<std::vector<std::string>>();
        else
            in.wrong("then.mail.to", *to, "a list of addresses such as [\"office@example.org\"], or []");
    }
    read_name(in, "then.mail.subject", Parts::MayBeNone, then.mail.subject);
    read_name(in, "then.mail.words", Parts::MayBeNone, then.mail.words);
    in.number("then.mail.limit_mb", 1, 1000, then.mail.limit_mb);
}

json then_json(const Ticket::Then& then) {
    json errands = json::array();
    for (const Errand each : then.errands) errands.push_back(word_of(errand_names, each));
    return {{"do", errands},
            {"program", then.program},
            {"clipboard", word_of(clipboards, then.clipboard)},
            {"print",
             {{"printer", then.print.printer},
              {"copies", then.print.copies},
              {"fitted", then.print.fitted},
              {"two_on_a_sheet", then.print.two_on_a_sheet},
              {"both_sides", then.print.both_sides},
              {"grey", then.print.grey},
              {"look_first", then.print.look_first},
              {"as_copy", then.print.as_copy}}},
            {"mail",
             {{"to", then.mail.to},
              {"subject", name_json(then.mail.subject)},
              {"words", name_json(then.mail.words)},
              {"limit_mb", then.mail.limit_mb}}}};
}

}
