// Documents become files. Each appears whole or not at all, and has its own outcome.
#pragma once

#include "app/models/pending_saves.h"
#include "jobs/save_queue.h"

#include <QObject>
#include <QStringList>
#include <QTimer>

#include <map>
#include <memory>
#include <set>

namespace yelvin {

class CabinetKeeper;
class DocumentNames;
class DocumentTickets;
class Experience;
class Folders;
class GrowingFiles;
class LastChoices;
class Looking;
class Messages;
class OutTray;
class Papers;
class PasswordKeeper;
class Pools;
class Reading;
class SavePlaces;

class Saving : public QObject {
    Q_OBJECT
  public:
    // What it knows of the rest.
    struct Around {
        Messages& messages;
        DocumentTickets& tickets;
        Experience& experience;
        LastChoices& last;
        OutTray& tray;
        DocumentNames& names;
        Reading& reading;
        PasswordKeeper& passwords;
        Folders& folders;
        SavePlaces& places;
        Papers& papers;
        CabinetKeeper& cabinet;
        Looking& looking;
        GrowingFiles& growing;
    };
    // What an earlier start left unsaved is saved once the tray is loaded; after a crash that is offered instead, since
    // it may have come of it.
    Saving(const Around& around, ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent = nullptr);

    // In the background, each as its ticket says now; a folder is asked for once for all whose tickets ask, then
    // passwords are. Ends with saved() for those that could be, and with trouble said for those that could not; they
    // hold the others up no longer. While pages of one are still being looked at all wait for that, and one whose
    // folder is not there for the folder.
    void save(const QStringList& document_ids);
    void save(const QStringList& document_ids, const Ticket& ticket); // as this one says
    void save_all();                                                  // that are not saved yet, nor on their way
    // Into a PDF that exists: those pages that it does not have yet, where it has the first ones, else all. Its
    // password is asked for, and whether a signature may be given up.
    void add(const std::string& document_id, const AddTo& to);
    // Files of the same pages besides those that the document is saved as; `then` is told once, not at all once this is
    // gone.
    struct Aside {
        Ticket ticket;
        std::filesystem::path among; // in which a new folder for them is made
        std::string name;
        int most_dpi = 0;                 // finer pages are brought to it; 0: all stay as they are
        std::vector<std::string> of = {}; // these pages; none: all that go into its file
    };
    void make_aside(const std::string& document_id, const Aside& aside,
                    std::function<void(const Result<std::vector<MadeFile>>&)> then);
    int next_stamp(const Ticket& ticket) const; // the number that the next document's first page gets
    bool at_work() const { return finding_ > 0 || !looked_at_.empty() || (queue_ && queue_->at_work()); }
    int documents_under_way() const { return in_queue_; }    // that are being saved, or are next
    QString why_waits(const std::string& document_id) const; // its folder is not there: a sentence; empty: it does not
    void wait_no_longer(const std::string& document_id);     // ends with changed()
    // The person is asked for its folder or its passwords.
    bool is_asked_about(const std::string& document_id) const { return asked_about_.contains(document_id); }

  signals:
    void changed();                                         // at_work(), what waits and what is asked about
    void progress(const QString& document_id, double done); // 0 to 1
    void saved(const QStringList& files);
    void document_saved(const QString& document_id, const QStringList& files, const Ticket& ticket);

  private:
    Around around_;
    Pools& pools_;
    std::unique_ptr<SaveQueue> queue_;      // null without a store
    std::unique_ptr<PendingSaves> pending_; // null without a store
    std::map<std::string, int> stamps_;     // of documents that were saved: their first number
    struct Waits {
        Ticket ticket; // to be saved with
        std::string own;
        std::filesystem::path folder;
        QString why;
        std::shared_ptr<void> closed; // the document
    };
    std::map<std::string, Waits> waits_; // by document
    struct LookedAt {
        Ticket ticket;                // to be saved with
        std::shared_ptr<void> closed; // the document
    };
    std::map<std::string, LookedAt> looked_at_; // documents of which a page is still looked at
    QTimer look_again_;
    std::map<std::string, std::filesystem::path> added_; // documents that were added to a file, since the start
    QString added_again_;                      // the file that the last of them was added to once more; empty: none was
    std::set<std::string> asked_about_;        // documents
    std::map<std::string, DocumentPtr> given_; // documents that are to be saved, as they were
    int finding_ = 0;                          // folders that were not found yet
    int in_queue_ = 0;                         // documents

    DocumentPtr document(const std::string& id) const; // null: it is gone
    bool is_given(const Document& document, const Ticket& ticket) const;
    void note_asked(const QStringList& document_ids, bool is);
    std::shared_ptr<void> closed(const QStringList& document_ids); // see OutTray::keep_closed()
    SaveOrder order_for(const DocumentPtr& document, const Ticket& ticket, const std::filesystem::path& folder,
                        std::vector<PagePtr> pages);
    void go_on_with_what_was_left(bool crashed_before);
    void save_what_was_left(const PendingSaves::ByDocument& left);
    // saving_where.cpp
    void forget_pending(const QStringList& document_ids);
    struct Together { // documents that are saved as one ticket says
        Ticket ticket;
        QStringList ids;
    };
    void save(const std::vector<Together>& all);
    bool is_looked_at(const std::string& document_id) const; // a page of it is
    void save_what_was_looked_at();
    void save_where_found(const std::vector<Together>& all, const std::string& own);
    SaveOrder order_into(const DocumentPtr& there, const Ticket& ticket, const std::filesystem::path& folder);
    void save_into(const QStringList& ids, const Ticket& ticket, const std::filesystem::path& folder);
    void wait(const QStringList& ids, const Ticket& ticket, const std::string& own, const Error& why);
    void look_for_folders();
    void save_what_waited(const std::filesystem::path& folder);

    int take_stamps(const std::string& document_id, const Ticket& ticket, size_t pages);
    int stamp_of(const Document& document, const Ticket& ticket, const PagePtr& page) const;
    void protect_and_begin(std::vector<SaveOrder> orders);
    void begin(std::vector<SaveOrder> orders);
    void add_knowing(const std::string& document_id, const AddTo& to, const Result<PdfState>& state);
    void say_what_is_read_first(const std::vector<SaveOrder>& orders);
    void take(const SaveOutcome& outcome);
    void note_added(const SaveOrder& order, const std::filesystem::path& file);
    void enter(const SaveOutcome& outcome); // into the cabinet
    void report(const std::vector<SaveOutcome>& outcomes);
};

}
