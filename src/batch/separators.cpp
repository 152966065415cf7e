#include "batch/batch.h"
#include "core/naming/file_name.h"
#include "core/output/separator_sheet.h"
#include "core/saving/safe_file.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace fs = std::filesystem;

namespace yelvin {

int run_separators(const fs::path& file, const std::vector<std::string>& texts) {
    const auto folder = file.has_parent_path() ? file.parent_path() : fs::path(".");
    if (auto checked = check_folder(folder); !checked) {
        complain(checked.error());
        return 1;
    }
    const auto saved = save_file(
        folder, [&](int attempt) { return numbered_name(file.stem().string(), attempt) + ".pdf"; },
        [&](const fs::path& growing) {
            return write_separator_sheets(growing, texts.empty() ? std::vector<std::string>{""} : texts);
        });
    if (!saved) {
        complain(saved.error());
        return exit_status(saved.error());
    }
    print({{"path", saved->path.string()},
           {"format", "pdf"},
           {"pages", std::max<size_t>(1, texts.size())},
           {"bytes", saved->bytes}});
    return 0;
}

}
