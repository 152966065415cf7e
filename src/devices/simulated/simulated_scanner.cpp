#include "devices/simulated/simulated_scanner.h"

#include "core/scanner/faults.h"
#include "devices/simulated/picture.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <chrono>
#include <condition_variable>
#include <numbers>

namespace yelvin {

namespace {

constexpr SizeMm a4_glass{216, 297}, feeder_width_and_longest{216, 900};
constexpr int strip_rows = 128;
constexpr size_t band_pixels = 4U << 20; // drawn at once

cv::Mat in_ink(const cv::Mat& bgr, Ink ink) {
    if (ink == Ink::Colour) return bgr;
    cv::Mat grey;
    cv::cvtColor(bgr, grey, cv::COLOR_BGR2GRAY);
    if (ink == Ink::Black) cv::threshold(grey, grey, 127, 255, cv::THRESH_BINARY); // the sensor's own threshold
    return grey;
}

// Waits for `time`; returns earlier if `stop` is requested.
void pause(std::chrono::duration<double> time, const std::stop_token& stop) {
    std::mutex mutex;
    std::condition_variable_any never;
    std::unique_lock lock(mutex);
    never.wait_for(lock, stop, time, [] { return false; });
}

struct BusyMark {
    std::mutex& mutex;
    bool& busy;
    ~BusyMark() {
        const std::scoped_lock lock(mutex);
        busy = false;
    }
};

Result<PlacedPaper> side_of(const StackSheet& sheet, bool back) {
    const SheetSide& side = back ? sheet.back : sheet.front;
    const SheetSide& other = back ? sheet.front : sheet.back;
    PlacedPaper paper;
    paper.size = {210, 297};
    std::optional<PaperOriginal> behind;
    for (const auto& [from, to] : {std::pair{&other, &behind}, {&side, &paper.original}}) {
        if (from->file.empty()) continue;
        auto original = PaperOriginal::load(from->file, from->page);
        if (!original) return std::unexpected(original.error());
        paper.size = original->size(); // The size of this side's original or, if it has none, of the other side's.
        *to = std::move(*original);
    }
    if (behind && sheet.show_through > 0)
        paper.shine_through = shine_through(*behind, paper.size, sheet.show_through, sheet.show_through_blur_mm);
    paper.edge_shadow = sheet.edge_shadow;
    paper.wear = {sheet.dust, sheet.fibres, sheet.creases, sheet.marks_seed, back};
    return paper;
}

}

struct SimulatedScanner::Job {
    ScanRequest request;
    BenchSetup setup;
    PageSink& sink;
    std::stop_token stop;

    // Begins a page and delivers the rows of the scene up to the fraction `until` (0 to 1) of its height. Does not end
    // the page.
    Result<void> deliver(const Scene& scene, int sheet, bool back, bool length_known, double until = 1) const {
        const double dpi = request.dpi;
        const int width = scanned_px(scene.area.width, dpi), height = scanned_px(scene.area.height, dpi);
        if (auto begun = sink.begin_page({width, length_known ? height : 0, dpi, request.ink, sheet, back}); !begun)
            return begun;
        const int reach = reach_px(setup.sensor, dpi);
        const double seconds_per_row = setup.seconds_for_a4 / 3508 * std::max(0.3, dpi / 300);
        const int band =
            std::max(strip_rows, static_cast<int>(band_pixels / static_cast<size_t>(width)) / strip_rows * strip_rows);
        if (setup.answers == BenchAnswers::Wrongly) until = std::min(until, 0.5);
        const int last = static_cast<int>(height * until);
        for (int top = 0; top < last; top += band) {
            const int rows = std::min(band, last - top);
            const cv::Mat light = drawn(scene, dpi, width, top - reach, rows + 2 * reach);
            const cv::Mat seen =
                in_ink(sensed(light, setup.sensor, dpi, reach, top, scene.area.x, a4_glass.width), request.ink);
            for (int row = 0; row < rows; row += strip_rows) {
                if (stop.stop_requested()) return stopped();
                const cv::Mat strip = seen.rowRange(row, std::min(rows, row + strip_rows));
                if (setup.real_pace) pause(std::chrono::duration<double>(strip.rows * seconds_per_row), stop);
                if (auto taken = sink.strip(strip); !taken) return taken;
            }
        }
        if (stop.stop_requested()) return stopped();
        return {};
    }
};

BenchModel bench_scanner() { return {"Simulated scanner"}; }

BenchModel bench_feed_scanner() {
    return {"Simulated feeder", false, false, {Ink::Colour, Ink::Grey}, {150, 200, 300, 600}};
}

std::string current_scanner_name(const std::string& name) {
    if (name == "Bench scanner") return bench_scanner().name;
    return name == "Bench feeder" ? bench_feed_scanner().name : name;
}

Result<SizeMm> original_size(const std::filesystem::path& file) {
    const auto original = PaperOriginal::load(file);
    if (!original) return std::unexpected(original.error());
    return original->size();
}

void SimulatedScanner::set_bench(BenchSetup setup) {
    const std::scoped_lock lock(mutex_);
    if (setup.stack != setup_.stack) {
        pulled_ = 0;
        through_.clear();
        trouble_ = ScannerState::Ready;
    }
    setup_ = std::move(setup);
}

BenchSetup SimulatedScanner::bench() const {
    const std::scoped_lock lock(mutex_);
    return setup_;
}

void SimulatedScanner::press_button(const std::string& button) {
    const std::scoped_lock lock(mutex_);
    button_ = button;
}

void SimulatedScanner::put_back(int sheets) {
    const std::scoped_lock lock(mutex_);
    const auto count = std::min<ptrdiff_t>(sheets > 0 ? sheets : last_pull_, std::ssize(through_));
    setup_.stack.insert(setup_.stack.begin(), through_.end() - count, through_.end());
    through_.resize(through_.size() - static_cast<size_t>(count));
    pulled_ -= static_cast<int>(count);
}

void SimulatedScanner::turn_over() {
    const std::scoped_lock lock(mutex_);
    setup_.stack.clear();
    for (auto sheet = through_.rbegin(); sheet != through_.rend(); ++sheet) {
        setup_.stack.push_back(*sheet);
        std::swap(setup_.stack.back().front, setup_.stack.back().back);
        if (setup_.notepad) setup_.stack.back().upside_down = !setup_.stack.back().upside_down;
    }
    through_.clear();
    pulled_ = 0;
    trouble_ = ScannerState::Ready;
}

std::optional<std::string> SimulatedScanner::take_button_press() {
    const std::scoped_lock lock(mutex_);
    const bool comes_again = button_ && setup_.answers == BenchAnswers::Twice && !button_was_told_;
    button_was_told_ = comes_again;
    return comes_again ? button_ : std::exchange(button_, std::nullopt);
}

Capabilities SimulatedScanner::capabilities() const {
    Capabilities can;
    can.buttons = {"scan", "copy"};
    if (model_.glass) {
        can.sources.push_back(Source::Glass);
        can.glass = a4_glass;
    }
    can.sources.push_back(Source::FeederFront);
    if (model_.both_sides) can.sources.push_back(Source::FeederBoth);
    can.feeder = feeder_width_and_longest;
    can.inks = model_.inks;
    can.resolutions = model_.resolutions;
    return can;
}

ScannerState SimulatedScanner::state() const {
    const std::scoped_lock lock(mutex_);
    return busy_ ? ScannerState::Busy : trouble_;
}

std::optional<int> SimulatedScanner::sheets_waiting() const {
    const std::scoped_lock lock(mutex_);
    return static_cast<int>(setup_.stack.size());
}

std::optional<BenchFault> SimulatedScanner::take_fault(int sheet, std::initializer_list<ErrorKind> kinds) {
    const std::scoped_lock lock(mutex_);
    const auto due = std::ranges::find_if(setup_.faults, [&](const BenchFault& fault) {
        return fault.sheet == sheet && std::ranges::find(kinds, fault.kind) != kinds.end();
    });
    if (due == setup_.faults.end()) return std::nullopt;
    const BenchFault fault = *due;
    setup_.faults.erase(due);
    return fault;
}

std::unexpected<Error> SimulatedScanner::faulted(ErrorKind kind, int sheet) {
    const std::scoped_lock lock(mutex_);
    // Busy with another program's scan: it is ready again when it is asked.
    trouble_ = kind == ErrorKind::Busy ? ScannerState::Ready : state_after(kind).value_or(ScannerState::Ready);
    return std::unexpected(scanner_fault(kind, model_.name, sheet));
}

// Stops answering if that is the planned fault of this sheet or the set behaviour of the scanner.
Result<void> SimulatedScanner::fall_silent(const Job& job, int sheet) {
    const bool never = job.setup.answers == BenchAnswers::Never;
    if (!take_fault(sheet, {ErrorKind::NoAnswer}) && job.setup.answers != BenchAnswers::Late && !never) return {};
    constexpr std::chrono::milliseconds step{50};
    const std::chrono::duration<double> all(job.setup.seconds_of_silence);
    for (std::chrono::milliseconds passed = step; (never || passed < all) && !job.stop.stop_requested();
         passed += step) {
        silent_for_ = passed;
        pause(step, job.stop);
    }
    silent_for_ = std::chrono::milliseconds::zero();
    return job.stop.stop_requested() ? stopped() : Result<void>();
}

Result<void> SimulatedScanner::scan(const ScanRequest& asked, PageSink& sink, std::stop_token stop) {
    std::unique_lock lock(mutex_);
    if (busy_) return std::unexpected(scanner_fault(ErrorKind::Busy, model_.name, 0));
    busy_ = true;
    trouble_ = ScannerState::Ready; // Starting a scan means that the user has removed the fault.
    const BenchSetup setup = setup_;
    lock.unlock();
    const BusyMark mark{mutex_, busy_};
    const Job job{fitted(asked, capabilities()), setup, sink, std::move(stop)};
    return job.request.source == Source::Glass ? scan_glass(job) : scan_stack(job);
}

Result<void> SimulatedScanner::scan_glass(const Job& job) {
    const bool twice = job.setup.answers == BenchAnswers::Twice;
    if (auto first = scan_glass_once(job); !first || !twice) return first;
    return scan_glass_once(job);
}

Result<void> SimulatedScanner::scan_glass_once(const Job& job) {
    if (const auto fault = take_fault(1, {ErrorKind::Busy, ErrorKind::LidOpen, ErrorKind::NoMemory}))
        return faulted(fault->kind, 0);
    if (auto goes_on = fall_silent(job, 1); !goes_on) return goes_on;
    Scene scene;
    scene.background = job.setup.lid_level;
    scene.area = job.request.area;
    for (const LaidPaper& paper : job.setup.glass) {
        auto original = PaperOriginal::load(paper.file);
        if (!original) return std::unexpected(original.error());
        const SizeMm size = original->size();
        scene.papers.push_back({std::move(*original), size, paper.x_mm, paper.y_mm, paper.angle_degrees, {}, 0, {}});
    }
    const auto fault = take_fault(1, {ErrorKind::Offline, ErrorKind::Jam, ErrorKind::Device});
    if (auto done = job.deliver(scene, 1, false, true, fault ? 0.5 : 1); !done) return done;
    if (fault) return faulted(fault->kind, 0);
    return job.sink.end_page();
}

namespace {

// Returns one side of a sheet as the sensor sees it. `under` is a second sheet that is fed together with it.
Result<Scene> scene_of(const StackSheet& sheet, bool back, const std::optional<StackSheet>& under,
                       const ScanRequest& request, const BenchSetup& setup) {
    auto paper = side_of(sheet, back);
    if (!paper) return std::unexpected(paper.error());
    const SizeMm size = paper->size;
    // The sheet is centred in the feeder's width; the sensor records a little before and after it.
    const double slack =
        request.cut_to_sheet ? 4 + std::abs(std::sin(sheet.skew_degrees * std::numbers::pi / 180)) * size.width / 2 : 0;
    Scene scene;
    scene.background = setup.roller_level;
    scene.area = request.area;
    paper->x_mm = scene.area.x + scene.area.width / 2;
    paper->y_mm = slack + size.height / 2;
    const bool over = sheet.upside_down != (back && setup.notepad);
    paper->angle_degrees = sheet.skew_degrees + (over ? 180 : 0);
    scene.papers.push_back(*paper);
    double length = size.height;
    if (under) {
        constexpr double aside_mm = 3, further = 0.62; // of the sheet's height
        auto second = side_of(*under, back);
        if (!second) return std::unexpected(second.error());
        second->x_mm = paper->x_mm + aside_mm;
        second->y_mm = paper->y_mm + further * size.height;
        scene.papers.insert(scene.papers.begin(), *second);
        length *= 1 + further;
    }
    if (request.cut_to_sheet) scene.area.height = length + 2 * slack;
    return scene;
}

}

Result<void> SimulatedScanner::scan_stack(const Job& job) {
    for (int done = 0; job.request.sheets == 0 || done < job.request.sheets; ++done) {
        std::unique_lock lock(mutex_);
        if (setup_.stack.empty()) {
            lock.unlock();
            auto empty = faulted(ErrorKind::FeederEmpty, 0);
            if (done > 0) return {};
            return empty;
        }
        const int number = pulled_ + 1;
        const StackSheet sheet = setup_.stack.front();
        const std::optional<StackSheet> next = setup_.stack.size() > 1 ? std::optional(setup_.stack[1]) : std::nullopt;
        lock.unlock();
        if (const auto fault = take_fault(number, {ErrorKind::Busy, ErrorKind::FeederEmpty, ErrorKind::NoMemory}))
            return faulted(fault->kind, fault->kind == ErrorKind::Busy ? 0 : done + 1);
        if (auto goes_on = fall_silent(job, number); !goes_on) return goes_on;
        const auto broken =
            take_fault(number, {ErrorKind::Jam, ErrorKind::LidOpen, ErrorKind::Offline, ErrorKind::Device});
        const auto two = take_fault(number, {ErrorKind::TwoSheets});
        bool through = false;
        const auto pulled = pull(job, sheet, two ? next : std::nullopt, done + 1, broken, two, through);
        if (through) count_through(two ? 2 : 1);
        if (!pulled) return pulled;
    }
    return {};
}

// Scans the front or both sides of one sheet. `through` is set if the sheet has left the stack, even if its picture
// could not be delivered.
Result<void> SimulatedScanner::pull(const Job& job, const StackSheet& sheet, const std::optional<StackSheet>& under,
                                    int in_job, const std::optional<BenchFault>& broken,
                                    const std::optional<BenchFault>& two, bool& through) {
    const int sides = job.request.source == Source::FeederBoth ? 2 : 1;
    const int times = job.setup.answers == BenchAnswers::Twice ? 2 : 1;
    for (int picture = 0; picture < sides * times; ++picture) {
        const int side = picture / times;
        const auto scene = scene_of(sheet, side == 1, under, job.request, job.setup);
        if (!scene) return std::unexpected(scene.error());
        const bool ends_here = broken || (two && two->sensed);
        constexpr double share_of_broken = 0.55;
        if (auto taken =
                job.deliver(*scene, in_job, side == 1, !job.request.cut_to_sheet, ends_here ? share_of_broken : 1);
            !taken)
            return taken;
        // The fault occurs while the sheet is fed. It has to be put back, so it remains in the stack.
        if (broken) return faulted(broken->kind, in_job);
        if (two && two->sensed) return faulted(ErrorKind::TwoSheets, in_job);
        if (auto ended = job.sink.end_page(); !ended) {
            through = true;
            return ended;
        }
    }
    through = true;
    return {};
}

void SimulatedScanner::count_through(int sheets) {
    const std::scoped_lock lock(mutex_);
    const auto through = std::min<ptrdiff_t>(sheets, std::ssize(setup_.stack));
    through_.insert(through_.end(), setup_.stack.begin(), setup_.stack.begin() + through);
    last_pull_ = static_cast<int>(through);
    setup_.stack.erase(setup_.stack.begin(), setup_.stack.begin() + through);
    pulled_ += static_cast<int>(through);
}

}
