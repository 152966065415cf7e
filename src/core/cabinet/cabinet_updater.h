// Adding files to the cabinet and following them: files are added with the text that they have, found where they were
// moved to, and read again if they were changed. No file is changed, unless PDFs are to be made searchable. The
// functions block. An object is used by one thread at a time, the one that uses its Cabinet.
#pragma once

#include "core/cabinet/paper_entries.h"

#include <filesystem>
#include <functional>
#include <stop_token>
#include <vector>

namespace yelvin {

// Adds text to the pages of a PDF that have none and returns their number; on an error the PDF is unchanged.
using PdfImprover = std::function<Result<int>(const std::filesystem::path& pdf)>;

class CabinetUpdater {
  public:
    enum class Outcome { KnownAlready, Moved, ReadAgain, Added };
    // `cabinet` and `words` must outlive this object.
    CabinetUpdater(Cabinet& cabinet, const PaperWords& words, PageReader read, std::stop_token stop)
        : cabinet_(cabinet), words_(words), read_(std::move(read)), stop_(std::move(stop)) {}
    void make_searchable_by(PdfImprover improve) { improve_ = std::move(improve); }
    // Why PDFs that should become searchable were not changed; they were added nevertheless.
    const std::vector<Error>& left_as_they_are() const { return left_as_they_are_; }

    // Adds a file, or updates its entry. `taken_from` is the watched folder that it was found in; may be empty. Errors:
    // those of paper_of_file() and of Cabinet.
    Result<Outcome> take(const std::filesystem::path& file, const std::filesystem::path& taken_from);

    struct Round {
        int moved = 0, gone = 0, away = 0, back = 0, read_again = 0;
        bool operator==(const Round&) const = default;
        bool nothing() const { return *this == Round{}; }
    };
    // Checks the cabinet's files: looks into folders that changed since the last time, and at some files in turn. A
    // file that has become missing is looked for by its contents. If its folder does not exist, a file is away, not
    // missing.
    Result<Round> look_after();
    // Checks the files in one folder in the same way.
    Result<Round> look_into(const std::filesystem::path& folder);
    // Looks again for all files that are known to be gone or away, which may take seconds. Does nothing if the last
    // time was less than an hour ago, unless `at_once`.
    Result<Round> look_for_gone(bool at_once = false);

  private:
    Cabinet& cabinet_;
    const PaperWords& words_;
    PageReader read_;
    std::stop_token stop_;
    PdfImprover improve_;
    std::vector<Error> left_as_they_are_;
    Result<Outcome> add(const std::filesystem::path& file, const std::filesystem::path& taken_from);
    Result<Outcome> update(const CabinetPaper& known);
    Result<Outcome> confirm(const CabinetPaper& known, const FileMark& mark);
    bool can_improve(const std::filesystem::path& file) const;
    Result<void> improve(const std::filesystem::path& file);
    Result<bool> came_from_elsewhere(const std::filesystem::path& file, const FileMark& mark);
    Result<void> check(const std::vector<CabinetPaper>& papers, std::vector<CabinetPaper>& missing, Round& round);
    Result<void> say_missing(std::vector<CabinetPaper> missing, Round& round);
    Result<void> find_moved(std::vector<CabinetPaper>& missing, Round& round);
};

}
