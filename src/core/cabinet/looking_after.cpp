// The part of CabinetUpdater that checks where the cabinet's files are. Its cost depends on what has changed, not on
// the size of the cabinet: a folder is listed only if its modification time has changed, tables are queried through
// their indices, and a missing file is searched for at most once an hour.
#include "core/cabinet/cabinet_updater.h"
#include "core/cabinet/file_moves.h"

#include <algorithm>
#include <set>

#include <sys/stat.h>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr const char* next_to_check = "next to check";
constexpr const char* gone_looked_for = "gone looked for";
constexpr int checked_at_once = 1000; // papers whose files are looked at although nothing in their folder has changed
constexpr std::int64_t not_there = -1;

std::chrono::sys_seconds now() { return std::chrono::floor<std::chrono::seconds>(std::chrono::system_clock::now()); }

// The modification time of the folder. Returns 0 if it is so recent that a further change could have the same time.
std::int64_t changed_at(const fs::path& folder) {
    struct stat about {};
    if (::stat(folder.c_str(), &about) != 0 || !S_ISDIR(about.st_mode)) return not_there;
    constexpr std::int64_t settled_seconds = 3;
    if (now().time_since_epoch().count() - about.st_mtim.tv_sec < settled_seconds) return 0;
    return static_cast<std::int64_t>(about.st_mtim.tv_sec) * 1'000'000'000 + about.st_mtim.tv_nsec;
}

}

// Searches for missing files among unknown files of the same size, by comparing their contents.
Result<void> CabinetUpdater::find_moved(std::vector<CabinetPaper>& missing, Round& round) {
    constexpr size_t most_looked_at = 50'000;
    std::set<fs::path> folders;
    std::set<std::uint64_t> sizes;
    for (const CabinetPaper& paper : missing) {
        folders.insert(nearest_folder(paper.file));
        sizes.insert(paper.mark.size);
    }
    const auto places = cabinet_.places();
    if (!places) return std::unexpected(places.error());
    for (const FolderSeen& each : *places) folders.insert(each.folder);
    const auto taken = cabinet_.folders();
    if (!taken) return std::unexpected(taken.error());
    for (const WatchedFolder& each : *taken) folders.insert(each.folder);
    size_t looked_at = 0;
    const fs::path* last = nullptr; // The folders are sorted, so those within a folder follow it directly.
    for (const fs::path& folder : folders) {
        if (missing.empty() || looked_at > most_looked_at || stop_.stop_requested()) break;
        if (folder == folder.root_path() || (last && lies_in(folder, *last))) continue;
        last = &folder;
        for (const fs::path& file : paper_files_in(folder, stop_)) {
            if (++looked_at > most_looked_at) break;
            const auto glance = quick_mark_of(file);
            if (!glance || !sizes.contains(glance->size)) continue;
            const auto known = cabinet_.paper_at(file);
            if (!known) return std::unexpected(known.error());
            if (*known) continue;
            const auto mark = mark_of(file);
            if (!mark) continue;
            const auto paper = std::ranges::find_if(missing, [&](const CabinetPaper& each) {
                return each.mark.contents == mark->contents && may_have_moved(each.file, file);
            });
            if (paper == missing.end()) continue;
            if (auto moved = cabinet_.moved(paper->id, file, *mark); !moved) return moved;
            missing.erase(paper);
            ++round.moved;
        }
    }
    return {};
}

// Adds the documents whose files have disappeared since the last check to `missing`.
Result<void> CabinetUpdater::check(const std::vector<CabinetPaper>& papers, std::vector<CabinetPaper>& missing,
                                   Round& round) {
    for (const CabinetPaper& paper : papers) {
        if (stop_.stop_requested()) return stopped();
        const auto now_there = quick_mark_of(paper.file);
        if (!now_there) {
            const Place place = is_folder(paper.file.parent_path()) ? Place::Gone : Place::Away;
            if (now_there.error().kind == ErrorKind::Missing && paper.place != place) missing.push_back(paper);
            continue;
        }
        if (paper.place != Place::Here) ++round.back;
        if (paper.place == Place::Here && same_quick_mark(paper.mark, *now_there)) continue;
        const auto taken = take(paper.file, paper.taken_from);
        if (!taken && taken.error().kind == ErrorKind::Stopped) return std::unexpected(taken.error());
        if (taken && *taken == Outcome::ReadAgain) ++round.read_again;
    }
    return {};
}

Result<void> CabinetUpdater::say_missing(std::vector<CabinetPaper> missing, Round& round) {
    std::ranges::sort(missing, {}, &CabinetPaper::id); // Some were checked twice: with their folder and in turn.
    const auto twice = std::ranges::unique(missing, {}, &CabinetPaper::id);
    missing.erase(twice.begin(), twice.end());
    if (missing.empty()) return {};
    if (auto found = find_moved(missing, round); !found) return found;
    for (const CabinetPaper& paper : missing) {
        const Place place = is_folder(paper.file.parent_path()) ? Place::Gone : Place::Away;
        ++(place == Place::Gone ? round.gone : round.away);
        if (auto said = cabinet_.found_at_place(paper.id, paper.mark, place); !said) return said;
    }
    return {};
}

Result<CabinetUpdater::Round> CabinetUpdater::look_into(const fs::path& folder) {
    const auto papers = cabinet_.papers_in(folder);
    if (!papers) return std::unexpected(papers.error());
    Round round;
    std::vector<CabinetPaper> missing;
    if (auto checked = check(*papers, missing, round); !checked) return std::unexpected(checked.error());
    if (auto said = say_missing(std::move(missing), round); !said) return std::unexpected(said.error());
    return round;
}

Result<CabinetUpdater::Round> CabinetUpdater::look_after() {
    const auto places = cabinet_.places();
    if (!places) return std::unexpected(places.error());
    Round round;
    std::vector<CabinetPaper> missing;
    std::vector<FolderSeen> seen;
    const auto check_those = [&](const Result<std::vector<CabinetPaper>>& papers) -> Result<void> {
        if (!papers) return std::unexpected(papers.error());
        return check(*papers, missing, round);
    };
    for (const FolderSeen& place : *places) {
        const std::int64_t changed = changed_at(place.folder);
        if (changed == place.changed_ns && changed != 0) continue;
        if (auto done = check_those(cabinet_.papers_in(place.folder)); !done) return std::unexpected(done.error());
        seen.push_back({place.folder, changed});
    }
    // Rewriting a file in place does not change its folder's modification time, so some documents are checked in turn.
    const auto from = cabinet_.number(next_to_check);
    if (!from) return std::unexpected(from.error());
    const auto some = cabinet_.papers_from(*from, checked_at_once);
    if (auto done = check_those(some); !done) return std::unexpected(done.error());
    if (auto said = say_missing(std::move(missing), round); !said) return std::unexpected(said.error());
    if (auto noted = cabinet_.note_places(seen); !noted) return std::unexpected(noted.error());
    const std::int64_t next = some->size() < checked_at_once ? 0 : some->back().id + 1;
    if (next != *from)
        if (auto noted = cabinet_.set_number(next_to_check, next); !noted) return std::unexpected(noted.error());
    return round;
}

Result<CabinetUpdater::Round> CabinetUpdater::look_for_gone(bool at_once) {
    constexpr std::int64_t an_hour = 3600;
    const auto before = cabinet_.number(gone_looked_for);
    if (!before) return std::unexpected(before.error());
    const std::int64_t seconds = now().time_since_epoch().count();
    Round round;
    if (!at_once && seconds - *before < an_hour) return round;
    if (auto noted = cabinet_.set_number(gone_looked_for, seconds); !noted) return std::unexpected(noted.error());
    auto missing = cabinet_.papers_not_here();
    if (!missing) return std::unexpected(missing.error());
    std::erase_if(*missing, [](const CabinetPaper& paper) { return quick_mark_of(paper.file).has_value(); });
    if (missing->empty()) return round;
    if (auto found = find_moved(*missing, round); !found) return std::unexpected(found.error());
    return round;
}

}
