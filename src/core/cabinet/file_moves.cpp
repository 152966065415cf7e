#include "core/cabinet/file_moves.h"

#include <algorithm>
#include <cstdlib>

namespace fs = std::filesystem;

namespace yelvin {

bool same_quick_mark(const FileMark& a, const FileMark& b) { return a.size == b.size && a.changed_ns == b.changed_ns; }

bool is_folder(const fs::path& folder) {
    std::error_code failed;
    return fs::is_directory(folder, failed);
}

fs::path nearest_folder(const fs::path& file) {
    fs::path folder = file.parent_path();
    while (!folder.empty() && folder != folder.root_path() && !is_folder(folder)) folder = folder.parent_path();
    return folder;
}

bool lies_in(const fs::path& file, const fs::path& folder) {
    const auto [end, rest] = std::ranges::mismatch(folder, file);
    return end == folder.end();
}

namespace {

// Whether the folder contains mount points, such as network shares and removable disks, or places in the home folder
// that are mounted. If one of them is missing, its files are not necessarily deleted.
bool is_where_places_come_and_go(const fs::path& folder) {
    const char* home = std::getenv("HOME"); // NOLINT(concurrency-mt-unsafe): never set by this program
    for (const char* above : {"/media", "/mnt", "/run/media", "/net", home ? home : "/"})
        if (lies_in(above, folder)) return true; // The folder itself, or one that contains it.
    return lies_in(folder, "/media") || lies_in(folder, "/run/media");
}

}

bool may_have_moved(const fs::path& from, const fs::path& to) {
    if (is_folder(from.parent_path())) return true;
    const fs::path nearest = nearest_folder(from);
    return !is_where_places_come_and_go(nearest) && lies_in(to, nearest);
}

}
