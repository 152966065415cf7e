#include "core/cabinet/results_list.h"

#include "core/csv.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

namespace yelvin {

std::string line_words(const SearchResult& found) {
    std::string line;
    for (const ExcerptWord& word : found.line) {
        if (!line.empty()) line += ' ';
        line += word.text;
    }
    return line;
}

namespace {

std::string place_words(Place place) {
    switch (place) {
    case Place::Gone:
        return "gone";
    case Place::Away:
        return "its folder is not there";
    case Place::Here:
        break;
    }
    return "here";
}

std::string day_of(std::chrono::sys_seconds time) {
    return fmt::format("{:%Y-%m-%d}", fmt::gmtime(std::chrono::system_clock::to_time_t(time)));
}

}

std::string results_as_csv(std::span<const SearchResult> papers) {
    const std::string head[] = {"name", "folder", "file is", "saved", "pages",  "found on page", "sender",
                                "kind", "number", "heading", "dated", "ticket", "words"};
    std::string out = csv_line(head);
    for (const SearchResult& each : papers) {
        // All members are named, so that a new one does not compile without a decision about it here.
        const auto& [file, ticket, saved, known, mark, place, text_state, taken_from, document] =
            static_cast<const PaperFile&>(each.paper);
        const auto& [sender, kind, number, heading, date] = known;
        const std::string fields[] = {file.filename().string(),
                                      file.parent_path().string(),
                                      place_words(place),
                                      day_of(saved),
                                      std::to_string(each.paper.pages),
                                      std::to_string(each.page + 1),
                                      sender,
                                      kind,
                                      number,
                                      heading,
                                      date,
                                      ticket,
                                      line_words(each)};
        out += csv_line(fields);
    }
    return out;
}

}
