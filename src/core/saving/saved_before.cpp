#include "core/saving/saved_before.h"

#include "core/json_text.h"
#include "core/private_files.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace fs = std::filesystem;

namespace yelvin {

namespace {

constexpr size_t most_words = 80;

std::unexpected<Error> not_kept(const std::exception& what) {
    return fail(
        ErrorKind::NotWritable,
        "What was saved before could not be kept, so that names will not be proposed from it; see whether the disk "
        "is full.",
        what.what());
}

nlohmann::json look_json(const PaperLook& look) {
    return {{"sender", look.sender}, {"kind", look.kind}, {"heading", look.heading},
            {"number", look.number}, {"date", look.date}, {"words", look.words}};
}

// Nothing where it is not understood.
std::optional<PaperLook> look_from(const std::string& text) {
    const auto json = json_from_text(text);
    if (!json || !json->is_object()) return std::nullopt;
    try {
        PaperLook look{json->at("sender"), json->at("kind"), json->at("heading"),
                       json->at("number"), json->at("date"), json->at("words")};
        std::ranges::sort(look.words);
        return look;
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::string same_sender_key(const std::string& sender) {
    std::string out;
    for (const std::string& key : word_keys(sender)) out += key;
    return out;
}

// How much of the rarer words they share, 0 to 1: the cosine of both weighed by how few papers have a word.
class Rarity {
  public:
    Rarity(const PaperLook& look, const std::vector<SavedPaper>& saved)
        : papers_(static_cast<double>(saved.size()) + 1) {
        for (const SavedPaper& paper : saved)
            for (const std::string& word : paper.look.words) ++with_[word];
        for (const std::string& word : look.words) ++with_[word];
    }
    double alike(const PaperLook& a, const PaperLook& b) const {
        std::vector<std::string> both;
        std::ranges::set_intersection(a.words, b.words, std::back_inserter(both));
        const double whole = weight(a.words) * weight(b.words);
        return whole > 0 ? weight(both) / std::sqrt(whole) : 0;
    }

  private:
    double papers_;
    std::map<std::string, int> with_;
    double weight(const std::vector<std::string>& words) const {
        double sum = 0;
        for (const std::string& word : words)
            if (const auto at = with_.find(word); at != with_.end()) sum += std::log(1 + papers_ / at->second);
        return sum;
    }
};

}

PaperLook look_of_paper(const PageText& first_page, const PaperSays& says) {
    PaperLook look;
    const auto value = [](const std::optional<PaperFact>& fact) {
        return fact && fact->sure >= 0.5 ? fact->value : std::string();
    };
    look.sender = value(says.sender);
    look.kind = value(says.kind);
    look.heading = value(says.heading);
    look.number = value(says.number);
    look.date = value(says.date);
    std::vector<std::string> keys;
    for (const TextLine& line : first_page.layer.lines)
        for (const Word& word : line.words)
            for (std::string& key : word_keys(word.text))
                if (key.size() >= 4 && key.find_first_of("0123456789") == std::string::npos)
                    keys.push_back(std::move(key));
    // Letterheads stand at the head and the foot.
    std::set<std::string> chosen;
    for (size_t i = 0; i < keys.size() && chosen.size() < most_words * 3 / 5; ++i) chosen.insert(keys[i]);
    for (size_t i = keys.size(); i-- > 0 && chosen.size() < most_words;) chosen.insert(keys[i]);
    look.words.assign(chosen.begin(), chosen.end());
    return look;
}

std::string SavedPaper::name() const { return fs::path(file).stem().string(); }
std::string SavedPaper::folder() const { return fs::path(file).parent_path().string(); }

std::vector<AlikePaper> alike_papers(const PaperLook& look, const std::vector<SavedPaper>& saved) {
    constexpr double enough = 0.5;
    const Rarity rarity(look, saved);
    const std::string sender = same_sender_key(look.sender);
    std::vector<AlikePaper> out;
    for (const SavedPaper& paper : saved) {
        const double words = rarity.alike(look, paper.look);
        const std::string other = same_sender_key(paper.look.sender);
        double alike = 0.85 * words; // who sent it is not known
        if (!sender.empty() && !other.empty()) alike = sender == other ? 0.55 + 0.35 * words : 0.5 * words;
        if (!look.kind.empty() && !paper.look.kind.empty()) alike += look.kind == paper.look.kind ? 0.08 : -0.04;
        if (alike >= enough) out.push_back({paper, std::min(1.0, alike)});
    }
    std::ranges::stable_sort(out, [](const AlikePaper& a, const AlikePaper& b) {
        return std::pair(a.alike, a.paper.id) > std::pair(b.alike, b.paper.id);
    });
    return out;
}

std::optional<AlikeFolder> alike_folder(const std::vector<AlikePaper>& alike) {
    constexpr size_t asked = 8; // of the most alike
    std::map<std::string, double> votes;
    double all = 0;
    for (size_t i = 0; i < alike.size() && i < asked; ++i) {
        votes[alike[i].paper.folder()] += alike[i].alike;
        all += alike[i].alike;
    }
    const auto best = std::ranges::max_element(votes, {}, [](const auto& each) { return each.second; });
    if (best == votes.end() || best->second < 0.6 * all) return std::nullopt;
    AlikeFolder out{best->first, {}};
    for (const AlikePaper& each : alike)
        if (each.paper.folder() == best->first) out.ids.push_back(each.paper.id);
    return out;
}

SavedBefore::SavedBefore(std::unique_ptr<SQLite::Database> database) : database_(std::move(database)) {}
SavedBefore::SavedBefore(SavedBefore&&) noexcept = default;
SavedBefore& SavedBefore::operator=(SavedBefore&&) noexcept = default;
SavedBefore::~SavedBefore() = default;

namespace {
fs::path damaged_file(const fs::path& file) { return file.string() + ".damaged"; }
}

Result<SavedBefore> SavedBefore::open(const fs::path& file) {
    std::error_code ignored;
    make_private_folder(file.parent_path());
    for (const bool again : {false, true}) {
        make_private_file(file);
        try {
            auto database =
                std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 2000);
            database->exec("PRAGMA secure_delete = ON");
            database->exec("PRAGMA journal_mode = WAL");
            database->exec("CREATE TABLE IF NOT EXISTS saved (id INTEGER PRIMARY KEY AUTOINCREMENT, file TEXT NOT NULL "
                           "UNIQUE, look TEXT NOT NULL)");
            return SavedBefore(std::move(database));
        } catch (const SQLite::Exception& what) {
            // No database, or a broken one: it only makes proposals, so another one may begin.
            const bool damaged = what.getErrorCode() == SQLITE_NOTADB || what.getErrorCode() == SQLITE_CORRUPT;
            if (again || !damaged) return not_kept(what);
            fs::rename(file, damaged_file(file), ignored);
            for (const char* end : {"-wal", "-shm"}) fs::remove(file.string() + end, ignored);
        }
    }
    return fail(ErrorKind::NotWritable, "What was saved before could not be opened.");
}

Result<std::vector<SavedPaper>> SavedBefore::all() const {
    try {
        std::vector<SavedPaper> out;
        SQLite::Statement rows(*database_, "SELECT id, file, look FROM saved ORDER BY id");
        while (rows.executeStep())
            if (auto look = look_from(rows.getColumn(2).getString()))
                out.push_back({rows.getColumn(0).getInt64(), rows.getColumn(1).getString(), std::move(*look)});
        return out;
    } catch (const std::exception& what) {
        return not_kept(what);
    }
}

namespace {
template <class Change>
Result<void> changed(SQLite::Database& database, Change change) {
    try {
        SQLite::Transaction transaction(database);
        change();
        transaction.commit();
        return {};
    } catch (const std::exception& what) {
        return not_kept(what);
    }
}
}

Result<void> SavedBefore::add(const SavedPaper& paper) {
    return changed(*database_, [&] {
        SQLite::Statement old(*database_, "DELETE FROM saved WHERE file = ?");
        old.bind(1, paper.file);
        old.exec();
        SQLite::Statement row(*database_, "INSERT INTO saved (file, look) VALUES (?, ?)");
        row.bind(1, paper.file);
        row.bind(2, look_json(paper.look).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
        row.exec();
        SQLite::Statement oldest(*database_, "DELETE FROM saved WHERE id <= (SELECT MAX(id) FROM saved) - ?");
        oldest.bind(1, most);
        oldest.exec();
    });
}

Result<void> SavedBefore::moved(const std::string& from, const std::string& to) {
    return changed(*database_, [&] {
        SQLite::Statement row(*database_, "UPDATE OR REPLACE saved SET file = ? WHERE file = ?");
        row.bind(1, to);
        row.bind(2, from);
        row.exec();
    });
}

Result<void> SavedBefore::forget(const std::vector<long long>& ids) {
    return changed(*database_, [&] {
        for (const long long id : ids) {
            SQLite::Statement row(*database_, "DELETE FROM saved WHERE id = ?");
            row.bind(1, static_cast<int64_t>(id));
            row.exec();
        }
    });
}

Result<void> SavedBefore::forget_all() {
    const auto emptied = changed(*database_, [&] { database_->exec("DELETE FROM saved"); });
    if (!emptied) return emptied;
    try {
        database_->exec("PRAGMA wal_checkpoint(TRUNCATE)");
        database_->exec("VACUUM");
        database_->exec("PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (const std::exception& what) {
        return not_kept(what);
    }
    std::error_code failed;
    const fs::path damaged = damaged_file(database_->getFilename());
    fs::remove(damaged, failed); // what a damaged store left is to be forgotten too
    if (!failed) return {};
    return fail(ErrorKind::NotWritable,
                fmt::format("The naming history is cleared, but {} could not be removed ({}); delete it yourself.",
                            damaged.string(), failed.message()));
}

}
