// The dependency rules, read from the sources: which folder may include which.
#include "support/support.h"

#include <algorithm>
#include <fstream>
#include <optional>
#include <regex>
#include <set>

namespace fs = std::filesystem;

namespace yelvin::test {
namespace {

struct Include {
    std::string in, what;
};

std::vector<Include> includes_under(const std::string& folder) {
    static const std::regex pattern(R"re(^\s*#\s*include\s*[<"]([^>"]+)[>"])re");
    std::vector<Include> found;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(YELVIN_SOURCES) / folder)) {
        const auto extension = entry.path().extension();
        if (extension != ".cpp" && extension != ".h") continue;
        std::ifstream in(entry.path());
        for (std::string line; std::getline(in, line);) {
            std::smatch match;
            if (std::regex_search(line, match, pattern))
                found.push_back({fs::relative(entry.path(), YELVIN_SOURCES).string(), match[1].str()});
        }
    }
    EXPECT_GT(found.size(), 5U) << folder << " was not found";
    return found;
}

bool is_qt(const std::string& header) {
    return header.size() > 1 && header[0] == 'Q' && std::isupper(static_cast<unsigned char>(header[1]));
}

TEST(Architecture, TheCoreUsesNoWindowsNoDevicesAndNoThreads) {
    for (const auto& [in, what] : includes_under("core")) {
        EXPECT_FALSE(is_qt(what)) << in << " includes " << what;
        for (const char* foreign : {"app/", "devices/", "jobs/", "batch/", "thread", "future", "tbb/"})
            EXPECT_FALSE(what.starts_with(foreign)) << in << " includes " << what;
    }
}

TEST(Architecture, DevicesUseOnlyRastersAndTheScannerInterface) {
    for (const auto& [in, what] : includes_under("devices")) {
        EXPECT_FALSE(is_qt(what)) << in << " includes " << what;
        const bool core = what.starts_with("core/");
        EXPECT_TRUE(!core || what.starts_with("core/raster/") || what.starts_with("core/scanner/") ||
                    what == "core/error.h")
            << in << " includes " << what;
        EXPECT_FALSE(what.starts_with("app/") || what.starts_with("jobs/") || what.starts_with("batch/"))
            << in << " includes " << what;
    }
}

// Checks that sources include headers of folders above their own only: `folders` lists them from the top. Each folder
// of `root` must be in the list, so that a new one gets its place.
void expect_order(const std::string& root, const std::vector<std::string>& folders) {
    const auto place_of = [&](const std::string& path) {
        const std::string folder = fs::path(path).parent_path().string();
        const auto at = std::ranges::find(folders, folder == root ? "" : folder.substr(root.size() + 1));
        EXPECT_NE(at, folders.end()) << folder << " has no place in the order of " << root;
        return at - folders.begin();
    };
    for (const auto& [in, what] : includes_under(root)) {
        if (!what.starts_with(root + "/")) continue;
        EXPECT_LE(place_of(what), place_of(in)) << in << " includes " << what;
    }
}

// The same order as in docs/architecture.md.
TEST(Architecture, FoldersOfTheCoreUseOnlyThoseAboveThem) {
    expect_order("core", {"",        "raster", "jbig2",  "saving", "storage",     "scanner", "developing",
                          "seeing",  "stitch", "text",   "ocr",    "paper_facts", "naming",  "ticket",
                          "errands", "tray",   "output", "strip",  "cabinet",     "sending"});
}

TEST(Architecture, FoldersOfTheModelsUseOnlyThoseAboveThem) {
    expect_order("app/models", {"", "threads", "window", "tickets", "tray", "text", "naming", "cabinet", "saving",
                                "sending", "scanning", "errands"});
}

// Files that are in app itself have no place: they are used everywhere (keys.h) or put everything together (desk.h).
TEST(Architecture, FoldersOfTheWindowUseOnlyThoseAboveThem) {
    const std::vector<std::string> folders{"models",  "theme",     "secrets", "bench", "errands", "sending",
                                           "cabinet", "ticketbar", "glass",   "run",   "strip",   "tray",
                                           "page",    "stitch",    "noticed", "text",  "window",  "shots"};
    const auto place_of = [&](const std::string& path) -> std::optional<std::ptrdiff_t> {
        const fs::path inside = fs::path(path).lexically_relative("app");
        if (!inside.has_parent_path()) return std::nullopt;
        const auto at = std::ranges::find(folders, inside.begin()->string());
        EXPECT_NE(at, folders.end()) << path << " has no place in the order of app";
        return at - folders.begin();
    };
    for (const auto& [in, what] : includes_under("app")) {
        if (!what.starts_with("app/")) continue;
        const auto user = place_of(in), used = place_of(what);
        if (user && used) {
            EXPECT_LE(*used, *user) << in << " includes " << what;
        }
    }
}

TEST(Architecture, JobsUseOnlyTheCore) {
    for (const auto& [in, what] : includes_under("jobs"))
        EXPECT_FALSE(is_qt(what) || what.starts_with("app/") || what.starts_with("batch/") ||
                     what.starts_with("devices/"))
            << in << " includes " << what;
}

TEST(Architecture, TheBatchHasNoWindow) {
    for (const auto& [in, what] : includes_under("batch"))
        EXPECT_FALSE(is_qt(what) || what.starts_with("app/")) << in << " includes " << what;
}

// A model holds values; how they look is up to the widgets, which are told what to show.
TEST(Architecture, ModelsUseNoWidgets) {
    for (const auto& [in, what] : includes_under("app/models"))
        EXPECT_TRUE(!what.starts_with("app/") || what.starts_with("app/models/")) << in << " includes " << what;
}

// Tickets are about the next scan; DocumentTickets decides what happens to documents that exist.
TEST(Architecture, OnlyListedFilesUseTheCurrentTicket) {
    const std::set<std::string> of_the_next_scan{"document_names.cpp",   "document_tickets.cpp", "glass.cpp",
                                                 "going_back.cpp",       "incoming.cpp",         "looking.cpp",
                                                 "next_scan.cpp",        "page_edits.cpp",       "room_for_run.cpp",
                                                 "scanning.cpp",         "strip_model.cpp",      "tickets.cpp",
                                                 "tickets_accepting.cpp"};
    for (const char* folder : {"app/models", "app/tray", "app/text", "app/page", "app/noticed", "app/cabinet"})
        for (const auto& [in, what] : includes_under(folder)) {
            if (what != "app/models/tickets/tickets.h") continue;
            EXPECT_TRUE(of_the_next_scan.contains(fs::path(in).filename().string())) << in;
        }
}

TEST(Architecture, NoWidgetUsesTheDesk) {
    for (const auto& [in, what] : includes_under("app")) {
        const bool puts_together = in == "app/main.cpp" || in == "app/demo.cpp" || in == "app/demo.h" ||
                                   in == "app/desk.cpp" || in.starts_with("app/shots/");
        EXPECT_TRUE(puts_together || what != "app/desk.h") << in << " includes " << what;
    }
}

// Qt forgets a widget's style through a connection of its own. Cutting all connections leaves a style that outlives its
// widget and is read at the next change of the look.
TEST(Architecture, EveryWidgetIsReachable) {
    int read = 0;
    for (const auto& entry : fs::recursive_directory_iterator(fs::path(YELVIN_SOURCES) / "app")) {
        if (entry.path().extension() != ".cpp") continue;
        std::ifstream in(entry.path());
        const std::string text{std::istreambuf_iterator<char>(in), {}};
        EXPECT_EQ(text.find("disconnect()"), std::string::npos) << entry.path();
        ++read;
    }
    EXPECT_GT(read, 50);
}

TEST(Architecture, FilesAreShort) {
    constexpr int most = 400;
    for (const auto& entry : fs::recursive_directory_iterator(YELVIN_SOURCES)) {
        if (entry.path().extension() != ".cpp" && entry.path().extension() != ".h") continue;
        std::ifstream in(entry.path());
        int lines = 0;
        for (std::string line; std::getline(in, line);) ++lines;
        EXPECT_LE(lines, most) << fs::relative(entry.path(), YELVIN_SOURCES).string();
    }
}

}
}
