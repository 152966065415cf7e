// The out tray's store, as the window uses it: read once at the start, then kept after every change by a writer that
// nobody waits for. One program at a time has a store: it is locked while a keeper is open.
#pragma once

#include "core/tray/store_lock.h"
#include "core/tray/tray_store.h"
#include "jobs/executor.h"

#include <mutex>

namespace yelvin {

class TrayKeeper {
  public:
    // Opens or makes the store. What is kept is handed to `writing`, one after the other; `failed` is called there with
    // what went wrong. Errors: Busy where another program has the store, NotWritable, Unsupported. A list that is none
    // is set aside, which load() then says.
    static Result<std::unique_ptr<TrayKeeper>> open(const std::filesystem::path& folder, Executor writing,
                                                    std::function<void(const Error&)> failed);

    // As it was kept last. Blocks; on any thread, once, before anything is kept.
    Result<LoadedTray> load();

    // The latest tray wins: while one is being written, those in between are passed over. The history is given where it
    // has changed. What could not be kept waits for retry() or the next tray.
    void keep(const Tray& tray, const TrayHistory* history);

    // A ticket that documents go by; the latest of an id wins. It is written before any tray that is given after it.
    void keep_ticket(const std::string& id, TicketInUsePtr ticket);

    void retry();
    bool is_all_kept() const; // what was given so far is on disk

    // An original that no tray will hold: what came too late, or belongs to nobody.
    void discard(const Original& original);

    // The reading of a page as developed by its recipe. A page that was changed since keeps its words, carried along,
    // where words_stay() holds.
    void keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text);
    std::optional<TextLayer> text(const Page& page, const std::string& languages);
    // How pages were read, those of earlier days too; asked for on the writer's thread, once.
    void tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then);

    // Saved documents that left the tray: lets go of those that go by the rule, then tells of the others, on the
    // writer's thread.
    void tell_kept(const KeepingRule& rule, std::chrono::sys_seconds now,
                   std::function<void(std::vector<KeptDocument>)> then);

    const std::filesystem::path& folder() const { return store_.folder(); }

  private:
    struct ToKeep {
        Tray tray;
        std::optional<TrayHistory> history;
    };
    struct Text {
        PagePtr page;
        std::string languages;
        TextLayer layer;
        std::uint64_t number = 0; // of the readings that were given; tells a newer one of the same page
    };
    StoreLock lock_;
    TrayStore store_;                        // of load() and then the writer
    std::optional<TrayStore> reading_store_; // of whoever asks for a text; open once the other was read
    Executor writing_;
    std::function<void(const Error&)> failed_;
    mutable std::mutex guard_; // of what follows
    std::optional<ToKeep> tray_;
    TicketsInUse tickets_;                            // those that are not written yet, or could not be
    bool is_on_the_way_ = false, is_writing_ = false; // handed to the writer; it is at it
    using PageAndLanguages = std::pair<std::string, std::string>;
    std::map<PageAndLanguages, Text> texts_; // those that are not written yet, or could not be
    std::uint64_t last_text_ = 0;

    TrayKeeper(StoreLock lock, TrayStore store, Executor executor, std::function<void(const Error&)> failed);
    void write_tray();
    Result<void> write_tickets();
    bool is_anything_left() const { return tray_ || !tickets_.empty(); } // guarded
    void wait_again(ToKeep unkept);
    void write_text(const PageAndLanguages& which);
};

}
