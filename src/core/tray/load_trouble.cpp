#include "core/tray/load_trouble.h"

#include <fmt/ranges.h>

#include <vector>

namespace yelvin {

namespace {

std::string counted(int count, const char* one, const char* several) {
    return fmt::format(fmt::runtime(count == 1 ? one : several), count);
}

}

std::string trouble_words(const LoadTrouble& trouble, const std::filesystem::path& set_aside) {
    std::vector<std::string> what;
    if (trouble.list_damaged) what.emplace_back("the list was damaged");
    if (trouble.missing > 0)
        what.push_back(counted(trouble.missing, "{} picture is missing", "{} pictures are missing"));
    if (trouble.unreadable > 0)
        what.push_back(counted(trouble.unreadable, "{} file is incomplete", "{} files are incomplete"));
    if (trouble.odd > 0) what.push_back(counted(trouble.odd, "{} entry was invalid", "{} entries were invalid"));
    if (trouble.history_lost) what.emplace_back("earlier steps can no longer be undone");
    if (trouble.found > 0)
        what.push_back(counted(trouble.found, "{} page was found again and lies at the end",
                               "{} pages were found again and lie at the end"));
    return fmt::format(
        "Part of the out tray could not be read: {}. Nothing was deleted; what could not be read was moved to {}.",
        fmt::join(what, ", "), set_aside.string());
}

}
