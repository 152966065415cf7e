#include "core/naming/file_name.h"

#include "core/shown_text.h"
#include "core/utf8.h"

#include <fmt/ranges.h>

#include <algorithm>
#include <charconv>
#include <cstdlib>
#include <ctime>
#include <set>
#include <sstream>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::string date_text(std::string pattern, std::chrono::year_month_day date) {
    const int year = static_cast<int>(date.year());
    const auto put = [&](std::string_view token, const std::string& text) {
        for (size_t at = pattern.find(token); at != std::string::npos; at = pattern.find(token, at + text.size()))
            pattern.replace(at, token.size(), text);
    };
    put("yyyy", fmt::format("{:04}", year));
    put("yy", fmt::format("{:02}", year % 100));
    put("mm", fmt::format("{:02}", static_cast<unsigned>(date.month())));
    put("dd", fmt::format("{:02}", static_cast<unsigned>(date.day())));
    return pattern;
}

bool has_counter(const std::vector<NamePart>& parts) {
    return std::ranges::any_of(parts, [](const NamePart& part) { return part.kind == NamePart::Kind::Counter; });
}

}

namespace {

// Removes characters that are not allowed in file names, control characters, and characters that change the direction
// of text.
std::string without_refused(std::string_view name) {
    std::string out;
    for (size_t at = 0; at < name.size();) {
        const size_t begin = at;
        const auto c = next_code_point(name, at);
        const bool refused =
            !c || steers_output(*c) || std::u32string_view(U"/\\:*?\"<>|").find(*c) != std::u32string_view::npos;
        const std::string_view kept = refused ? std::string_view(" ") : name.substr(begin, at - begin);
        if (kept == " " && (out.empty() || out.back() == ' ')) continue;
        out += kept;
    }
    return out;
}

std::string part_text(const NamePart& part, std::chrono::year_month_day date, int number) {
    switch (part.kind) {
    case NamePart::Kind::Words:
        return part.text;
    case NamePart::Kind::Date:
        return date_text(part.text, date);
    case NamePart::Kind::Counter:
        return fmt::format("{:0{}}", number, part.digits);
    default:
        return {}; // The other kinds need the document's facts.
    }
}

}

std::string cleaned_name(std::string_view name, size_t most_bytes) {
    std::string out = without_refused(name);
    out.resize(cut_to_characters(out, most_bytes).size());
    while (!out.empty() && (out.back() == ' ' || out.back() == '.')) out.pop_back();
    const size_t begin = out.find_first_not_of(". ");
    if (begin == std::string::npos) return "Scan";
    return out.substr(begin);
}

std::string make_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number) {
    std::vector<std::string> texts;
    std::vector<bool> gives_way;
    size_t bytes = 0;
    for (const NamePart& part : parts) {
        if (part.kind != NamePart::Kind::Words && part.kind != NamePart::Kind::Date &&
            part.kind != NamePart::Kind::Counter)
            continue;
        texts.push_back(without_refused(part_text(part, date, number)));
        gives_way.push_back(part.kind != NamePart::Kind::Counter);
        bytes += texts.back().size() + 1;
    }
    for (; bytes > longest_name + 1;) {
        size_t longest = texts.size();
        for (size_t i = 0; i < texts.size(); ++i) {
            if (gives_way[i] && (longest == texts.size() || texts[i].size() > texts[longest].size())) longest = i;
        }
        if (longest == texts.size() || texts[longest].empty()) break;
        const size_t before = texts[longest].size(), too_many = bytes - longest_name - 1;
        texts[longest].resize(cut_to_characters(texts[longest], before > too_many ? before - too_many : 0).size());
        bytes -= before - texts[longest].size();
    }
    return cleaned_name(fmt::format("{}", fmt::join(texts, " ")));
}

namespace {

std::string first_words(const std::string& text, int most) {
    std::istringstream words(text);
    std::string out, word;
    for (int i = 0; i < most && words >> word; ++i) out += (out.empty() ? "" : " ") + word;
    return out;
}

std::string value_of(const NamePart& part, const NameValues& values) {
    switch (part.kind) {
    case NamePart::Kind::Barcode:
        return values.barcode;
    case NamePart::Kind::Ticket:
        return values.ticket;
    case NamePart::Kind::Heading:
        return first_words(values.heading, part.most_words);
    case NamePart::Kind::Sender:
        return first_words(values.sender, part.most_words);
    case NamePart::Kind::PaperKind:
        return capitalised(values.kind);
    case NamePart::Kind::Number:
        return values.number;
    case NamePart::Kind::PaperDate:
        return values.date ? date_text(part.text, *values.date) : std::string();
    case NamePart::Kind::Words: // These kinds need no value.
    case NamePart::Kind::Date:
    case NamePart::Kind::Counter:
    case NamePart::Kind::Slash:
        break;
    }
    return {};
}

}

std::vector<NamePart> with_values(const std::vector<NamePart>& parts, const NameValues& values) {
    std::vector<NamePart> out;
    for (const NamePart& part : parts) {
        using Kind = NamePart::Kind;
        if (part.kind == Kind::Words || part.kind == Kind::Date || part.kind == Kind::Counter ||
            part.kind == Kind::Slash) {
            out.push_back(part);
        } else if (std::string text = value_of(part, values); !text.empty()) {
            out.push_back({Kind::Words, std::move(text)});
        } else if (part.if_missing == NamePart::Missing::ScanDate) {
            out.push_back({Kind::Date, part.text});
        } else if (part.if_missing == NamePart::Missing::Words) {
            out.push_back({Kind::Words, part.instead});
        }
    }
    return out;
}

fs::path folder_within(const fs::path& base, const std::vector<NamePart>& parts, const NameValues& values,
                       std::chrono::year_month_day date) {
    fs::path folder = base;
    std::vector<NamePart> level;
    const auto add = [&] {
        const std::string text = joined_parts(level, date, 1);
        if (text.find_first_not_of(" ./\\:*?\"<>|") != std::string::npos)
            folder /= cleaned_name(text, longest_file_name);
        level.clear();
    };
    for (const NamePart& part : with_values(parts, values)) {
        if (part.kind == NamePart::Kind::Slash)
            add();
        else if (part.kind != NamePart::Kind::Counter)
            level.push_back(part);
    }
    add();
    return folder;
}

std::string joined_parts(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number) {
    std::string out;
    for (const NamePart& part : parts) {
        const std::string text = part_text(part, date, number);
        if (!text.empty()) out += (out.empty() ? "" : " ") + text;
    }
    return out;
}

std::string numbered_name(std::string_view fixed_name, int attempt) {
    if (attempt == 0) return cleaned_name(fixed_name);
    const std::string number = fmt::format(" ({})", attempt + 1);
    return cleaned_name(fixed_name, longest_name - number.size()) + number;
}

std::string numbered_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int first_number,
                          int attempt) {
    if (has_counter(parts)) return make_name(parts, date, first_number + attempt);
    return numbered_name(make_name(parts, date, first_number), attempt);
}

namespace {

// Returns the numbers that are separate words in a name, as make_name() places a counter.
std::vector<int> numbers_in(std::string_view name, int least_digits) {
    constexpr size_t most_digits = 9; // fits an int; longer numbers are not counters
    std::vector<int> numbers;
    for (size_t begin = 0; begin < name.size();) {
        const size_t end = std::min(name.find(' ', begin), name.size());
        const std::string_view word = name.substr(begin, end - begin);
        begin = end + 1;
        int number = 0;
        const auto [stop, wrong] = std::from_chars(word.data(), word.data() + word.size(), number);
        const bool whole = wrong == std::errc() && stop == word.data() + word.size() && word.front() != '-';
        if (whole && word.size() <= most_digits && word.size() >= static_cast<size_t>(least_digits))
            numbers.push_back(number);
    }
    return numbers;
}

}

int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date, const fs::path& folder) {
    return next_number(parts, date, stems_in(folder));
}

int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::set<std::string>& taken) {
    const auto counter = std::ranges::find(parts, NamePart::Kind::Counter, &NamePart::kind);
    if (counter == parts.end()) return 1;
    int highest = 0;
    for (const std::string& name : taken)
        for (const int number : numbers_in(name, counter->digits))
            if (number > highest && make_name(parts, date, number) == name) highest = number;
    return highest + 1;
}

std::set<std::string> stems_in(const fs::path& folder) {
    std::set<std::string> names;
    std::error_code failure;
    for (fs::directory_iterator at(folder, failure), end; !failure && at != end; at.increment(failure))
        names.insert(at->path().stem().string());
    return names;
}

std::chrono::year_month_day today() {
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    return std::chrono::year(local.tm_year + 1900) / std::chrono::month(static_cast<unsigned>(local.tm_mon + 1)) /
           std::chrono::day(static_cast<unsigned>(local.tm_mday));
}

fs::path expanded_folder(const std::string& folder) {
    if (folder == "~" || folder.starts_with("~/")) {
        const char* home = std::getenv("HOME"); // NOLINT(concurrency-mt-unsafe): never set by this program
        return fs::path(home ? home : "/") / (folder.size() > 2 ? folder.substr(2) : "");
    }
    return folder;
}

}
