#include "app/models/saving/copies_folder.h"

#include "core/private_files.h"

#include <fmt/format.h>

#include <chrono>
#include <cstdlib>

namespace yelvin {

namespace {
constexpr std::chrono::hours kept_for{7 * 24};
constexpr std::string_view begins = "copies-"; // Only folders with this prefix are ever removed.
}

Result<std::filesystem::path> new_copies_folder(const std::filesystem::path& among) {
    make_private_folder(among); // If this fails, mkdtemp() below reports it.
    std::string name = (among / begins).string() + "XXXXXX";
    if (!::mkdtemp(name.data()))
        return fail(
            ErrorKind::NotWritable,
            fmt::format("You cannot save files in {}; check its free space and your permission.", among.string()));
    return name;
}

void forget_old_copies(const std::filesystem::path& among) {
    namespace fs = std::filesystem;
    std::error_code trouble;
    const auto now = fs::file_time_type::clock::now();
    for (const auto& each : fs::directory_iterator(among, trouble)) {
        std::error_code ignored;
        const bool ours = each.is_directory(ignored) && each.path().filename().string().starts_with(begins);
        if (ours && now - each.last_write_time(ignored) > kept_for) fs::remove_all(each.path(), ignored);
    }
}

}
