// What could not be read when the tray was loaded, and the sentence about it. A value and a pure function.
#pragma once

#include <filesystem>
#include <string>

namespace yelvin {

struct LoadTrouble {
    bool list_damaged = false, history_lost = false;
    int missing = 0;    // originals that do not exist
    int unreadable = 0; // files that are not complete pictures
    int odd = 0;        // rows that are invalid
    int found = 0;      // originals that had no row
};

// Returns one sentence for the user; empty if everything could be read. `set_aside` is the folder that holds what could
// not; it may be empty.
std::string trouble_words(const LoadTrouble& trouble, const std::filesystem::path& set_aside);

}
