// The out tray with its undo history, stored on disk after every change. The store is loaded in the background; until
// loaded() nothing may be added or edited. Lives on the window's thread.
#pragma once

#include "jobs/tray_keeper.h"

#include <QObject>
#include <QStringList>
#include <QTimer>

#include <chrono>
#include <memory>
#include <set>

namespace yelvin {

class Messages;
class Pools;

// Where the next scanned page goes instead of to the end: in place of, before or behind a page.
struct Landing {
    std::string page;
    enum class How { Instead, Before, Behind } how = How::Instead;
};

class OutTray : public QObject {
    Q_OBJECT
  public:
    OutTray(Messages& messages, Pools& pools, const QString& store_folder, QObject* parent = nullptr);
    void keep_what_is_left(); // at the end of the program: tries once more to write what could not be written

    bool has_store() const { return keeper_ != nullptr; } // without one, the reason was reported
    std::filesystem::path store_folder() const { return has_store() ? keeper_->folder() : std::filesystem::path(); }
    bool is_loaded() const { return is_loaded_; }
    bool cannot_be_opened() const { return no_store_.has_value(); }
    void when_loaded(std::function<void()> then); // at once if it is loaded; without a store, reports that

    const Tray& tray() const { return tray_; }
    PagePtr page(const std::string& id) const { return page_at(tray_, id); } // null if it is gone

    // Edits emit changed() if they change anything. edit() makes an undo step; steps with the same `gesture` within two
    // seconds are joined, unless it is empty. change() belongs to the step before it.
    void edit(const Tray& tray, const QString& name, const std::string& gesture = {});
    void change(const Tray& tray);
    bool can_undo() const { return !history_.undo.empty(); }
    bool can_redo() const { return !history_.redo.empty(); }
    QString undo_name() const { return can_undo() ? QString::fromStdString(history_.undo.back().name) : QString(); }
    QString redo_name() const { return can_redo() ? QString::fromStdString(history_.redo.back().name) : QString(); }
    QStringList undo_names(int most) const; // the latest first
    void undo();                            // undo() and redo() also emit stepped()
    void redo();

    // The tickets that documents name; DocumentTickets decides about them.
    TicketInUsePtr ticket(const std::string& id) const; // null if there is none
    // Sets the ticket of new documents. If documents name this id already, it changes for them too, and
    // tickets_changed() is emitted.
    void set_ticket_of_new(const std::string& id, TicketInUse ticket);
    void keep_ticket_of_new();                                  // stores it even if no document comes to name it
    void add_ticket(const std::string& id, TicketInUse ticket); // for documents that will name it

    // New pages.
    bool next_page_starts_document() const;
    enum class Asked { Nothing, NewDocument, LastDocument };
    Asked asked_for_next_page() const; // set by set_next_page_starts_document() and not used yet
    // Sets whether the next page starts a document. Pages join a saved document, or one with another ticket, only if
    // that was set; it then holds until it is set otherwise. If the ticket makes a document of each scan, it holds for
    // one scan.
    void set_next_page_starts_document(bool starts);
    const std::optional<Landing>& landing() const { return landing_; }
    void set_landing(std::optional<Landing> landing);
    enum class Step { New, SameAsBefore };
    struct Arrival {
        bool starts_document = false;
        Step step = Step::New;
        QString step_name;
        std::string follows = {}; // id of the previous page of the same run or files; empty: it is the first
        std::string ticket = {};  // id of the ticket of a document that it starts; empty: that of new documents
    };
    // Adds a page at the landing, if one is set, otherwise behind the page that it follows or at the end of the tray.
    void add_page(const PagePtr& page, const Arrival& arrival);
    // As long as the returned object exists, no new page joins a document with one of these pages, for example because
    // it is being saved. It may be released on any thread, before this object is destroyed.
    [[nodiscard]] std::shared_ptr<void> keep_closed(const std::vector<PagePtr>& pages);
    bool is_closed(const Document& document) const; // whether it is saved or kept closed

    void put_away_saved();

    // Returns the text of a page, moved along if the page was changed since; nullopt if it must be read again.
    std::optional<TextLayer> text_of(const Page& page, const std::string& languages) const;
    // Stores the text of the page as passed. Emits text_kept().
    void keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text);
    // Calls `then` with the list of stored texts, on the writer's thread; never without a store.
    void tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then);

    // See TrayKeeper::tell_kept(). `then` is called on this thread; never without a store.
    void tell_kept(const KeepingRule& rule, std::function<void(const std::vector<KeptDocument>&)> then);

    // Deletes an original that came too late to become a page.
    void discard(const Original& original);

  signals:
    void fresh_tray_wanted(); // the user wants another store beside one that cannot be opened
    void loaded();
    void changed();                   // the pages, or where the next one goes, changed
    void stepped(const Tray& before); // after undo or redo
    void tickets_changed();           // a ticket that documents name changed
    void text_kept(const PagePtr& page, const std::string& languages, const TextLayer& text);

  private:
    Messages& messages_;
    Executor when_there_; // for tasks that may outlive this object
    std::unique_ptr<TrayKeeper> keeper_;
    std::optional<Error> no_store_; // the reason if there is no store
    bool is_loaded_ = false;
    std::vector<std::function<void()>> waiting_;
    Tray tray_;
    TrayHistory history_;
    bool history_changed_ = false;
    std::string gesture_;                              // gesture of the last step
    std::chrono::steady_clock::time_point gesture_at_; // its time
    std::optional<Landing> landing_;
    bool new_document_ = true;
    // Ids of documents that pages join because the user asked for it: although the document is saved, although another
    // ticket is chosen, and, for one scan, although the ticket makes a document of each scan. Each may be empty.
    std::string goes_on_in_, takes_other_, joined_once_;
    TicketsInUse tickets_;
    std::pair<std::string, TicketInUsePtr> ticket_of_new_; // id and ticket; null before one was set
    std::multiset<std::string> kept_closed_;               // pages

    QTimer retry_; // for writing what could not be written
    bool said_unkept_ = false;

    void have_no_store(const Error& why);
    void complain_of_no_store();
    void take_over(LoadedTray loaded);
    bool refuses(const Tray& tray);
    Tray with_arrived(const PagePtr& page, const Arrival& arrival);
    bool scans_stay_apart() const; // as the ticket of new documents says
    bool goes_by_another(const Document& document, const std::string& ticket) const;
    Tray with_tickets(const Tray& tray, const std::string& ticket) const; // gives it to documents without a ticket
    void put_ticket(const std::string& id, TicketInUsePtr ticket);
    void step(std::vector<TrayStep>& from, std::vector<TrayStep>& to);
};

}
