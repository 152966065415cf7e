#include "core/storage/set_aside.h"

#include "core/private_files.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <cstring>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

std::unexpected<Error> not_set_aside(const fs::path& what, const std::string& why) {
    return fail(ErrorKind::NotWritable, fmt::format("{} cannot be read and could not be moved aside: {}. It was not "
                                                    "changed; check the disk and your permission for its folder.",
                                                    what.string(), why));
}

bool is_there(const fs::path& file) {
    std::error_code failure;
    return fs::exists(fs::symlink_status(file, failure));
}

fs::path free_name(const fs::path& wanted) {
    if (!is_there(wanted)) return wanted;
    int number = 2;
    const auto numbered = [&] {
        return wanted.parent_path() /
               fmt::format("{} ({}){}", wanted.stem().string(), number, wanted.extension().string());
    };
    while (is_there(numbered())) ++number;
    return numbered();
}

}

Result<fs::path> new_set_aside_folder(const fs::path& store_folder) {
    const fs::path all = store_folder.parent_path() / (store_folder.filename().string() + " set aside");
    const std::time_t now = std::time(nullptr);
    std::tm local{};
    localtime_r(&now, &local);
    const fs::path folder = free_name(all / fmt::format("{:%Y-%m-%d %H-%M-%S}", local));
    if (const std::error_code failure = make_private_folder(folder))
        return not_set_aside(store_folder, failure.message());
    return folder;
}

Result<void> move_aside(const fs::path& what, const fs::path& into, FileSteps& steps) {
    if (!is_there(what)) return {};
    if (const int code = steps.rename(what, free_name(into / what.filename())))
        return not_set_aside(what, std::strerror(code)); // NOLINT(concurrency-mt-unsafe)
    return {};
}

Result<void> copy_aside(const fs::path& file, const fs::path& into, FileSteps& steps) {
    if (!is_there(file)) return {};
    std::error_code failure;
    const fs::path copy = free_name(into / file.filename());
    make_private_file(copy);
    fs::copy_file(file, copy, fs::copy_options::overwrite_existing, failure);
    if (failure) return not_set_aside(file, failure.message());
    steps.sync(copy);
    return {};
}

}
