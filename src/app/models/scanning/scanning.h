// Carries out what ScanRun decides, and every other way in which pages come from a scanner into the tray. Lives on the
// window's thread.
#pragma once

#include "app/models/tray/out_tray.h"
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
    // The objects that it uses; they must outlive it.
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

    bool passing() const { return run_ && run_->passing(); } // whether a pass is under way
    const Waiting& waiting() const;
    const Progress& progress() const;

    // Starts a run, or continues one that waits. Does nothing while the scanner is in use.
    void start();
    void start_by_button(const QString& button); // with the ticket that this button of the device starts
    void preview();                              // previews the glass, or scans the first sheet of a feeder as a test
    // Scans the whole glass as a piece of something larger, whose previous piece is the page `behind`, if there is one.
    // Emits piece_scanned().
    void scan_piece(const QString& behind = {});
    void scan_at_current(Landing::How how); // in place of the current page, before or behind it
    // The name of the ticket that the current page was scanned with, if the sentence has another one; otherwise empty.
    QString ticket_of_current() const;
    // Stops the present user of the scanner; ends a run that waits. Scanned pages are kept.
    void stop();

    // Answers of the user to a run that waits, see ScanRun.
    void go_on();
    void keep_long_sheet();
    void scan_again();
    void pause_countdown(bool paused);
    void set_gap(int sheet);
    void tick();               // a second of the countdown has passed
    void set_clock(bool runs); // false: seconds pass by tick() only, for tests

    // Blank sides.
    void set_blank_limit(double percent);      // applies at once to unsaved pages of the tray
    std::vector<PagePtr> judged_pages() const; // pages about which the limit decides
    // Whether the rules of the present run were carried out for the page.
    bool is_decided(const std::string& page_id) const { return run_ && run_->is_decided(page_id); }

  signals:
    void changed();                                                 // passing(), waiting() or progress() changed
    void page_growing(const QImage& so_far, int rows, int of_rows); // while scanning
    void piece_scanned(const QString& page_id);
    void page_scanned(const QString& page_id, const Ticket& ticket); // not for pieces; with its ticket
    void run_ended();                                                // no page of the run will come

  private:
    Around around_;
    std::optional<ScanRun> run_;
    std::vector<ScanRun> ended_; // runs with pages that are still being checked
    Progress last_progress_;
    std::string goes_by_; // id of the run's ticket, for documents that it starts
    bool scan_after_preview_ = false, clock_runs_ = true;
    QTimer countdown_;
    Executor here_;
    std::jthread pass_;

    void begin(RunPlan plan, ScanRun::Kind kind);
    // The ticket for scanning a page again: the one that it was scanned with.
    TicketInUsePtr ticket_of_landing() const; // null: the sentence's ticket
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
