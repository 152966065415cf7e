#include "jobs/scan_run.h"

#include "core/scanner/faults.h"
#include "core/tray/stack.h"
#include "core/tray/tray_edits.h"

#include <algorithm>
#include <utility>

namespace yelvin {

using For = Waiting::For;

ScanRun::ScanRun(RunPlan plan, Kind kind, std::chrono::steady_clock::time_point now)
    : plan_(std::move(plan)), kind_(kind), began_(now), side_(plan_.two_passes ? Side::Fronts : Side::Any),
      first_sheet_only_(kind == Kind::FirstSheet) {
    progress_.from_stack = plan_.pass.from_stack;
}

RunActions ScanRun::start() { return {pass()}; }

run::StartPass ScanRun::pass() {
    waiting_ = {};
    passing_ = true;
    pages_of_job_ = 0;
    next_frame_ = 0;
    PassPlan plan = plan_.pass;
    plan.sheets = plan_.hand_fed || first_sheet_only_ ? 1 : 0;
    return {std::move(plan)};
}

// ---- pages

void ScanRun::sheet_begins(int sheet_of_job, bool back) {
    progress_.sheet = sheets_before_ + sheet_of_job;
    progress_.back = back || all_are_backs();
}

// The pages of a stack are divided into documents after their analysis, when blank sheets and separators are known.
bool ScanRun::items_are_documents() const {
    return plan_.starts_document && !plan_.pass.from_stack && !is_piece() &&
           plan_.pass.ticket.pages.documents == Documents::EachItem;
}

run::AddPage ScanRun::counted(Page page, std::chrono::steady_clock::time_point now) {
    const bool first = pages_.empty();
    std::string follows = first ? plan_.follows : pages_.back();
    pages_.push_back(page.id);
    if (side_ == Side::Fronts) fronts_.push_back(page.id);
    if (side_ == Side::Backs) backs_.push_back(page.id);
    ++pages_of_job_;
    ++progress_.pages;
    const double minutes = std::chrono::duration<double>(now - began_).count() / 60;
    constexpr int enough = 3;
    if (progress_.pages >= enough && minutes > 0) progress_.pages_a_minute = progress_.pages / minutes;
    const bool starts = first ? plan_.starts_document : items_are_documents();
    return {std::move(page), starts, first, std::move(follows)};
}

RunActions ScanRun::page_in(Page page, std::optional<int> sheets_waiting, std::chrono::steady_clock::time_point now) {
    progress_.sheets_waiting = sheets_waiting;
    return {counted(std::move(page), now)};
}

RunActions ScanRun::pages_in(const std::vector<std::pair<size_t, Page>>& pages,
                             std::chrono::steady_clock::time_point now) {
    for (const auto& [number, page] : pages) ready_.emplace(number, page);
    RunActions actions;
    while (!ready_.empty() && ready_.begin()->first == next_frame_) {
        actions.push_back(counted(std::move(ready_.extract(ready_.begin()).mapped()), now));
        ++next_frame_;
    }
    return actions;
}

run::ChangeTray ScanRun::without(const std::vector<std::string>& ids, const Tray& tray) {
    for (const std::string& id : ids) {
        for (auto* list : {&pages_, &fronts_, &backs_}) std::erase(*list, id);
    }
    progress_.pages = static_cast<int>(pages_.size());
    return {without_pages(tray, PageIds(ids.begin(), ids.end())), true};
}

// ---- between passes

void ScanRun::close_job(int sheets) {
    sheets_before_ += sheets;
    pages_of_job_ = 0;
}

RunActions ScanRun::pass_ended(const PassEnd& end, const Tray& tray, std::optional<int> sheets_waiting) {
    if (!passing_) return {};
    passing_ = false;
    plan_.pass.lengths_px = end.lengths_px;
    // The scan of the glass was interrupted: frames that were scanned are kept, even if an earlier frame is missing.
    RunActions actions;
    while (!ready_.empty()) actions.push_back(counted(std::move(ready_.extract(ready_.begin()).mapped()), began_));
    RunActions more;
    if (end.outcome)
        more = after_pass(tray, sheets_waiting);
    else if (end.outcome.error().kind == ErrorKind::Stopped)
        more = ended_with(tray, 0); // The backs that arrived belong to the last sheets.
    else
        more = after_fault(end.outcome.error(), tray);
    std::ranges::move(more, std::back_inserter(actions));
    return actions;
}

RunActions ScanRun::after_pass(const Tray& tray, std::optional<int> sheets_waiting) {
    close_job(plan_.pass.from_stack ? complete_sheets() : 1);
    if (std::exchange(first_sheet_only_, false)) {
        wait_for({.what = For::FirstSheet, .sheets_left = sheets_waiting});
        return {};
    }
    if (plan_.hand_fed) {
        const int seconds = plan_.pass.ticket.from.next_sheet_seconds;
        wait_for({.what = For::NextSheet,
                  .sheet = sheets_before_,
                  .from_stack = plan_.pass.from_stack,
                  .seconds_in_all = seconds,
                  .seconds_left = seconds > 0 ? seconds : -1});
        return {};
    }
    if (side_ == Side::Fronts) {
        wait_for({.what = For::Backs, .fronts = static_cast<int>(fronts_.size())});
        return {};
    }
    if (side_ == Side::Backs && fronts_.size() != backs_.size()) return ask_for_counts(tray);
    return ended_with(tray, 0);
}

RunActions ScanRun::ask_for_counts(const Tray& tray) {
    const int fronts = static_cast<int>(fronts_.size()), backs = static_cast<int>(backs_.size());
    wait_for({.what = For::Counts,
              .fronts = fronts,
              .backs = backs,
              .gap = std::max(fronts, backs) - std::abs(fronts - backs) + 1});
    return {run::ChangeTray{with_sides_paired(tray, fronts_, backs_, static_cast<size_t>(waiting_.gap) - 1)}};
}

RunActions ScanRun::after_fault(const Error& error, const Tray& tray) {
    const bool before_backs = side_ == Side::Backs && sheets_before_ == 0 && pages_of_job_ == 0;
    const bool began =
        before_backs || sheets_before_ > 0 || pages_of_job_ > 0 || (plan_.pass.from_stack && progress_.sheet > 0);
    if (before_backs && (error.kind == ErrorKind::FeederEmpty || !can_go_on(error.kind))) {
        // For example, the stack was not put back into the feeder: the run continues to wait for the back sides.
        wait_for({.what = For::Backs, .fronts = static_cast<int>(fronts_.size())});
        return {run::Say{error}};
    }
    if (!can_go_on(error.kind) || !began || (!plan_.pass.from_stack && !plan_.hand_fed)) {
        RunActions actions = ended_with(tray, 0);
        actions.insert(actions.begin(), run::Say{error});
        return actions;
    }
    const bool too_long = error.kind == ErrorKind::TwoSheets && error.sentence.empty();
    const int sheet = sheets_before_ + complete_sheets() + 1;
    if (too_long) {
        // The suspected double feed was scanned, its front side at least.
        const int suspect = sheets_before_ + (plan_.both ? (pages_of_job_ + 1) / 2 : pages_of_job_);
        wait_for({.what = For::Fault, .fault = error, .sheet = suspect, .can_keep = true});
    } else {
        wait_for({.what = For::Fault,
                  .fault = plan_.pass.from_stack ? with_sheet(error, plan_.scanner, sheet) : error,
                  .sheet = sheet});
    }
    return {};
}

RunActions ScanRun::ended_with(const Tray& tray, size_t gap) {
    RunActions actions;
    if (side_ == Side::Backs && !backs_.empty()) {
        actions.push_back(run::ChangeTray{with_sides_paired(tray, fronts_, backs_, gap)});
        pages_.clear();
        for (const SheetSides& sheet : paired(fronts_.size(), backs_.size(), gap)) {
            if (sheet.front) pages_.push_back(fronts_[*sheet.front]);
            if (sheet.back) pages_.push_back(backs_[*sheet.back]);
        }
    }
    waiting_ = {};
    ended_ = true;
    actions.push_back(run::End{});
    return actions;
}

bool ScanRun::second_passed() {
    if (waiting_.what != For::NextSheet || waiting_.seconds_left < 0 || waiting_.paused) return false;
    return --waiting_.seconds_left <= 0;
}

// ---- answers of the user

// Removes the pages that are going to be scanned again after a fault.
void ScanRun::put_right(const Tray& tray, RunActions& actions) {
    std::vector<std::string> gone;
    const auto go = [&] {
        gone.push_back(pages_[pages_.size() - 1 - gone.size()]);
        --pages_of_job_;
    };
    const bool suspect = waiting_.can_keep && !pages_.empty();
    if (suspect) go(); // The long sheet is scanned again, as separate sheets.
    // The front of a sheet whose back did not arrive is scanned again too.
    if (plan_.both && pages_of_job_ % 2 == 1) go();
    if (!gone.empty()) actions.push_back(without(gone, tray));
    if (suspect) actions.push_back(run::PutBack{});
    close_job(complete_sheets());
}

RunActions ScanRun::go_on(const Tray& tray, const RunPlan& plan) {
    RunActions actions;
    switch (waiting_.what) {
    case For::Nothing:
        return {};
    case For::Fault:
        put_right(tray, actions);
        break;
    case For::FirstSheet: // Takes over what the user changed after seeing the first sheet.
        plan_.pass.ticket = plan.pass.ticket;
        plan_.pass.area = plan.pass.area;
        break;
    case For::NextSheet: // The next paper needs frames of its own.
        plan_.pass.frames = plan.pass.frames;
        plan_.pass.jobs = plan.pass.jobs;
        plan_.pass.finds = plan.pass.finds;
        break;
    case For::Backs:
        side_ = Side::Backs;
        sheets_before_ = 0;
        plan_.pass.lengths_px.clear();
        actions.push_back(run::TurnOver{});
        break;
    case For::Counts:
        return ended_with(tray, static_cast<size_t>(std::max(1, waiting_.gap)) - 1);
    }
    actions.push_back(pass());
    return actions;
}

RunActions ScanRun::keep_long_sheet() {
    if (waiting_.what != For::Fault || !waiting_.can_keep) return {};
    // The user accepted a sheet of this length, so it is not asked about again.
    plan_.pass.lengths_px.clear();
    close_job(plan_.both ? (pages_of_job_ + 1) / 2 : pages_of_job_);
    return {pass()};
}

RunActions ScanRun::scan_again(const Tray& tray, const RunPlan& plan) {
    if (waiting_.what == For::FirstSheet) {
        const run::ChangeTray gone = without(std::vector<std::string>(pages_), tray);
        sheets_before_ = 0;
        first_sheet_only_ = true;
        plan_.pass.ticket = plan.pass.ticket;
        plan_.pass.area = plan.pass.area;
        return {gone, run::PutBack{}, pass()};
    }
    if (waiting_.what == For::Counts) {
        const int sheets = static_cast<int>(backs_.size());
        const run::ChangeTray gone = without(std::vector<std::string>(backs_), tray);
        sheets_before_ = 0;
        return {gone, run::PutBack{sheets}, pass()};
    }
    return {};
}

RunActions ScanRun::set_gap(int sheet, const Tray& tray) {
    if (waiting_.what != For::Counts) return {};
    waiting_.gap = sheet;
    return {run::ChangeTray{with_sides_paired(tray, fronts_, backs_, static_cast<size_t>(std::max(1, sheet)) - 1)}};
}

void ScanRun::pause_countdown(bool paused) {
    if (waiting_.seconds_left >= 0) waiting_.paused = paused;
}

RunActions ScanRun::end(const Tray& tray) {
    if (passing_ || ended_) return {};
    return ended_with(tray, waiting_.what == For::Counts ? static_cast<size_t>(std::max(1, waiting_.gap)) - 1 : 0);
}

// ---- applying the ticket's rules to the pages

// Requests a comparison with the other side for each side that may or may not be blank. Only the sheets before the
// first of these remain in `ready`. Returns false if there is such a sheet.
bool ScanRun::look_through(std::vector<PagePtr>& ready, RunActions& actions) {
    std::optional<int> first;
    for (const PagePtr& side : ready) {
        if (!side->notices.in_doubt || side->sheet == 0) continue;
        const auto other = std::ranges::find_if(
            ready, [&](const PagePtr& page) { return page->sheet == side->sheet && page->back != side->back; });
        if (other == ready.end()) continue;
        if (!first) first = side->sheet;
        if (looked_through_.insert(side->id).second) actions.push_back(run::LookThrough{side, *other});
    }
    if (!first) return true;
    ready.erase(std::ranges::find(ready, *first, [](const PagePtr& page) { return page->sheet; }), ready.end());
    return false;
}

bool ScanRun::judge(const Tray& tray, RunActions& actions) {
    if (!plan_.pass.from_stack) return ended_;
    // While the run waits, all sheets so far are complete. Sheets that are scanned in two passes are complete only
    // after the second pass.
    const bool all_in = ended_ || (!passing_ && side_ == Side::Any);
    if (side_ != Side::Any && !all_in) return false;
    std::map<std::string, PagePtr> in_tray;
    for (const DocumentPtr& document : tray.documents) {
        for (const PagePtr& page : document->pages) in_tray.emplace(page->id, page);
    }
    std::vector<PagePtr> ready;
    bool all = true;
    for (const std::string& id : pages_) {
        const auto at = in_tray.find(id);
        if (at == in_tray.end()) continue;
        all = at->second->noticed || at->second->left_alone;
        if (!all) break;
        ready.push_back(at->second);
    }
    if (!(all && all_in) && !ready.empty()) {
        // The other side of the last sheet may not have been scanned yet.
        const int last = ready.back()->sheet;
        while (!ready.empty() && ready.back()->sheet == last) ready.pop_back();
    }
    if (!look_through(ready, actions)) all = false;
    // Each verdict is applied once, so that later changes by the user are kept.
    StackRules rules = stack_rules(plan_.pass.ticket);
    if (!plan_.starts_document) rules.each_sheet = false;
    const std::vector<Verdict> verdicts = judged(ready, rules);
    std::vector<std::string> ids;
    std::vector<Verdict> fresh;
    for (size_t i = 0; i < ready.size(); ++i) {
        if (!judged_.insert(ready[i]->id).second) continue;
        ids.push_back(ready[i]->id);
        fresh.push_back(verdicts[i]);
    }
    if (Tray sorted = with_verdicts(tray, ids, fresh); !(sorted == tray))
        actions.push_back(run::ChangeTray{std::move(sorted)});
    return all && ended_;
}

}
