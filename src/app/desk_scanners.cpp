// The desk's scanners: which there are, which one is used, and what it can do.
#include "app/desk.h"

#include "core/raster/paper.h"
#include "devices/sane/sane_scanner.h"

namespace yelvin {

namespace {

void keep_sorted(std::vector<std::shared_ptr<Scanner>>& scanners) {
    // Real ones first.
    std::ranges::stable_sort(scanners, {}, [](const auto& scanner) { return scanner->kind() == "simulated"; });
}

}

void Desk::ask_device(std::function<Answer()> question) {
    std::thread([door = door_, question = std::move(question)] {
        Answer answer = question();
        const std::scoped_lock lock(door->mutex);
        if (Desk* desk = door->desk) desk->on_desk([desk, answer = std::move(answer)] { answer(*desk); });
    }).detach();
}

SimulatedScanner& Desk::bench() const {
    if (auto* chosen = dynamic_cast<SimulatedScanner*>(scanner_.get())) return *chosen;
    return *bench_;
}

QString Desk::scanner_name() const { return QString::fromStdString(scanner_ ? scanner_->title() : bench_->title()); }
QString Desk::scanner_key() const { return QString::fromStdString(scanner_ ? scanner_->name() : bench_->name()); }

QString Desk::scanner_state() const {
    if (!connecting_.isEmpty()) return tr("connecting");
    if (!scanner_) return tr("no scanner");
    const ScannerState state = scanner_->state();
    QString words = QString::fromUtf8(state_words(state).data());
    const auto sheets = scanner_->sheets_waiting();
    if (sheets && source() != Source::Glass && (state == ScannerState::Ready || state == ScannerState::FeederEmpty))
        words = *sheets == 0   ? tr("feeder empty")
                : *sheets == 1 ? tr("ready, 1 sheet")
                               : tr("ready, %1 sheets").arg(*sheets);
    return words;
}

void Desk::look_for_scanners() {
    if (looking_ || !places_.real_scanners) return;
    looking_ = true;
    emit scanners_changed();
    ask_device([]() -> Answer { return [found = sane::list_devices()](Desk& desk) { desk.found_scanners(found); }; });
}

void Desk::found_scanners(const std::vector<sane::Listing>& found) {
    looking_ = false;
    // Those that stay keep their connection; those that are gone go, unless one is in use.
    std::vector<std::shared_ptr<Scanner>> now{bench_, bench_feeder_};
    for (const sane::Listing& listing : found) {
        const auto known = std::ranges::find(scanners_, listing.name, [](const auto& s) { return s->name(); });
        now.push_back(known != scanners_.end() ? *known : std::make_shared<SaneScanner>(listing));
    }
    if (scanner_ && std::ranges::find(now, scanner_) == now.end()) now.push_back(scanner_);
    keep_sorted(now);
    scanners_ = std::move(now);
    if (!scanner_ && !wanted_scanner_.isEmpty()) use_scanner(wanted_scanner_); // the last one used is back
    emit scanners_changed();
}

void Desk::use_scanner(const QString& name) {
    const auto found =
        std::ranges::find(scanners_, name.toStdString(), [](const auto& scanner) { return scanner->name(); });
    if (found == scanners_.end()) return;
    wanted_scanner_ = name;
    if (dynamic_cast<SimulatedScanner*>(found->get())) return choose(*found);
    if (!connecting_.isEmpty()) return;
    connecting_ = QString::fromStdString((*found)->title());
    emit scanner_changed();
    ask_device([scanner = *found]() -> Answer {
        return [scanner, ready = scanner->prepare()](Desk& desk) {
            desk.connecting_.clear();
            if (ready) return desk.choose(scanner);
            emit desk.scanner_changed();
            emit desk.trouble(QString::fromStdString(ready.error().sentence));
        };
    });
}

void Desk::add_scanner(std::shared_ptr<Scanner> scanner) {
    scanners_.push_back(std::move(scanner));
    emit scanners_changed();
}

void Desk::use_bench_scanner() { use_scanner(QString::fromStdString(bench_->name())); }

void Desk::choose(std::shared_ptr<Scanner> scanner) {
    if (scanning_ || previewing_) return;
    if (scanner_ != scanner) {
        preview_ = {};
        found_.clear();
        found_frames_.clear();
    }
    scanner_ = std::move(scanner);
    can_ = scanner_->capabilities();
    remember();
    emit scanner_changed();
    emit ticket_changed();
    emit glass_changed();
}

// The scanner's own button starts the ticket as it stands.
void Desk::ask_for_button() {
    if (!scanner_ || scanning_ || previewing_ || asking_button_ || !connecting_.isEmpty()) return;
    if (bench_chosen()) { // which answers at once
        if (scanner_->take_button_press()) start_scan();
        return;
    }
    asking_button_ = true;
    ask_device([scanner = scanner_]() -> Answer {
        return [pressed = scanner->take_button_press()](Desk& desk) {
            desk.asking_button_ = false;
            if (pressed) desk.start_scan();
        };
    });
}

void Desk::set_bench(const BenchSetup& setup) {
    const bool other_paper = setup.glass != bench().bench().glass;
    bench().set_bench(setup);
    if (other_paper && !preview_.isNull()) this->paper_changed();
    emit glass_changed();
    emit scanner_changed();
}

// ---- what the ticket becomes with this scanner

ScanRequest Desk::request() const {
    RectMm area;
    if (ticket_.from.own_paper)
        area = {0, 0, ticket_.from.own_paper->width, ticket_.from.own_paper->height};
    else if (const auto paper = find_paper(ticket_.from.paper))
        area = {0, 0, paper->size.width, paper->size.height};
    const ScanRequest asked = request_for(ticket_, scanner_key().toStdString(), area);
    return scanner_ ? fitted(asked, can_) : asked;
}

Source Desk::source() const { return request().source; }

}
