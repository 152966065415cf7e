// Saving a document: develops, reads and encodes its pages in parallel, appends them in order, and gives the complete
// files free names. Memory holds a few pages, however many there are.
#pragma once

#include "core/error.h"
#include "core/output/add_to_pdf.h"
#include "core/raster/raster.h"
#include "core/text/page_text.h"
#include "core/ticket/ticket.h"

#include <chrono>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

class ReaderPool;
struct PaperWords;

// A page to be saved.
struct FinishedPage {
    Raster raster;
    std::optional<TextLayer> text;                          // nullopt: to be read, if there are languages
    std::optional<std::vector<std::string>> languages = {}; // its own; nullopt: the ticket's
    // Applies the user's corrections and marks what is left out; empty: no corrections.
    std::function<PageText(const TextLayer&)> put_right = {};
    // A PDF of this page, if it was drawn and not changed; a PDF contains it unchanged.
    std::string drawing = {};
    // A PDF of this page's pictures, if it is an unchanged scan: a PDF contains their bytes under the page's words
    // (PageFile::pictures()).
    std::string pictures = {};
};

// What is to be saved. The functions may be called on several threads at the same time, unless they say otherwise.
struct SaveJob {
    size_t page_count = 0;
    // Returns a page, or nullopt if it is left out (a blank one).
    std::function<Result<std::optional<FinishedPage>>(size_t index)> page;
    // Decides about a page that failed: true saves the others; false, or an empty function, ends the job with its
    // error.
    std::function<bool(size_t index, const Error& error)> leave_out;
    std::function<void(size_t index, const TextLayer& text)> on_read; // reports a page that was read; may be empty
    // Reports the text of each saved page, one at a time and in order. Paragraphs that are left out are marked; a page
    // that was not read has none. May be empty.
    std::function<void(const PageText& text, double dpi)> on_text;
    std::function<void(double done)> progress; // 0 to 1; may be empty

    Ticket ticket;
    std::filesystem::path folder; // exists; subfolders that the ticket names are created
    bool absolute_folders = true; // whether make.also may name folders outside of `folder`, as in the user's own ticket
    std::string fixed_name;       // empty: made of the ticket's parts
    std::string barcode = {};     // text of the separator in front of the document
    std::chrono::year_month_day date;
    std::shared_ptr<const PaperWords> words = {}; // for reading facts; null: the common ones
    int first_stamp = 1;                          // first number of the stamp's counter, which counts pages
    int most_dpi = 0;                             // finer pages are reduced to it; 0: none
    Passwords passwords = {};                     // for PDFs
    std::optional<AddTo> add_to = {};             // the PDF to which the pages are added, instead of a new file
    int workers = 2;
};

// A file that was saved.
struct MadeFile {
    std::filesystem::path path;
    Format format = Format::Pdf;
    int pages = 0;
    std::uint64_t bytes = 0;
};

// Makes the job's files. Returns the ticket's own first, then those of make.also.
//
// Saves all of them or none: after an error, a stop or an exception no file and no folder of this job is left. A page
// whose step throws fails like one that returns an error, so `leave_out` decides about it; exceptions of the job's
// other functions are passed on. A file of a single page is named by that page alone, a whole document by its first
// pages, whatever the number of workers. Blocks. Errors: those of the pages, the writers and the folders; Stopped.
Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop);

// Checks what can be known before any page is available: the folders, the passwords that the ticket needs, the PDF to
// which pages are added. Writes nothing. Blocks on the disk.
Result<void> check_job(const SaveJob& job, ReaderPool& readers);

}
