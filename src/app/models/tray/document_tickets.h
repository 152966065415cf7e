// Answers what becomes of each document; no other class does. A document keeps the ticket that it was scanned with.
// Changes of the sentence apply to it too, as long as the sentence has the same ticket and the document has no choices
// of its own; once another ticket is chosen, the document keeps what it had. Lives on the window's thread.
#pragma once

#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <QObject>
#include <QStringList>

#include <functional>
#include <string>
#include <unordered_map>

namespace yelvin {

class LastChoices;
class Messages;
class OutTray;
class Tickets;

class DocumentTickets : public QObject {
    Q_OBJECT
  public:
    DocumentTickets(Messages& messages, LastChoices& last, Tickets& tickets, OutTray& tray, QObject* parent = nullptr);

    // References are valid until the next changed().
    const Ticket& of(const Document& document) const;
    const Ticket& of_page(const std::string& page_id) const; // that of its document; the sentence's if the page is gone
    std::string of_next_scan();                              // id of the sentence's ticket, for OutTray::Arrival

    bool has_own(const Document& document) const;   // whether it has choices of its own
    bool follows(const Document& document) const;   // whether changes of the sentence apply to it
    int following() const;                          // number of such documents
    unsigned revision() const { return revision_; } // increases whenever an answer may have changed

    // Each is an undo step. Saved documents become unsaved.
    void change(const QStringList& document_ids, const std::function<void(Ticket&)>& how); // for these documents alone
    void put_as(const QStringList& document_ids,
                const QString& ticket_file);           // as a saved ticket says; does nothing if it is not accepted
    void give_up_own(const QStringList& document_ids); // discards choices of their own

  signals:
    void changed(); // an answer changed

  private:
    Messages& messages_;
    LastChoices& last_;
    Tickets& tickets_;
    OutTray& tray_;
    std::string current_; // id of the sentence's ticket
    unsigned revision_ = 0;
    mutable Tray seen_; // the tray from which pages_ was made
    mutable std::unordered_map<std::string, DocumentPtr> pages_;

    void tell();
    void begin_another();
    void follow_sentence();
    void look_through_loaded();
    bool is_own_pattern(const Document& document, const std::vector<NamePart>& before) const;
    // `ticket_for` returns the id of each document's new ticket. For `step` and `gesture` see OutTray::edit().
    void give(const QStringList& document_ids, const QString& step, const std::string& gesture,
              const std::function<std::string(const Document&)>& ticket_for);
};

}
