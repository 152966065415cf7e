// What a tray that was read had to do without, as a sentence.
#pragma once

#include <filesystem>
#include <string>

namespace yelvin {

struct LoadTrouble {
    bool list_damaged = false, history_lost = false;
    int missing = 0;    // pictures that are not there
    int unreadable = 0; // files that are no whole picture
    int odd = 0;        // entries that made no sense
    int found = 0;      // pages that no entry knew
};

std::string trouble_words(const LoadTrouble& trouble, const std::filesystem::path& set_aside);

}
