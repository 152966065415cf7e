#include "core/naming/naming_history.h"

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
    return fail(ErrorKind::NotWritable,
                "The naming history could not be saved, so names are not proposed from it; check for disk space.",
                what.what());
}

nlohmann::json traits_json(const DocumentTraits& traits) {
    return {{"sender", traits.sender}, {"kind", traits.kind}, {"heading", traits.heading},
            {"number", traits.number}, {"date", traits.date}, {"words", traits.words}};
}

// Returns nothing if the text cannot be parsed.
std::optional<DocumentTraits> traits_from(const std::string& text) {
    const auto json = json_from_text(text);
    if (!json || !json->is_object()) return std::nullopt;
    try {
        DocumentTraits traits{json->at("sender"), json->at("kind"), json->at("heading"),
                              json->at("number"), json->at("date"), json->at("words")};
        std::ranges::sort(traits.words);
        return traits;
    } catch (const std::exception&) {
        return std::nullopt;
    }
}

std::string same_sender_key(const std::string& sender) {
    std::string out;
    for (const std::string& key : word_keys(sender)) out += key;
    return out;
}

// Computes the similarity of two documents, 0 to 1: the cosine of their words, weighted by inverse document frequency.
class Rarity {
  public:
    Rarity(const DocumentTraits& traits, const std::vector<SavedDocument>& saved)
        : papers_(static_cast<double>(saved.size()) + 1) {
        for (const SavedDocument& paper : saved)
            for (const std::string& word : paper.traits.words) ++with_[word];
        for (const std::string& word : traits.words) ++with_[word];
    }
    double alike(const DocumentTraits& a, const DocumentTraits& b) const {
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

DocumentTraits traits_of(const PageText& first_page, const PaperFacts& says) {
    DocumentTraits traits;
    const auto value = [](const std::optional<PaperFact>& fact) {
        return fact && fact->sure >= 0.5 ? fact->value : std::string();
    };
    traits.sender = value(says.sender);
    traits.kind = value(says.kind);
    traits.heading = value(says.heading);
    traits.number = value(says.number);
    traits.date = value(says.date);
    std::vector<std::string> keys;
    for (const TextLine& line : first_page.layer.lines)
        for (const Word& word : line.words)
            for (std::string& key : word_keys(word.text))
                if (key.size() >= 4 && key.find_first_of("0123456789") == std::string::npos)
                    keys.push_back(std::move(key));
    // Letterheads are at the top and the bottom of a page.
    std::set<std::string> chosen;
    for (size_t i = 0; i < keys.size() && chosen.size() < most_words * 3 / 5; ++i) chosen.insert(keys[i]);
    for (size_t i = keys.size(); i-- > 0 && chosen.size() < most_words;) chosen.insert(keys[i]);
    traits.words.assign(chosen.begin(), chosen.end());
    return traits;
}

std::string SavedDocument::name() const { return fs::path(file).stem().string(); }
std::string SavedDocument::folder() const { return fs::path(file).parent_path().string(); }

std::vector<SimilarDocument> similar_documents(const DocumentTraits& traits, const std::vector<SavedDocument>& saved) {
    constexpr double enough = 0.5;
    const Rarity rarity(traits, saved);
    const std::string sender = same_sender_key(traits.sender);
    std::vector<SimilarDocument> out;
    for (const SavedDocument& paper : saved) {
        const double words = rarity.alike(traits, paper.traits);
        const std::string other = same_sender_key(paper.traits.sender);
        double alike = 0.85 * words; // One of the senders is not known.
        if (!sender.empty() && !other.empty()) alike = sender == other ? 0.55 + 0.35 * words : 0.5 * words;
        if (!traits.kind.empty() && !paper.traits.kind.empty())
            alike += traits.kind == paper.traits.kind ? 0.08 : -0.04;
        if (alike >= enough) out.push_back({paper, std::min(1.0, alike)});
    }
    std::ranges::stable_sort(out, [](const SimilarDocument& a, const SimilarDocument& b) {
        return std::pair(a.alike, a.paper.id) > std::pair(b.alike, b.paper.id);
    });
    return out;
}

std::optional<SimilarFolder> folder_of_similar(const std::vector<SimilarDocument>& alike) {
    constexpr size_t asked = 8; // of the most alike
    std::map<std::string, double> votes;
    double all = 0;
    for (size_t i = 0; i < alike.size() && i < asked; ++i) {
        votes[alike[i].paper.folder()] += alike[i].alike;
        all += alike[i].alike;
    }
    const auto best = std::ranges::max_element(votes, {}, [](const auto& each) { return each.second; });
    if (best == votes.end() || best->second < 0.6 * all) return std::nullopt;
    SimilarFolder out{best->first, {}};
    for (const SimilarDocument& each : alike)
        if (each.paper.folder() == best->first) out.ids.push_back(each.paper.id);
    return out;
}

NamingHistory::NamingHistory(std::unique_ptr<SQLite::Database> database) : database_(std::move(database)) {}
NamingHistory::NamingHistory(NamingHistory&&) noexcept = default;
NamingHistory& NamingHistory::operator=(NamingHistory&&) noexcept = default;
NamingHistory::~NamingHistory() = default;

namespace {
fs::path damaged_file(const fs::path& file) { return file.string() + ".damaged"; }
}

Result<NamingHistory> NamingHistory::open(const fs::path& file) {
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
            return NamingHistory(std::move(database));
        } catch (const SQLite::Exception& what) {
            // The database is damaged. It is used only for proposals, so it is replaced by an empty one.
            const bool damaged = what.getErrorCode() == SQLITE_NOTADB || what.getErrorCode() == SQLITE_CORRUPT;
            if (again || !damaged) return not_kept(what);
            fs::rename(file, damaged_file(file), ignored);
            for (const char* end : {"-wal", "-shm"}) fs::remove(file.string() + end, ignored);
        }
    }
    return fail(ErrorKind::NotWritable, "The naming history could not be opened.");
}

Result<std::vector<SavedDocument>> NamingHistory::all() const {
    try {
        std::vector<SavedDocument> out;
        SQLite::Statement rows(*database_, "SELECT id, file, look FROM saved ORDER BY id");
        while (rows.executeStep())
            if (auto traits = traits_from(rows.getColumn(2).getString()))
                out.push_back({rows.getColumn(0).getInt64(), rows.getColumn(1).getString(), std::move(*traits)});
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

Result<void> NamingHistory::add(const SavedDocument& paper) {
    return changed(*database_, [&] {
        SQLite::Statement old(*database_, "DELETE FROM saved WHERE file = ?");
        old.bind(1, paper.file);
        old.exec();
        SQLite::Statement row(*database_, "INSERT INTO saved (file, look) VALUES (?, ?)");
        row.bind(1, paper.file);
        row.bind(2, traits_json(paper.traits).dump(-1, ' ', false, nlohmann::json::error_handler_t::replace));
        row.exec();
        SQLite::Statement oldest(*database_, "DELETE FROM saved WHERE id <= (SELECT MAX(id) FROM saved) - ?");
        oldest.bind(1, most);
        oldest.exec();
    });
}

Result<void> NamingHistory::moved(const std::string& from, const std::string& to) {
    return changed(*database_, [&] {
        SQLite::Statement row(*database_, "UPDATE OR REPLACE saved SET file = ? WHERE file = ?");
        row.bind(1, to);
        row.bind(2, from);
        row.exec();
    });
}

Result<void> NamingHistory::forget(const std::vector<long long>& ids) {
    return changed(*database_, [&] {
        for (const long long id : ids) {
            SQLite::Statement row(*database_, "DELETE FROM saved WHERE id = ?");
            row.bind(1, static_cast<int64_t>(id));
            row.exec();
        }
    });
}

Result<void> NamingHistory::forget_all() {
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
    fs::remove(damaged, failed); // Also forget what was set aside from a damaged store.
    if (!failed) return {};
    return fail(ErrorKind::NotWritable,
                fmt::format("The naming history is cleared, but {} could not be removed ({}); delete it yourself.",
                            damaged.string(), failed.message()));
}

}
