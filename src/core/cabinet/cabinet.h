// The cabinet: what was saved or taken in, where it lies, and what its pages say, so that it is found again
// (finding.h). The files themselves are never touched here.
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

// By what a file is known again.
struct FileMark {
    std::uint64_t size = 0;
    std::int64_t changed_ns = 0; // when it was last written to, since 1970
    std::string contents;        // SHA-256 of all of it, in hexadecimal digits
    bool operator==(const FileMark&) const = default;
};

enum class Place {
    Here,
    Gone, // it is not where it was, though its folder is
    Away, // its folder is not there, as when a network is not
};
enum class Words {
    Read,
    Missing,   // it brought none along and was not read yet
    Protected, // a password is needed for them
};

// What a paper says of itself; empty: not read.
struct PaperKnown {
    std::string sender, kind, number, heading;
    std::string date; // ISO 8601
    bool operator==(const PaperKnown&) const = default;
};

struct PaperFile {
    std::filesystem::path file;
    std::string ticket; // with which it was made; empty: taken in
    std::chrono::sys_seconds saved{};
    PaperKnown known;
    FileMark mark;
    Place place = Place::Here;
    Words words_are = Words::Read;
    std::string taken_from; // the folder that was taken in with it; empty: it was saved by us
    std::string document;   // the document of the tray that it was; empty: none
};

struct CabinetPaper : PaperFile {
    long long id = 0;
    int pages = 0;
};

struct NewPaper : PaperFile {
    std::vector<PageWords> words; // of each page; empty ones where nothing is known
};

// What becomes of papers without words in a folder that is taken in.
enum class Unread { Leave, Read, MakeSearchable };

struct TakenFolder {
    std::filesystem::path folder;
    Unread unread = Unread::Leave;
    bool operator==(const TakenFolder&) const = default;
};

struct FolderSeen {
    std::filesystem::path folder;
    std::int64_t changed_ns = 0; // since 1970; 0: not looked into yet; -1: it was not there
};

// Every call is whole or not at all, also when the power goes. On one thread at a time; several programs may have it.
class Cabinet {
  public:
    // Opens the cabinet in this folder, or makes it. A damaged one is rebuilt as make_anew() does it, which rebuilt()
    // then says. Errors: NotWritable; Unsupported, made by a newer version; Busy, another program is rebuilding it, or
    // it is damaged and another program has it open.
    static Result<Cabinet> open(const std::filesystem::path& folder);
    Cabinet(Cabinet&&) noexcept;
    Cabinet& operator=(Cabinet&&) noexcept;
    ~Cabinet();
    const std::string& rebuilt() const { return rebuilt_; } // a sentence; empty if it was not
    // After it was rebuilt: files that were in it and are still there, but whose entries are lost. They are to be taken
    // in again.
    const std::vector<std::filesystem::path>& lost_files() const { return lost_files_; }
    const std::filesystem::path& folder() const { return folder_; }

    // In place of what has the same path, under the same id. The ids, in their order.
    Result<std::vector<long long>> add(std::span<const NewPaper> papers);
    Result<long long> add(const NewPaper& paper);
    // Adds a paper unless one with the same path and contents is there, which another program may just have added.
    // Returns whether it was added.
    Result<bool> add_unless_known(const NewPaper& paper);
    Result<void> moved(long long id, const std::filesystem::path& file, const FileMark& mark);
    Result<void> found_at_place(long long id, const FileMark& mark, Place place);
    Result<void> put_away(const std::vector<long long>& ids); // its line and its words; not the file

    Result<std::vector<CabinetPaper>> all() const; // the oldest entry first
    Result<std::optional<CabinetPaper>> paper(long long id) const;
    Result<std::optional<CabinetPaper>> paper_at(const std::filesystem::path& file) const;
    Result<std::vector<CabinetPaper>> with_contents(const std::string& contents) const;
    Result<std::vector<CabinetPaper>> papers_in(const std::filesystem::path& folder) const; // not those deeper in it
    Result<std::vector<CabinetPaper>> papers_from(long long id, int most) const; // by their ids, from this one on
    Result<std::vector<CabinetPaper>> latest_here(int most) const; // whose files are where they were, the newest first
    Result<std::vector<CabinetPaper>> papers_not_here() const;     // gone or away

    // The folders in which papers lie or lay, each with its time when it was last looked into.
    Result<std::vector<FolderSeen>> places() const;
    Result<void> note_places(const std::vector<FolderSeen>& seen);
    // A number kept with the cabinet under a name; 0 if there is none.
    Result<std::int64_t> number(const char* name) const;
    Result<void> set_number(const char* name, std::int64_t value);
    Result<std::vector<long long>> older_than(std::chrono::sys_seconds saved) const;
    Result<std::vector<PageWords>> words(long long id) const; // of all its pages
    Result<NewPaper> whole(long long id) const;               // so that it can be added again; Missing

    Result<void> take_folder(const TakenFolder& folder);
    Result<void> leave_folder(const std::filesystem::path& folder); // its papers stay
    Result<std::vector<TakenFolder>> folders() const;

    // What may wait until there is nothing else to do: makes what is kept smaller and finding quicker. About a second
    // at most; true: there is more to do.
    Result<bool> tend();
    Result<void> index_anew();     // from the words that are kept
    Result<bool> is_whole() const; // looks at all of it, which takes seconds
    // Rebuilds a damaged cabinet: sets its file aside, and puts what can still be read of it into a new one. Errors:
    // Busy, another program has it open; NotWritable, it cannot be set aside.
    Result<void> make_anew();

  private:
    explicit Cabinet(std::filesystem::path folder);
    // From a damaged file, by what SQLite still reads, and by its pages. Both return how many papers they added.
    size_t take_over(const std::filesystem::path& from);
    size_t take_over_by_pages(const std::filesystem::path& from);
    std::filesystem::path folder_;
    std::string rebuilt_;
    std::vector<std::filesystem::path> lost_files_;
    CabinetLock lock_;
    struct Inside;
    std::unique_ptr<Inside> inside_;
};

// Reads all of the file. Errors: Missing, BadInput.
Result<FileMark> mark_of(const std::filesystem::path& file);
// Without its contents: whether it might have changed is seen from the rest.
Result<FileMark> glance_at(const std::filesystem::path& file);

}
