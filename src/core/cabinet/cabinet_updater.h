// Adding files to the cabinet and following them: files are added with the text that they have, found where they were
// moved to, and read again if they were changed. No file is changed, unless PDFs are to be made searchable. The
// functions block.
#pragma once

#include "core/cabinet/cabinet.h"
#include "core/paper_facts/paper_words.h"
#include "core/raster/raster.h"

#include <functional>
#include <stop_token>

namespace yelvin {

// Reads a page without text by OCR. If the function is empty, such pages are not read.
using PageReader = std::function<Result<TextLayer>(const Raster& page)>;
// Adds text to the pages of a PDF that have none and returns their number; on an error the PDF is unchanged.
using PdfImprover = std::function<Result<int>(const std::filesystem::path& pdf)>;

// Lists the PDFs and pictures in the folder and its subfolders, by their names. Hidden files are skipped, links are not
// followed.
std::vector<std::filesystem::path> paper_files_in(const std::filesystem::path& folder,
                                                  const std::stop_token& stop = {});
bool is_paper_file(const std::filesystem::path& file); // judged by its name

// Returns the facts of a document from the texts of its pages; facts that are not certain are empty.
PaperKnown known_of(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day scanned);

// Reads a file for the cabinet. Errors: Missing, BadInput, Stopped.
Result<NewPaper> paper_of_file(const std::filesystem::path& file, const PaperWords& words, const PageReader& read,
                               const std::stop_token& stop);

// Collects the words of a document that is being saved, page by page.
struct GatheredWords {
    std::vector<PageWords> pages;
    std::vector<PageText> first; // the texts from which its facts are read
    void add(const PageText& text, double dpi);
};
// Returns the entries of what was just saved: one for all pages, or one for each page if each has a file of its own. If
// a password is needed to open the files, their words are left out. Files that no longer exist are skipped.
std::vector<NewPaper> papers_of_saved(const std::vector<std::filesystem::path>& files, GatheredWords words,
                                      const PaperWords& known_by, const PaperFile& about);

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
    Result<void> improve(const std::filesystem::path& file);
    Result<bool> came_from_elsewhere(const std::filesystem::path& file, const FileMark& mark);
    Result<void> check(const std::vector<CabinetPaper>& papers, std::vector<CabinetPaper>& missing, Round& round);
    Result<void> say_missing(std::vector<CabinetPaper> missing, Round& round);
    Result<void> find_moved(std::vector<CabinetPaper>& missing, Round& round);
};

}
