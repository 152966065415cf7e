// The choices for the next scan, and the tickets that are kept: files in a folder of the person's own, one of them
// chosen, its choices as kept and as they are now.
#pragma once

#include "core/ticket/ticket_folder.h"

#include <QObject>
#include <QStringList>

#include <functional>

namespace yelvin {

class LastChoices;
class Messages;

class Tickets : public QObject {
    Q_OBJECT
  public:
    Tickets(Messages& messages, LastChoices& last, const QString& settings_folder, QObject* parent = nullptr);

    // The choices as they are now. Every intent below that alters them ends with changed().
    const Ticket& ticket() const { return ticket_; }
    void set(const Ticket& ticket);
    QString folder() const;        // where its files go, ~ expanded
    std::string languages() const; // to read in, as one word: "eng+deu"

    // The kept ones, and the one among them that is chosen. Choosing, keeping and removing read the folder anew: do
    // neither while going through this list.
    const TicketFolder& kept() const { return kept_; }
    void read_folder(); // anew: files come and go
    const QString& chosen_file() const { return chosen_file_; }
    std::optional<Ticket> as_kept() const; // the chosen ticket as it was saved; nothing if it never was
    const KeptTicket* chosen() const;      // the same with its file; null if it was never saved
    bool is_kept() const { return is_kept_; }
    const std::vector<std::string>& changed_since_kept() const { return changed_keys_; } // keys of choices

    // Tickets with a button beside Scan, at most five, in their order; those that are gone left out.
    static constexpr int most_buttons = 5;
    QStringList buttons() const;
    void set_button(const QString& file, bool is); // ends with changed(); one too many is said

    // Each of a scanner's own buttons may start a ticket; without one it scans with the choices as they are.
    QString of_scanner_button(const QString& scanner, const QString& button) const; // its file; empty: none
    QString scanner_button_of(const QString& scanner, const QString& file) const;   // the button; empty: none
    void set_scanner_button(const QString& scanner, const QString& button, const QString& file);

    // Makes this ticket's choices the present ones. Returns false, and changes nothing, if there is no such ticket or
    // if it came from elsewhere or was changed by somebody else: then asked() has it until the person has said what
    // they want, and nothing that it names is done before that.
    bool choose(const QString& file);
    bool choose_named(const QString& name); // as choose(); that there is none is said
    // The ticket, without its choices becoming the present ones; asks as choose() does, and once it is accepted it is
    // chosen only if it was asked for `to_choose` it.
    std::optional<Ticket> accepted(const QString& file, bool to_choose = false);
    struct Asked {
        Ticket ticket;
        QString file;           // in the folder of tickets; empty: it was dropped and is not kept yet
        Ticket own = {};        // as its file says
        QString to_choose = {}; // the ticket that is chosen then; empty: the one that was dropped, or none
    };
    const std::optional<Asked>& asked() const { return asked_; } // with acceptance_wanted()
    void accept_asked();                                         // it is this person's from now on, and is chosen
    void refuse_asked();
    void keep();                        // the choices as they are, in the chosen ticket's file
    void keep_as(const QString& name);  // in a file of its own, which is then the chosen one
    void rename(const QString& name);   // both the kept and the present state, its other choices untouched
    void recolour(const QString& role); // of both states, as rename() changes the name
    // The present choices take a half from a kept ticket, and so does the ticket once they are kept; from none: they
    // stay, and are its own. Nothing where there is no such ticket or it is asked about first, as by choose().
    enum class Half { Scanning, Putting };
    void take_half(Half half, const QString& file);
    // These change the chosen ticket both in its file and in the present choices.
    void set_fixed(bool fixed);
    void set_back(const Ticket::Back& back);
    // What was changed since it was kept is given up by itself. Documents in the tray keep what they had of it.
    void go_back();
    // Changes a kept ticket in its file; the present choices stay as they are. Nothing where there is no such ticket.
    void change_kept(const QString& file, const std::function<void(Ticket&)>& change);
    void restore();                   // as it was kept
    void remove(const QString& file); // to where it can be brought back from, until the program ends
    QStringList removed() const;      // names, the latest first
    void bring_back(const QString& name);
    // Reads a ticket's file from elsewhere and asks whether it is to be used, or says what is wrong with it. False
    // where its name is not one of a ticket's file.
    bool import(const QString& file);

  signals:
    void another_chosen(); // a ticket other than the one before; changed() follows
    void changed();        // the choices, or which kept ticket they belong to
    void acceptance_wanted();

  private:
    Messages& messages_;
    LastChoices& last_;
    QString tickets_folder_;
    Ticket ticket_;
    TicketFolder kept_;
    QString chosen_file_;
    bool is_kept_ = false;
    std::vector<std::string> changed_keys_;
    struct Removed {
        Ticket ticket;
        std::filesystem::path file;
        bool accepted = false;
    };
    std::vector<Removed> removed_;
    std::optional<Asked> asked_;

    void make_first_ones();
    void catch_up_at_start();
    const KeptTicket* kept_at(const QString& file) const; // null: there is none
    const KeptTicket* kept_named(const std::string& name) const;
    bool may_change(const KeptTicket& kept); // else it is said why not
    Ticket with_links_that_hold(Ticket ticket) const;
    void note_last_known(const KeptTicket& kept);
    void compare_with_kept();
    enum class Whose { ThisPersons, Unknown };
    void write(const Ticket& ticket, const QString& file, Whose whose = Whose::ThisPersons);
    // Acceptance: tickets_accepting.cpp.
    bool is_accepted(const KeptTicket& kept) const;               // it, and those whose halves it takes
    const KeptTicket* not_accepted(const KeptTicket& kept) const; // the first of them that is not; null: all are
    void accept_those_in_use();
    void mark_accepted(const std::filesystem::path& file, const Ticket& own);
    void ask_about(Asked asked);
    void remember();
};

}
