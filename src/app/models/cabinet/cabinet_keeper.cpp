#include "app/models/cabinet/cabinet_asking.h"

#include "app/models/naming/papers.h"
#include "app/models/window/messages.h"
#include "core/output/make_searchable.h"
#include "core/text/languages.h"
#include "jobs/page_looker.h"
#include "jobs/reader_pool.h"

#include <fmt/format.h>

#include <set>

namespace fs = std::filesystem;

namespace yelvin {

CabinetKeeper::CabinetKeeper(const Around& around, const QString& folder, QObject* parent)
    : QObject(parent), around_(around), folder_(folder.toStdString()), inside_(std::make_shared<Inside>()) {
    settle_.setSingleShot(true);
    settle_.setInterval(700); // others write a file in several steps
    connect(&settle_, &QTimer::timeout, this, &CabinetKeeper::look_at_stirred);
    const auto stir = [this](const QString& folder) {
        stirred_.insert(folder);
        settle_.start();
    };
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, stir);
    // A program that rewrites a file in place does not change its folder, so the files are watched as well.
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this,
            [stir](const QString& file) { stir(shown_path(fs::path(file.toStdString()).parent_path())); });
    try_again_.setSingleShot(true);
    try_again_.setInterval(10'000);
    connect(&try_again_, &QTimer::timeout, this, [this] {
        for (const WatchedFolder& each : folders_) walk(each);
    });
    gone_.setInterval(std::chrono::minutes(10)); // it does something once an hour
    connect(&gone_, &QTimer::timeout, this, &CabinetKeeper::look_for_gone);
    open();
}

void CabinetKeeper::change(std::function<Result<void>(Cabinet&)> work, std::function<void()> then) {
    ask<bool>(
        [work = std::move(work)](Cabinet& cabinet) -> Result<bool> {
            if (auto done = work(cabinet); !done) return std::unexpected(done.error());
            return true;
        },
        [this, then = std::move(then)](const bool&) {
            if (then) then();
            emit changed();
        });
}

// Reports once that the cabinet cannot be opened. Everything else works without it.
void CabinetKeeper::complain(const Error& error) {
    if (error.sentence.empty() || error.kind == ErrorKind::Stopped) return;
    around_.messages.complain(error);
}

void CabinetKeeper::open() {
    ++under_way_;
    around_.pools.cabinet()([this, inside = inside_, folder = folder_, here = on_thread_of(this)] {
        const auto opened = caught("opening the cabinet", [&]() -> Result<std::string> {
            auto cabinet = Cabinet::open(folder);
            if (!cabinet) return std::unexpected(cabinet.error());
            inside->cabinet.emplace(std::move(*cabinet));
            return inside->cabinet->rebuilt();
        });
        const auto lost = opened ? inside->cabinet->lost_files() : std::vector<fs::path>{};
        here([this, opened, lost] {
            --under_way_;
            if (!opened) return complain(opened.error());
            if (!opened->empty()) around_.messages.complain(QString::fromStdString(*opened));
            open_ = true;
            // Files that a rebuilt cabinet lost are added again.
            to_take_.insert(to_take_.end(), lost.begin(), lost.end());
            taking_.of += static_cast<int>(lost.size());
            take_next();
            emit this->opened();
            look_after();
            know_folders();
            ask<bool>([](Cabinet& cabinet) { return cabinet.do_upkeep(); }, [](const bool&) {});
        });
    });
}

std::shared_ptr<const PaperWords> CabinetKeeper::known_by() const { return around_.papers.words(); }

WithoutText CabinetKeeper::unread_in(const Path& file) const {
    WithoutText most = searchable_.contains(file) ? WithoutText::MakeSearchable : WithoutText::Leave;
    for (const WatchedFolder& each : folders_) {
        const auto [end, rest] = std::ranges::mismatch(each.folder, file);
        if (end == each.folder.end()) most = std::max(most, each.unread);
    }
    return most;
}

PdfImprover CabinetKeeper::improver(const Path& file) const {
    if (unread_in(file) != WithoutText::MakeSearchable) return {};
    return [read = reader(file), stop = around_.pools.stop_token()](const Path& pdf) {
        return yelvin::make_searchable(pdf, read, stop);
    };
}

// Recognises text in all installed languages, at low priority.
PageReader CabinetKeeper::reader(const Path& file) const {
    if (unread_in(file) == WithoutText::Leave) return {};
    return [&readers = around_.readers, stop = around_.pools.stop_token()](const Raster& page) {
        return readers.borrow()->read(page, {std::string(automatic_language)}, stop);
    };
}

void CabinetKeeper::enter(const std::vector<Path>& files, std::shared_ptr<const GatheredWords> words,
                          const PaperFile& about) {
    change(
        [files, words = std::move(words), about, known_by = known_by()](Cabinet& cabinet) -> Result<void> {
            const auto papers = papers_of_saved(files, words ? *words : GatheredWords{}, *known_by, about);
            const auto added = cabinet.add(papers);
            return added ? Result<void>() : std::unexpected(added.error());
        },
        [this] {
            watch();
            ask<bool>([](Cabinet& cabinet) { return cabinet.do_upkeep(); }, [](const bool&) {});
        });
}

void CabinetKeeper::note_moved(const Path& from, const Path& to) {
    change(
        [from, to](Cabinet& cabinet) -> Result<void> {
            const auto paper = cabinet.paper_at(from);
            if (!paper) return std::unexpected(paper.error());
            if (!*paper) return {};
            auto mark = quick_mark_of(to);
            if (!mark) return {}; // The file was moved again meanwhile; the next check finds it.
            mark->contents = (*paper)->mark.contents;
            return cabinet.moved((*paper)->id, to, *mark);
        },
        [this] { watch(); });
}

void CabinetKeeper::look_at(const Path& file) {
    change([file, known_by = known_by(), stop = around_.pools.stop_token()](Cabinet& cabinet) -> Result<void> {
        CabinetUpdater taking(cabinet, *known_by, {}, stop);
        const auto taken = taking.take(file, {});
        return taken ? Result<void>() : std::unexpected(taken.error());
    });
}

// ---- watched folders

void CabinetKeeper::know_folders() {
    ask<std::vector<WatchedFolder>>([](Cabinet& cabinet) { return cabinet.folders(); },
                                    [this](const std::vector<WatchedFolder>& folders) {
                                        folders_ = folders;
                                        for (const WatchedFolder& each : folders_) walk(each);
                                        emit taking_changed();
                                    });
}

void CabinetKeeper::watch_folder(const QString& folder, WithoutText unread) {
    const WatchedFolder taken{fs::path(folder.toStdString()).lexically_normal(), unread};
    std::erase_if(folders_, [&](const WatchedFolder& each) { return each.folder == taken.folder; });
    folders_.push_back(taken);
    taking_.stopped = false;
    change([taken](Cabinet& cabinet) { return cabinet.watch_folder(taken); }, [this, taken] { walk(taken); });
}

void CabinetKeeper::unwatch_folder(const QString& folder) {
    const Path left = folder.toStdString();
    std::erase_if(folders_, [&](const WatchedFolder& each) { return each.folder == left; });
    std::erase_if(to_take_, [&](const Path& file) { return file.string().starts_with(left.string() + "/"); });
    change([left](Cabinet& cabinet) { return cabinet.unwatch_folder(left); });
    emit taking_changed();
}

void CabinetKeeper::stop_taking() {
    taking_.stopped = true;
    emit taking_changed();
}

void CabinetKeeper::go_on() {
    taking_.stopped = false;
    emit taking_changed();
    take_next();
}

void CabinetKeeper::make_searchable(const std::vector<Path>& pdfs) {
    if (taking_.done >= taking_.of) taking_ = {{}, 0, 0, taking_.left_out, 0, {}, false};
    for (const Path& each : pdfs) {
        searchable_.insert(each);
        if (std::ranges::find(to_take_, each) == to_take_.end()) to_take_.push_front(each);
    }
    taking_.of = taking_.done + static_cast<int>(to_take_.size()) + (takes_ ? 1 : 0);
    go_on();
}

// Finds the files in the folder that are new or have changed.
void CabinetKeeper::walk(const WatchedFolder& folder) {
    ask<std::vector<Path>>(
        [folder, unreadable = unreadable_,
         stop = around_.pools.stop_token()](Cabinet& cabinet) -> Result<std::vector<Path>> {
            std::vector<Path> fresh;
            for (const Path& file : paper_files_in(folder.folder, stop)) {
                const auto known = cabinet.paper_at(file);
                if (!known) return std::unexpected(known.error());
                const auto now = quick_mark_of(file);
                if (const auto at = unreadable.find(file); now && at != unreadable.end() && at->second == *now)
                    continue;
                const bool same =
                    *known && now && (*known)->mark.size == now->size && (*known)->mark.changed_ns == now->changed_ns;
                if (!same || (folder.unread != WithoutText::Leave && (*known)->text_state == TextState::Missing))
                    fresh.push_back(file);
            }
            return fresh;
        },
        [this, folder](const std::vector<Path>& fresh) {
            if (taking_.done >= taking_.of)
                taking_ = {shown_path(folder.folder),
                           0,
                           0,
                           taking_.left_out,
                           taking_.not_searchable,
                           taking_.why,
                           taking_.stopped};
            const std::set<Path> waiting(to_take_.begin(), to_take_.end());
            for (const Path& file : fresh)
                if (!waiting.contains(file)) to_take_.push_back(file);
            taking_.of = taking_.done + static_cast<int>(to_take_.size()) + (takes_ ? 1 : 0);
            emit taking_changed();
            watch();
            take_next();
        });
}

// Adds one file at a time, so that files that are saved meanwhile do not wait for all of them.
void CabinetKeeper::take_next() {
    if (takes_ || taking_.stopped || to_take_.empty()) return;
    const Path file = to_take_.front();
    to_take_.pop_front();
    takes_ = true;
    Path from;
    for (const WatchedFolder& each : folders_)
        if (file.string().starts_with(each.folder.string() + "/")) from = each.folder;
    ++under_way_;
    around_.pools.cabinet()([this, inside = inside_, file, from, known_by = known_by(), read = reader(file),
                             improve = improver(file), stop = around_.pools.stop_token(), here = on_thread_of(this)] {
        lower_priority(kindly);
        std::vector<Error> stayed;
        const auto taken = caught("adding a file", [&]() -> Result<CabinetUpdater::Outcome> {
            if (!inside->cabinet) return fail(ErrorKind::Missing, "");
            CabinetUpdater taking(*inside->cabinet, *known_by, read, stop);
            taking.make_searchable_by(improve);
            auto outcome = taking.take(file, from);
            stayed = taking.left_as_they_are();
            return outcome;
        });
        const auto glance = taken ? std::nullopt : std::optional(quick_mark_of(file).value_or(FileMark{}));
        here([this, taken, file, glance, stayed] {
            --under_way_;
            takes_ = false;
            searchable_.erase(file);
            for (const Error& each : stayed) {
                log_trouble(each.sentence);
                if (taking_.not_searchable++ == 0) taking_.why = QString::fromStdString(each.sentence);
            }
            if (!taken && taken.error().kind == ErrorKind::Stopped) return;
            ++taking_.done;
            if (!taken) {
                unreadable_[file] = *glance;
                taking_.left_out = static_cast<int>(unreadable_.size());
                try_again_.start();
            } else if (unreadable_.erase(file) > 0) {
                taking_.left_out = static_cast<int>(unreadable_.size());
            }
            emit changed();
            emit taking_changed();
            if (to_take_.empty()) say_what_stayed();
            if (to_take_.empty()) ask<bool>([](Cabinet& cabinet) { return cabinet.do_upkeep(); }, [](const bool&) {});
            take_next();
        });
    });
}

void CabinetKeeper::say_what_stayed() {
    const int count = std::exchange(taking_.not_searchable, 0);
    if (count == 0) return;
    around_.messages.complain(
        count == 1 ? taking_.why
                   : tr("%1 PDFs were not changed but can be found. The first: %2").arg(count).arg(taking_.why));
}

void CabinetKeeper::count_older(const std::vector<std::chrono::sys_seconds>& than,
                                std::function<void(const std::vector<int>& papers)> then) {
    ask<std::vector<int>>(
        [than](Cabinet& cabinet) -> Result<std::vector<int>> {
            std::vector<int> counts;
            for (const std::chrono::sys_seconds each : than) {
                const auto ids = cabinet.older_than(each);
                if (!ids) return std::unexpected(ids.error());
                counts.push_back(static_cast<int>(ids->size()));
            }
            return counts;
        },
        std::move(then));
}

}
