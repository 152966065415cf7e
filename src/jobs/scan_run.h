// A run: all the scanning that one press of Scan leads to, with countdowns, faults and second passes, until it ends.
//
// A state machine that does nothing itself. The caller reports events (a page was scanned, a pass ended, a second
// passed, the user answered), and each event returns the actions to be carried out, in order. What the run waits for,
// and its progress, can be read at any time. It knows no device, thread or window. Used on one thread.
#pragma once

#include "jobs/pass.h"

#include <chrono>
#include <map>
#include <set>
#include <variant>

namespace yelvin {

// What is to be scanned, by the present ticket, scanner and glass.
struct RunPlan {
    PassPlan pass;                // one pass of it
    std::string scanner;          // its title, for sentences
    bool both = false;            // both sides of a sheet in one pass
    bool two_passes = false;      // fronts, then backs
    bool hand_fed = false;        // sheet after sheet, or paper after paper on the glass
    bool starts_document = false; // otherwise all pages go into an existing document, whatever the ticket says
    std::string follows = {};     // id of the page behind which its first page goes; empty: none
};

// What a run waits for from the user.
struct Waiting {
    enum class For { Nothing, FirstSheet, NextSheet, Backs, Counts, Fault };
    For what = For::Nothing;
    Error fault;            // Fault: what happened, for this sheet of the run
    int sheet = 0;          // NextSheet: number of sheets scanned; Fault: the sheet to be put back, or suspected
    bool from_stack = true; // NextSheet: whether it is fed instead of laid on the glass
    bool can_keep = false;  // Fault: whether a long sheet may be kept as one
    std::optional<int> sheets_left;     // FirstSheet: sheets in the feeder, if known
    int seconds_in_all = 0;             // NextSheet: length of the countdown
    int seconds_left = -1;              // NextSheet: time left; -1: there is no countdown
    bool paused = false;                // whether the countdown is paused
    int fronts = 0, backs = 0, gap = 0; // Counts: they differ; the sheet, from 1, whose other side is missing
    bool operator==(const Waiting&) const = default;
};

// How far a run is.
struct Progress {
    int sheet = 0, pages = 0; // number of the sheet being scanned, number of pages scanned
    bool back = false, from_stack = false;
    std::optional<int> sheets_waiting;
    double pages_a_minute = 0; // 0: not known yet
};

// The actions that a run returns.
namespace run {
struct StartPass {
    PassPlan plan;
};
struct AddPage { // to the out tray
    Page page;
    bool starts_document = false;
    bool new_step = false;    // whether it is an undo step of its own instead of part of the run's step
    std::string follows = {}; // id of the run's previous page; empty: it is the first
};
struct ChangeTray {
    Tray tray;
    bool new_step = false; // whether it is an undo step of its own ("scan again")
};
struct LookThrough { // decide about a side that is in doubt by the sheet's other side
    PagePtr side, other;
};
// What the user does with the paper; a simulated scanner is informed.
struct PutBack {
    int sheets = 0; // number of the last sheets; 0: what was pulled in last, perhaps two
};
struct TurnOver {};
struct Say { // show an error without waiting
    Error error;
};
struct End {};
}
using RunAction = std::variant<run::StartPass, run::AddPage, run::ChangeTray, run::LookThrough, run::PutBack,
                               run::TurnOver, run::Say, run::End>;
using RunActions = std::vector<RunAction>;

class ScanRun {
  public:
    enum class Kind { Everyday, FirstSheet, Piece }; // FirstSheet: one sheet of a feeder as a test
    ScanRun(RunPlan plan, Kind kind, std::chrono::steady_clock::time_point now);

    bool is_piece() const { return kind_ == Kind::Piece; }
    const Ticket& ticket() const { return plan_.pass.ticket; }
    bool passing() const { return passing_; } // a pass is under way
    bool ended() const { return ended_; }
    const Waiting& waiting() const { return waiting_; }
    const Progress& progress() const { return progress_; }

    // ---- events

    RunActions start();
    void sheet_begins(int sheet_of_job, bool back);
    // A side of a stack's sheet, as page_of() returns it.
    RunActions page_in(Page page, std::optional<int> sheets_waiting, std::chrono::steady_clock::time_point now);
    // Pages of a picture of the glass, as pages_of() returns them. Frames keep their order, whichever job scanned them.
    RunActions pages_in(const std::vector<std::pair<size_t, Page>>& pages, std::chrono::steady_clock::time_point now);
    // Arguments for page_of().
    int sheets_before() const { return sheets_before_; }
    bool all_are_backs() const { return side_ == Side::Backs; }

    RunActions pass_ended(const PassEnd& end, const Tray& tray, std::optional<int> sheets_waiting);
    // A second of the countdown has passed. Returns true at its end: call go_on().
    [[nodiscard]] bool second_passed();
    // Applies the ticket's rules to pages of the run that were noticed meanwhile. Also after the end of the run, until
    // it returns true: all pages are decided.
    bool judge(const Tray& tray, RunActions& actions);
    // Whether the page stays where judge() put it, whatever else is scanned.
    bool is_decided(const std::string& page_id) const { return judged_.contains(page_id); }

    // ---- answers of the user; ignored unless the run waits for them
    // Continues. `plan` is that of a run that would begin now.
    RunActions go_on(const Tray& tray, const RunPlan& plan);
    RunActions keep_long_sheet(); // the long sheet was one sheet, not two
    // Scans again. FirstSheet: without the page of the test; Counts: without the backs.
    RunActions scan_again(const Tray& tray, const RunPlan& plan);
    RunActions set_gap(int sheet, const Tray& tray);
    void pause_countdown(bool paused);
    // Ends the run. Scanned pages stay, and scanned backs go to their fronts. Not while a pass is under way: stop that
    // first.
    RunActions end(const Tray& tray);
    void set_page_rules(const Ticket::Pages& pages) { plan_.pass.ticket.pages = pages; }

  private:
    enum class Side { Any, Fronts, Backs };
    RunPlan plan_;
    Kind kind_;
    std::chrono::steady_clock::time_point began_;
    Side side_ = Side::Any;
    bool passing_ = false, ended_ = false, first_sheet_only_ = false;
    Waiting waiting_;
    Progress progress_;
    std::vector<std::string> pages_, fronts_,
        backs_;             // page ids in the order of scanning; fronts_ and backs_ for two passes
    int sheets_before_ = 0; // complete sheets in earlier jobs of this run
    int pages_of_job_ = 0;
    std::map<size_t, Page> ready_; // pages that wait for those of earlier frames
    size_t next_frame_ = 0;
    std::set<std::string> judged_;         // ids of pages whose verdict was carried out
    std::set<std::string> looked_through_; // ids of pages for which LookThrough was returned

    int complete_sheets() const { return plan_.both ? pages_of_job_ / 2 : pages_of_job_; }
    run::StartPass pass();
    bool items_are_documents() const;
    run::AddPage counted(Page page, std::chrono::steady_clock::time_point now);
    void wait_for(Waiting waiting) { waiting_ = std::move(waiting); }
    RunActions after_pass(const Tray& tray, std::optional<int> sheets_waiting);
    RunActions after_fault(const Error& error, const Tray& tray);
    RunActions ask_for_counts(const Tray& tray);
    bool look_through(std::vector<PagePtr>& ready, RunActions& actions);
    void put_right(const Tray& tray, RunActions& actions);
    run::ChangeTray without(const std::vector<std::string>& ids, const Tray& tray);
    void close_job(int sheets);
    RunActions ended_with(const Tray& tray, size_t gap);
};

}
