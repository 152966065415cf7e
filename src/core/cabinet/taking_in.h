// How files come into the cabinet and stay known there: taken in with the words that they have, found again where they
// were moved to, read again where they were changed. No file is touched,
// unless PDFs are to be made searchable.
#pragma once

#include "core/cabinet/cabinet.h"
#include "core/raster/raster.h"
#include "core/reading/paper_words.h"

#include <functional>
#include <stop_token>

namespace yelvin {

// Reads a page that brought no words; empty: they are left unread.
using PageReader = std::function<Result<TextLayer>(const Raster& page)>;
// Puts words into a PDF whose pages have none; how many pages. It stays as it is where that is not possible.
using PdfImprover = std::function<Result<int>(const std::filesystem::path& pdf)>;

// PDFs and pictures in the folder and those within it, by their names; hidden ones are not, links are not followed.
std::vector<std::filesystem::path> paper_files_in(const std::filesystem::path& folder,
                                                  const std::stop_token& stop = {});
bool is_paper_file(const std::filesystem::path& file); // by its name

// What is known of a paper by its pages' texts. Empty parts: not said, or not surely.
PaperKnown known_of(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day scanned);

// All of a file. Errors: Missing, BadInput, Stopped.
Result<NewPaper> paper_of_file(const std::filesystem::path& file, const PaperWords& words, const PageReader& read,
                               const std::stop_token& stop);

// The words of a document that is being saved, page by page.
struct GatheredWords {
    std::vector<PageWords> pages;
    std::vector<PageText> first; // by which it is known what it is
    void add(const PageText& text, double dpi);
};
// Papers from what was just saved: one of all pages, or where each page has a file of its own, one each. Where a
// password is needed to open them, their words stay out. Files that are gone again are none.
std::vector<NewPaper> papers_of_saved(const std::vector<std::filesystem::path>& files, GatheredWords words,
                                      const PaperWords& known_by, const PaperFile& about);

class TakingIn {
  public:
    enum class Outcome { KnownAlready, Moved, ReadAgain, Added };
    // All that is given must outlive it.
    TakingIn(Cabinet& cabinet, const PaperWords& words, PageReader read, std::stop_token stop)
        : cabinet_(cabinet), words_(words), read_(std::move(read)), stop_(std::move(stop)) {}
    void make_searchable_by(PdfImprover improve) { improve_ = std::move(improve); }
    // Why PDFs that were to become searchable stayed as they are; they were taken in all the same.
    const std::vector<Error>& left_as_they_are() const { return left_as_they_are_; }

    // `taken_from`: the folder that is taken in; empty: none.
    Result<Outcome> take(const std::filesystem::path& file, const std::filesystem::path& taken_from);

    struct Round {
        int moved = 0, gone = 0, away = 0, back = 0, read_again = 0;
        bool operator==(const Round&) const = default;
        bool nothing() const { return *this == Round{}; }
    };
    // Looks where the cabinet's files are: into folders that have changed since the last time, and at some files in
    // turn. A file that is missing now and was not before is looked for by its contents. A folder that does not exist
    // says nothing about its files: they are away.
    Result<Round> look_after();
    // The same for the files that lie in this one folder.
    Result<Round> look_into(const std::filesystem::path& folder);
    // Looks again for all files that are known to be gone or away, which may take seconds: once an hour at most, and
    // otherwise does nothing, unless `at_once`.
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
