#include "core/tray/drawing_file.h"

#include "core/private_files.h"
#include "core/reading/languages.h"
#include "core/saving/safe_file.h"

#include <fstream>
#include <sstream>

namespace yelvin {

namespace {
std::filesystem::path drawing_file(const std::filesystem::path& store_folder, const Original& original) {
    return store_folder / (original.file + ".drawing");
}
}

Result<void> keep_drawing(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf) {
    const std::filesystem::path file = drawing_file(store_folder, original);
    make_private_file(file);
    return replace_file(file, pdf);
}

std::string drawing_of(const std::filesystem::path& store_folder, const Page& page, bool ink_is_automatic) {
    Recipe recipe = page.recipe;
    if (ink_is_automatic && !page.recipe_touched) recipe.ink.reset();
    const bool as_it_came = recipe == Recipe{} && with_reading_given_up(page.text) == page.text;
    const bool own = page.text.languages == std::vector<std::string>{std::string(own_words)};
    if (!as_it_came || !own || !page.pieces.empty()) return {};
    std::ifstream in(drawing_file(store_folder, page.original), std::ios::binary);
    std::ostringstream bytes;
    bytes << in.rdbuf();
    return in ? bytes.str() : std::string();
}

}
