// The scanners that yelvin-batch can use: simulated ones and those that libsane knows. Used on the program's main
// thread.
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
// Returns the setup that the arguments describe. Errors: Usage for a fault that is not of this form. Files are not
// opened.
Result<BenchSetup> bench_from(const BenchArguments& arguments);

// Returns a connected scanner by its name ("simulated" is the first simulated one). Blocks until libsane has listed the
// devices and this one answers. Errors: Missing, listing the scanners that there are.
Result<std::shared_ptr<Scanner>> scanner_named(const std::string& name, const BenchSetup& bench);

// Returns all scanners, not connected yet. Blocks until libsane has listed the devices.
std::vector<std::shared_ptr<Scanner>> all_scanners();

}
