// Saves the documents of a run, or prints them as copies, without another press, if the ticket says so. Each is saved
// by the ticket that it was scanned with, as soon as it is complete and its pages are read, while the run goes on. Both
// can be undone. Lives on the window's thread.
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
    // At the end of the program: passes documents that wait to be read to saving, which continues at the next start.
    void hand_over();

  private:
    struct Run {
        Ticket ticket;                  // the run's ticket
        std::vector<std::string> pages; // page ids in the order of scanning
        bool ended = false;
        std::set<std::string> begun;  // ids of documents that were passed to saving or printing
        std::shared_ptr<void> closed; // keeps its documents closed, after its end
    };
    Around around_;
    std::vector<Run> runs_;         // the last one may not have ended
    std::set<std::string> started_; // ids of documents that were saved automatically
    QTimer settle_;

    void take_page(const QString& page_id, const Ticket& ticket);
    void end_run();
    void see();
    bool is_through(Run& run); // begins what can be done now; returns whether nothing is left
    bool is_complete(const Document& document, const Run& run) const;
    bool is_ending_ = false;
    void copy(const std::string& document_id, const PrintHow& how);
    void say_saved(const QString& document_id, const QStringList& files, bool added);
    void take_back(const QString& document_id, const QStringList& files);
};

}
