// A run: all the scanning that one press of Scan leads to, over countdowns, faults and second passes, until it ends.
//
// It decides and does nothing itself. What happens is told to it: a page is in, a pass has ended, a second has passed,
// the person answers. It gives back what is to be done, in order; what it waits for and how far it is can be read at
// any time. It knows no device, no thread and no window, and is used on one thread.
#pragma once

#include "core/tray/stack.h"
#include "jobs/pass.h"

#include <chrono>
#include <map>
#include <set>
#include <variant>

namespace yelvin {

// What is to be scanned, as the ticket, the scanner and the glass say now.
struct RunPlan {
    PassPlan pass;                // one pass of it
    std::string scanner;          // its title, for sentences
    bool both = false;            // both sides of a sheet in one pass
    bool two_passes = false;      // fronts, then backs
    bool hand_fed = false;        // sheet after sheet, or paper after paper on the glass
    bool starts_document = false; // else all of it belongs to a document that is there, whatever the ticket says
    std::string follows = {};     // the page that its first one goes behind; empty: none
};

// What a run waits for: the person at the desk.
struct Waiting {
    enum class For { Nothing, FirstSheet, NextSheet, Backs, Counts, Fault };
    For what = For::Nothing;
    Error fault;                        // Fault: what happened, for this sheet of the run
    int sheet = 0;                      // NextSheet: so many are in; Fault: the one to be put back, or suspected
    bool from_stack = true;             // NextSheet: to be fed; else laid on the glass
    bool can_keep = false;              // Fault: a long sheet that may be one after all
    std::optional<int> sheets_left;     // FirstSheet: in the feeder, where that is known
    int seconds_in_all = 0;             // NextSheet: the countdown …
    int seconds_left = -1;              // … and what is left until it goes on by itself; -1: it asks
    bool paused = false;                // the countdown stands still
    int fronts = 0, backs = 0, gap = 0; // Counts: they differ; the sheet, from 1, whose other side is missing
    bool operator==(const Waiting&) const = default;
};

// How far a run is.
struct Progress {
    int sheet = 0, pages = 0; // the sheet under way and the pages that are in, from 1
    bool back = false, from_stack = false;
    std::optional<int> sheets_waiting;
    double pages_a_minute = 0; // 0: not known yet
};

// What a run wants done.
namespace run {
struct StartPass {
    PassPlan plan;
};
struct AddPage { // to the out tray
    Page page;
    bool starts_document = false;
    bool new_step = false;    // one that can be undone; else it belongs to the step that the run began
    std::string follows = {}; // the page of the run before it; empty: it is the first
};
struct ChangeTray {
    Tray tray;
    bool new_step = false; // "scan again"
};
struct LookThrough { // whether what is seen on a side is print of the sheet's other side
    PagePtr side, other;
};
// What a person does with the papers meanwhile; a simulated scanner is told.
struct PutBack {
    int sheets = 0; // that went in last; 0: what the last pull took, two perhaps
};
struct TurnOver {};
struct Say { // and nothing to wait for
    Error error;
};
struct End {};
}
using RunAction = std::variant<run::StartPass, run::AddPage, run::ChangeTray, run::LookThrough, run::PutBack,
                               run::TurnOver, run::Say, run::End>;
using RunActions = std::vector<RunAction>;

class ScanRun {
  public:
    enum class Kind { Everyday, FirstSheet, Piece }; // FirstSheet: of a feeder, as a test, before the rest
    ScanRun(RunPlan plan, Kind kind, std::chrono::steady_clock::time_point now);

    bool is_piece() const { return kind_ == Kind::Piece; }
    const Ticket& ticket() const { return plan_.pass.ticket; }
    bool passing() const { return passing_; } // a pass was started and has not ended
    bool ended() const { return ended_; }
    const Waiting& waiting() const { return waiting_; }
    const Progress& progress() const { return progress_; }

    // ---- what happens

    RunActions start();
    void sheet_begins(int sheet_of_job, bool back);
    // A side of a stack's sheet, as page_of() gives it.
    RunActions page_in(Page page, std::optional<int> sheets_waiting, std::chrono::steady_clock::time_point now);
    // Pages of a picture of the glass, as pages_of() gives them. Frames keep their order, whichever job brought them.
    RunActions pages_in(const std::vector<std::pair<size_t, Page>>& pages, std::chrono::steady_clock::time_point now);
    // For page_of().
    int sheets_before() const { return sheets_before_; }
    bool all_are_backs() const { return side_ == Side::Backs; }

    RunActions pass_ended(const PassEnd& end, const Tray& tray, std::optional<int> sheets_waiting);
    // A second of the countdown. True: it is over, go_on().
    [[nodiscard]] bool second_passed();
    // Pages of the run have been noticed since: what the ticket's rules make of them. After the end too, until all of
    // them are; true then.
    bool judge(const Tray& tray, RunActions& actions);
    // The page stays where judge() put it, whatever else the run brings.
    bool is_decided(const std::string& page_id) const { return judged_.contains(page_id); }

    // ---- what the person says, while it waits; else nothing happens

    // Go on with what was asked for. `plan`: as it would be for a run that began now.
    RunActions go_on(const Tray& tray, const RunPlan& plan);
    RunActions keep_long_sheet(); // it was one sheet, not two
    // FirstSheet: without the page that it gave; Counts: without the backs that came.
    RunActions scan_again(const Tray& tray, const RunPlan& plan);
    RunActions set_gap(int sheet, const Tray& tray);
    void pause_countdown(bool paused);
    // Pages that are in stay; backs that are in go to their fronts. Not while a pass is under way: that is stopped
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
    std::vector<std::string> pages_, fronts_, backs_; // ids in the order they came; the latter of two passes
    int sheets_before_ = 0;                           // complete in the jobs of this run before this one
    int pages_of_job_ = 0;
    std::map<size_t, Page> ready_; // pages of frames that wait for those with lower numbers
    size_t next_frame_ = 0;
    std::set<std::string> judged_;         // pages whose verdict was carried out
    std::set<std::string> looked_through_; // pages whose other side was asked for

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
