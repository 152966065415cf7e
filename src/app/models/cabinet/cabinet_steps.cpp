// The part of CabinetKeeper for the user's changes to documents in the cabinet. Each can be undone.
#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/naming/papers.h"
#include "app/models/window/messages.h"
#include "core/naming/file_name.h"
#include "core/saving/move_file.h"

namespace fs = std::filesystem;

namespace yelvin {

namespace {
QString path_words(const fs::path& path) { return QString::fromStdString(path.string()); }
}

void CabinetKeeper::remove_entries(const std::vector<long long>& ids) {
    put_away_those([ids](Cabinet&) { return ids; });
}

void CabinetKeeper::put_away_older(std::chrono::sys_seconds than) {
    put_away_those([than](Cabinet& cabinet) { return cabinet.older_than(than); });
}

// Removes the documents as one step that can be undone, unless there are too many to keep in memory.
void CabinetKeeper::put_away_those(std::function<Result<std::vector<long long>>(Cabinet&)> which) {
    auto before = std::make_shared<std::vector<NewPaper>>();
    auto count = std::make_shared<size_t>(0);
    change(
        [which = std::move(which), before, count](Cabinet& cabinet) -> Result<void> {
            const auto ids = which(cabinet);
            if (!ids) return std::unexpected(ids.error());
            *count = ids->size();
            for (const long long id : *ids) {
                if (ids->size() > most_undone) break;
                auto paper = cabinet.whole(id);
                if (!paper) return std::unexpected(paper.error());
                before->push_back(std::move(*paper));
            }
            return cabinet.remove_entries(*ids);
        },
        [this, before, count] {
            if (*count > before->size())
                return around_.messages.tell(
                    tr("%1 documents were removed from the cabinet; their files stay.").arg(*count));
            if (before->empty()) return;
            const QString words = before->size() == 1 ? tr("remove %1").arg(path_words(before->front().file.stem()))
                                                      : tr("remove %1 documents").arg(before->size());
            undo_.push_back({words, [before](Cabinet& cabinet) -> Result<void> {
                                 const auto again = cabinet.add(*before);
                                 return again ? Result<void>() : std::unexpected(again.error());
                             }});
            emit undo_changed();
        });
}

namespace {

using Moves = std::vector<std::pair<fs::path, fs::path>>;

Result<void> move_paper(Cabinet& cabinet, const CabinetPaper& paper, const fs::path& folder, const std::string& stem,
                        Moves& done) {
    const std::string end = paper.file.extension().string();
    const auto to = move_file(paper.file, folder, [&](int attempt) { return numbered_name(stem, attempt) + end; });
    if (!to) return std::unexpected(to.error());
    done.emplace_back(paper.file, *to);
    auto mark = quick_mark_of(*to);
    if (!mark) return std::unexpected(mark.error());
    mark->contents = paper.mark.contents;
    return cabinet.moved(paper.id, *to, *mark);
}

// Moves the files back to where they came from, unless another file has taken that name.
Result<void> move_back(Cabinet& cabinet, const Moves& moves) {
    for (const auto& [from, to] : moves) {
        const auto paper = cabinet.paper_at(to);
        if (!paper) return std::unexpected(paper.error());
        if (!*paper) continue;
        Moves ignored;
        if (auto back = move_paper(cabinet, **paper, from.parent_path(), from.stem().string(), ignored); !back)
            return back;
    }
    return {};
}

Result<CabinetPaper> paper_with_file(Cabinet& cabinet, long long id) {
    auto paper = cabinet.paper(id);
    if (!paper) return std::unexpected(paper.error());
    if (!*paper) return fail(ErrorKind::Missing, "This document is no longer in the cabinet.");
    return std::move(**paper);
}

}

void CabinetKeeper::rename(long long id, const QString& name) {
    const std::string stem = cleaned_name(name.trimmed().toStdString());
    if (name.trimmed().isEmpty()) return;
    auto moves = std::make_shared<Moves>();
    change(
        [id, stem, moves](Cabinet& cabinet) -> Result<void> {
            const auto paper = paper_with_file(cabinet, id);
            if (!paper) return std::unexpected(paper.error());
            if (paper->file.stem() == stem) return {};
            return move_paper(cabinet, *paper, paper->file.parent_path(), stem, *moves);
        },
        [this, moves] {
            if (moves->empty()) return;
            around_.papers.moved(path_words(moves->front().first), path_words(moves->front().second));
            around_.messages.tell(tr("The file is now called %1.").arg(path_words(moves->front().second.filename())));
            undo_.push_back({tr("rename file"), [moves](Cabinet& cabinet) { return move_back(cabinet, *moves); }});
            emit undo_changed();
        });
}

void CabinetKeeper::move(const std::vector<long long>& ids, const QString& folder) {
    auto moves = std::make_shared<Moves>();
    const Path to = expanded_folder(folder.toStdString());
    change(
        [ids, to, moves](Cabinet& cabinet) -> Result<void> {
            for (const long long id : ids) {
                const auto paper = paper_with_file(cabinet, id);
                if (!paper) return std::unexpected(paper.error());
                if (paper->file.parent_path() == to) continue;
                if (auto moved = move_paper(cabinet, *paper, to, paper->file.stem().string(), *moves); !moved)
                    return moved;
            }
            return {};
        },
        [this, moves, to] {
            if (moves->empty()) return;
            for (const auto& [from, now] : *moves) around_.papers.moved(path_words(from), path_words(now));
            around_.messages.tell(moves->size() == 1
                                      ? tr("The file is now in %1.").arg(path_words(to))
                                      : tr("%1 files are now in %2.").arg(moves->size()).arg(path_words(to)));
            undo_.push_back({tr("move files"), [moves](Cabinet& cabinet) { return move_back(cabinet, *moves); }});
            emit undo_changed();
            watch();
        });
}

void CabinetKeeper::undo() {
    if (undo_.empty()) return;
    const Step step = std::move(undo_.back());
    undo_.pop_back();
    change(step.back, [this, words = step.words] { around_.messages.tell(tr("Undone: %1.").arg(words)); });
    emit undo_changed();
}

}
