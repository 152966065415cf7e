// The actions after saving: carried out in the ticket's order, each with its outcome. One that fails does not hold up
// the others and can be tried again. Lives on the window's thread.
#pragma once

#include "app/models/errands/mailing.h"

#include <QObject>

#include <chrono>
#include <deque>
#include <map>
#include <span>

namespace yelvin {

class DocumentNames;
class DocumentTickets;
class Folders;
class LastChoices;
class Messages;
class OutTray;
class Papers;
class Pools;
class Saving;
class Sending;

struct ErrandState {
    Errand errand = Errand::Open;
    enum class Is { Waits, Runs, Done, Failed } is = Is::Waits;
    QString why; // the reason of Failed
};

class Errands : public QObject {
    Q_OBJECT
  public:
    // The objects that it uses; they must outlive it.
    struct Around {
        Messages& messages;
        LastChoices& last;
        OutTray& tray;
        DocumentNames& names;
        Saving& saving;
        Pools& pools;
        Papers& papers;
        Sending& sending;
        DocumentTickets& tickets;
        Folders& folders;
    };
    Errands(const Around& around, std::unique_ptr<Outside> outside, QObject* parent = nullptr);

    // Which actions the user uses; the others are hidden.
    bool uses(Errand errand) const;
    void use(Errand errand, bool is); // emits used_changed()
    std::vector<Errand> used() const; // in the order in which they are offered
    // The actions of a saved document that were started, in that order. Sending is done once the files are on the
    // server.
    std::vector<ErrandState> of(const std::string& document_id) const;
    bool has_files(const std::string& document_id) const;
    // Whether its file exists, as far as its folder has answered; waits a moment at most.
    bool is_there(const QString& file) const;
    QStringList files_of(const std::string& document_id) const;
    void note_moved(const std::string& document_id, const QString& from,
                    const QString& to); // one of its files was moved
    // Starts an action by hand, or again. Emits changed() at each step; a failure is reported.
    void begin(const std::string& document_id, Errand errand);
    void set_patience(std::chrono::milliseconds patience) { patience_ = patience; } // default: 90 s
    // Prints the document as it is in the tray, without a file. `then` gets the outcome.
    void print(const std::string& document_id, const PrintHow& how, Outside::Done then,
               const std::vector<size_t>& which = {}); // indices of pages; empty: all
    // Prints as chosen in the print preview; the outcome is that of the action.
    void print_chosen(const std::string& document_id, const PrintHow& how, const std::vector<size_t>& which);
    PrintHow print_how(const std::string& document_id) const; // as the ticket says that it was saved with
    // Sends an e-mail that is too large as the user chose: several e-mails, one of any size, or a lower resolution.
    void mail_anyway(const std::string& document_id, Mailing::Mails mails);
    void mail_at_lower_dpi(const std::string& document_id, int dpi);
    struct MailSaid {
        bool fits = true;
        int mails = 1;                // number of e-mails within the limit
        std::optional<int> lower_dpi; // resolution at which it would fit, if any
    };
    MailSaid mail_said(const std::string& document_id) const;

    Outside& outside() { return *outside_; }
    bool at_work() const { return running_; }

  signals:
    void changed();
    void used_changed();
    void look_wanted(const QString& document_id); // the print preview is to be shown

  private:
    struct Saved : SavedFiles {
        std::vector<ErrandState> states;
    };
    struct Step {
        std::string document;
        Errand errand;
    };
    Around around_;
    std::unique_ptr<Outside> outside_;
    Mailing mailing_;
    std::chrono::milliseconds patience_{90'000};
    std::map<std::string, Saved> saved_;
    std::deque<Step> waiting_;
    bool running_ = false;
    std::vector<Errand> used_;

    void take_saved(const QString& document_id, const QStringList& files, const Ticket& ticket);
    Ticket with_values_of(const std::string& document_id, Ticket ticket) const;
    Saved* saved_of(const std::string& document_id);
    ErrandState& state_of(Saved& saved, Errand errand);
    void begin_next();
    void record(const Step& step, const Result<QString>& how);
    void end(const Step& step, const Result<QString>& how);
    void look_at_files(const Step& step, const QStringList& files, const Outside::Done& done);
    void carry_out(const Step& step, const Saved& saved, const Outside::Done& done);
    void send(const std::string& document_id, const Saved& saved, const Outside::Done& done);
    QString text_of(const std::string& document_id, const Ticket& ticket) const;
    Outside::Done mail_begins(const std::string& document_id, Saved& saved); // returns the callback for the outcome
};

std::span<const Errand> all_errands(); // in the order in which they are offered
QString errand_words(Errand errand);   // in the sentence: "open it"
QString errand_word(Errand errand);    // on a tab: "open"

}
