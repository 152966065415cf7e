// Saves documents. Each file appears whole or not at all, and each document has its own outcome. Lives on the window's
// thread.
#pragma once

#include "app/models/saving/pending_saves.h"
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
    // The objects that it uses; they must outlive it.
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
    // Documents that an earlier session left unsaved are saved once the tray is loaded; after a crash that is only
    // offered, because saving may have caused it.
    Saving(const Around& around, ReaderPool& readers, Pools& pools, bool crashed_before, QObject* parent = nullptr);

    // Saves documents in the background, each as its ticket says now. A folder is asked for once for all whose tickets
    // ask, then passwords. Emits saved() for each that was saved and reports an error for each that was not; a failure
    // does not hold up the others. If pages are still being checked, all wait for that; a document whose folder is not
    // available waits for it.
    void save(const QStringList& document_ids);
    void save(const QStringList& document_ids, const Ticket& ticket); // as this ticket says
    void save_all();                                                  // all that are neither saved nor being saved
    // Adds pages to an existing PDF: those that it lacks, if it has the document's first pages, otherwise all. Asks for
    // its password, and before breaking a signature.
    void add(const std::string& document_id, const AddTo& to);
    // Makes files of the same pages besides those that the document is saved as. `then` is called once, if this object
    // still exists.
    struct Aside {
        Ticket ticket;
        std::filesystem::path among; // a new folder for them is created in it
        std::string name;
        int most_dpi = 0;                 // finer pages are reduced to it; 0: none
        std::vector<std::string> of = {}; // ids of the pages; empty: all that are saved
    };
    void make_aside(const std::string& document_id, const Aside& aside,
                    std::function<void(const Result<std::vector<MadeFile>>&)> then);
    int next_stamp(const Ticket& ticket) const; // first number of the next document's stamp
    bool at_work() const { return finding_ > 0 || !looked_at_.empty() || (queue_ && queue_->at_work()); }
    int documents_under_way() const { return in_queue_; }    // documents that are being saved or are next
    QString why_waits(const std::string& document_id) const; // a sentence if it waits for its folder; otherwise empty
    void wait_no_longer(const std::string& document_id);     // ends with changed()
    // Whether the user is being asked for its folder or its passwords.
    bool is_asked_about(const std::string& document_id) const { return asked_about_.contains(document_id); }

  signals:
    void changed();                                         // at_work(), waiting documents or questions changed
    void progress(const QString& document_id, double done); // 0 to 1
    void saved(const QStringList& files);
    void document_saved(const QString& document_id, const QStringList& files, const Ticket& ticket);

  private:
    Around around_;
    Pools& pools_;
    std::unique_ptr<SaveQueue> queue_;      // null without a store
    std::unique_ptr<PendingSaves> pending_; // null without a store
    std::map<std::string, int> stamps_;     // first stamp number of each saved document
    struct Waits {
        Ticket ticket; // to save it with
        std::string own;
        std::filesystem::path folder;
        QString why;
        std::shared_ptr<void> closed; // keeps the document closed
    };
    std::map<std::string, Waits> waits_; // by document id
    struct LookedAt {
        Ticket ticket;                // to save it with
        std::shared_ptr<void> closed; // the document
    };
    std::map<std::string, LookedAt> looked_at_; // documents with a page that is still being checked
    QTimer look_again_;
    std::map<std::string, std::filesystem::path> added_; // documents that were added to a file since the start
    QString added_again_;                      // the file to which the last of them was added again; may be empty
    std::set<std::string> asked_about_;        // document ids
    std::map<std::string, DocumentPtr> given_; // documents that are to be saved, as they were then
    int finding_ = 0;                          // number of folders that were not found yet
    int in_queue_ = 0;                         // number of documents

    DocumentPtr document(const std::string& id) const; // null if it is gone
    bool is_given(const Document& document, const Ticket& ticket) const;
    void note_asked(const QStringList& document_ids, bool is);
    std::shared_ptr<void> closed(const QStringList& document_ids); // see OutTray::keep_closed()
    SaveOrder order_for(const DocumentPtr& document, const Ticket& ticket, const std::filesystem::path& folder,
                        std::vector<PagePtr> pages);
    void go_on_with_what_was_left(bool crashed_before);
    void save_what_was_left(const PendingSaves::ByDocument& left);
    // In saving_where.cpp.
    void forget_pending(const QStringList& document_ids);
    struct Together { // documents that are saved with the same ticket
        Ticket ticket;
        QStringList ids;
    };
    void save(const std::vector<Together>& all);
    bool is_looked_at(const std::string& document_id) const; // whether a page of it is being checked
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
    void enter(const SaveOutcome& outcome); // adds the files to the cabinet
    void report(const std::vector<SaveOutcome>& outcomes);
};

}
