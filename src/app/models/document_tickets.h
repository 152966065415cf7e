// What becomes of each document: the one place that is asked. A document keeps the ticket that it was scanned with.
// What is changed in the sentence counts for it as well, as long as the same ticket stands there and the document has
// no choices of its own; once another ticket is chosen it keeps what it had.
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

    // The references hold until the next changed().
    const Ticket& of(const Document& document) const;
    const Ticket& of_page(const std::string& page_id) const; // of its document; the sentence's, where the page is gone
    std::string of_next_scan(); // the id of the ticket in the sentence, for pages that come in with it; see Arrival

    bool has_own(const Document& document) const;   // choices for it alone
    bool follows(const Document& document) const;   // what is changed in the sentence counts for it
    int following() const;                          // how many documents do
    unsigned revision() const { return revision_; } // another one whenever something of this may be other

    // Each is a step that can be undone. Saved documents are unsaved by it.
    void change(const QStringList& document_ids, const std::function<void(Ticket&)>& how); // for them alone
    void put_as(const QStringList& document_ids,
                const QString& ticket_file);           // as a kept ticket says; nothing if none is
    void give_up_own(const QStringList& document_ids); // back to the ticket that each had before

  signals:
    void changed(); // what becomes of a document, or of which ticket it is

  private:
    Messages& messages_;
    LastChoices& last_;
    Tickets& tickets_;
    OutTray& tray_;
    std::string current_; // the id of the ticket in the sentence
    unsigned revision_ = 0;
    mutable Tray seen_; // of which pages_ was made
    mutable std::unordered_map<std::string, DocumentPtr> pages_;

    void tell();
    void begin_another();
    void follow_sentence();
    void look_through_loaded();
    bool is_own_pattern(const Document& document, const std::vector<NamePart>& before) const;
    // `ticket_for` gives the id of each document's new ticket; see OutTray::edit about the others.
    void give(const QStringList& document_ids, const QString& step, const std::string& gesture,
              const std::function<std::string(const Document&)>& ticket_for);
};

}
