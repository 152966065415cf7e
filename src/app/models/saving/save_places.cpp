#include "app/models/saving/save_places.h"

#include "app/models/saving/copies_folder.h"
#include "app/models/threads/apart.h"
#include "app/models/window/last_choices.h"
#include "core/naming/file_name.h"

#include <QDateTime>
#include <QDir>

#include <unistd.h>

#include <cmath>

namespace yelvin {

namespace {

constexpr const char* kept_as = "folders";

}

std::filesystem::path folder_for_looks() {
    return (QDir::tempPath() + QStringLiteral("/yelvin-%1").arg(::getuid())).toStdString();
}

SavePlaces::SavePlaces(LastChoices& last, Folders& folders, QObject* parent)
    : QObject(parent), last_(last), folders_(folders) {}

void SavePlaces::find(const Ticket& ticket, const std::string& own, Then then) {
    using Where = Ticket::Save::Where;
    if (!own.empty()) return look_at(own, false, then);
    switch (ticket.save.where) {
    case Where::Fixed:
        return look_at(expanded_folder(ticket.save.folder), ticket.save.make_folder, then);
    case Where::Temporary:
        return apart(
            this, "creating a temporary folder", [] { return new_copies_folder(folder_for_looks()); }, then,
            patience_with(folder_for_looks()));
    case Where::Asked:
        questions_.push_back(std::move(then));
        emit question_changed();
    }
}

void SavePlaces::look_at(const std::filesystem::path& folder, bool make, const Then& then) {
    const auto tell = [folder, then](const FolderState& state) {
        if (state.is == FolderState::Is::Good) return then(folder);
        then(std::unexpected(state.why));
    };
    folders_.ask(folder, [this, folder, make, tell](const FolderState& state) {
        if (make && state.is == FolderState::Is::Missing) return folders_.make(folder, tell);
        tell(state);
    });
}

void SavePlaces::give(const QString& folder) {
    if (questions_.empty()) return;
    const Then then = std::move(questions_.front());
    questions_.pop_front();
    look_at(expanded_folder(folder.toStdString()), false, then);
    emit question_changed();
}

void SavePlaces::give_up() {
    if (questions_.empty()) return;
    const Then then = std::move(questions_.front());
    questions_.pop_front();
    then(stopped());
    emit question_changed();
}

namespace {
struct UsedFolder {
    std::string path;
    double weight = 0; // of its uses, each worth half after a month
    qint64 last = 0;   // seconds since 1970
};

double weight_now(const UsedFolder& used, qint64 now) {
    constexpr double month = 30 * 24 * 3600;
    return used.weight * std::exp2(-static_cast<double>(now - used.last) / month);
}

std::vector<UsedFolder> used_folders(const LastChoices& last) {
    std::vector<UsedFolder> out;
    const nlohmann::json kept = last.get(kept_as);
    if (!kept.is_array()) return out;
    for (const auto& each : kept) {
        if (!each.is_object()) continue;
        try {
            out.push_back({each.at("path"), each.at("weight"), each.at("last")});
        } catch (const nlohmann::json::exception&) {
            continue;
        }
    }
    return out;
}
}

void SavePlaces::note_used(const std::filesystem::path& folder) {
    constexpr size_t most = 40;
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    std::vector<UsedFolder> all = used_folders(last_);
    auto at = std::ranges::find(all, folder.string(), &UsedFolder::path);
    if (at == all.end()) at = all.insert(all.end(), UsedFolder{folder.string(), 0, now});
    at->weight = weight_now(*at, now) + 1;
    at->last = now;
    std::rotate(all.begin(), at, at + 1); // Among folders of equal weight the latest one comes first.
    std::ranges::stable_sort(all, std::greater{}, [now](const UsedFolder& each) { return weight_now(each, now); });
    if (all.size() > most) all.resize(most);
    nlohmann::json kept = nlohmann::json::array();
    for (const UsedFolder& each : all)
        kept.push_back({{"path", each.path}, {"weight", each.weight}, {"last", each.last}});
    last_.set(kept_as, kept);
}

QStringList SavePlaces::used(qsizetype most) const {
    const qint64 now = QDateTime::currentSecsSinceEpoch();
    std::vector<UsedFolder> all = used_folders(last_);
    std::ranges::stable_sort(all, std::greater{}, [now](const UsedFolder& each) { return weight_now(each, now); });
    QStringList out;
    for (const UsedFolder& each : all)
        if (out.size() < most) out.append(QString::fromStdString(each.path));
    return out;
}

QString shown_folder(const QString& folder) {
    const QString home = QDir::homePath();
    return folder == home                  ? QStringLiteral("~")
           : folder.startsWith(home + "/") ? "~" + folder.mid(home.size())
                                           : folder;
}

}
