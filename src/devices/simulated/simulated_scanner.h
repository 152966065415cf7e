// Simulated scanners. Papers lie on the A4 glass at their true size and any angle, or in the feeder as a stack, and are
// delivered as a sensor would deliver them, strip by strip, with every fault on demand. They ship with the program;
// tests know the truth about what they scan.
#pragma once

#include "core/scanner/scanner.h"
#include "devices/simulated/sensor.h"

#include <array>
#include <atomic>
#include <filesystem>
#include <mutex>
#include <set>
#include <string_view>
#include <vector>

namespace yelvin {

struct LaidPaper {
    std::filesystem::path file;
    double x_mm = 108, y_mm = 148.5; // centre on the glass, from the marked corner
    double angle_degrees = 0;        // clockwise
    bool operator==(const LaidPaper&) const = default;
};

// One side of a sheet: a drawing, a picture, or a page of a PDF. Without a file: bare paper.
struct SheetSide {
    std::filesystem::path file;
    int page = 0;
    bool operator==(const SheetSide&) const = default;
};

struct StackSheet {
    SheetSide front, back;
    double skew_degrees = 0;           // clockwise, when it is pulled in
    bool upside_down = false;          // bottom edge first
    double show_through = 0;           // share of the other side's ink that shines through, 0 to 1
    double show_through_blur_mm = 0.5; // standard deviation of its blur
    double edge_shadow = 0;            // darkness along the left edge, 0 to 1
    int dust = 0;                      // specks on each side
    int fibres = 0;                    // thin and bent, 1 to 5 mm long, on each side
    int creases = 0;                   // from edge to edge in any direction: a soft dark line with a lighter one beside
    unsigned marks_seed = 5;           // seed of the places of dust, fibres and creases
    bool operator==(const StackSheet&) const = default;
};

// A fault that happens once, at the sheet with this number since the stack was put in. NoAnswer is a silence after
// which the scanner continues.
struct BenchFault {
    ErrorKind kind = ErrorKind::Jam;
    int sheet = 1;
    bool sensed = true; // for two sheets: whether the scanner notices; if not, the picture is just too long
    bool operator==(const BenchFault&) const = default;
};

// The faults that can be simulated, with their names on the command line.
struct SimulatedFault {
    std::string_view name;
    ErrorKind kind;
    bool sensed;
};
inline constexpr std::array simulated_faults{
    SimulatedFault{"jam", ErrorKind::Jam, true},
    SimulatedFault{"two-sheets", ErrorKind::TwoSheets, true},
    SimulatedFault{"two-sheets-undetected", ErrorKind::TwoSheets, false},
    SimulatedFault{"feeder-empty", ErrorKind::FeederEmpty, true},
    SimulatedFault{"lid-open", ErrorKind::LidOpen, true},
    SimulatedFault{"busy", ErrorKind::Busy, true},
    SimulatedFault{"silent", ErrorKind::NoAnswer, true},
    SimulatedFault{"unplugged", ErrorKind::Offline, true},
    SimulatedFault{"memory", ErrorKind::NoMemory, true},
};

// How the scanner answers. Late: each picture after a silence. Twice: each picture and each press of a button is
// reported twice. Never: no picture begins. Wrongly: half of the announced rows come, without an error.
enum class BenchAnswers { OnTime, Late, Twice, Never, Wrongly };

struct BenchSetup {
    std::vector<LaidPaper> glass;
    std::vector<StackSheet> stack; // the topmost sheet first
    std::vector<BenchFault> faults;
    bool notepad = false; // whether the sheets are printed to be turned over along their short edge
    Sensor sensor;
    BenchAnswers answers = BenchAnswers::OnTime;
    double seconds_of_silence = 20; // for a fault of the kind NoAnswer, and for late answers
    bool real_pace = false;         // false: as fast as possible
    double seconds_for_a4 = 4.0;    // at 300 dpi in colour and real pace; proportional for other resolutions
    int lid_level = 232;            // brightness of the lid's underside, 0 to 255
    int roller_level = 48;          // brightness of what is behind a sheet in the feeder
    bool operator==(const BenchSetup&) const = default;
};

struct BenchModel {
    std::string name;
    bool glass = true, both_sides = true;
    std::vector<Ink> inks{Ink::Colour, Ink::Grey, Ink::Black};
    std::vector<int> resolutions{75, 100, 150, 200, 300, 400, 600, 1200};
};
BenchModel bench_scanner();      // "Simulated scanner": glass and a feeder for both sides
BenchModel bench_feed_scanner(); // "Simulated feeder": a feeder for one side, without glass, with fewer resolutions

// Returns the present name of a simulated scanner for a name that it had earlier and that scripts and settings may
// still use ("Bench scanner", "Bench feeder"), and any other name unchanged.
std::string current_scanner_name(const std::string& name);

class SimulatedScanner : public Scanner {
  public:
    explicit SimulatedScanner(BenchSetup setup = {}, BenchModel model = bench_scanner())
        : model_(std::move(model)), setup_(std::move(setup)) {}

    // Changes papers and faults. A new stack is counted from its first sheet.
    void set_bench(BenchSetup setup);
    BenchSetup bench() const; // with the sheets that were not scanned yet
    void press_button(const std::string& button = "scan");
    void put_back(int sheets = 0); // puts the last sheets back on the stack; 0: those pulled in last

    void turn_over(); // puts all scanned sheets back in, turned over as a whole stack

    std::string name() const override { return model_.name; }
    std::string kind() const override { return "simulated"; }
    Capabilities capabilities() const override;
    ScannerState state() const override;
    std::optional<int> sheets_waiting() const override;
    Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) override;
    std::chrono::milliseconds silent_for() const override { return silent_for_.load(); }
    std::optional<std::string> take_button_press() override;

  private:
    struct Job;
    BenchModel model_;
    mutable std::mutex mutex_; // bench() is changed on the window's thread
    BenchSetup setup_;
    std::vector<StackSheet> through_; // scanned sheets, the last one at the back
    int last_pull_ = 0;
    int pulled_ = 0; // number of sheets of this stack that were scanned
    bool busy_ = false;
    std::atomic<std::chrono::milliseconds> silent_for_{};
    std::optional<std::string> button_;
    bool button_was_told_ = false; // for answers that come twice
    ScannerState trouble_ = ScannerState::Ready;

    std::optional<BenchFault> take_fault(int sheet, std::initializer_list<ErrorKind> kinds);
    Result<void> fall_silent(const Job& job, int sheet);
    std::unexpected<Error> faulted(ErrorKind kind, int sheet);
    Result<void> scan_glass(const Job& job);
    Result<void> scan_glass_once(const Job& job);
    Result<void> scan_stack(const Job& job);
    Result<void> pull(const Job& job, const StackSheet& sheet, const std::optional<StackSheet>& under, int in_job,
                      const std::optional<BenchFault>& broken, const std::optional<BenchFault>& two, bool& through);
    void count_through(int sheets);
};

// Returns the true size of an original.
Result<SizeMm> original_size(const std::filesystem::path& file);

}
