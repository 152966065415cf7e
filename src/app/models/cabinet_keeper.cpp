#include "app/models/cabinet_keeper.h"

#include "app/models/messages.h"
#include "app/models/papers.h"
#include "app/models/pools.h"
#include "core/reading/languages.h"
#include "jobs/page_looker.h"
#include "jobs/reader_pool.h"
#include "jobs/trouble.h"

#include <fmt/format.h>

#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

QString shown_path(const fs::path& path) { return QString::fromStdString(path.string()); }

constexpr int kindly = 15; // what is taken in waits for all else

}

struct CabinetKeeper::Inside {
    std::optional<Cabinet> cabinet;
};

CabinetKeeper::CabinetKeeper(const Around& around, const QString& folder, QObject* parent)
    : QObject(parent), around_(around), folder_(folder.toStdString()), inside_(std::make_shared<Inside>()) {
    settle_.setSingleShot(true);
    settle_.setInterval(700); // others write a file in several steps
    connect(&settle_, &QTimer::timeout, this, &CabinetKeeper::look_at_stirred);
    connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this](const QString& which) {
        stirred_.insert(which);
        settle_.start();
    });
    try_again_.setSingleShot(true);
    try_again_.setInterval(10'000);
    connect(&try_again_, &QTimer::timeout, this, [this] {
        for (const TakenFolder& each : folders_) walk(each);
    });
    open();
}

template <class Value>
void CabinetKeeper::ask(std::function<Result<Value>(Cabinet&)> work, std::function<void(const Value&)> then) {
    ++under_way_;
    around_.pools.cabinet()(
        [this, inside = inside_, work = std::move(work), then = std::move(then), here = on_thread_of(this)] {
            auto done = caught("keeping the cabinet", [&]() -> Result<Value> {
                if (!inside->cabinet) return fail(ErrorKind::Missing, "");
                return work(*inside->cabinet);
            });
            here([this, done = std::move(done), then] {
                --under_way_;
                if (!done) return complain(done.error());
                then(*done);
            });
        });
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

// A cabinet that cannot be opened is said once; all else goes on without it.
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
        here([this, opened] {
            --under_way_;
            if (!opened) return complain(opened.error());
            if (!opened->empty()) around_.messages.complain(QString::fromStdString(*opened));
            open_ = true;
            emit this->opened();
            look_after();
            know_folders();
        });
    });
}

std::shared_ptr<const PaperWords> CabinetKeeper::known_by() const { return around_.papers.words(); }

// In whichever language it is; as the tray reads what nobody waits for.
PageReader CabinetKeeper::reader(const Path& file) const {
    const bool wanted = std::ranges::any_of(folders_, [&](const TakenFolder& each) {
        const auto [end, rest] = std::ranges::mismatch(each.folder, file);
        return end == each.folder.end() && each.read_missing;
    });
    if (!wanted) return {};
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
        [this] { watch(); });
}

void CabinetKeeper::note_moved(const Path& from, const Path& to) {
    change(
        [from, to](Cabinet& cabinet) -> Result<void> {
            const auto paper = cabinet.paper_at(from);
            if (!paper) return std::unexpected(paper.error());
            if (!*paper) return {};
            auto mark = glance_at(to);
            if (!mark) return {}; // it went on meanwhile: the next look finds it
            mark->contents = (*paper)->mark.contents;
            return cabinet.moved((*paper)->id, to, *mark);
        },
        [this] { watch(); });
}

void CabinetKeeper::look_at(const Path& file) {
    change([file, known_by = known_by(), stop = around_.pools.stop_token()](Cabinet& cabinet) -> Result<void> {
        TakingIn taking(cabinet, *known_by, {}, stop);
        const auto taken = taking.take(file, {});
        return taken ? Result<void>() : std::unexpected(taken.error());
    });
}

void CabinetKeeper::look_after() {
    ask<TakingIn::Round>(
        [known_by = known_by(), stop = around_.pools.stop_token()](Cabinet& cabinet) {
            step_back(kindly);
            return TakingIn(cabinet, *known_by, {}, stop).look_after();
        },
        [this](const TakingIn::Round& round) {
            watch();
            if (!round.nothing()) emit changed();
        });
}

// ---- folders that are taken in

void CabinetKeeper::know_folders() {
    ask<std::vector<TakenFolder>>([](Cabinet& cabinet) { return cabinet.folders(); },
                                  [this](const std::vector<TakenFolder>& folders) {
                                      folders_ = folders;
                                      for (const TakenFolder& each : folders_) walk(each);
                                      emit taking_changed();
                                  });
}

void CabinetKeeper::take_folder(const QString& folder, bool read_missing) {
    const TakenFolder taken{fs::path(folder.toStdString()).lexically_normal(), read_missing};
    std::erase_if(folders_, [&](const TakenFolder& each) { return each.folder == taken.folder; });
    folders_.push_back(taken);
    taking_.stopped = false;
    change([taken](Cabinet& cabinet) { return cabinet.take_folder(taken); }, [this, taken] { walk(taken); });
}

void CabinetKeeper::leave_folder(const QString& folder) {
    const Path left = folder.toStdString();
    std::erase_if(folders_, [&](const TakenFolder& each) { return each.folder == left; });
    std::erase_if(to_take_, [&](const Path& file) { return file.string().starts_with(left.string() + "/"); });
    change([left](Cabinet& cabinet) { return cabinet.leave_folder(left); });
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

// Only files of which anything is new.
void CabinetKeeper::walk(const TakenFolder& folder) {
    ask<std::vector<Path>>(
        [folder, unreadable = unreadable_,
         stop = around_.pools.stop_token()](Cabinet& cabinet) -> Result<std::vector<Path>> {
            std::vector<Path> fresh;
            for (const Path& file : paper_files_in(folder.folder, stop)) {
                const auto known = cabinet.paper_at(file);
                if (!known) return std::unexpected(known.error());
                const auto now = glance_at(file);
                if (const auto at = unreadable.find(file); now && at != unreadable.end() && at->second == *now)
                    continue;
                const bool same =
                    *known && now && (*known)->mark.size == now->size && (*known)->mark.changed_ns == now->changed_ns;
                if (!same || (folder.read_missing && (*known)->words_are == Words::Missing)) fresh.push_back(file);
            }
            return fresh;
        },
        [this, folder](const std::vector<Path>& fresh) {
            if (taking_.done >= taking_.of)
                taking_ = {shown_path(folder.folder), 0, 0, taking_.left_out, taking_.stopped};
            const std::set<Path> waiting(to_take_.begin(), to_take_.end());
            for (const Path& file : fresh)
                if (!waiting.contains(file)) to_take_.push_back(file);
            taking_.of = taking_.done + static_cast<int>(to_take_.size()) + (takes_ ? 1 : 0);
            emit taking_changed();
            watch();
            take_next();
        });
}

// One at a time, so that what is saved meanwhile does not wait for all of them.
void CabinetKeeper::take_next() {
    if (takes_ || taking_.stopped || to_take_.empty()) return;
    const Path file = to_take_.front();
    to_take_.pop_front();
    takes_ = true;
    Path from;
    for (const TakenFolder& each : folders_)
        if (file.string().starts_with(each.folder.string() + "/")) from = each.folder;
    ++under_way_;
    around_.pools.cabinet()([this, inside = inside_, file, from, known_by = known_by(), read = reader(file),
                             stop = around_.pools.stop_token(), here = on_thread_of(this)] {
        step_back(kindly);
        const auto taken = caught("taking a file in", [&]() -> Result<TakingIn::Outcome> {
            if (!inside->cabinet) return fail(ErrorKind::Missing, "");
            return TakingIn(*inside->cabinet, *known_by, read, stop).take(file, from);
        });
        const auto glance = taken ? std::nullopt : std::optional(glance_at(file).value_or(FileMark{}));
        here([this, taken, file, glance] {
            --under_way_;
            takes_ = false;
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
            if (to_take_.empty()) ask<bool>([](Cabinet& cabinet) { return cabinet.tend(); }, [](const bool&) {});
            take_next();
        });
    });
}

// ---- what others do with the files

void CabinetKeeper::watch() {
    constexpr qsizetype most = 400;
    ask<QStringList>(
        [folders = folders_](Cabinet& cabinet) -> Result<QStringList> {
            std::set<Path> all;
            const auto papers = cabinet.all();
            if (!papers) return std::unexpected(papers.error());
            for (const CabinetPaper& each : *papers) all.insert(each.file.parent_path());
            std::error_code failed;
            for (const TakenFolder& each : folders) {
                all.insert(each.folder);
                for (fs::recursive_directory_iterator at(each.folder, failed), end; !failed && at != end;
                     at.increment(failed))
                    if (at->is_directory(failed) && !at->is_symlink(failed)) all.insert(at->path());
            }
            QStringList out;
            for (const Path& each : all)
                if (out.size() < most && fs::is_directory(each, failed)) out.append(shown_path(each));
            return out;
        },
        [this](const QStringList& folders) {
            QStringList fresh;
            const QStringList known = watcher_.directories();
            for (const QString& each : folders)
                if (!known.contains(each)) fresh.append(each);
            if (!fresh.isEmpty()) watcher_.addPaths(fresh);
        });
}

void CabinetKeeper::look_at_stirred() {
    const QSet<QString> stirred = std::exchange(stirred_, {});
    for (const QString& each : stirred) {
        const Path folder = each.toStdString();
        ask<TakingIn::Round>(
            [folder, known_by = known_by(), read = reader(folder), stop = around_.pools.stop_token()](
                Cabinet& cabinet) { return TakingIn(cabinet, *known_by, read, stop).look_after(folder); },
            [this](const TakingIn::Round& round) {
                if (!round.nothing()) emit changed();
            });
        for (const TakenFolder& taken : folders_)
            if ((folder.string() + "/").starts_with(taken.folder.string() + "/")) walk({folder, taken.read_missing});
    }
}

}
