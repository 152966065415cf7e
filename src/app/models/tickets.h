// The choices for the next scan, and the tickets that are kept: files in a folder of the person's own, one of them
// chosen, its choices as kept and as they are now.
#pragma once

#include "core/ticket/ticket_folder.h"

#include <QObject>
#include <QStringList>

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

    // The kept ones, and the one among them that is chosen.
    const TicketFolder& kept() const { return kept_; }
    void read_folder(); // anew: files come and go
    const QString& chosen_file() const { return chosen_file_; }
    std::optional<Ticket> as_kept() const; // the chosen one; nothing: it was never kept
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

    void choose(const QString& file);
    bool choose_named(const QString& name); // false, and said, where there is none
    void keep();                            // the choices as they are, in the chosen ticket's file
    void keep_as(const QString& name);      // in a file of its own, which is then the chosen one
    void rename(const QString& name);       // both the kept and the present state, its other choices untouched
    void recolour(const QString& role);     // likewise
    void restore();                         // as it was kept
    void remove(const QString& file);       // to where it can be brought back from, until the program ends
    QStringList removed() const;            // names, the latest first
    void bring_back(const QString& name);
    bool import(const QString& file); // false where it is no ticket at all; says what is wrong with a wrong one

  signals:
    void changed(); // the choices, or which kept ticket they belong to

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
    };
    std::vector<Removed> removed_;

    void make_first_ones();
    void compare_with_kept();
    void write(const Ticket& ticket, const QString& file);
    void remember();
};

}
