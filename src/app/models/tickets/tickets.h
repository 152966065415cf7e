// The ticket of the next scan (the sentence), and the user's saved tickets: files in a folder, one of which is chosen.
// Lives on the window's thread.
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

    // The present choices. Functions that change them emit changed().
    const Ticket& ticket() const { return ticket_; }
    void set(const Ticket& ticket);
    QString folder() const;        // its folder, with ~ expanded
    std::string languages() const; // OCR languages as one word: "eng+deu"

    // The saved tickets. Choosing, saving and removing read the folder again, so do none of these while iterating over
    // the list.
    const TicketFolder& kept() const { return kept_; }
    void read_folder(); // reads the folder again
    const QString& chosen_file() const { return chosen_file_; }
    std::optional<Ticket> as_kept() const; // the chosen ticket as saved; nullopt if it was never saved
    const KeptTicket* chosen() const;      // the chosen ticket with its file; null if it was never saved
    bool is_kept() const { return is_kept_; }
    const std::vector<std::string>& changed_since_kept() const { return changed_keys_; } // keys of the unsaved changes

    // The tickets with a button under Scan, at most five, in their order, without missing ones.
    static constexpr int most_buttons = 5;
    QStringList buttons() const;
    void set_button(const QString& file, bool is); // emits changed(); reports one too many

    // Each button of the scanner may start a ticket; otherwise it scans with the present choices.
    QString of_scanner_button(const QString& scanner, const QString& button) const; // file of the ticket; empty: none
    QString scanner_button_of(const QString& scanner, const QString& file) const;   // empty: none
    void set_scanner_button(const QString& scanner, const QString& button, const QString& file);

    // Makes this ticket's choices the present ones. Returns false and changes nothing if there is no such ticket, or if
    // it came from elsewhere or was changed by somebody else: then asked() has it until the user decides, and nothing
    // that it names is done before.
    bool choose(const QString& file);
    bool choose_named(const QString& name); // chooses by name; reports a missing one
    // Returns the ticket without making its choices the present ones. Asks like choose(); once it is accepted, it is
    // chosen only if `to_choose`.
    std::optional<Ticket> accepted(const QString& file, bool to_choose = false);
    struct Asked {
        Ticket ticket;
        QString file;           // in the tickets' folder; empty: it was dropped and is not saved yet
        Ticket own = {};        // what its file says
        QString to_choose = {}; // the ticket to choose afterwards; empty: the dropped one, or none
    };
    const std::optional<Asked>& asked() const { return asked_; } // set with acceptance_wanted()
    void accept_asked();                                         // accepts the ticket and chooses it
    void refuse_asked();
    void keep();                        // saves the present choices in the chosen ticket's file
    void keep_as(const QString& name);  // saves them in a new file and chooses it
    void rename(const QString& name);   // renames the saved and the present state; other unsaved changes stay
    void recolour(const QString& role); // sets the colour of both states
    // Takes a half from a saved ticket; an empty `file` makes the half the ticket's own, with its present choices. Does
    // nothing if there is no such ticket, or if it must be asked about first, like choose().
    enum class Half { Scanning, Putting };
    void take_half(Half half, const QString& file);
    // These change the chosen ticket in its file and in the present choices.
    void set_fixed(bool fixed);
    void set_back(const Ticket::Back& back);
    // Discards the unsaved changes, as Ticket::back says. Documents in the tray keep them.
    void go_back();
    // Changes a saved ticket in its file; the present choices stay. Does nothing if there is no such ticket.
    void change_kept(const QString& file, const std::function<void(Ticket&)>& change);
    void restore();                   // discards the unsaved changes
    void remove(const QString& file); // until the program ends, bring_back() restores it
    QStringList removed() const;      // names of removed tickets, the latest first
    void bring_back(const QString& name);
    // Reads a ticket's file from elsewhere and asks whether to use it, or reports what is wrong with it. Returns false
    // if the file's name is not that of a ticket.
    bool import(const QString& file);

  signals:
    void another_chosen(); // another ticket was chosen; changed() follows
    void changed();        // the choices, or the ticket they belong to, changed
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
    const KeptTicket* kept_at(const QString& file) const; // null if there is none
    const KeptTicket* kept_named(const std::string& name) const;
    bool may_change(const KeptTicket& kept); // reports why not
    Ticket with_links_that_hold(Ticket ticket) const;
    void note_last_known(const KeptTicket& kept);
    void compare_with_kept();
    enum class Whose { ThisPersons, Unknown };
    void write(const Ticket& ticket, const QString& file, Whose whose = Whose::ThisPersons);
    // Acceptance, in tickets_accepting.cpp.
    bool is_accepted(const KeptTicket& kept) const;               // the ticket and those whose halves it takes
    const KeptTicket* not_accepted(const KeptTicket& kept) const; // the first of these that is not accepted, or null
    void accept_those_in_use();
    void mark_accepted(const std::filesystem::path& file, const Ticket& own);
    void ask_about(Asked asked);
    void remember();
};

}
