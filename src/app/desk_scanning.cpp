// The desk's runs: what one press of Scan leads to, from the first sheet over faults, countdowns and second passes to
// the last. A pass is scanned by desk_passes.cpp; everything in between is decided here, on the window's thread.
#include "app/desk.h"

#include "core/scanner/faults.h"
#include "core/tray/stack.h"

namespace yelvin {

namespace {

QString sheets_words(int count) { return count == 1 ? Desk::tr("1 sheet") : Desk::tr("%1 sheets").arg(count); }

}

// ---- starting

void Desk::start_scan() {
    if (waiting_.what != Waiting::For::Nothing) return go_on();
    if (scanning_ || previewing_) return;
    // How fine it has to be depends on what lies there.
    if (ticket_.how.dpi_auto && source() == Source::Glass && finds_in_scan() && scanner_) {
        scan_after_preview_ = true;
        return start_preview();
    }
    begin_run(false);
}

void Desk::scan_piece() {
    if (scanning_ || previewing_ || !scanner_ || !store_) return;
    Run run;
    run.piece = true;
    run.ticket = ticket_;
    run.ticket.from.source = Source::Glass;
    run.ticket.from.paper = "auto";
    run.ticket.from.frames = Frames::Whole;
    run.ticket.pages.straighten = run.ticket.pages.turn_upright = run.ticket.pages.drop_blank = false;
    run.ticket.read.languages.clear(); // the whole is read, not its parts
    const SizeMm glass = can_.glass;
    const RectMm all{0, 0, glass.width, glass.height};
    run.frames = {Frame::upright(all)};
    run.passes = {GlassPass{all, {0}}};
    run.starts_document = next_page_starts_document() && !landing_;
    run.began = std::chrono::steady_clock::now();
    run_ = std::move(run);
    progress_ = {};
    start_pass();
}

void Desk::begin_run(bool first_sheet_only) {
    if (scanning_ || previewing_ || !scanner_ || !store_) return;
    Run run;
    run.first_sheet_only = first_sheet_only;
    run.ticket = ticket_;
    const Source from = source();
    run.from_stack = from != Source::Glass;
    run.hand_fed = ticket_.from.source == Source::HandFed;
    run.both = from == Source::FeederBoth;
    if (run.from_stack) {
        run.area = request().area;
    } else {
        run.frames = frames_to_scan();
        run.finds = finds_in_scan();
        run.passes = passes();
    }
    run.ticket.how.dpi = dpi_now();
    if (two_passes()) run.pass = Run::Pass::Fronts;
    run.starts_document = next_page_starts_document() && !landing_;
    run.began = std::chrono::steady_clock::now();
    run_ = std::move(run);
    progress_ = {};
    start_pass();
}

void Desk::start_pass() {
    waiting_ = {};
    countdown_.stop();
    scanning_ = true;
    run_->pages_of_job = 0;
    run_->next_frame = 0;
    emit busy_changed();
    emit run_changed();
    scan_stop_ = {};
    const bool one = run_->hand_fed || run_->first_sheet_only;
    PassPlan plan{run_->ticket, run_->area, run_->frames, run_->passes, run_->finds, run_->from_stack, one ? 1 : 0};
    scanner_thread_ = std::jthread(
        [this, plan = std::move(plan), lengths = run_->lengths_px, stop = scan_stop_.get_token()]() mutable {
            const Result<void> done = scan_pass(plan, lengths, stop);
            on_desk([this, done, lengths = std::move(lengths)] {
                if (run_) run_->lengths_px = lengths;
                pass_ended(done);
            });
        });
}

// ---- between passes

void Desk::pass_ended(const Result<void>& done) {
    scanning_ = false;
    add_ready_pages(true);
    if (run_ && !run_->from_stack) paper_changed(); // who has scanned it takes it off the glass
    if (!run_) {
        emit busy_changed();
        return;
    }
    const int sheets = !run_->from_stack ? 1 : run_->both ? run_->pages_of_job / 2 : run_->pages_of_job;
    const bool by_person = !done && done.error().kind == ErrorKind::Stopped;
    if (run_->first_sheet_only && done) {
        run_->first_sheet_only = false;
        run_->sheets_before += sheets;
        Waiting waiting{Waiting::For::FirstSheet};
        const auto left = scanner_->sheets_waiting();
        waiting.words = tr("The first sheet is in. Look at it; then scan the rest%1.")
                            .arg(left && *left > 0 ? tr(" (%1)").arg(sheets_words(*left)) : QString());
        return wait_for(waiting);
    }
    if (!done && !by_person) return fault(done.error());
    if (by_person) {
        end_run();
        return;
    }
    run_->sheets_before += sheets;
    if (run_->hand_fed) {
        if (!run_->from_stack && !run_->finds) { // another paper: what was found on the last one says nothing about it
            run_->frames = frames_to_scan();
            run_->finds = finds_in_scan();
            run_->passes = passes();
        }
        Waiting waiting{Waiting::For::NextSheet};
        waiting.seconds_left = run_->ticket.from.next_sheet_seconds > 0 ? run_->ticket.from.next_sheet_seconds : -1;
        waiting.words = run_->from_stack ? tr("Sheet %1 is in. Feed the next one.").arg(run_->sheets_before)
                                         : tr("Page %1 is in. Lay the next one on the glass.").arg(run_->sheets_before);
        return wait_for(waiting);
    }
    if (run_->pass == Run::Pass::Fronts) {
        Waiting waiting{Waiting::For::Backs};
        waiting.fronts = static_cast<int>(run_->fronts.size());
        waiting.words =
            tr("%1 are in, fronts only. Take the stack out, turn it over as a whole without sorting it, put "
               "it back in, and scan the backs. They are put in their places by themselves.")
                .arg(sheets_words(waiting.fronts));
        return wait_for(waiting);
    }
    if (run_->pass == Run::Pass::Backs) {
        const int fronts = static_cast<int>(run_->fronts.size()), backs = static_cast<int>(run_->backs.size());
        if (fronts != backs) {
            Waiting waiting{Waiting::For::Counts};
            waiting.fronts = fronts;
            waiting.backs = backs;
            waiting.gap = std::max(fronts, backs) - std::abs(fronts - backs) + 1;
            waiting.words =
                tr("There are %1 fronts, but %2 backs. Say at which sheet a %3 is missing, and see the tray follow; or "
                   "scan the backs again.")
                    .arg(fronts)
                    .arg(backs)
                    .arg(fronts > backs ? tr("back") : tr("front"));
            wait_for(waiting);
            return show_interleaved(waiting.gap);
        }
        show_interleaved(1);
    }
    end_run();
}

void Desk::wait_for(Waiting waiting) {
    waiting_ = std::move(waiting);
    judge_runs();
    if (waiting_.seconds_left > 0 && clock_runs_) countdown_.start();
    emit busy_changed();
    emit run_changed();
    emit scanner_changed();
}

void Desk::fault(const Error& error) {
    const int complete = run_->both ? run_->pages_of_job / 2 : run_->pages_of_job;
    const int sheet = run_->sheets_before + complete + 1;
    const bool too_long = error.kind == ErrorKind::TwoSheets && error.sentence.empty();
    const bool began = run_->from_stack && (run_->sheets_before > 0 || run_->pages_of_job > 0 || progress_.sheet > 0);
    if (!can_go_on(error.kind) || !began) {
        QString words = QString::fromStdString(error.sentence);
        emit trouble(words);
        return end_run();
    }
    Waiting waiting{Waiting::For::Fault};
    if (too_long) {
        // The sheet that is suspected is in, its front at least.
        const int suspect = run_->both ? run_->sheets_before + (run_->pages_of_job + 1) / 2 : sheet - 1;
        waiting.can_keep = true;
        waiting.words =
            tr("Sheet %1 is much longer than those before it: two sheets may have gone through at once. Put "
               "both back on top of the stack and go on, or keep it if it is one long sheet.")
                .arg(suspect);
    } else {
        waiting.words = QString::fromStdString(with_sheet(error, scanner_->title(), sheet).sentence);
        if (error.kind == ErrorKind::DiskFull || error.kind == ErrorKind::NotWritable)
            waiting.words += tr(" Put sheet %1 back on top of the stack before going on.").arg(sheet);
    }
    wait_for(waiting);
}

void Desk::remove_pages(const std::vector<std::string>& ids) {
    Tray left = tray_;
    for (const std::string& id : ids) {
        left = without_page(left, id);
        for (auto* list : {&run_->pages, &run_->fronts, &run_->backs}) std::erase(*list, id);
    }
    progress_.pages = static_cast<int>(run_->pages.size());
    edit(left, tr("scan again"));
}

// A sheet whose back did not arrive is scanned again, both its sides.
void Desk::forget_half_sheet() {
    const int done = run_->pages_of_job;
    if (run_->both && done % 2 == 1) {
        remove_pages({run_->pages.back()});
        --run_->pages_of_job;
    }
    run_->sheets_before += run_->both ? run_->pages_of_job / 2 : run_->pages_of_job;
    run_->pages_of_job = 0;
}

void Desk::go_on() {
    if (!run_ || waiting_.what == Waiting::For::Nothing || scanning_) return;
    switch (waiting_.what) {
    case Waiting::For::Fault:
        if (waiting_.can_keep && !run_->pages.empty()) {
            // The suspect goes, and comes again as the sheets it was.
            remove_pages({run_->pages.back()});
            --run_->pages_of_job;
            if (bench_chosen()) bench().put_back();
        }
        forget_half_sheet();
        break;
    case Waiting::For::FirstSheet:
        run_->ticket = ticket_; // what was changed after looking at it
        run_->area = request().area;
        break;
    case Waiting::For::Backs:
        run_->pass = Run::Pass::Backs;
        run_->sheets_before = 0;
        if (bench_chosen() && scanner_->sheets_waiting() == 0) bench().turn_over();
        run_->before_backs = tray_;
        run_->lengths_px.clear();
        break;
    case Waiting::For::Counts:
        return end_run();
    default:
        break;
    }
    start_pass();
}

void Desk::keep_long_sheet() {
    if (!run_ || !waiting_.can_keep) return;
    waiting_.can_keep = false;
    // One as long as this is nothing to ask about from now on.
    run_->lengths_px.clear();
    run_->sheets_before += run_->both ? (run_->pages_of_job + 1) / 2 : run_->pages_of_job;
    run_->pages_of_job = 0;
    start_pass();
}

void Desk::scan_first_again() {
    if (!run_ || waiting_.what != Waiting::For::FirstSheet) return;
    remove_pages(std::vector<std::string>(run_->pages));
    if (bench_chosen()) bench().put_back();
    run_->sheets_before = 0;
    run_->first_sheet_only = true;
    run_->ticket = ticket_;
    run_->area = request().area;
    start_pass();
}

void Desk::scan_backs_again() {
    if (!run_ || waiting_.what != Waiting::For::Counts) return;
    const int backs = static_cast<int>(run_->backs.size());
    change_tray(run_->before_backs);
    for (const std::string& id : run_->backs) std::erase(run_->pages, id);
    run_->backs.clear();
    progress_.pages = static_cast<int>(run_->pages.size());
    if (bench_chosen()) bench().put_back(backs);
    run_->pass = Run::Pass::Backs;
    run_->sheets_before = 0;
    start_pass();
}

void Desk::set_gap(int sheet) {
    if (waiting_.what != Waiting::For::Counts) return;
    waiting_.gap = sheet;
    show_interleaved(sheet);
    emit run_changed();
}

// The pages of both passes in the order of their sheets, in the document of the first of them.
void Desk::show_interleaved(int gap) {
    if (!run_ || run_->fronts.empty()) return;
    std::vector<PagePtr> fronts, backs;
    for (const std::string& id : run_->fronts) {
        if (const PagePtr page = page_at(tray_, id)) fronts.push_back(page);
    }
    for (const std::string& id : run_->backs) {
        if (const PagePtr page = page_at(tray_, id)) backs.push_back(page);
    }
    if (fronts.empty()) return;
    const std::vector<PagePtr> sheets = interleaved(fronts, backs, static_cast<size_t>(std::max(0, gap - 1)));
    const auto place = find_page(tray_, fronts.front()->id);
    const Document& document = *tray_.documents[place->document];
    // What else lies in the document stays before and behind them.
    std::vector<PagePtr> pages;
    const auto of_run = [&](const PagePtr& page) {
        return std::ranges::find(run_->pages, page->id) != run_->pages.end();
    };
    bool put = false;
    for (const PagePtr& page : document.pages) {
        if (!of_run(page))
            pages.push_back(page);
        else if (!std::exchange(put, true))
            pages.insert(pages.end(), sheets.begin(), sheets.end());
    }
    Tray ordered = tray_;
    // Backs that went into another document meanwhile come back to their fronts.
    for (const PagePtr& back : backs) {
        if (const auto at = find_page(ordered, back->id); at && ordered.documents[at->document]->id != document.id)
            ordered = without_page(ordered, back->id);
    }
    run_->pages.clear();
    for (const PagePtr& page : sheets) run_->pages.push_back(page->id);
    change_tray(with_document_pages(ordered, document.id, std::move(pages)));
}

void Desk::pause_countdown(bool paused) {
    if (waiting_.seconds_left < 0) return;
    waiting_.paused = paused;
    if (paused || !clock_runs_)
        countdown_.stop();
    else
        countdown_.start();
    emit run_changed();
}

void Desk::tick() {
    if (waiting_.what != Waiting::For::NextSheet || waiting_.seconds_left < 0 || waiting_.paused) return;
    if (--waiting_.seconds_left <= 0) return go_on();
    emit run_changed();
}

void Desk::stop() {
    if (waiting_.what != Waiting::For::Nothing && !scanning_) return end_run();
    scan_stop_.request_stop();
}

void Desk::end_run() {
    countdown_.stop();
    waiting_ = {};
    landing_.reset();
    if (run_) {
        // Pages still being looked at are judged as they come in.
        ended_runs_.push_back(std::move(*run_));
        run_.reset();
        judge_runs();
    }
    emit busy_changed();
    emit run_changed();
    emit scanner_changed();
}

// ---- what the ticket's rules make of the pages

void Desk::judge_runs() {
    std::erase_if(ended_runs_, [this](Run& run) { return judge(run, true); });
    // While the run waits, the sheets that are in are whole.
    if (run_) judge(*run_, !scanning_ && run_->pass == Run::Pass::Only);
}

// Carries out the verdicts on the pages that are noticed so far; true when that was all of them.
bool Desk::judge(Run& run, bool all_in) {
    if (!run.from_stack) return true;
    if (run.pass != Run::Pass::Only && !all_in) return false; // sheets are whole only once both passes are in
    std::vector<PagePtr> ready;
    bool all = true;
    for (const std::string& id : run.pages) {
        const PagePtr page = page_at(tray_, id);
        if (!page) continue;
        all = page->noticed;
        if (!all) break;
        ready.push_back(page);
    }
    if (!(all && all_in) && !ready.empty()) {
        // The last sheet may have another side to come.
        const int last = ready.back()->sheet;
        while (!ready.empty() && ready.back()->sheet == last) ready.pop_back();
    }
    // Each verdict is carried out once: what a person changes afterwards stays.
    const std::vector<Verdict> verdicts = judged(ready, stack_rules(run.ticket));
    std::vector<std::string> ids;
    std::vector<Verdict> fresh;
    for (size_t i = 0; i < ready.size(); ++i) {
        if (!run.judged.insert(ready[i]->id).second) continue;
        ids.push_back(ready[i]->id);
        fresh.push_back(verdicts[i]);
    }
    const Tray sorted = with_verdicts(tray_, ids, fresh);
    if (!(sorted == tray_)) change_tray(sorted);
    return all && all_in;
}

}
