// File names from the parts a person chose.
#pragma once

#include "core/ticket/ticket.h"

#include <chrono>
#include <filesystem>
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

// The first number whose finished name, with any of our extensions, is free in the folder: one past the highest there.
int next_number(const std::vector<NamePart>& parts, std::chrono::year_month_day date,
                const std::filesystem::path& folder);

// The parts with a barcode's place filled by its text; without one the place goes.
std::vector<NamePart> with_barcode(const std::vector<NamePart>& parts, const std::string& barcode);

// The parts with the heading in its place, cut to its words; without one the place goes.
std::vector<NamePart> with_heading(const std::vector<NamePart>& parts, const std::string& heading);
bool has_heading(const std::vector<NamePart>& parts);

// The parts with spaces between them and every character that they have: for what is no file name.
std::string joined_parts(const std::vector<NamePart>& parts, std::chrono::year_month_day date, int number);

std::chrono::year_month_day today(); // in local time

std::filesystem::path expanded_folder(const std::string& folder); // a leading ~ is the home folder

}
