// The input pages of make and read, prepared as the ticket says.
#pragma once

#include "core/raster/page_file.h"
#include "core/ticket/ticket.h"
#include "jobs/save_job.h"

#include <atomic>
#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

namespace yelvin {

// Keeps the most recently used input files open. Thread-safe.
class OpenFiles {
  public:
    // Returns the open file. Errors: those of PageFile::open().
    Result<std::shared_ptr<const PageFile>> of(const std::string& file);

  private:
    std::mutex mutex_;
    std::list<std::pair<std::string, std::shared_ptr<const PageFile>>> open_; // the most recently used first
};

struct InputPage {
    std::string file;
    int index = 0;
    std::shared_ptr<OpenFiles> files; // shared by all pages
    Result<std::shared_ptr<const PageFile>> opened() const { return files->of(file); }
};

// Reads a page. If a part of it is missing in the file, prints a sentence and sets `left_out`; the rest is used.
Result<LoadedPage> loaded(const InputPage& input, std::atomic<bool>& left_out);

// Opens the files and lists their pages. For a file that cannot be used or lacks pages, prints a sentence and sets
// `left_out`.
std::vector<InputPage> pages_of(const std::vector<std::string>& files, std::atomic<bool>& left_out);

// Checks that the ticket's languages are installed, so that a missing one is reported once and not for each page.
// Errors: Missing.
Result<void> can_read(const Ticket& ticket, ReaderPool& readers);

// What a page of a PDF contains besides its picture.
struct EmbeddedContent {
    std::optional<TextLayer> words = {};
    std::string drawing = {};  // FinishedPage::drawing
    std::string pictures = {}; // FinishedPage::pictures
};

// Prepares a page for saving. Returns nullopt if it is blank and the ticket leaves such pages out.
std::optional<FinishedPage> finished(Raster original, const Ticket& ticket, ReaderPool& readers,
                                     EmbeddedContent brought = {});

}
