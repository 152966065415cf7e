// Finds free names for the files of one save. Each folder is listed once, however many files go into it, so that a
// document saved as 500 files costs one listing and 500 attempts to take a name.
//
// The listing is a hint: another program, or another computer on a network share, may take a name after it was read.
// save_file() therefore still refuses a name that exists and asks for the next candidate.
//
// Not thread-safe.
#pragma once

#include "core/naming/name_part.h"

#include <chrono>
#include <filesystem>
#include <functional>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace yelvin {

class TakenNames {
  public:
    explicit TakenNames(std::chrono::year_month_day date) : date_(date) {}

    // Returns names (with the extension) for save_file() to try in the folder: of the parts, with the counter one past
    // the highest number in the folder and in this object's earlier names; or, without a counter, followed by " (2)",
    // " (3)" and so on where the name is taken. Every call of the returned function gives another name. It refers to
    // this object and must not outlive it.
    std::function<std::string(int attempt)>
    candidates(const std::filesystem::path& folder, const std::vector<NamePart>& parts, const std::string& extension);
    // The same for a name that was chosen beforehand; it is cleaned of what file systems refuse.
    std::function<std::string(int attempt)> candidates(const std::filesystem::path& folder,
                                                       const std::string& fixed_name, const std::string& extension);

    // Returns the number that candidates() would use next for these parts, without using it up.
    int next_number(const std::filesystem::path& folder, const std::vector<NamePart>& parts);

  private:
    struct Folder {
        std::set<std::string> names, stems; // as listed
        std::map<std::string, int> next;    // by name: the counter's next number, or the next attempt
    };

    std::chrono::year_month_day date_;
    std::map<std::filesystem::path, Folder> folders_;

    Folder& listed(const std::filesystem::path& folder);
    int& number_in(Folder& folder, const std::vector<NamePart>& parts) const;
};

}
