// What was saved on this machine: under which names, in which folders, and by which words its papers are known again.
// Kept small in a table of its own.
#pragma once

#include "core/error.h"
#include "core/reading/paper_says.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace yelvin {

// By what a paper is known again.
struct PaperLook {
    std::string sender, kind, heading, number, date; // empty: not read
    std::vector<std::string> words;                  // keys, each once, sorted; at most 80
    bool operator==(const PaperLook&) const = default;
};
PaperLook look_of_paper(const PageText& first_page, const PaperSays& says);

struct SavedPaper {
    long long id = 0;
    std::string file; // whole path
    PaperLook look;
    std::string name() const; // without extension
    std::string folder() const;
};

struct AlikePaper {
    SavedPaper paper;
    double alike = 0; // 0 to 1
};
// Those that are alike enough to go by, the most alike first: the same sender or much the same words.
std::vector<AlikePaper> alike_papers(const PaperLook& look, const std::vector<SavedPaper>& saved);

// Where they say it goes. Nothing where they disagree too much.
struct AlikeFolder {
    std::string folder;
    std::vector<long long> ids; // of those that lie there
};
std::optional<AlikeFolder> alike_folder(const std::vector<AlikePaper>& alike);

class SavedBefore {
  public:
    static constexpr int most = 2000; // the oldest go

    // Opens or makes it. A damaged one is set aside as FILE.damaged and begun anew. Errors: NotWritable.
    static Result<SavedBefore> open(const std::filesystem::path& file);
    SavedBefore(SavedBefore&&) noexcept;
    SavedBefore& operator=(SavedBefore&&) noexcept;
    ~SavedBefore();

    Result<std::vector<SavedPaper>> all() const; // the oldest first
    Result<void> add(const SavedPaper& paper);   // under an id of its own; in place of what had the same file
    Result<void> moved(const std::string& from, const std::string& to);
    Result<void> forget(const std::vector<long long>& ids);
    Result<void> forget_all(); // its words are overwritten on disk

  private:
    explicit SavedBefore(std::unique_ptr<SQLite::Database> database);
    std::unique_ptr<SQLite::Database> database_;
};

}
