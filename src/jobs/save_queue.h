// The queue of documents to be saved in the background, one after another. Each has its own outcome; a failure does not
// hold up the others. Its functions are called on the thread of `here`.
#pragma once

#include "core/cabinet/paper_entries.h"
#include "core/tray/tray.h"
#include "jobs/executor.h"
#include "jobs/reading_queue.h"
#include "jobs/save_job.h"

#include <deque>

namespace yelvin {

// A document to be saved.
struct SaveOrder {
    DocumentPtr document;
    Ticket ticket; // make.format is not Auto
    std::filesystem::path folder;
    std::vector<PagePtr> pages;                  // the pages to be saved
    std::vector<std::optional<TextLayer>> texts; // the text of each page, if it was read
    std::vector<std::optional<ReadingQueue::Coming>>
        coming;                       // the pending text of each page that is being read; may be shorter than `pages`
    std::string name = {};            // name of the file; empty: the document's
    int most_dpi = 0;                 // finer pages are brought to it; 0: all stay as they are
    Passwords passwords = {};         // of its PDFs
    std::optional<AddTo> add_to = {}; // a PDF to which the pages are added
    // The PDF to which documents are added one after another, shared by their orders. Empty until the first of them has
    // made it; if it is gone, the next one makes another. Accessed on `saving` only.
    std::shared_ptr<std::filesystem::path> grows = {};
    int first_stamp = 1;                          // of the stamp's counter
    std::shared_ptr<const PaperWords> words = {}; // by which papers are known; null: the common ones
    std::shared_ptr<void> closed = {};            // while it exists, no page joins the document; may be null
    // If set, the files are made besides those that the document is saved as, and this is called on `here` instead of
    // `Tell`.
    std::function<void(const Result<std::vector<MadeFile>>&)> aside = {};
};

struct SaveOutcome {
    std::shared_ptr<const SaveOrder> order;
    Result<std::vector<MadeFile>> files;
    std::shared_ptr<const GatheredWords> words = {}; // words of its pages; null for files made aside
    bool added = false;                              // whether pages were added to an existing PDF
};

class SaveQueue {
  public:
    struct Executors {
        Executor saving; // saves, one order after another
        Executor here;   // delivers all results
    };
    struct Tell {                                                      // callbacks on `here`; each may be empty
        std::function<void(const DocumentPtr&, double done)> progress; // 0 to 1
        // A page was read.
        std::function<void(const PagePtr&, const std::vector<std::string>& languages, const TextLayer&)> read;
        std::function<void(const SaveOutcome&)> outcome;               // a document was saved, or failed
        std::function<void(const std::vector<SaveOutcome>&)> together; // all orders that were added together are done
    };
    // `readers` must outlive the tasks.
    SaveQueue(std::filesystem::path store_folder, ReaderPool& readers, Executors executors, Tell tell,
              std::stop_token stop);

    void add(std::vector<SaveOrder> together);
    bool at_work() const { return at_work_; } // until the last `together` was called

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
