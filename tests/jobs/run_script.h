// A run, decided by events alone, without device, thread or window. A script says what each pass delivers; the actions
// that the run returns are carried out on a tray that is a value.
#pragma once

#include "jobs/scan_run.h"

#include "core/scanner/faults.h"
#include "core/tray/tray_edits.h"

#include <gtest/gtest.h>

namespace yelvin {

using For = Waiting::For;
using Clock = std::chrono::steady_clock;

inline Error fault(ErrorKind kind) { return scanner_fault(kind, "Simulated scanner", 1); }
inline const Error two_by_length{ErrorKind::TwoSheets, "", ""};

// What one pass through the feeder delivers: so many sides, then its end.
struct Pass {
    int sides = 0;
    std::optional<Error> error;
};

inline RunPlan stack_plan(bool both = false) {
    RunPlan plan;
    plan.pass.from_stack = true;
    plan.scanner = "Simulated scanner";
    plan.both = both;
    plan.starts_document = true;
    return plan;
}

inline RunPlan two_pass_plan() {
    RunPlan plan = stack_plan();
    plan.two_passes = true;
    return plan;
}

// Carries out the actions of the run, and remembers them.
class Bench {
  public:
    explicit Bench(const RunPlan& plan, ScanRun::Kind kind = ScanRun::Kind::Everyday)
        : plan(plan), run(plan, kind, Clock::time_point{}) {
        carry(run.start());
    }

    RunPlan plan;
    ScanRun run;
    Tray tray;
    std::vector<std::string> log; // "pass", "put back 2", "turn over", "say …", "end", "step"
    PassPlan last_pass;

    void carry(RunActions actions) {
        for (RunAction& action : actions) std::visit([this](auto& what) { do_it(what); }, action);
    }

    // Carries out a pass of the script. Each page has its own name: p1, p2, … in the order of their arrival.
    void bring(const Pass& pass) {
        ASSERT_TRUE(run.passing());
        for (int i = 0; i < pass.sides; ++i) {
            const int sheet = plan.both ? i / 2 + 1 : i + 1;
            const bool back = plan.both && i % 2 == 1;
            run.sheet_begins(sheet, back);
            Page page = page_of({Original{"f" + std::to_string(++pages_) + ".tif"}, sheet, back}, run.sheets_before(),
                                run.all_are_backs());
            page.id = "p" + std::to_string(pages_);
            carry(run.page_in(page, std::nullopt, now()));
        }
        end_pass(pass.error);
    }
    void end_pass(const std::optional<Error>& error = std::nullopt) {
        PassEnd end;
        if (error) end.outcome = std::unexpected(*error);
        carry(run.pass_ended(end, tray, 4));
    }
    void go_on() { carry(run.go_on(tray, plan)); }
    void again() { carry(run.scan_again(tray, plan)); }
    void end() { carry(run.end(tray)); }
    // Carries out what the ticket's rules decide for the pages that were checked so far. Returns true once all are
    // settled.
    bool judged() {
        RunActions actions;
        const bool settled = run.judge(tray, actions);
        carry(std::move(actions));
        return settled;
    }
    For waits() const { return run.waiting().what; }

    // "1F 1B|2F": sheets and sides, with documents divided by bars.
    std::string order() const {
        std::string out;
        for (const DocumentPtr& document : tray.documents) {
            if (!out.empty()) out.back() = '|';
            for (const PagePtr& page : document->pages) out += std::to_string(page->sheet) + (page->back ? "B " : "F ");
        }
        return out;
    }
    std::string names() const {
        std::string out;
        for (const std::string& id : page_ids(tray)) out += id + " ";
        return out;
    }
    // A page must never be in the tray twice.
    void expect_no_page_twice() const {
        const auto all = page_ids(tray);
        EXPECT_EQ(PageIds(all.begin(), all.end()).size(), all.size()) << names();
    }
    std::string logged() {
        std::string out;
        for (const std::string& line : std::exchange(log, {})) out += line + "; ";
        return out;
    }
    void notice_all(double ink_percent) {
        for (const std::string& id : page_ids(tray)) {
            Page seen = *page_at(tray, id);
            seen.noticed = true;
            seen.notices.ink_percent = ink_percent;
            tray = with_page(tray, std::make_shared<const Page>(seen));
        }
    }

  private:
    int pages_ = 0;
    Clock::time_point now() const { return Clock::time_point{} + std::chrono::seconds(pages_); }

    void do_it(run::StartPass& start) {
        last_pass = start.plan;
        log.emplace_back("pass");
    }
    void do_it(run::AddPage& add) {
        if (add.new_step) log.emplace_back("step");
        tray = with_page_added(tray, std::make_shared<const Page>(add.page), add.starts_document);
    }
    void do_it(run::ChangeTray& change) {
        if (change.new_step) log.emplace_back("step");
        tray = change.tray;
        expect_no_page_twice();
    }
    void do_it(run::LookThrough& look) { log.push_back("look at " + look.side->id + " by " + look.other->id); }
    void do_it(run::PutBack& put) { log.push_back("put back " + std::to_string(put.sheets)); }
    void do_it(run::TurnOver&) { log.emplace_back("turn over"); }
    void do_it(run::Say& say) { log.push_back("say " + say.error.sentence); }
    void do_it(run::End&) { log.emplace_back("end"); }
};

}
