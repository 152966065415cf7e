#include "core/saving/file_name.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdlib>
#include <ctime>
#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr size_t longest_name = 200; // bytes; most file systems take 255, and an extension and a number come to it

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

std::string cleaned_name(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const bool refused = static_cast<unsigned char>(c) < 0x20 || c == 0x7F ||
                             std::string_view("/\\:*?\"<>|").find(c) != std::string_view::npos;
        const char kept = refused ? ' ' : c;
        if (kept == ' ' && (out.empty() || out.back() == ' ')) continue;
        out += kept;
    }
    if (out.size() > longest_name) {
        size_t cut = longest_name;
        while (cut > 0 && (static_cast<unsigned char>(out[cut]) & 0xC0) == 0x80) --cut; // not inside a UTF-8 character
        out.resize(cut);
    }
    while (!out.empty() && (out.back() == ' ' || out.back() == '.')) out.pop_back();
    const size_t begin = out.find_first_not_of(". ");
    if (begin == std::string::npos) return "Scan";
    return out.substr(begin);
}

std::string made_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number) {
    std::string name;
    for (const NamePart& part : parts) {
        if (!name.empty() && part.kind != NamePart::Kind::Barcode) name += ' ';
        switch (part.kind) {
        case NamePart::Kind::Words:
            name += part.text;
            break;
        case NamePart::Kind::Date:
            name += date_text(part.text, date);
            break;
        case NamePart::Kind::Counter:
            name += fmt::format("{:0{}}", number, part.digits);
            break;
        case NamePart::Kind::Barcode:
            break; // there is none here
        }
    }
    return cleaned_name(name);
}

std::vector<NamePart> with_barcode(const std::vector<NamePart>& parts, const std::string& barcode) {
    std::vector<NamePart> out;
    for (const NamePart& part : parts) {
        if (part.kind != NamePart::Kind::Barcode)
            out.push_back(part);
        else if (!barcode.empty())
            out.push_back({NamePart::Kind::Words, barcode});
    }
    return out;
}

std::string numbered_name(std::string_view fixed_name, int attempt) {
    const std::string name = cleaned_name(fixed_name);
    return attempt == 0 ? name : fmt::format("{} ({})", name, attempt + 1);
}

std::string numbered_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int first_number,
                          int attempt) {
    if (has_counter(parts)) return made_name(parts, date, first_number + attempt);
    return numbered_name(made_name(parts, date, first_number), attempt);
}

int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date, const fs::path& folder) {
    std::set<std::string> taken;
    std::error_code failure;
    for (const auto& entry : fs::directory_iterator(folder, failure)) taken.insert(entry.path().stem().string());
    int number = 1;
    // Counted past the highest in use, so that a deleted file's number does not come back for another paper.
    if (!has_counter(parts)) return number;
    for (int candidate = 1, missing = 0; missing < 200 && candidate < 1000000; ++candidate) {
        if (taken.contains(made_name(parts, date, candidate))) {
            number = candidate + 1;
            missing = 0;
        } else
            ++missing;
    }
    return number;
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
