// What happens to documents once they are files: in the order of the ticket, each with its outcome. One that fails
// holds nobody up, and can be tried again.
#pragma once

#include "app/models/mailing.h"
#include "core/tray/tray.h"

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
    QString why; // it failed
};

class Errands : public QObject {
    Q_OBJECT
  public:
    // What it knows of the rest.
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

    // Which of them this person uses at all; the others are nowhere to be seen.
    bool uses(Errand errand) const;
    void use(Errand errand, bool is); // ends with used_changed()
    std::vector<Errand> used() const; // in the order in which they are offered

    // A saved document's, as far as they were begun; in the order in which they were. What is sent has failed or is
    // done once it is there.
    std::vector<ErrandState> of(const std::string& document_id) const;
    bool has_files(const std::string& document_id) const;
    // As far as its folder has answered; waits for that a moment at most.
    bool is_there(const QString& file) const;
    QStringList files_of(const std::string& document_id) const;
    void note_moved(const std::string& document_id, const QString& from, const QString& to); // a file of its
    // By hand, or once more. Ends with changed() at each step; a failure is said.
    void begin(const std::string& document_id, Errand errand);
    void set_patience(std::chrono::milliseconds patience) { patience_ = patience; } // a minute and a half otherwise
    // The document as it is in the tray, without a file. `then` is told how it went.
    void print(const std::string& document_id, const PrintHow& how, Outside::Done then,
               const std::vector<size_t>& which = {}); // pages, from 0; none: all
    // As it was chosen in the look before; its outcome is the errand's.
    void print_chosen(const std::string& document_id, const PrintHow& how, const std::vector<size_t>& which);
    PrintHow print_how(const std::string& document_id) const; // of the ticket that it was saved with
    // One that is too large, as the person chose: in so many mails, in one whatever its size, or with fewer dots.
    void mail_anyway(const std::string& document_id, Mailing::Mails mails);
    void mail_with_fewer_dots(const std::string& document_id, int dpi);
    struct MailSaid {
        bool fits = true;
        int mails = 1;                 // as the limit parts its files
        std::optional<int> fewer_dots; // with which it would fit
    };
    MailSaid mail_said(const std::string& document_id) const;

    Outside& outside() { return *outside_; }
    bool at_work() const { return running_; }

  signals:
    void changed();
    void used_changed();
    void look_wanted(const QString& document_id); // how it would be printed is to be shown before

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
    void put_on_clipboard(const std::string& document_id, const Saved& saved, const Outside::Done& done);
    Outside::Done mail_begins(const std::string& document_id, Saved& saved); // what is to be told how it went
};

std::span<const Errand> all_errands(); // in the order in which they are offered
QString errand_words(Errand errand);   // as it stands in the sentence: "open it"
QString errand_word(Errand errand);    // on a tab: "open"

}
