// File names from the parts a person chose.
#pragma once

#include "core/ticket/ticket.h"

#include <chrono>
#include <filesystem>
#include <optional>
#include <set>
#include <string>

namespace yelvin {

// The most bytes a name may have, with its number and an extension of up to six characters: what file systems take.
inline constexpr size_t longest_file_name = 255;
inline constexpr size_t longest_name = longest_file_name - 7;

// The name without its extension: the parts with spaces between them. `number` fills the counter. Characters that file
// systems or colleagues' computers refuse (/ \ : * ? " < > |, control characters, dots and spaces at the ends) become
// spaces or go; a name is never empty and at most longest_name bytes long: its words give way, the longest first and by
// whole characters, never its counter.
std::string made_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number);
std::string cleaned_name(std::string_view name, size_t most_bytes = longest_name);

// The name as numbered `attempt` (from 0): a counter counts on from `first_number`; a name without one gets " (2)", "
// (3)", …
std::string numbered_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int first_number,
                          int attempt);
std::string numbered_name(std::string_view fixed_name, int attempt);

// Returns one past the highest number that a file in the folder has under a name made of these parts, whatever its
// extension and whatever numbers are missing below it: the number of a deleted file is not given to another paper.
// Returns 1 if the parts have no counter, if no such file exists, or if the folder cannot be read. Lists the folder
// once; blocks as long as its file system takes.
int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::filesystem::path& folder);
// The same for a folder that was listed before; `taken` holds the names in it without their extensions.
int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::set<std::string>& taken);

// Lists the names in a folder, without their extensions; empty if the folder cannot be read.
std::set<std::string> stems_in(const std::filesystem::path& folder);

// What is known of a document beside its numbers; what is empty is not known.
struct NameValues {
    std::string barcode, ticket, heading, sender, kind, number;
    std::optional<std::chrono::year_month_day> date = {}; // on the paper
    bool operator==(const NameValues&) const = default;
};

// The parts with everything in its place that is not a date of scanning, a counter or a slash.
std::vector<NamePart> with_values(const std::vector<NamePart>& parts, const NameValues& values);

// The folder within `base` that the parts make, those between slashes one each: cleaned like names, none longer. What
// has no name is left out, and so are counters.
std::filesystem::path folder_within(const std::filesystem::path& base, const std::vector<NamePart>& parts,
                                    const NameValues& values, std::chrono::year_month_day date);

// The parts with spaces between them and every character that they have: for what is no file name.
std::string joined_parts(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number);

std::chrono::year_month_day today(); // in local time

std::filesystem::path expanded_folder(const std::string& folder); // a leading ~ is the home folder

}
