// What a ticket may ask for beyond the scan: the documents of a run are saved, or printed as copies, without another
// press. Each is saved by the ticket that it was scanned with, as soon as it is complete and its own pages are read,
// whatever is scanned meanwhile. Both can be taken back.
#pragma once

#include "core/ticket/ticket.h"
#include "core/tray/tray.h"

#include <QObject>
#include <QStringList>
#include <QTimer>

#include <set>
#include <string>
#include <vector>

namespace yelvin {

class DocumentTickets;
class Errands;
class Looking;
class Messages;
class OutTray;
class Papers;
class Reading;
class Saving;
class Scanning;

class AtOnce : public QObject {
    Q_OBJECT
  public:
    struct Around {
        Messages& messages;
        OutTray& tray;
        Looking& looking;
        Reading& reading;
        Saving& saving;
        Errands& errands;
        Scanning& run;
        Papers& papers;
        DocumentTickets& tickets;
    };
    explicit AtOnce(const Around& around, QObject* parent = nullptr);
    // As the program ends: what only waits to be read is given to saving, which goes on with it at the next start.
    void hand_over();

  private:
    struct Run {
        Ticket ticket;                  // with which it scanned
        std::vector<std::string> pages; // in the order in which they came
        bool ended = false;
        std::set<std::string> begun;  // documents that were handed to saving or printing
        std::shared_ptr<void> closed; // its documents, once it has ended
    };
    Around around_;
    std::vector<Run> runs_;         // the last one may be under way
    std::set<std::string> started_; // documents that were saved at once
    QTimer settle_;

    void take_page(const QString& page_id, const Ticket& ticket);
    void end_run();
    void see();
    bool is_through(Run& run); // after what can be done now was begun
    bool is_complete(const Document& document, const Run& run) const;
    bool is_ending_ = false;
    void copy(const std::string& document_id, const PrintHow& how);
    void say_saved(const QString& document_id, const QStringList& files, bool added);
    void take_back(const QString& document_id, const QStringList& files);
};

}
