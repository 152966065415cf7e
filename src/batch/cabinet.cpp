#include "batch/batch.h"

#include "core/cabinet/cabinet_updater.h"
#include "core/cabinet/finding.h"
#include "core/cabinet/results_list.h"
#include "core/naming/file_name.h"
#include "core/output/make_searchable.h"
#include "core/shown_text.h"
#include "core/text/languages.h"
#include "jobs/reader_pool.h"

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <nlohmann/json.hpp>

#include <cmath>
#include <cstdlib>

namespace yelvin {

using nlohmann::json;
namespace fs = std::filesystem;

namespace {

// The default is the folder that the window uses, in the user's data folder (XDG Base Directory Specification).
fs::path folder_of(const std::string& named) {
    if (!named.empty()) return fs::absolute(named).lexically_normal();
    const char* data = std::getenv("XDG_DATA_HOME");
    const char* home = std::getenv("HOME");
    const fs::path base = data && *data ? fs::path(data) : fs::path(home ? home : "/") / ".local/share";
    return base / "yelvin" / "cabinet";
}

Result<Cabinet> opened(const std::string& named) {
    auto cabinet = Cabinet::open(folder_of(named));
    if (cabinet && !cabinet->rebuilt().empty()) complain({ErrorKind::BadInput, cabinet->rebuilt(), {}});
    return cabinet;
}

int failed(const Error& error) {
    complain(error);
    return exit_status(error);
}

json to_json(const SearchResult& found) {
    json words = json::array();
    for (const ExcerptWord& word : found.line)
        if (word.meant) words.push_back(word.text);
    return {{"path", found.paper.file.string()},
            {"page", found.page + 1},
            {"words", std::move(words)},
            {"line", line_words(found)},
            {"score", std::round(found.score * 1000) / 1000}};
}

const char* outcome_words(CabinetUpdater::Outcome outcome) {
    switch (outcome) {
    case CabinetUpdater::Outcome::KnownAlready:
        return "known";
    case CabinetUpdater::Outcome::Moved:
        return "moved";
    case CabinetUpdater::Outcome::ReadAgain:
        return "read again";
    case CabinetUpdater::Outcome::Added:
        break;
    }
    return "added";
}

// Adds the files to the cabinet. Files that cannot be added are reported and left out. `folder` is the watched folder
// in which they were found, or empty.
int take_in(Cabinet& cabinet, CabinetUpdater& taking, const std::vector<fs::path>& files, const fs::path& folder) {
    bool left_out = false;
    size_t said = 0;
    for (const fs::path& file : files) {
        const auto taken = taking.take(file, folder);
        if (!taken) {
            complain(taken.error());
            left_out = true;
            continue;
        }
        for (; said < taking.left_as_they_are().size(); ++said) {
            complain(taking.left_as_they_are()[said]);
            left_out = true;
        }
        const auto paper = cabinet.paper_at(file);
        if (!paper) return failed(paper.error());
        print({{"path", file.string()},
               {"taken", outcome_words(*taken)},
               {"pages", *paper ? (*paper)->pages : 0},
               {"words", *paper && (*paper)->text_state == TextState::Read}});
    }
    return left_out ? 1 : 0;
}

// Opening the cabinet checks only a small part of its database; this checks all of it.
Result<void> rebuilt_where_damaged(Cabinet& cabinet) {
    const auto whole = cabinet.is_whole();
    if (!whole) return std::unexpected(whole.error());
    if (*whole) return {};
    if (auto anew = cabinet.rebuild(); !anew) return anew;
    complain({ErrorKind::BadInput, cabinet.rebuilt(), {}});
    return {};
}

// Reads every file that the cabinet knows again, as if it were new.
int look_at_all(Cabinet& cabinet, CabinetUpdater& taking) {
    if (auto anew = cabinet.rebuild_index(); !anew) return failed(anew.error());
    auto round = taking.look_after();
    if (!round) return failed(round.error());
    const auto found = taking.look_for_gone(true);
    if (!found) return failed(found.error());
    round->moved += found->moved;
    print({{"moved", round->moved}, {"gone", round->gone}, {"away", round->away}, {"read again", round->read_again}});
    return 0;
}

}

int run_find(const FindingArguments& finding) {
    const auto trouble = [&](Error error) {
        const std::string named = finding.cabinet.empty() ? "" : " --cabinet " + quoted(finding.cabinet);
        if (error.kind == ErrorKind::BadInput)
            error.sentence =
                fmt::format("The cabinet in {} is damaged; repair it with: yelvin-batch take-in --rebuild{}",
                            folder_of(finding.cabinet).string(), named);
        if (error.kind == ErrorKind::Missing)
            error.sentence = fmt::format("There is no cabinet in {}; make one with: yelvin-batch take-in FOLDER{}",
                                         folder_of(finding.cabinet).string(), named);
        return failed(error);
    };
    auto finder = Finder::open_to_read(folder_of(finding.cabinet));
    if (!finder && finder.error().kind == ErrorKind::Missing && finding.cabinet.empty()) { // nothing was saved yet
        if (finding.as_json) print(json::array(), 1);
        complain(
            {ErrorKind::Missing, "The cabinet is empty; yelvin-batch take-in adds the documents of a folder.", {}});
        return 0;
    }
    if (!finder) return trouble(finder.error());
    const std::string typed = fmt::format("{}", fmt::join(finding.words, " "));
    const auto found = finder->find(typed, {}, static_cast<size_t>(finding.most), today());
    if (!found) return trouble(found.error());
    if (finding.as_json) {
        json all = json::array();
        for (const SearchResult& each : found->best) all.push_back(to_json(each));
        print(all, 1);
        return 0;
    }
    if (finding.as_csv) {
        fmt::print("{}", results_as_csv(found->best));
        return 0;
    }
    for (const SearchResult& each : found->best)
        fmt::print("{}\n    page {}: {}\n", shown_text(each.paper.file.string()), each.page + 1,
                   shown_text(line_words(each)));
    if (found->all_but_one)
        fmt::print(stderr, "No document has all the words. These lack {}.\n",
                   found->without.empty() ? "one of them" : '"' + found->without + '"');
    else if (found->nearly)
        fmt::print(stderr, "No exact match. These match but for one misread letter.\n");
    else if (found->of == 0)
        fmt::print(stderr, "The cabinet is empty; yelvin-batch take-in adds the documents of a folder.\n");
    else if (found->papers == 0)
        fmt::print(stderr, "No match in {} document{}.\n", found->of, found->of == 1 ? "" : "s");
    else if (static_cast<size_t>(found->papers) > found->best.size())
        fmt::print(stderr, "{} of {} documents that match.\n", found->best.size(), found->papers);
    return 0;
}

int run_take_in(const TicketArguments& arguments, const TakingInArguments& taking_in) {
    const auto ticket = ticket_from(arguments);
    if (!ticket) return failed(ticket.error());
    if (taking_in.folder.empty() && !taking_in.rebuild_index)
        return failed({ErrorKind::Usage, "Give the folder to add.", {}});
    auto cabinet = opened(taking_in.cabinet);
    if (!cabinet) return failed(cabinet.error());
    ReaderPool readers;
    const bool said = !arguments.file.empty() || !arguments.settings.empty();
    const auto languages = said ? ticket->read.languages : std::vector<std::string>{std::string(automatic_language)};
    PageReader read;
    if (!taking_in.as_they_are) read = [&](const Raster& page) { return readers.borrow()->read(page, languages); };
    CabinetUpdater taking(*cabinet, common_paper_words(), read, {});
    if (taking_in.make_searchable)
        taking.make_searchable_by([&](const fs::path& pdf) { return make_searchable(pdf, read); });
    int status = 0;
    if (taking_in.rebuild_index) {
        if (auto whole = rebuilt_where_damaged(*cabinet); !whole) return failed(whole.error());
        status = look_at_all(*cabinet, taking);
    }
    status = std::max(status, take_in(*cabinet, taking, cabinet->lost_files(), {}));
    if (!taking_in.folder.empty()) {
        const fs::path folder = fs::absolute(taking_in.folder).lexically_normal();
        std::error_code missing;
        if (!fs::is_directory(folder, missing))
            return failed({ErrorKind::Missing, fmt::format("The folder {} does not exist.", folder.string()), {}});
        status = std::max(status, take_in(*cabinet, taking, paper_files_in(folder), folder));
    }
    while (const auto more = cabinet->do_upkeep())
        if (!*more) break;
    return status;
}

}
