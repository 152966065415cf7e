#include "core/tray/drawing_file.h"

#include "core/private_files.h"
#include "core/saving/safe_file.h"
#include "core/text/languages.h"

#include <fstream>
#include <sstream>

namespace yelvin {

namespace {

std::filesystem::path file_beside(const std::filesystem::path& store_folder, const Original& original,
                                  const char* what) {
    return store_folder / (original.file + what);
}

Result<void> keep(const std::filesystem::path& file, const std::string& pdf) {
    make_private_file(file);
    return replace_file(file, pdf);
}

std::string bytes_of(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    std::ostringstream bytes;
    bytes << in.rdbuf();
    return in ? bytes.str() : std::string();
}

}

Result<void> keep_drawing(const std::filesystem::path& store_folder, const Original& original, const std::string& pdf) {
    return keep(file_beside(store_folder, original, ".drawing"), pdf);
}

std::string drawing_of(const std::filesystem::path& store_folder, const Page& page, bool ink_is_automatic) {
    Recipe recipe = page.recipe;
    if (ink_is_automatic && !page.recipe_touched) recipe.ink.reset();
    const bool as_it_came = recipe == Recipe{} && with_reading_given_up(page.text) == page.text;
    const bool own = page.text.languages == std::vector<std::string>{std::string(own_words)};
    if (!as_it_came || !own || !page.pieces.empty()) return {};
    return bytes_of(file_beside(store_folder, page.original, ".drawing"));
}

Result<void> keep_pictures(const std::filesystem::path& store_folder, const Original& original,
                           const std::string& pdf) {
    return keep(file_beside(store_folder, original, ".pictures"), pdf);
}

std::string pictures_of(const std::filesystem::path& store_folder, const Page& page) {
    Recipe recipe = page.recipe;
    // The colour mode has no effect on an original with no more colours.
    if (recipe.ink && *recipe.ink <= page.original.ink) recipe.ink.reset();
    if (recipe != Recipe{} || !page.pieces.empty()) return {};
    return bytes_of(file_beside(store_folder, page.original, ".pictures"));
}

}
