// The naming history: what was saved on this computer, under which names and in which folders, and by which words such
// documents are recognised. Names and folders of similar documents are proposed from it.
#pragma once

#include "core/error.h"
#include "core/paper_facts/paper_facts.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace yelvin {

// What a document is recognised by. A value.
struct DocumentTraits {
    std::string sender, kind, heading, number, date; // empty: not found
    std::vector<std::string> words;                  // keys, each once, sorted; at most 80
    bool operator==(const DocumentTraits&) const = default;
};
// Returns the traits of a document from the text of its first page and the facts read on it. A pure function.
DocumentTraits traits_of(const PageText& first_page, const PaperFacts& says);

// An entry of the history.
struct SavedDocument {
    long long id = 0; // given by add()
    std::string file; // absolute path
    DocumentTraits traits;
    std::string name() const;   // of the file, without extension
    std::string folder() const; // that the file is in
};

struct SimilarDocument {
    SavedDocument paper;
    double alike = 0; // similarity, 0 to 1
};
// Returns the saved documents that are similar enough to learn from, the most similar first: same sender, or mostly the
// same rare words. A pure function.
std::vector<SimilarDocument> similar_documents(const DocumentTraits& traits, const std::vector<SavedDocument>& saved);

// The folder in which similar documents are.
struct SimilarFolder {
    std::string folder;
    std::vector<long long> ids; // of the documents in it
};
// Returns the folder of most of them, or nullopt if they disagree too much. A pure function.
std::optional<SimilarFolder> folder_of_similar(const std::vector<SimilarDocument>& alike);

// The history on disk, a SQLite database with secure_delete. Movable, used by one thread at a time; blocks on the disk.
// Functions return NotWritable if the disk fails.
class NamingHistory {
  public:
    static constexpr int most = 2000; // entries; adding more deletes the oldest

    // Opens the database or creates it. A damaged one is moved to FILE.damaged and replaced by an empty one. Errors:
    // NotWritable.
    static Result<NamingHistory> open(const std::filesystem::path& file);
    NamingHistory(NamingHistory&&) noexcept;
    NamingHistory& operator=(NamingHistory&&) noexcept;
    ~NamingHistory();

    Result<std::vector<SavedDocument>> all() const; // the oldest first
    // Adds an entry with a new id, replacing one with the same file.
    Result<void> add(const SavedDocument& paper);
    // Records that a file was renamed or moved.
    Result<void> moved(const std::string& from, const std::string& to);
    Result<void> forget(const std::vector<long long>& ids);
    // Deletes all entries and overwrites them on disk, also those of a damaged database that was set aside.
    Result<void> forget_all();

  private:
    explicit NamingHistory(std::unique_ptr<SQLite::Database> database);
    std::unique_ptr<SQLite::Database> database_;
};

}
