#include "app/models/errands/renaming.h"

#include "app/models/cabinet/cabinet_keeper.h"
#include "app/models/errands/errands.h"
#include "app/models/naming/document_names.h"
#include "app/models/naming/folders.h"
#include "app/models/naming/papers.h"
#include "app/models/saving/save_places.h"
#include "app/models/saving/saving.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/growing_files.h"
#include "app/models/tray/out_tray.h"
#include "app/models/tray/page_edits.h"
#include "app/models/window/messages.h"
#include "core/saving/move_file.h"
#include "jobs/trouble.h"

#include <QFileInfo>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

fs::path path_of(const QString& file) { return file.toStdString(); }
QString text_of(const fs::path& path) { return QString::fromStdString(path.string()); }

// "Mooring 014 (2)" among the files of "Mooring 014" becomes "Lease (2)" when that becomes "Lease".
std::string renamed_with(const std::string& stem, const std::string& from, const std::string& to) {
    return stem.starts_with(from) ? to + stem.substr(from.size()) : to;
}

}

Renaming::Renaming(const Around& around, QObject* parent) : QObject(parent), around_(around) {
    connect(&around_.tray, &OutTray::loaded, this, &Renaming::learn_places);
    connect(&around_.tray, &OutTray::stepped, this, &Renaming::follow_step);
    connect(&around_.saving, &Saving::document_saved, this, [this](const QString& id, const QStringList& files) {
        at_[id.toStdString()] = files.front().toStdString();
    });
}

void Renaming::learn_places() {
    for (const DocumentPtr& each : around_.tray.tray().documents) {
        const std::string& file = each->saved_as.empty() ? each->part_of : each->saved_as;
        if (!file.empty()) at_[each->id] = file;
    }
}

DocumentPtr Renaming::document(const std::string& id) const { return document_at(around_.tray.tray(), id); }

std::vector<fs::path> Renaming::files_of(const Document& document) const {
    std::vector<fs::path> files{document.saved_as};
    for (const QString& file : around_.errands.files_of(document.id))
        if (path_of(file) != files.front()) files.push_back(path_of(file));
    return files;
}

// Updates every document with this file, because several documents may be in one file.
Tray Renaming::with_file_moved(const Tray& tray, const std::string& document_id, const Moved& moved) {
    const auto& [from, to] = moved.front();
    Tray out = with_document_file(tray, document_id, to.string());
    for (const DocumentPtr& each : tray.documents)
        if (each->saved_as == from || each->part_of == from) out = with_document_file(out, each->id, to.string());
    return out;
}

void Renaming::rename(const std::string& document_id, const QString& name) {
    const DocumentPtr there = document(document_id);
    const std::string wanted = cleaned_name(name.trimmed().toStdString());
    if (!there || name.trimmed().isEmpty()) return;
    if (there->saved_as.empty())
        return around_.edits.rename_document(QString::fromStdString(document_id), name.trimmed());
    const fs::path own = there->saved_as;
    if (own.stem() == wanted) return;
    begin({document_id, files_of(*there), own.parent_path(), wanted}, [this, document_id](const Moved& moved) {
        Tray tray = with_document_name(around_.tray.tray(), document_id, moved.front().second.stem().string());
        around_.tray.edit(with_file_moved(tray, document_id, moved), tr("rename file"));
        around_.messages.tell(tr("The file is now called %1.").arg(text_of(moved.front().second.filename())));
    });
}

void Renaming::put_into(const std::string& document_id, const QString& folder) {
    const DocumentPtr there = document(document_id);
    if (!there) return;
    const std::string chosen = expanded_folder(folder.toStdString()).string();
    if (there->saved_as.empty()) {
        around_.tray.edit(with_document_folder(around_.tray.tray(), document_id, chosen), tr("choose folder"));
        return;
    }
    const fs::path own = there->saved_as;
    begin({document_id, files_of(*there), chosen, own.stem().string()}, [this, document_id](const Moved& moved) {
        around_.tray.edit(with_file_moved(around_.tray.tray(), document_id, moved), tr("move file"));
        around_.messages.tell(
            tr("The file is now in %1.").arg(shown_folder(text_of(moved.front().second.parent_path()))));
    });
}

void Renaming::take(const std::string& document_id, const NameProposal& proposal) {
    const DocumentPtr there = document(document_id);
    if (!there) return;
    if (!there->saved_as.empty()) return rename(document_id, QString::fromStdString(proposal.name));
    Tray tray = with_document_name(around_.tray.tray(), document_id, proposal.name);
    if (!proposal.folder.empty()) tray = with_document_folder(tray, document_id, proposal.folder);
    around_.tray.edit(tray, tr("use proposed name"));
}

// Moves all of the files or none.
Result<Renaming::Moved> Renaming::moved(const Move& move) {
    Moved done;
    std::error_code unseen;
    const fs::path first = move.files.front(), back = move.folder / (move.stem + first.extension().string());
    if (move.only_back && !fs::exists(first, unseen)) return done;
    if (move.only_back && fs::exists(back, unseen))
        return fail(ErrorKind::BadInput, tr("The file is still called %1, because another file is now called %2.")
                                             .arg(text_of(first.filename()), text_of(back.filename()))
                                             .toStdString());
    const std::string before = move.files.front().stem().string();
    for (const fs::path& file : move.files) {
        std::error_code ignored;
        if (!done.empty() && !fs::exists(file, ignored)) continue; // A further file that no longer exists here.
        const std::string stem =
            done.empty() ? move.stem : renamed_with(file.stem().string(), before, done.front().second.stem().string());
        const fs::path folder =
            file.parent_path() == move.files.front().parent_path() ? move.folder : file.parent_path();
        const auto to = move_file(
            file, folder, [&](int attempt) { return numbered_name(stem, attempt) + file.extension().string(); });
        if (to) {
            done.emplace_back(file, *to);
            continue;
        }
        for (auto at = done.rbegin(); at != done.rend(); ++at)
            (void)move_file(at->second, at->first.parent_path(), [&](int attempt) {
                return attempt == 0
                           ? at->first.filename().string()
                           : numbered_name(at->first.stem().string(), attempt) + at->first.extension().string();
            });
        return std::unexpected(to.error());
    }
    return done;
}

void Renaming::begin(const Move& move, std::function<void(const Moved&)> then, std::function<void()> or_else) {
    ++under_way_;
    emit changed();
    around_.pools.moving()(
        [this, here = on_thread_of(this), move, then = std::move(then), or_else = std::move(or_else)] {
            const auto done = caught("renaming a file", [&] { return moved(move); });
            here([this, done, move, then, or_else] {
                --under_way_;
                if (!done) {
                    around_.messages.complain(done.error());
                    if (or_else) or_else();
                    // If it is empty, the name belongs to another file now, and nothing is recorded.
                } else if (!done->empty()) {
                    note(*done, move.document);
                    then(*done);
                }
                emit changed();
            });
        });
}

void Renaming::note(const Moved& moved, const std::string& document_id) {
    at_[document_id] = moved.front().second.string();
    for (const DocumentPtr& each : around_.tray.tray().documents) {
        const auto& [from, to] = moved.front();
        if (each->id == document_id || each->saved_as != from) continue;
        at_[each->id] = to.string();
        around_.errands.note_moved(each->id, text_of(from), text_of(to));
    }
    for (const auto& [from, to] : moved) {
        around_.growing.moved(from, to);
        around_.errands.note_moved(document_id, text_of(from), text_of(to));
        around_.folders.forget(from.parent_path());
        around_.folders.forget(to.parent_path());
    }
    around_.papers.moved(text_of(moved.front().first), text_of(moved.front().second));
    for (const auto& [from, to] : moved) around_.cabinet.note_moved(from, to);
    around_.names.forget();
}

// Renames the file if a step (a renaming, or undoing one) changed the file name of a saved document.
void Renaming::follow_step(const Tray& before) {
    std::map<std::string, std::string> file_before;
    for (const DocumentPtr& each : before.documents) file_before[each->id] = each->saved_as;
    for (const DocumentPtr& each : around_.tray.tray().documents) {
        const auto at = at_.find(each->id), was = file_before.find(each->id);
        const bool is_other = was != file_before.end() && !was->second.empty() && was->second != each->saved_as;
        if (!is_other || at == at_.end() || each->saved_as.empty() || at->second == each->saved_as) continue;
        const fs::path is = at->second, wanted = each->saved_as;
        Move move{each->id, {is}, wanted.parent_path(), wanted.stem().string(), true};
        for (const fs::path& file : files_of(*each))
            if (file != is && file != wanted) move.files.push_back(file);
        const auto stays = [this, id = each->id](const std::string& file) {
            around_.tray.change(with_document_file(around_.tray.tray(), id, file));
        };
        begin(
            move, [stays](const Moved& moved) { stays(moved.front().second.string()); },
            [stays, is] { stays(is.string()); });
    }
}

}
