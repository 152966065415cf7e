// File names made of the parts that a ticket names. Except where it says so, these are pure functions.
#pragma once

#include "core/naming/name_part.h"

#include <chrono>
#include <filesystem>
#include <optional>
#include <set>
#include <string>

namespace yelvin {

// The most bytes of a file name (POSIX NAME_MAX on common file systems), and of a name without its number and an
// extension of up to six characters.
inline constexpr size_t longest_file_name = 255;
inline constexpr size_t longest_name = longest_file_name - 7;

// Returns a name without its extension: the parts joined by spaces, with `number` as the counter. The name is cleaned
// (see cleaned_name()), never empty, and at most longest_name bytes long: if it is too long, its words are shortened,
// the longest first, but never the counter.
std::string make_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number);
// Removes the characters that file systems or other computers refuse (/ \ : * ? " < > |, control characters, dots and
// spaces at the ends), or replaces them by spaces, and cuts the name to `most_bytes` at the end of a character.
std::string cleaned_name(std::string_view name, size_t most_bytes = longest_name);

// Returns the name for the given attempt, from 0. A counter continues from `first_number`; a name without a counter
// gets " (2)", " (3)" and so on from attempt 1 on.
std::string numbered_name(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int first_number,
                          int attempt);
std::string numbered_name(std::string_view fixed_name, int attempt);

// Returns one past the highest number that a file in the folder has under a name made of these parts, whatever its
// extension and whatever numbers are missing below it: the number of a deleted file is not used again.
// Returns 1 if the parts have no counter, if no such file exists, or if the folder cannot be read. Lists the folder
// once; blocks as long as its file system takes.
int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::filesystem::path& folder);
// Returns the same for a folder that was listed before; `taken` holds the names in it without their extensions.
int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::set<std::string>& taken);

// Lists the names in a folder, without their extensions; empty if the folder cannot be read.
std::set<std::string> stems_in(const std::filesystem::path& folder);

// The values of the parts that are read on the page or known of the document. Empty ones are not known.
struct NameValues {
    std::string barcode, ticket, heading, sender, kind, number;
    std::optional<std::chrono::year_month_day> date = {}; // written on the page
    bool operator==(const NameValues&) const = default;
};

// Returns the parts with words in place of every part except the date of scanning, counters and slashes.
std::vector<NamePart> with_values(const std::vector<NamePart>& parts, const NameValues& values);

// Returns the subfolder of `base` that the parts name; a Slash separates folders. Each folder's name is cleaned and cut
// like a file's. Folders without a name are left out, and so are counters.
std::filesystem::path folder_within(const std::filesystem::path& base, const std::vector<NamePart>& parts,
                                    const NameValues& values, std::chrono::year_month_day date);

// Joins the parts with spaces without cleaning the result, for texts that are not file names.
std::string joined_parts(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number);

std::chrono::year_month_day today(); // in local time

// Replaces a leading ~ by the home folder.
std::filesystem::path expanded_folder(const std::string& folder);

}
