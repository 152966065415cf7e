// The cabinet: a database of the documents that were saved or added, with the places of their files and the words of
// their pages, so that they are found again (finding.h). The files themselves are never changed here.
#pragma once

#include "core/cabinet/cabinet_lock.h"
#include "core/cabinet/page_words.h"
#include "core/error.h"

#include <chrono>
#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace SQLite {
class Database;
}

namespace yelvin {

// Properties by which a file is recognised.
struct FileMark {
    std::uint64_t size = 0;
    std::int64_t changed_ns = 0; // time of the last write, since 1970
    std::string contents;        // SHA-256 in hexadecimal digits
    bool operator==(const FileMark&) const = default;
};

enum class Place {
    Here,
    Gone, // the file is missing, although its folder exists
    Away, // its folder does not exist, for example because a network share is not mounted
};
enum class TextState {
    Read,
    Missing,   // the file has no text and was not read yet
    Protected, // a password is needed to open the file
};

// Facts that were read on a document; empty ones were not found.
struct PaperKnown {
    std::string sender, kind, number, heading;
    std::string date; // ISO 8601
    bool operator==(const PaperKnown&) const = default;
};

struct PaperFile {
    std::filesystem::path file;
    std::string ticket; // name of the ticket that made it; empty: it was added
    std::chrono::sys_seconds saved{};
    PaperKnown known;
    FileMark mark;
    Place place = Place::Here;
    TextState text_state = TextState::Read;
    std::string taken_from; // the watched folder that it was found in; empty: it was saved by us
    std::string document;   // id of the tray's document that it was; empty: none
};

struct CabinetPaper : PaperFile {
    long long id = 0;
    int pages = 0;
};

struct NewPaper : PaperFile {
    std::vector<PageWords> words; // of each page; empty if not known
};

// What is done with documents without text in a watched folder.
enum class WithoutText { Leave, Read, MakeSearchable };

struct WatchedFolder {
    std::filesystem::path folder;
    WithoutText unread = WithoutText::Leave;
    bool operator==(const WatchedFolder&) const = default;
};

struct FolderSeen {
    std::filesystem::path folder;
    std::int64_t changed_ns = 0; // time of its last change, since 1970; 0: not looked into yet; -1: it did not exist
};

// Every change is one transaction that survives a power cut. Used by one thread at a time; several processes may have
// the same cabinet open. The functions block on the disk; they return NotWritable if it fails and BadInput if the
// database is damaged.
class Cabinet {
  public:
    // Opens the cabinet in this folder, or creates it. A damaged one is rebuilt the way rebuild() does it, and
    // rebuilt() says so. Errors: NotWritable; Unsupported if a newer version made it; Busy if another process is
    // rebuilding it, or if it is damaged and another process has it open.
    static Result<Cabinet> open(const std::filesystem::path& folder);
    Cabinet(Cabinet&&) noexcept;
    Cabinet& operator=(Cabinet&&) noexcept;
    ~Cabinet();
    const std::string& rebuilt() const { return rebuilt_; } // a sentence if open() rebuilt it; otherwise empty
    // After rebuilding: files whose entries were lost and that still exist. The caller adds them again.
    const std::vector<std::filesystem::path>& lost_files() const { return lost_files_; }
    const std::filesystem::path& folder() const { return folder_; }

    // Adds documents and returns their ids in the same order. One with the path of an existing entry replaces it and
    // keeps its id.
    Result<std::vector<long long>> add(std::span<const NewPaper> papers);
    Result<long long> add(const NewPaper& paper);
    // Adds a document unless an entry with the same path and contents exists, which another process may just have
    // added. Returns whether it was added.
    Result<bool> add_unless_known(const NewPaper& paper);
    // Records that the entry's file was renamed or moved.
    Result<void> moved(long long id, const std::filesystem::path& file, const FileMark& mark);
    // Records the present state of the entry's file.
    Result<void> found_at_place(long long id, const FileMark& mark, Place place);
    Result<void> remove_entries(const std::vector<long long>& ids); // the files stay

    Result<std::vector<CabinetPaper>> all() const; // the oldest entry first
    Result<std::optional<CabinetPaper>> paper(long long id) const;
    Result<std::optional<CabinetPaper>> paper_at(const std::filesystem::path& file) const;
    Result<std::vector<CabinetPaper>> with_contents(const std::string& contents) const;
    Result<std::vector<CabinetPaper>> papers_in(const std::filesystem::path& folder) const; // not in its subfolders
    Result<std::vector<CabinetPaper>> papers_from(long long id,
                                                  int most) const; // in the order of their ids, from this one on
    Result<std::vector<CabinetPaper>> latest_here(int most) const; // entries with Place::Here, the newest first
    Result<std::vector<CabinetPaper>> papers_not_here() const;     // entries with Place::Gone or Away

    // The folders in which files of entries are or were, with the times of their last change when they were last looked
    // into.
    Result<std::vector<FolderSeen>> places() const;
    Result<void> note_places(const std::vector<FolderSeen>& seen);
    // A number that is stored with the cabinet under a name; 0 if there is none.
    Result<std::int64_t> number(const char* name) const;
    Result<void> set_number(const char* name, std::int64_t value);
    Result<std::vector<long long>> older_than(std::chrono::sys_seconds saved) const;
    Result<std::vector<PageWords>> words(long long id) const; // of all its pages
    Result<NewPaper> whole(long long id) const;               // the entry as add() takes it; Missing if there is none

    Result<void> watch_folder(const WatchedFolder& folder);
    Result<void> unwatch_folder(const std::filesystem::path& folder); // its entries stay
    Result<std::vector<WatchedFolder>> folders() const;

    // Does upkeep that makes the database smaller and searching faster. Takes about a second at most. Returns whether
    // there is more to do; call it while nobody waits.
    Result<bool> do_upkeep();
    Result<void> rebuild_index();  // from the stored words
    Result<bool> is_whole() const; // checks the whole database, which takes seconds
    // Rebuilds a damaged cabinet: sets its file aside and copies what can still be read of it into a new one. Errors:
    // Busy if another process has it open; NotWritable if it cannot be set aside.
    Result<void> rebuild();

  private:
    explicit Cabinet(std::filesystem::path folder);
    // Copy entries from a damaged file, by what SQLite can still read, and by its single pages. Both return the number
    // of entries.
    size_t take_over(const std::filesystem::path& from);
    size_t take_over_by_pages(const std::filesystem::path& from);
    std::filesystem::path folder_;
    std::string rebuilt_;
    std::vector<std::filesystem::path> lost_files_;
    CabinetLock lock_;
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

// Returns the properties of a file, reading all of it. Errors: Missing, BadInput.
Result<FileMark> mark_of(const std::filesystem::path& file);
// Returns size and time only, without reading the file: enough to see whether it may have changed.
Result<FileMark> quick_mark_of(const std::filesystem::path& file);

}
