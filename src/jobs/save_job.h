// From pages to finished files: develops, reads and encodes pages side by side on the pool, appends them in order, and
// lets the files appear whole under free names. Memory holds a few pages, however many there are.
#pragma once

#include "core/output/add_to_pdf.h"
#include "core/output/document_writer.h"
#include "core/saving/safe_file.h"
#include "jobs/page_work.h"

#include <chrono>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

namespace yelvin {

struct PaperWords;

// A page as it shall be in the file. Nothing: it is left out (a blank one).
struct FinishedPage {
    Raster raster;
    std::optional<TextLayer> text;                          // nothing: to be read, if there are languages
    std::optional<std::vector<std::string>> languages = {}; // its own; nothing: the ticket's
    // With what a person said about it, what is left out marked; empty: as it was read.
    std::function<PageText(const TextLayer&)> put_right = {};
    // A PDF of this one page, drawn and not scanned, on which nothing was changed; a PDF gets it as it is.
    std::string drawing = {};
    // A PDF of this one page's pictures, a scan on which nothing was changed: a PDF gets them with their bytes, under
    // the page's words (PageFile::pictures()).
    std::string pictures = {};
};

struct SaveJob {
    size_t page_count = 0;
    // Called on pool threads, several at once.
    std::function<Result<std::optional<FinishedPage>>(size_t index)> page;
    // A page that failed: true goes on without it, false (and an empty function) ends the job with its error.
    std::function<bool(size_t index, const Error& error)> leave_out;
    std::function<void(size_t index, const TextLayer& text)> on_read; // a new reading, to be kept; may be empty
    // What is known of a page's words, in the order of the pages in the file, one at a time: what is left out of the
    // text is marked and still there; no paragraphs where nothing was read.
    std::function<void(const PageText& text, double dpi)> on_text; // may be empty
    std::function<void(double done)> progress;                     // 0 to 1; on pool threads; may be empty

    Ticket ticket;
    std::filesystem::path folder; // is there; those within it that the ticket names are made
    bool absolute_folders = true; // make.also may name folders outside of `folder`: the person's own ticket does
    std::string fixed_name;       // empty: from the ticket's parts
    std::string barcode = {};     // of the separator in front of the document
    std::chrono::year_month_day date;
    std::shared_ptr<const PaperWords> words = {}; // by which papers are known; null: the common ones
    int first_stamp = 1;                          // of the stamp's counter, which counts pages
    int most_dpi = 0;                             // finer pages are brought to it; 0: all stay as they are
    Passwords passwords = {};                     // of its PDFs
    std::optional<AddTo> add_to = {};             // instead of a file of their own the pages go into this PDF
    int workers = 2;
};

struct MadeFile {
    std::filesystem::path path;
    Format format = Format::Pdf;
    int pages = 0;
    std::uint64_t bytes = 0;
};

// Makes the job's files. Returns the ticket's own first, then those of make.also.
//
// Makes all of them or none: after an error, a stop or an exception no file and no folder of this job is left. A page
// whose step throws fails like one that returns an Error, so `leave_out` decides about it; what the job's other
// functions throw is passed on. Each file of a single page is named by that page alone, a whole document by its first
// pages, whatever the number of workers.
Result<std::vector<MadeFile>> save_document(const SaveJob& job, ReaderPool& readers, std::stop_token stop);

// Checks what can be known before any page is there: the folders, the passwords that the ticket asks for, the PDF that
// pages are added to. Asks for no page and writes nothing.
Result<void> check_job(const SaveJob& job, ReaderPool& readers);

}
