// The out tray with its history: every edit is a step that can be undone, and all of it is kept on disk as it changes.
// The store is read off the window's thread; until loaded() nothing may be added or edited.
#pragma once

#include "core/tray/tray_edits.h"
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

// Where the next scanned page goes, if not to the end.
struct Landing {
    std::string page;
    enum class How { Instead, Before, Behind } how = How::Instead;
};

class OutTray : public QObject {
    Q_OBJECT
  public:
    OutTray(Messages& messages, Pools& pools, const QString& store_folder, QObject* parent = nullptr);
    void keep_what_is_left(); // at the end: what could not be kept is tried once more

    bool has_store() const { return keeper_ != nullptr; } // else what is wrong with it was said
    std::filesystem::path store_folder() const { return has_store() ? keeper_->folder() : std::filesystem::path(); }
    bool is_loaded() const { return is_loaded_; }
    bool cannot_be_opened() const { return no_store_.has_value(); }
    void when_loaded(std::function<void()> then); // at once if it is; without a store that is said

    const Tray& tray() const { return tray_; }
    PagePtr page(const std::string& id) const { return page_at(tray_, id); } // null when gone

    // Each ends with changed(), if it changes anything.
    // A step of its own. Steps of one `gesture` within two seconds of each other join; an empty one joins nothing.
    void edit(const Tray& tray, const QString& name, const std::string& gesture = {});
    void change(const Tray& tray); // belongs to the step before it
    bool can_undo() const { return !history_.undo.empty(); }
    bool can_redo() const { return !history_.redo.empty(); }
    QString undo_name() const { return can_undo() ? QString::fromStdString(history_.undo.back().name) : QString(); }
    QString redo_name() const { return can_redo() ? QString::fromStdString(history_.redo.back().name) : QString(); }
    QStringList undo_names(int most) const; // the latest first
    void undo();                            // ends with stepped() too, as the next
    void redo();

    // The tickets that documents go by (see DocumentTickets, which decides about them).
    TicketInUsePtr ticket(const std::string& id) const; // null: there is none of this id
    // Documents that come into being from now on go by this one. Where documents go by it already it says this from now
    // on, which ends with tickets_changed().
    void set_ticket_of_new(const std::string& id, TicketInUse ticket);
    const std::string& ticket_of_new() const { return ticket_of_new_.first; }
    void keep_ticket_of_new(); // also if another one is set before a document goes by it
    void add_ticket(const std::string& id, TicketInUse ticket); // for documents that will be changed to it

    // Pages that come in.
    bool next_page_starts_document() const;
    enum class Asked { Nothing, NewDocument, LastDocument };
    Asked asked_for_next_page() const; // by set_next_page_starts_document(), and not carried out yet
    // Behind a saved document, and behind one that goes by another ticket, nothing goes unless it was asked for; then
    // until something else is. Where the ticket makes a document of each scan, what was asked for counts for one scan.
    void set_next_page_starts_document(bool starts);
    const std::optional<Landing>& landing() const { return landing_; }
    void set_landing(std::optional<Landing> landing);
    enum class Step { New, SameAsBefore };
    struct Arrival {
        bool starts_document = false;
        Step step = Step::New;
        QString step_name;
        std::string follows = {}; // the page before it of the same run or files; empty: it is the first
        std::string ticket = {};  // that a document which it starts goes by; empty: that of new ones
    };
    // Where nothing else was asked for it goes behind the page that it follows, or else to the end of the tray.
    void add_page(const PagePtr& page, const Arrival& arrival);
    // As long as what is given back lives, no page that comes in joins a document with one of these pages: it is being
    // saved, say. It may be let go on any thread, before this goes.
    [[nodiscard]] std::shared_ptr<void> keep_closed(const std::vector<PagePtr>& pages);
    bool is_closed(const Document& document) const; // saved, or kept closed

    void put_away_saved();

    // What was read of a page, as it is developed now: carried along where it was changed since, nothing where it has
    // to be read again.
    std::optional<TextLayer> text_of(const Page& page, const std::string& languages) const;
    // Of the page as it is given. Ends with text_kept().
    void keep_text(const PagePtr& page, const std::string& languages, const TextLayer& text);
    // How pages were read, on earlier days too. `then` is called on the writer's thread; never without a store.
    void tell_read_pages(std::function<void(std::vector<TrayStore::ReadPage>)> then);

    // Saved documents that left (see TrayKeeper). `then` on this thread; never without a store.
    void tell_kept(const KeepingRule& rule, std::function<void(const std::vector<KeptDocument>&)> then);

    // A picture that came too late to become a page.
    void discard(const Original& original);

  signals:
    void fresh_tray_wanted(); // the person asks for another store beside one that cannot be opened
    void loaded();
    void changed();                   // the pages, or where the next one goes
    void stepped(const Tray& before); // by undo or redo
    void tickets_changed();           // what a ticket says that documents go by
    void text_kept(const PagePtr& page, const std::string& languages, const TextLayer& text);

  private:
    Messages& messages_;
    Executor when_there_; // for what may outlive this
    std::unique_ptr<TrayKeeper> keeper_;
    std::optional<Error> no_store_; // why there is none
    bool is_loaded_ = false;
    std::vector<std::function<void()>> waiting_;
    Tray tray_;
    TrayHistory history_;
    bool history_changed_ = false;
    std::string gesture_;                              // what the last step was about …
    std::chrono::steady_clock::time_point gesture_at_; // … and when
    std::optional<Landing> landing_;
    bool new_document_ = true;
    // Ids of documents behind which pages were asked for: although the document is saved, although another ticket is
    // chosen, and, for one scan, although the ticket makes a document of each scan. Each may be empty.
    std::string goes_on_in_, takes_other_, joined_once_;
    TicketsInUse tickets_;
    std::pair<std::string, TicketInUsePtr> ticket_of_new_; // its id; null before one was set
    std::multiset<std::string> kept_closed_;               // pages

    QTimer retry_; // of what could not be kept
    bool said_unkept_ = false;

    void have_no_store(const Error& why);
    void complain_of_no_store();
    void take_over(LoadedTray loaded);
    bool refuses(const Tray& tray);
    Tray with_arrived(const PagePtr& page, const Arrival& arrival);
    bool scans_stay_apart() const; // by the ticket of new documents
    bool goes_by_another(const Document& document, const std::string& ticket) const;
    Tray with_tickets(const Tray& tray, const std::string& ticket) const; // of those that have none
    void put_ticket(const std::string& id, TicketInUsePtr ticket);
    void step(std::vector<TrayStep>& from, std::vector<TrayStep>& to);
};

}
