// A flatbed that is not there: paper originals lie on its A4 glass at their true size and any angle, and come back as a
// sensor would deliver them, strip by strip. Ships with the program; the tests know the truth about what it scans.
#pragma once

#include "core/scanner/scanner.h"
#include "devices/simulated/originals.h"
#include "devices/simulated/sensor.h"

#include <filesystem>
#include <mutex>
#include <vector>

namespace yelvin {

struct LaidPaper {
    std::filesystem::path file;
    double x_mm = 108, y_mm = 148.5; // centre on the glass, from the marked corner
    double angle_degrees = 0;        // clockwise
    bool operator==(const LaidPaper&) const = default;
};

struct BenchSetup {
    std::vector<LaidPaper> glass;
    Sensor sensor;
    bool real_pace = false;      // false: as fast as it can be drawn
    double seconds_for_a4 = 4.0; // at 300 dpi colour, in real pace; other resolutions in proportion
    int lid_level = 232;         // brightness of the lid's underside, 0 to 255
    bool operator==(const BenchSetup&) const = default;
};

class SimulatedScanner : public Scanner {
  public:
    explicit SimulatedScanner(BenchSetup setup = {}) : setup_(std::move(setup)) {}

    void set_bench(BenchSetup setup);
    BenchSetup bench() const;

    std::string name() const override { return "Bench scanner"; }
    Capabilities capabilities() const override;
    ScannerState state() const override;
    Result<void> scan(const ScanRequest& request, PageSink& sink, std::stop_token stop) override;

  private:
    mutable std::mutex mutex_; // the bench is set from the window's thread
    BenchSetup setup_;
    bool busy_ = false;
};

// The originals' true size, to lay them against a corner.
Result<SizeMm> original_size(const std::filesystem::path& file);

}
