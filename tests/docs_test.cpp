// The documents: their links lead to something, and their lines can be read in any editor.
#include "support/support.h"

#include <regex>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

const fs::path root = fs::path(YELVIN_SOURCES).parent_path();

std::vector<fs::path> documents() {
    std::vector<fs::path> found;
    for (const fs::directory_entry& each : fs::directory_iterator(root))
        if (each.path().extension() == ".md") found.push_back(each.path());
    for (const fs::directory_entry& each : fs::recursive_directory_iterator(root / "docs"))
        if (each.path().extension() == ".md") found.push_back(each.path());
    EXPECT_GT(found.size(), 20U);
    return found;
}

TEST(Documents, LinksLeadToFilesThatExist) {
    static const std::regex link(R"re(\]\(([^)#:]+)(#[^)]*)?\))re");
    size_t links = 0;
    for (const fs::path& document : documents()) {
        const std::string text = read_file(document);
        for (std::sregex_iterator at(text.begin(), text.end(), link), end; at != end; ++at, ++links)
            EXPECT_TRUE(fs::exists(document.parent_path() / (*at)[1].str())) << document << ": " << (*at)[1].str();
    }
    EXPECT_GT(links, 60U);
}

// Names of source files in backquotes, such as `core/tray/originals.h`.
TEST(Documents, FilesThatTheyNameExist) {
    static const std::regex named(R"re(`((?:core|jobs|devices|app|batch)/[a-z_/]+\.(?:h|cpp))`)re");
    size_t names = 0;
    for (const fs::path& document : documents()) {
        const std::string text = read_file(document);
        for (std::sregex_iterator at(text.begin(), text.end(), named), end; at != end; ++at, ++names)
            EXPECT_TRUE(fs::exists(fs::path(YELVIN_SOURCES) / (*at)[1].str())) << document << ": " << (*at)[1].str();
    }
    EXPECT_GT(names, 30U);
}

// Names from the code in backquotes, such as `part_keys` or `value_of()`, in the page about common changes.
TEST(Documents, TheStepsOfAChangeNameThingsThatExist) {
    static const std::regex named(R"re(`([A-Za-z_:]+)(?:\(\))?`)re");
    std::string code;
    for (const fs::directory_entry& each : fs::recursive_directory_iterator(YELVIN_SOURCES))
        if (each.path().extension() == ".cpp" || each.path().extension() == ".h") code += read_file(each.path());
    const std::string text = read_file(root / "docs/changing.md");
    size_t names = 0;
    for (std::sregex_iterator at(text.begin(), text.end(), named), end; at != end; ++at, ++names) {
        const std::string name = (*at)[1].str();
        const auto last = name.rfind("::");
        EXPECT_NE(code.find(last == std::string::npos ? name : name.substr(last + 2)), std::string::npos) << name;
    }
    EXPECT_GT(names, 20U);
}

TEST(Documents, LinesAreShort) {
    constexpr size_t most = 120; // characters; rows of tables cannot be broken
    for (const fs::path& document : documents()) {
        std::istringstream text(read_file(document));
        int number = 0;
        for (std::string line; std::getline(text, line);) {
            ++number;
            const auto characters = std::ranges::count_if(line, [](char c) { return (c & 0xC0) != 0x80; });
            EXPECT_TRUE(line.starts_with('|') || static_cast<size_t>(characters) <= most) << document << ":" << number;
        }
    }
}

}
}
