// The scanners that yelvin-batch can use: simulated ones and those that libsane knows.
#pragma once

#include "core/scanner/scanner.h"
#include "devices/simulated/simulated_scanner.h"

namespace yelvin {

// Papers for the simulated scanners, as given on the command line.
struct BenchArguments {
    std::vector<std::string> on_glass;  // FILE or FILE@DEGREES
    std::vector<std::string> in_feeder; // FRONT, FRONT,BACK, either with @DEGREES; "blank" is bare paper
    std::vector<std::string> faults;    // KIND@SHEET: jam, two-sheets, feeder-empty, lid-open, busy, unplugged, memory
};
Result<BenchSetup> bench_from(const BenchArguments& arguments);

// Returns a connected scanner by its name ("simulated" is the first simulated one). Errors: Missing, listing the
// scanners that there are.
Result<std::shared_ptr<Scanner>> scanner_named(const std::string& name, const BenchSetup& bench);

std::vector<std::shared_ptr<Scanner>> all_scanners();

}
