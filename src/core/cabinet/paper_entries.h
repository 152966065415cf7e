// The cabinet's entries of documents, made of files on the disk. No file is changed. The functions block; they may be
// called on any thread.
#pragma once

#include "core/cabinet/cabinet.h"
#include "core/paper_facts/paper_words.h"
#include "core/raster/raster.h"
#include "core/text/page_text.h"

#include <chrono>
#include <filesystem>
#include <functional>
#include <span>
#include <stop_token>
#include <vector>

namespace yelvin {

// Reads a page without text by OCR. If the function is empty, such pages are not read.
using PageReader = std::function<Result<TextLayer>(const Raster& page)>;

// Whether the file is a PDF, judged by its name.
bool is_pdf_file(const std::filesystem::path& file);
// Whether the file is a PDF or a picture, judged by its name; hidden files are not.
bool is_paper_file(const std::filesystem::path& file);
// Lists such files in the folder and its subfolders, by their names. Hidden folders are skipped, links are not
// followed.
std::vector<std::filesystem::path> paper_files_in(const std::filesystem::path& folder,
                                                  const std::stop_token& stop = {});

// Returns the facts of a document from the texts of its pages; facts that are not certain are empty.
PaperKnown known_of(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day scanned);

// Reads a file with the text that it has; pages without text by `read`. Errors: Missing, BadInput, Stopped.
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

}
