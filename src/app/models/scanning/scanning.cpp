#include "app/models/scanning/scanning.h"

#include "app/models/scanning/glass.h"
#include "app/models/scanning/growing_picture.h"
#include "app/models/scanning/next_scan.h"
#include "app/models/scanning/scanners.h"
#include "app/models/threads/pools.h"
#include "app/models/tickets/tickets.h"
#include "app/models/tray/choice.h"
#include "app/models/tray/document_tickets.h"
#include "app/models/tray/looking.h"
#include "app/models/tray/pictures.h"
#include "app/models/window/experience.h"
#include "app/models/window/messages.h"

namespace yelvin {

namespace {
constexpr std::chrono::milliseconds growing_pace{120};
constexpr std::chrono::milliseconds second{1000};
}

Scanning::Scanning(const Around& around, QObject* parent)
    : QObject(parent), around_(around), here_(on_thread_of(this)) {
    countdown_.setInterval(second);
    connect(&countdown_, &QTimer::timeout, this, &Scanning::tick);
    connect(&around_.scanners, &Scanners::button_pressed, this, &Scanning::start_by_button);
    connect(&around_.looking, &Looking::looked_at, this, &Scanning::judge);
    connect(&around_.glass, &Glass::previewed, this, [this](bool whole) {
        if (std::exchange(scan_after_preview_, false) && whole) begin(plan_now(), ScanRun::Kind::Everyday);
    });
}

Scanning::~Scanning() {
    if (passing()) around_.scanners.stop();
}

const Waiting& Scanning::waiting() const {
    static const Waiting nothing;
    return run_ ? run_->waiting() : nothing;
}

const Progress& Scanning::progress() const { return run_ ? run_->progress() : last_progress_; }

// ---- starting a run

void Scanning::start() {
    if (!around_.tray.is_loaded()) return around_.tray.when_loaded([this] { start(); });
    if (waiting().what != Waiting::For::Nothing) return go_on();
    if (passing() || around_.scanners.in_use()) return;
    // The automatic resolution depends on the items on the glass, so a preview is needed first.
    const TicketInUsePtr other = ticket_of_landing();
    const Ticket& ticket = other ? other->ticket : around_.tickets.ticket();
    const NextScan next = around_.next_scan.with(ticket);
    if (ticket.how.dpi_auto && next.source() == Source::Glass && next.finds_in_scan() && around_.scanners.chosen()) {
        scan_after_preview_ = true;
        return around_.glass.start_preview();
    }
    begin(next.plan(), ScanRun::Kind::Everyday);
}

TicketInUsePtr Scanning::ticket_of_landing() const {
    const auto& landing = around_.tray.landing();
    if (!landing || landing->how != Landing::How::Instead) return nullptr;
    const PagePtr page = around_.tray.page(landing->page);
    return page ? around_.tray.ticket(page->ticket) : nullptr;
}

RunPlan Scanning::plan_now() const {
    const TicketInUsePtr other = ticket_of_landing();
    return other ? around_.next_scan.with(other->ticket).plan() : around_.next_scan.plan();
}

void Scanning::start_by_button(const QString& button) {
    const QString file = around_.tickets.of_scanner_button(around_.scanners.key(), button);
    const bool begins = waiting().what == Waiting::For::Nothing && !passing(); // A run under way keeps its own ticket.
    const bool is_another = begins && !file.isEmpty() && file != around_.tickets.chosen_file();
    if (!is_another || around_.tickets.choose(file)) start();
}

void Scanning::preview() {
    if (around_.next_scan.source() == Source::Glass) return around_.glass.start_preview();
    // A feeder cannot be previewed, but one sheet can be scanned as a trial.
    if (run_ || around_.scanners.in_use()) return;
    around_.tray.when_loaded([this] { begin(around_.next_scan.plan(), ScanRun::Kind::FirstSheet); });
}

void Scanning::scan_piece(const QString& behind) {
    if (passing() || around_.scanners.in_use()) return;
    around_.tray.when_loaded([this, behind] {
        RunPlan plan = around_.next_scan.piece_plan();
        if (around_.tray.page(behind.toStdString())) plan.follows = behind.toStdString();
        begin(std::move(plan), ScanRun::Kind::Piece);
    });
}

void Scanning::scan_at_current(Landing::How how) {
    if (passing() || around_.scanners.in_use() || around_.choice.current_id().isEmpty()) return;
    around_.tray.set_landing(Landing{around_.choice.current_id().toStdString(), how});
    start();
}

QString Scanning::ticket_of_current() const {
    const PagePtr page = around_.choice.current();
    const TicketInUsePtr in_use = page ? around_.tray.ticket(page->ticket) : nullptr;
    const bool other = in_use && in_use->ticket.name != around_.tickets.ticket().name;
    return other ? QString::fromStdString(in_use->ticket.name) : QString();
}

void Scanning::begin(RunPlan plan, ScanRun::Kind kind) {
    if (!around_.scanners.chosen() || passing()) return;
    if (run_) carry(run_->end(around_.tray.tray())); // Ends a run that waits for an answer; its pages stay.
    const OutTray& tray = around_.tray;
    plan.starts_document = tray.next_page_starts_document() && !tray.landing() && plan.follows.empty();
    goes_by_ = around_.document_tickets.of_next_scan();
    if (ticket_of_landing()) goes_by_ = tray.page(tray.landing()->page)->ticket;
    run_.emplace(std::move(plan), kind, std::chrono::steady_clock::now());
    carry(run_->start());
}

// ---- actions of the run

void Scanning::carry(RunActions actions) {
    for (RunAction& action : actions) std::visit([this](auto& what) { do_it(what); }, action);
    mind_countdown();
    emit changed();
}

ScannerLease::For Scanning::purpose() const {
    return run_ && run_->is_piece() ? ScannerLease::For::Piece : ScannerLease::For::Scan;
}

void Scanning::do_it(run::StartPass& start) {
    const auto stop = around_.scanners.take(purpose());
    if (!stop) { // The scanner is in use, for example by a preview; the run starts afterwards.
        around_.scanners.stop();
        return around_.scanners.when_given_back([this, plan = start.plan] {
            run::StartPass again{plan};
            if (passing()) do_it(again);
        });
    }
    pass_ = std::jthread([this, plan = std::move(start.plan), stop = *stop] { pass_on_thread(plan, stop); });
}

void Scanning::do_it(run::AddPage& add) {
    add.page.ticket = goes_by_;
    const auto page = std::make_shared<const Page>(std::move(add.page));
    around_.choice.look_next_at(page->id);
    around_.tray.add_page(page, {add.starts_document, add.new_step ? OutTray::Step::New : OutTray::Step::SameAsBefore,
                                 tr("scan"), add.follows, goes_by_});
    around_.looking.look_at(page, run_->ticket());
    if (run_->is_piece())
        emit piece_scanned(QString::fromStdString(page->id));
    else
        emit page_scanned(QString::fromStdString(page->id), run_->ticket());
}

void Scanning::do_it(run::ChangeTray& change) {
    if (change.new_step)
        around_.tray.edit(change.tray, tr("scan again"));
    else
        around_.tray.change(change.tray);
}

void Scanning::do_it(run::LookThrough& look) { around_.looking.look_through(look.side, look.other); }

void Scanning::do_it(run::PutBack& put) {
    if (around_.scanners.bench_chosen()) around_.scanners.bench().put_back(put.sheets);
}

void Scanning::do_it(run::TurnOver&) {
    if (around_.scanners.bench_chosen() && around_.scanners.scanner()->sheets_waiting() == 0)
        around_.scanners.bench().turn_over();
}

void Scanning::do_it(run::Say& say) { around_.messages.complain(say.error); }

void Scanning::do_it(run::End&) {
    around_.tray.set_landing(std::nullopt);
    last_progress_ = run_->progress();
    ended_.push_back(std::move(*run_)); // Pages that are still being checked are judged when their results arrive.
    run_.reset();
    judge();
    emit run_ended();
}

// ---- a pass

void Scanning::pass_on_thread(const PassPlan& plan, const std::stop_token& stop) {
    GrowingPicture growing;
    const PassEnd end =
        carry_out(*around_.scanners.scanner(), plan, around_.tray.store_folder(), events_of(growing), stop);
    here_([this, end, of_glass = !plan.from_stack] { end_pass(end, of_glass); });
}

PassEvents Scanning::events_of(GrowingPicture& growing) {
    PassEvents events;
    events.begun = [this, &growing](const PageStart& start) {
        growing.begin(start);
        here_([this, sheet = start.sheet, back = start.back] {
            if (!run_) return;
            run_->sheet_begins(sheet, back);
            emit changed();
        });
    };
    events.rows = [this, &growing,
                   shown = std::chrono::steady_clock::now() - growing_pace](const cv::Mat& rows) mutable {
        growing.add(rows);
        const auto now = std::chrono::steady_clock::now();
        if (now - shown < growing_pace) return;
        shown = now;
        here_([this, image = growing.image(), done = growing.rows(), all = growing.expected_rows()] {
            emit page_growing(image, done, all);
        });
    };
    events.side = [this, &growing](const Captured& side) {
        here_([this, side, small = growing.small()] {
            if (!run_) return;
            const Page page = page_of(side, run_->sheets_before(), run_->all_are_backs());
            around_.pictures.keep_thumbnail(page, small);
            carry(run_->page_in(page, around_.scanners.scanner()->sheets_waiting(), std::chrono::steady_clock::now()));
        });
    };
    events.picture = [this, &growing](const Original& picture, const std::vector<OnGlass>& parts) {
        here_([this, pages = pages_of(picture, parts), small = growing.small()] {
            if (!run_) return;
            for (const auto& [number, page] : pages) {
                if (!page.notices.sheet) around_.pictures.keep_thumbnail(page, small);
            }
            carry(run_->pages_in(pages, std::chrono::steady_clock::now()));
        });
    };
    events.timed = [this, name = around_.scanners.scanner()->name()](const ScanRequest& request, double mm,
                                                                     double seconds) {
        here_([this, name, request, mm, seconds] { around_.experience.learn_pass(name, request, mm, seconds); });
    };
    return events;
}

void Scanning::end_pass(const PassEnd& end, bool of_glass) {
    const auto purpose_of_it = purpose();
    RunActions actions;
    if (run_) actions = run_->pass_ended(end, around_.tray.tray(), around_.scanners.scanner()->sheets_waiting());
    if (of_glass) around_.glass.papers_changed(); // After a scan the user usually changes the paper.
    around_.scanners.give_back(purpose_of_it);
    carry(std::move(actions));
    judge();
}

// ---- answers of the user

void Scanning::stop() {
    if (!passing()) { // The scanner is idle or used for something else.
        scan_after_preview_ = false;
        if (around_.scanners.in_use()) return around_.scanners.stop();
        if (run_) carry(run_->end(around_.tray.tray()));
        return;
    }
    if (!around_.scanners.lease().held_for(purpose())) { // The pass is still waiting for the scanner.
        around_.scanners.forget_waiting();
        return carry(run_->pass_ended({stopped(), {}}, around_.tray.tray(), std::nullopt));
    }
    around_.scanners.stop();
}

// After the first sheet was checked, the run continues with the current choices.
void Scanning::follow_ticket() {
    if (waiting().what == Waiting::For::FirstSheet) goes_by_ = around_.document_tickets.of_next_scan();
}

void Scanning::go_on() {
    follow_ticket();
    if (run_) carry(run_->go_on(around_.tray.tray(), around_.next_scan.plan()));
}

void Scanning::keep_long_sheet() {
    if (run_) carry(run_->keep_long_sheet());
}

void Scanning::scan_again() {
    follow_ticket();
    if (run_) carry(run_->scan_again(around_.tray.tray(), around_.next_scan.plan()));
}

void Scanning::pause_countdown(bool paused) {
    if (run_) run_->pause_countdown(paused);
    mind_countdown();
    emit changed();
}

void Scanning::set_gap(int sheet) {
    if (run_) carry(run_->set_gap(sheet, around_.tray.tray()));
}

void Scanning::set_clock(bool runs) {
    clock_runs_ = runs;
    mind_countdown();
}

void Scanning::mind_countdown() {
    const Waiting& now = waiting();
    const bool counts = clock_runs_ && now.what == Waiting::For::NextSheet && now.seconds_left > 0 && !now.paused;
    if (counts && !countdown_.isActive()) countdown_.start();
    if (!counts) countdown_.stop();
}

void Scanning::tick() {
    // While a preview or another scan uses the scanner, the next item has not been placed yet.
    if (!run_ || around_.scanners.in_use()) return;
    if (run_->second_passed()) return go_on();
    emit changed();
}

// ---- applying the ticket's rules to the pages

void Scanning::judge() {
    const auto judged = [this](ScanRun& run) {
        RunActions actions;
        const bool settled = run.judge(around_.tray.tray(), actions);
        for (RunAction& action : actions) std::visit([this](auto& what) { do_it(what); }, action);
        return settled;
    };
    std::erase_if(ended_, judged);
    if (run_) judged(*run_);
}

std::vector<PagePtr> Scanning::judged_pages() const {
    std::vector<PagePtr> pages;
    for (const auto& document : around_.tray.tray().documents) {
        if (!document->saved_as.empty()) continue;
        for (const auto& page : document->pages) {
            if (page->noticed && !page->dropped_by_hand && page->dropped != Dropped::Separator) pages.push_back(page);
        }
    }
    return pages;
}

void Scanning::set_blank_limit(double percent) {
    Ticket ticket = around_.tickets.ticket();
    ticket.pages.drop_blank = true;
    ticket.pages.blank_limit_percent = percent;
    Tray now = around_.tray.tray();
    for (const PagePtr& page : judged_pages()) {
        const Dropped dropped = page->notices.blank(percent) ? Dropped::Blank : Dropped::No;
        if (page->dropped == dropped) continue;
        Page changed = *page;
        changed.dropped = dropped;
        now = with_page(now, std::make_shared<const Page>(std::move(changed)));
    }
    if (run_) run_->set_page_rules(ticket.pages);
    for (ScanRun& run : ended_) run.set_page_rules(ticket.pages);
    around_.tray.edit(now, tr("blank limit"));
    around_.tickets.set(ticket);
}

}
