// The parts of names, and the actions after saving, in the ticket's file.
#include "core/mail_address.h"
#include "core/ticket/ticket_reader.h"

using nlohmann::json;

namespace yelvin {

namespace {

constexpr NamedValue<ClipboardAs> clipboards[] = {
    {"file", ClipboardAs::File}, {"picture", ClipboardAs::Picture}, {"text", ClipboardAs::Text}};
constexpr NamedValue<Errand> errand_names[] = {
    {"open", Errand::Open}, {"open-with", Errand::OpenWith},  {"show", Errand::Show}, {"print", Errand::Print},
    {"mail", Errand::Mail}, {"clipboard", Errand::Clipboard}, {"send", Errand::Send}};
static_assert(has_each(errand_names, &NamedValue<Errand>::value), "every action needs its word in the ticket's file");

// How each part is written: its key, and the meaning of its value.
enum class PartValue { Text, WordCount, DigitCount, Yes };
struct PartKey {
    NamePart::Kind kind;
    const char* key;
    PartValue value;
};
constexpr PartKey part_keys[] = {{NamePart::Kind::Words, "words", PartValue::Text},
                                 {NamePart::Kind::Date, "date", PartValue::Text},
                                 {NamePart::Kind::PaperDate, "paper_date", PartValue::Text},
                                 {NamePart::Kind::Counter, "counter", PartValue::DigitCount},
                                 {NamePart::Kind::Heading, "heading", PartValue::WordCount},
                                 {NamePart::Kind::Sender, "sender", PartValue::WordCount},
                                 {NamePart::Kind::PaperKind, "kind", PartValue::Yes},
                                 {NamePart::Kind::Number, "number", PartValue::Yes},
                                 {NamePart::Kind::Barcode, "barcode", PartValue::Yes},
                                 {NamePart::Kind::Ticket, "ticket", PartValue::Yes},
                                 {NamePart::Kind::Slash, "slash", PartValue::Yes}};
static_assert(has_each(part_keys, &PartKey::kind), "every kind of part needs its key");

bool has_else(NamePart::Kind kind) { return is_read_on_paper(kind) || kind == NamePart::Kind::Barcode; }

// "else": text, or {"scan_date": true} for a date; false: neither.
bool read_else(const json& entry, NamePart& part) {
    if (!entry.contains("else")) return true;
    const json& instead = entry["else"];
    if (!has_else(part.kind)) return false;
    if (instead.is_string()) {
        part.if_missing = instead.get<std::string>().empty() ? NamePart::Missing::Goes : NamePart::Missing::Words;
        part.instead = instead.get<std::string>();
        return true;
    }
    part.if_missing = NamePart::Missing::ScanDate;
    return part.kind == NamePart::Kind::PaperDate && instead.is_object() && instead.value("scan_date", json()) == true;
}

std::optional<NamePart> name_part(const json& entry) {
    if (!entry.is_object()) return std::nullopt;
    for (const PartKey& each : part_keys) {
        if (!entry.contains(each.key)) continue;
        const json& value = entry[each.key];
        NamePart part{each.kind, ""};
        const auto is_count = [&](int most) {
            return value.is_number_integer() && value.get<int>() >= 1 && value.get<int>() <= most;
        };
        switch (each.value) {
        case PartValue::Text:
            if (!value.is_string()) return std::nullopt;
            part.text = value;
            break;
        case PartValue::WordCount:
            if (!is_count(20)) return std::nullopt;
            part.most_words = value;
            break;
        case PartValue::DigitCount:
            if (!is_count(9)) return std::nullopt;
            part.digits = value;
            break;
        case PartValue::Yes:
            if (value != true) return std::nullopt;
            break;
        }
        return read_else(entry, part) ? std::optional(part) : std::nullopt;
    }
    return std::nullopt;
}

json part_json(const NamePart& part) {
    json out = json::object();
    for (const PartKey& each : part_keys) {
        if (each.kind != part.kind) continue;
        out[each.key] = each.value == PartValue::Text         ? json(part.text)
                        : each.value == PartValue::WordCount  ? json(part.most_words)
                        : each.value == PartValue::DigitCount ? json(part.digits)
                                                              : json(true);
    }
    if (part.if_missing == NamePart::Missing::Words) out["else"] = part.instead;
    if (part.if_missing == NamePart::Missing::ScanDate) out["else"] = {{"scan_date", true}};
    return out;
}

}

void read_name(TicketReader& in, std::string_view key, Parts least, std::vector<NamePart>& out) {
    const json* value = in.at(key);
    if (!value) return;
    std::vector<NamePart> parts;
    if (value->is_array()) {
        for (const json& entry : *value) {
            const auto part = name_part(entry);
            if (part && (least == Parts::Folders || part->kind != NamePart::Kind::Slash)) parts.push_back(*part);
        }
    } else if (value->is_string()) {
        parts = {{NamePart::Kind::Words, *value}};
    }
    const bool may_be_none = least != Parts::Some;
    const bool all_read = value->is_string() || (value->is_array() && parts.size() == value->size());
    if (may_be_none && value->is_string() && value->get<std::string>().empty()) parts.clear();
    if (all_read && (may_be_none || !parts.empty()))
        out = parts;
    else
        in.wrong(key, *value,
                 std::string("a list of {\"date\": \"yyyy-mm-dd\"}, {\"paper_date\": \"yyyy-mm-dd\"}, {\"words\": …}, "
                             "{\"heading\": 1 to 20}, {\"sender\": 1 to 20}, {\"kind\": true}, {\"number\": true}, "
                             "{\"barcode\": true}, {\"ticket\": true}") +
                     (least == Parts::Folders ? ", {\"slash\": true}" : "") + " and {\"counter\": 1 to 9}");
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
        const bool texts = to->is_array() && std::ranges::all_of(*to, &json::is_string);
        const auto addresses = texts ? to->get<std::vector<std::string>>() : std::vector<std::string>{};
        if (texts && check_addresses(addresses))
            then.mail.to = addresses;
        else
            in.wrong("then.mail.to", *to, "a list of addresses such as [\"office@example.org\"], or []");
    }
    read_name(in, "then.mail.subject", Parts::MayBeNone, then.mail.subject);
    read_name(in, "then.mail.words", Parts::MayBeNone, then.mail.words);
    in.number("then.mail.limit_mb", 1, 1000, then.mail.limit_mb);
    text("then.send.server", then.send.server);
    text("then.send.address", then.send.address);
    read_name(in, "then.send.folder", Parts::Folders, then.send.folder);
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
              {"limit_mb", then.mail.limit_mb}}},
            {"send",
             {{"server", then.send.server}, {"address", then.send.address}, {"folder", name_json(then.send.folder)}}}};
}

}
