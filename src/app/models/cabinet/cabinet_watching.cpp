// The part of CabinetKeeper that follows changes by other programs: it watches the folders of the cabinet's files, and
// checks all files when the cabinet is opened.
#include "app/models/cabinet/cabinet_asking.h"
#include "jobs/page_looker.h"

#include <set>

namespace fs = std::filesystem;

namespace yelvin {

void CabinetKeeper::look_after() {
    ask<CabinetUpdater::Round>(
        [known_by = known_by(), stop = around_.pools.stop_token()](Cabinet& cabinet) {
            lower_priority(kindly);
            return CabinetUpdater(cabinet, *known_by, {}, stop).look_after();
        },
        [this](const CabinetUpdater::Round& round) {
            watch();
            if (!round.nothing()) emit changed();
        });
    gone_.start();
}

// Runs at low priority, because it may take seconds.
void CabinetKeeper::look_for_gone() {
    ask<CabinetUpdater::Round>(
        [known_by = known_by(), stop = around_.pools.stop_token()](Cabinet& cabinet) {
            lower_priority(kindly);
            return CabinetUpdater(cabinet, *known_by, {}, stop).look_for_gone();
        },
        [this](const CabinetUpdater::Round& round) {
            if (!round.nothing()) emit changed();
        });
}

void CabinetKeeper::watch() {
    constexpr qsizetype most = 400;
    constexpr int most_files = 2000;
    ask<QStringList>(
        [folders = folders_](Cabinet& cabinet) -> Result<QStringList> {
            std::set<Path> all;
            const auto places = cabinet.places();
            const auto papers = cabinet.latest_here(most_files);
            if (!places || !papers) return std::unexpected(!places ? places.error() : papers.error());
            for (const FolderSeen& each : *places) all.insert(each.folder);
            QStringList files;
            for (const CabinetPaper& paper : *papers) files.append(shown_path(paper.file));
            std::error_code failed;
            for (const WatchedFolder& each : folders) {
                all.insert(each.folder);
                for (fs::recursive_directory_iterator at(each.folder, failed), end; !failed && at != end;
                     at.increment(failed))
                    if (at->is_directory(failed) && !at->is_symlink(failed)) all.insert(at->path());
            }
            QStringList out;
            for (const Path& each : all)
                if (out.size() < most && fs::is_directory(each, failed)) out.append(shown_path(each));
            return out + files;
        },
        [this](const QStringList& places) {
            QStringList fresh;
            const QStringList is = watcher_.directories() + watcher_.files();
            const QSet<QString> known(is.begin(), is.end());
            for (const QString& each : places)
                if (!known.contains(each)) fresh.append(each);
            if (!fresh.isEmpty()) watcher_.addPaths(fresh);
        });
}

void CabinetKeeper::look_at_stirred() {
    const QSet<QString> stirred = std::exchange(stirred_, {});
    for (const QString& each : stirred) {
        const Path folder = each.toStdString();
        ask<CabinetUpdater::Round>(
            [folder, known_by = known_by(), read = reader(folder), stop = around_.pools.stop_token()](
                Cabinet& cabinet) { return CabinetUpdater(cabinet, *known_by, read, stop).look_into(folder); },
            [this](const CabinetUpdater::Round& round) {
                if (!round.nothing()) emit changed();
            });
        for (const WatchedFolder& taken : folders_)
            if ((folder.string() + "/").starts_with(taken.folder.string() + "/")) walk({folder, taken.unread});
    }
}

}
