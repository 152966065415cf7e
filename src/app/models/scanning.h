// The run that one press of Scan leads to: ScanRun decides, this carries out. Also every other way in which pages come
// from a scanner into the tray.
#pragma once

#include "app/models/out_tray.h"
#include "jobs/scan_run.h"
#include "jobs/scanner_lease.h"

#include <QImage>
#include <QObject>
#include <QTimer>

#include <thread>

namespace yelvin {

class Choice;
class DocumentTickets;
class Experience;
class Glass;
class GrowingPicture;
class Looking;
class Messages;
class NextScan;
class Pictures;
class Scanners;
class Tickets;

class Scanning : public QObject {
    Q_OBJECT
  public:
    // What it knows of the rest.
    struct Around {
        Messages& messages;
        Experience& experience;
        Scanners& scanners;
        Tickets& tickets;
        Glass& glass;
        NextScan& next_scan;
        OutTray& tray;
        Choice& choice;
        Pictures& pictures;
        Looking& looking;
        DocumentTickets& document_tickets;
    };
    explicit Scanning(const Around& around, QObject* parent = nullptr);
    ~Scanning() override;

    bool passing() const { return run_ && run_->passing(); } // sheets are on their way, or the scanner is waited for
    const Waiting& waiting() const;
    const Progress& progress() const;

    // A run, or what the waiting one was asked for. Not while the scanner is in use.
    void start();
    void start_by_button(const QString& button); // one of the scanner's own, with the ticket that it starts
    void preview();                              // of the glass; from a feeder, the first sheet as a test
    // All of the glass, as it is: one part of something larger, whose part before it is the page `behind`, if there is
    // one. Ends with piece_scanned().
    void scan_piece(const QString& behind = {});
    void scan_at_current(Landing::How how); // in the current page's place, before or behind it
    // The name of the ticket that the current page was scanned with, where another one is in the sentence; else empty.
    QString ticket_of_current() const;
    // Whoever uses the scanner stops; a run that waits ends. Pages that are in are kept.
    void stop();

    // What the person answers to a run that waits; see ScanRun.
    void go_on();
    void keep_long_sheet();
    void scan_again();
    void pause_countdown(bool paused);
    void set_gap(int sheet);
    void tick();               // a second of the countdown has passed
    void set_clock(bool runs); // not: seconds pass by tick() alone, as in tests

    // Blank sides.
    void set_blank_limit(double percent);      // and at once for the unsaved pages of the tray
    std::vector<PagePtr> judged_pages() const; // those the limit decides about
    // What the rules of the run under way make of the page has been carried out.
    bool is_decided(const std::string& page_id) const { return run_ && run_->is_decided(page_id); }

  signals:
    void changed();                                                 // passing(), waiting() or progress()
    void page_growing(const QImage& so_far, int rows, int of_rows); // while scanning
    void piece_scanned(const QString& page_id);
    void page_scanned(const QString& page_id, const Ticket& ticket); // by a run other than of a piece, with its ticket
    void run_ended();                                                // no page of it comes any more

  private:
    Around around_;
    std::optional<ScanRun> run_;
    std::vector<ScanRun> ended_; // with pages that are still being looked at
    Progress last_progress_;
    std::string goes_by_; // the id of the run's ticket, for documents that it begins
    bool scan_after_preview_ = false, clock_runs_ = true;
    QTimer countdown_;
    Executor here_;
    std::jthread pass_;

    void begin(RunPlan plan, ScanRun::Kind kind);
    // What a page is scanned again in the place of says how it was scanned; anything else is as the sentence says.
    TicketInUsePtr ticket_of_landing() const; // null: the sentence's
    RunPlan plan_now() const;
    void follow_ticket();
    void carry(RunActions actions);
    void do_it(run::StartPass& start);
    void do_it(run::AddPage& add);
    void do_it(run::ChangeTray& change);
    void do_it(run::LookThrough& look);
    void do_it(run::PutBack& put);
    void do_it(run::TurnOver& turn);
    void do_it(run::Say& say);
    void do_it(run::End& end);
    ScannerLease::For purpose() const;
    void pass_on_thread(const PassPlan& plan, const std::stop_token& stop);
    PassEvents events_of(GrowingPicture& growing);
    void end_pass(const PassEnd& end, bool of_glass);
    void judge();
    void mind_countdown();
};

}
