// The tray on disk: a folder with one lossless file per original and a SQLite database (WAL) of documents and pages.
//
// A page counts as scanned when its file has its final name: files grow under a temporary name, are synced and then
// renamed. So after a crash at any moment the folder holds only whole originals, and load() takes in those that the
// database does not know yet.
//
// Nothing is deleted that was not understood: an original goes only after the commit of a step that leads back to it no
// more, and what cannot be read is set aside in a folder beside the store.
#pragma once

#include "core/error.h"
#include "core/raster/tiff_rows.h"
#include "core/reading/carried_words.h"
#include "core/saving/file_steps.h"
#include "core/tray/ticket_in_use.h"
#include "core/tray/tray.h"

#include <array>
#include <chrono>
#include <cstdint>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <set>
#include <span>

namespace SQLite {
class Database;
}

namespace yelvin {

// What undo and redo lead back to: earlier trays, the oldest first, with the name of the step that followed.
struct TrayStep {
    Tray tray;
    std::string name;
};
struct TrayHistory {
    std::vector<TrayStep> undo, redo;
};
inline constexpr size_t most_steps = 100;

inline constexpr const char* growing_suffix = ".growing"; // of files that are not whole yet

// What load() found.
struct LoadedTray {
    Tray tray;
    TrayHistory history;
    TicketsInUse tickets;            // those that a document of the tray, the history or the kept ones names
    std::string trouble;             // what could not be read, in one sentence; empty: all of it could
    std::filesystem::path set_aside; // the folder that keeps it, where there is something to keep
};

// A saved document that left the tray: its pages with their originals are kept for a while, so that it can come back
// and be corrected.
struct KeptDocument {
    DocumentPtr document;
    std::chrono::sys_seconds left{};
    std::uint64_t bytes = 0; // of its originals
};
// How long, and how much of them together; the oldest go first.
struct KeepingRule {
    std::chrono::days longest{30};
    std::uint64_t most_bytes = 10'000'000'000;
    bool operator==(const KeepingRule&) const = default;
};
// Whether each goes by the rule, in the order given: the one that left first stands first.
std::vector<bool> goes_by_rule(std::span<const KeptDocument> kept, const KeepingRule& rule,
                               std::chrono::sys_seconds now);

// Behind an original's name: all files that belong to it and go with it.
inline constexpr std::array<const char*, 4> beside_original{".by4", ".by16", ".drawing", ".pictures"};

class TrayStore {
  public:
    // Opens or makes the store. Errors: NotWritable; BadInput where the database is none (see open_afresh());
    // Unsupported where a newer version wrote it.
    static Result<TrayStore> open(const std::filesystem::path& folder, FileSteps& steps = disk());
    // As open(), with the database set aside and another begun; load() then takes all originals in anew.
    static Result<TrayStore> open_afresh(const std::filesystem::path& folder, FileSteps& steps = disk());
    TrayStore(TrayStore&&) noexcept;
    TrayStore& operator=(TrayStore&&) noexcept;
    ~TrayStore();

    // The tray and its history as last kept, originals found without a row added in a document of their own. Once,
    // before anything is kept, by the only program that has the store: what a killed one left half goes. What is not
    // understood is set aside. An Error: it could neither be read nor set aside, and nothing was touched.
    Result<LoadedTray> load();

    // Keeps the whole tray in one transaction, and the history with it where it is given: each state of a page once,
    // however many steps hold it. Deletes what the history no longer needs: the rows of states that no step holds, and,
    // after the commit, the original files (and their coarse copies) that neither the tray nor the history leads back
    // to. Without a history no file is deleted. On an Error all is as it was.
    // A document that was kept here as saved and is not in the tray any more becomes a KeptDocument, unless some of its
    // pages are; one that is in the tray again is none.
    Result<void> keep(const Tray& tray, const TrayHistory* history = nullptr);

    // A ticket that documents name, or will; in the place of what it said before.
    Result<void> keep_ticket(const std::string& id, const TicketInUse& ticket);

    const std::vector<KeptDocument>& kept_documents() const { return kept_; } // the one that left first stands first
    // Those that go by the rule: their rows, their readings and, after the commit, the originals that nothing else
    // leads to. On an Error all stay.
    Result<void> let_go_of_kept(const KeepingRule& rule, std::chrono::sys_seconds now);

    // The latest reading of a page in these languages, with the recipe that the page was developed by.
    struct KeptText {
        Recipe read_as;
        TextLayer layer;
    };
    Result<void> keep_text(const std::string& page_id, const Recipe& read_as, const std::string& languages,
                           const TextLayer& layer);
    std::optional<KeptText> text(const std::string& page_id, const std::string& languages);
    // All of them, without their words. Damaged ones are left out.
    struct ReadPage {
        std::string page_id, languages;
        ReadAs read;
    };
    std::vector<ReadPage> read_pages();

    // An original that no tray ever held and nobody wants any more.
    void discard(const Original& original);

    const std::filesystem::path& folder() const { return folder_; }

  private:
    std::filesystem::path folder_;
    FileSteps* steps_ = nullptr;
    std::unique_ptr<SQLite::Database> database_;
    std::filesystem::path set_aside_; // made as soon as it is needed
    bool afresh_ = false;
    // States of pages that are in the database, by the page that is held here to stay at its address.
    std::map<PagePtr, long> states_;
    // What was in a tray that was kept since originals were last looked through.
    std::set<std::string> held_;
    std::vector<std::string> removed_; // files that are gone; their rows go with the next commit
    Tray in_database_;                 // as it was kept last
    // What the tables hold, known once they were written by this program: what is the same is not written again.
    std::optional<Tray> written_;
    using StepRows = std::map<std::pair<int, size_t>, std::pair<std::string, std::string>>; // name, documents
    std::optional<StepRows> steps_written_;
    bool is_copied_beside(const std::filesystem::path& into);
    std::vector<KeptDocument> kept_;

    struct Reading; // load() under way (tray_load.cpp)
    struct Change;  // keep() under way
    TrayStore();
    Result<void> connect();
    Result<std::filesystem::path> set_aside_folder();
    Result<void> set_database_aside(bool move);
    void remove_file_of(const std::string& original);
    std::vector<KeptDocument> kept_beside(const Tray& tray) const; // once the tray is kept: what of it left, too
    void write_kept(const std::vector<KeptDocument>& kept);        // throws
    void note_going(const std::set<std::string>& originals);       // throws, as the next
    void forget_tickets(const std::vector<std::string>& ids);
    void take_over(Reading& reading);
    void forget_readings();               // of pages that nothing leads to
    std::set<std::string> led_to() const; // originals, by tray and history
    std::uint64_t bytes_of(const Document& document) const;
    std::unexpected<Error> failed(const std::exception& what) const;
};

// Takes one page in, row by row, and gives the Original once it is whole and on disk.
class OriginalWriter {
    // A coarser copy that is written along, `by` times: whole blocks of dots averaged.
    struct CoarseRows {
        int by = 4;
        TiffRowWriter rows;
        cv::Mat pending;
        std::filesystem::path file;
        Result<void> append(const cv::Mat& more, bool last);
    };

  public:
    static Result<OriginalWriter> begin(const std::filesystem::path& store_folder, int width_px, double dpi, Ink ink,
                                        FileSteps& steps = disk());
    OriginalWriter(OriginalWriter&&) noexcept = default;
    OriginalWriter& operator=(OriginalWriter&&) noexcept = default;
    ~OriginalWriter(); // an unfinished page is removed

    Result<void> append(const cv::Mat& rows);
    Result<Original> finish();

  private:
    OriginalWriter(TiffRowWriter rows, std::filesystem::path growing, Original original, FileSteps& steps)
        : steps_(&steps), rows_(std::move(rows)), growing_(std::move(growing)), original_(std::move(original)) {}
    FileSteps* steps_;
    TiffRowWriter rows_;
    std::vector<CoarseRows> coarse_;
    std::filesystem::path growing_;
    Original original_;
};

// Coarse copies of a large original, made while it comes in, so that it can be looked at without being read: a quarter
// and a sixteenth of its resolution. Kept beside it; made anew where they are missing.
inline constexpr int large_width_px = 6000;
bool is_large(const Original& original);
std::filesystem::path coarse_file(const std::filesystem::path& store_folder, const Original& original, int by);
Result<Raster> read_coarse(const std::filesystem::path& store_folder, const Original& original, int by);

Result<Original> keep_original(const std::filesystem::path& store_folder, const Raster& raster,
                               FileSteps& steps = disk());
Result<Raster> read_original(const std::filesystem::path& store_folder, const Original& original);

}
