#include "app/models/scanning/scanners.h"

#include "app/models/threads/pools.h"
#include "app/models/window/last_choices.h"
#include "app/models/window/messages.h"
#include "core/scanner/faults.h"
#include "devices/sane/sane_scanner.h"
#include "jobs/trouble.h"

#include <algorithm>
#include <chrono>
#include <thread>

namespace yelvin {

namespace {
constexpr std::chrono::milliseconds button_pace{700}, device_pace{20000}, silence_pace{500};

void keep_sorted(std::vector<std::shared_ptr<Scanner>>& scanners) {
    // Real scanners come before the simulated ones.
    std::ranges::stable_sort(scanners, {}, [](const auto& scanner) { return scanner->kind() == "simulated"; });
}

}

Scanners::Scanners(Messages& messages, LastChoices& last, Look look, QObject* parent)
    : QObject(parent), messages_(messages), last_(last), real_ones_(look == Look::ForRealOnes),
      bench_(std::make_shared<SimulatedScanner>()),
      bench_feeder_(std::make_shared<SimulatedScanner>(BenchSetup{}, bench_feed_scanner())) {
    door_->scanners = this;
    all_ = {bench_, bench_feeder_};
    can_ = bench_->capabilities();
    button_watch_.setInterval(button_pace);
    connect(&button_watch_, &QTimer::timeout, this, &Scanners::ask_for_button);
    button_watch_.start();
    silence_watch_.setInterval(silence_pace);
    connect(&silence_watch_, &QTimer::timeout, this, &Scanners::look_for_silence);
    const QString kept = QString::fromStdString(current_scanner_name(last.get("scanner", std::string())));
    if (!kept.isEmpty()) use(kept); // A simulated one connects now, a real one when it is found.
    wanted_ = kept;
    if (!real_ones_) return;
    look_for();
    device_watch_.setInterval(device_pace);
    connect(&device_watch_, &QTimer::timeout, this, &Scanners::look_for);
    device_watch_.start();
}

Scanners::~Scanners() {
    const std::scoped_lock lock(door_->mutex);
    door_->scanners = nullptr;
}

void Scanners::ask_device(std::function<Answer()> question, std::function<Answer(const Error&)> or_else) {
    std::thread([door = door_, question = std::move(question), or_else = std::move(or_else)] {
        auto answer = caught("finding scanners", [&]() -> Result<Answer> { return question(); });
        if (!answer) answer = or_else(answer.error());
        const std::scoped_lock lock(door->mutex);
        Scanners* asking = door->scanners;
        if (!asking) return;
        on_thread_of(asking)([asking, answer = std::move(*answer)] { answer(*asking); });
    }).detach();
}

// ---- the lease

std::optional<std::stop_token> Scanners::take(ScannerLease::For what) {
    if (!scanner_) return std::nullopt;
    const auto kind = scanner_->kind() == "simulated" ? ScannerLease::Kind::Simulated : ScannerLease::Kind::Real;
    if (!lease_.take(what, kind)) return std::nullopt;
    stop_ = {};
    silence_watch_.start();
    emit lease_changed();
    return stop_.get_token();
}

void Scanners::give_back(ScannerLease::For what) {
    lease_.give_back(what);
    if (!lease_.held()) silence_watch_.stop();
    look_for_silence();
    emit lease_changed();
}

void Scanners::look_for_silence() {
    const auto now =
        std::chrono::ceil<std::chrono::seconds>(scanner_ ? scanner_->silent_for() : std::chrono::milliseconds::zero());
    if (now == std::exchange(silent_for_, now)) return;
    emit silence_changed();
}

// ---- the list of scanners

void Scanners::look_for() {
    if (!real_ones_ || !lease_.take(ScannerLease::For::Listing)) return;
    emit list_changed();
    ask_device([]() -> Answer { return [found = sane::list_devices()](Scanners& here) { here.found(found); }; },
               [](const Error& error) -> Answer {
                   return [error](Scanners& here) {
                       here.give_back(ScannerLease::For::Listing);
                       emit here.list_changed();
                       here.messages_.complain(error);
                   };
               });
}

void Scanners::found(const std::vector<sane::Listing>& listings) {
    // Scanners that are still listed keep their connection. Scanners that are no longer listed are removed, unless in
    // use.
    std::vector<std::shared_ptr<Scanner>> now{bench_, bench_feeder_};
    for (const sane::Listing& listing : listings) {
        const auto known = std::ranges::find(all_, listing.name, [](const auto& s) { return s->name(); });
        now.push_back(known != all_.end() ? *known : std::make_shared<SaneScanner>(listing));
    }
    if (scanner_ && std::ranges::find(now, scanner_) == now.end()) now.push_back(scanner_);
    keep_sorted(now);
    all_ = std::move(now);
    give_back(ScannerLease::For::Listing);
    if (!scanner_ && !wanted_.isEmpty()) use(wanted_); // The last scanner in use is available again.
    emit list_changed();
}

void Scanners::add(std::shared_ptr<Scanner> scanner) {
    all_.push_back(std::move(scanner));
    emit list_changed();
}

// ---- the chosen scanner

void Scanners::use(const QString& name) {
    const auto found = std::ranges::find(all_, name.toStdString(), [](const auto& scanner) { return scanner->name(); });
    if (found == all_.end()) return;
    wanted_ = name;
    if (dynamic_cast<SimulatedScanner*>(found->get())) {
        ++attempt_;
        connecting_.clear();
        return choose(*found);
    }
    if (!connecting_.isEmpty() && connecting_scanner_.lock() == *found) return;
    // Only the result for the latest choice is used; results for earlier ones are ignored.
    const int attempt = ++attempt_;
    const auto title = QString::fromStdString((*found)->title());
    connecting_ = title;
    connecting_scanner_ = *found;
    emit changed();
    const auto ended = [attempt](const Result<void>& ready, const std::shared_ptr<Scanner>& scanner) -> Answer {
        return [attempt, ready, scanner](Scanners& here) { here.connected(attempt, ready, scanner); };
    };
    ask_device([scanner = *found, ended]() -> Answer { return ended(scanner->prepare(), scanner); },
               [scanner = *found, ended](const Error& error) { return ended(std::unexpected(error), scanner); });
    QTimer::singleShot(connect_limit_, this, [this, attempt, title, scanner = *found] {
        const Error silent = scanner_fault(ErrorKind::Offline, title.toStdString(), 0);
        connected(attempt, std::unexpected(silent), scanner);
    });
}

void Scanners::connected(int attempt, const Result<void>& ready, const std::shared_ptr<Scanner>& scanner) {
    if (attempt != attempt_ || connecting_.isEmpty()) return;
    connecting_.clear();
    if (ready) return choose(scanner);
    emit changed();
    messages_.complain(ready.error());
}

void Scanners::choose(std::shared_ptr<Scanner> scanner) {
    if (lease_.held()) return;
    const bool other = scanner_ != scanner;
    scanner_ = std::move(scanner);
    can_ = scanner_->capabilities();
    last_.set("scanner", scanner_->name());
    if (other) emit exchanged();
    emit changed();
}

QString Scanners::title() const { return QString::fromStdString(scanner_ ? scanner_->title() : bench_->title()); }
QString Scanners::key() const { return QString::fromStdString(scanner_ ? scanner_->name() : bench_->name()); }

namespace {
// Whether the number of sheets in the feeder is shown as the state: there is no fault, and the feeder is the source.
bool sheets_matter(ScannerState state, Source source) {
    return source != Source::Glass && (state == ScannerState::Ready || state == ScannerState::FeederEmpty);
}
}

QString Scanners::state_words(Source source) const {
    if (!connecting_.isEmpty()) return tr("connecting");
    if (!scanner_) return tr("no scanner");
    const ScannerState state = scanner_->state();
    const auto sheets = scanner_->sheets_waiting();
    if (!sheets || !sheets_matter(state, source)) return QString::fromUtf8(yelvin::state_words(state).data());
    return *sheets == 0   ? tr("feeder empty")
           : *sheets == 1 ? tr("ready, 1 sheet")
                          : tr("ready, %1 sheets").arg(*sheets);
}

bool Scanners::is_ready(Source source) const {
    if (!connecting_.isEmpty() || !scanner_) return false;
    const ScannerState state = scanner_->state();
    const auto sheets = scanner_->sheets_waiting();
    return sheets && sheets_matter(state, source) ? *sheets > 0 : state == ScannerState::Ready;
}

// Asks whether a button of the scanner was pressed.
void Scanners::ask_for_button() {
    if (!scanner_ || lease_.held() || asking_button_ || !connecting_.isEmpty()) return;
    if (bench_chosen()) { // A simulated scanner answers at once.
        if (const auto button = scanner_->take_button_press()) emit button_pressed(QString::fromStdString(*button));
        return;
    }
    asking_button_ = true;
    ask_device(
        [scanner = scanner_]() -> Answer {
            return [pressed = scanner->take_button_press()](Scanners& here) {
                here.asking_button_ = false;
                if (pressed) emit here.button_pressed(QString::fromStdString(*pressed));
            };
        },
        [](const Error&) -> Answer { return [](Scanners& here) { here.asking_button_ = false; }; });
}

// ---- the simulated scanners

void Scanners::use_bench() { use(QString::fromStdString(bench_->name())); }

SimulatedScanner& Scanners::bench() const {
    if (auto* chosen = dynamic_cast<SimulatedScanner*>(scanner_.get())) return *chosen;
    return *bench_;
}

void Scanners::set_bench(const BenchSetup& setup) {
    const bool other_papers = setup.glass != bench().bench().glass;
    bench().set_bench(setup);
    if (other_papers) emit papers_changed();
    emit changed();
}

}
