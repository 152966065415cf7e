// Documents that are to be saved, one after another, elsewhere. Each has its own outcome: one that fails holds nobody
// up.
#pragma once

#include "core/cabinet/taking_in.h"
#include "core/tray/tray.h"
#include "jobs/executor.h"
#include "jobs/reading_queue.h"
#include "jobs/save_job.h"

#include <deque>

namespace yelvin {

struct SaveOrder {
    DocumentPtr document;
    Ticket ticket; // make.format is not Auto
    std::filesystem::path folder;
    std::vector<PagePtr> pages;                              // those that go into the file
    std::vector<std::optional<TextLayer>> texts;             // a reading each, where there is one
    std::vector<std::optional<ReadingQueue::Coming>> coming; // one that is under way; may be shorter than `pages`
    std::string name = {};                                   // of the file; empty: the document's
    int most_dpi = 0;                                        // finer pages are brought to it; 0: all stay as they are
    Passwords passwords = {};                                // of its PDFs
    std::optional<AddTo> add_to = {};                        // a PDF into which the pages go
    // The PDF to which documents are added one after another, shared by their orders; empty until the first of them has
    // made it, and where it is gone the next one makes another. Touched on `saving` alone.
    std::shared_ptr<std::filesystem::path> grows = {};
    int first_stamp = 1;                          // of the stamp's counter
    std::shared_ptr<const PaperWords> words = {}; // by which papers are known; null: the common ones
    std::shared_ptr<void> closed = {};            // keeps pages that come in out of the document; may be null
    // Told on `here` instead of the queue's own: files besides those that the document is saved as.
    std::function<void(const Result<std::vector<MadeFile>>&)> aside = {};
};

struct SaveOutcome {
    std::shared_ptr<const SaveOrder> order;
    Result<std::vector<MadeFile>> files;
    std::shared_ptr<const GatheredWords> words = {}; // of its pages; null of files made aside
    bool added = false;                              // to a PDF that was there
};

class SaveQueue {
  public:
    struct Executors {
        Executor saving; // one after the other
        Executor here;   // on which everything below is told
    };
    struct Tell {                                                      // each may be empty
        std::function<void(const DocumentPtr&, double done)> progress; // 0 to 1
        // A new reading, to be kept.
        std::function<void(const PagePtr&, const std::vector<std::string>& languages, const TextLayer&)> read;
        std::function<void(const SaveOutcome&)> outcome;               // a document is through
        std::function<void(const std::vector<SaveOutcome>&)> together; // all that were added together are
    };
    // All that is given must outlive what is under way.
    SaveQueue(std::filesystem::path store_folder, ReaderPool& readers, Executors executors, Tell tell,
              std::stop_token stop);

    void add(std::vector<SaveOrder> together);
    bool at_work() const { return at_work_; } // until the last `together` was told

  private:
    std::filesystem::path store_folder_;
    ReaderPool& readers_;
    Executors executors_;
    Tell tell_;
    std::stop_token stop_;
    std::deque<std::vector<std::shared_ptr<const SaveOrder>>> waiting_;
    bool at_work_ = false;

    void begin_next();
    SaveOutcome saved(const std::shared_ptr<const SaveOrder>& order);
};

}
