// One choice of a ticket as it is typed on the command line: key=value.
#include "core/json_text.h"
#include "core/ticket/ticket_json.h"

#include <fmt/format.h>

#include <algorithm>

using nlohmann::json;

namespace yelvin {

namespace {
bool is_text(std::string_view bytes) {
    try {
        return !json(std::string(bytes)).dump().empty();
    } catch (const json::exception&) {
        return false;
    }
}

// Languages without JSON: eng, eng+deu, eng,deu.
json named_languages(const std::string& text) {
    json names = json::array();
    size_t from = 0;
    while (from <= text.size()) {
        const size_t to = std::min(text.find_first_of("+,", from), text.size());
        names.push_back(text.substr(from, to - from));
        from = to + 1;
    }
    return names;
}
}

Result<Ticket> with_setting(const Ticket& ticket, std::string_view assignment) {
    const size_t equals = assignment.find('=');
    if (equals == std::string_view::npos || equals == 0 ||
        assignment.substr(0, equals).find_first_of("/~") != std::string_view::npos) {
        return fail(ErrorKind::Usage,
                    fmt::format("\"{}\" is not of the form key=value, such as how.dpi=200.", assignment));
    }
    const std::string_view key = assignment.substr(0, equals), text = assignment.substr(equals + 1);
    if (!is_text(assignment)) return fail(ErrorKind::Usage, "The value of --set is not UTF-8 text; type it again.");
    json value = json_from_text(text).value_or(json(std::string(text)));
    if (key == "read.languages" && value.is_string()) value = named_languages(value.get<std::string>());
    json whole = ticket_to_json(ticket);
    if (!ticket.dpi_given && !ticket.how.dpi_auto)
        whole["how"].erase("dpi"); // so that only a dpi that somebody gave counts as given
    std::string pointer = fmt::format("/{}", key);
    std::ranges::replace(pointer, '.', '/');
    try {
        const json::json_pointer at(pointer);
        constexpr std::string_view adjust = "pages.adjust.";
        const bool correction = key.starts_with(adjust) && (find_adjust_field(key.substr(adjust.size())) ||
                                                            key.substr(adjust.size()) == "drop_colour");
        if (!correction && !ticket_to_json(Ticket{}).contains(at)) {
            return fail(
                ErrorKind::Usage,
                fmt::format("The ticket has no key \"{}\"; the description of the ticket file lists the keys.", key));
        }
        whole[at] = std::move(value);
    } catch (const json::exception&) {
        return fail(ErrorKind::Usage, fmt::format("The ticket has no key \"{}\".", key));
    }
    return ticket_from_json(whole);
}

}
