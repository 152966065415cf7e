// What make and read take in: the pages of files, each as the ticket wants it.
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

// The files that are read from, a few of them open at a time: the last ones that were asked for. Thread-safe.
class OpenFiles {
  public:
    // Errors: those of PageFile::open().
    Result<std::shared_ptr<const PageFile>> of(const std::string& file);

  private:
    std::mutex mutex_;
    std::list<std::pair<std::string, std::shared_ptr<const PageFile>>> open_; // the last one first
};

struct InputPage {
    std::string file;
    int index = 0;
    std::shared_ptr<OpenFiles> files; // shared by all pages
    Result<std::shared_ptr<const PageFile>> opened() const { return files->of(file); }
};

// Reads a page. A part of it that is missing in the file is complained of, and `left_out` is set; the rest is a page.
Result<LoadedPage> loaded(const InputPage& input, std::atomic<bool>& left_out);

// Opens the files. One that cannot be used or that lacks pages is complained of, and `left_out` is set.
std::vector<InputPage> pages_of(const std::vector<std::string>& files, std::atomic<bool>& left_out);

// Whether the languages that the ticket reads in are installed; asked before any work, so that a missing language is
// one sentence and not one for each page. Errors: Missing.
Result<void> can_read(const Ticket& ticket, ReaderPool& readers);

// What a page brings with it, beside its picture.
struct Brought {
    std::optional<TextLayer> words = {};
    std::string drawing = {};  // FinishedPage::drawing
    std::string pictures = {}; // FinishedPage::pictures
};

// Nothing where the page is blank and those are dropped.
std::optional<FinishedPage> finished(Raster original, const Ticket& ticket, ReaderPool& readers, Brought brought = {});

}
