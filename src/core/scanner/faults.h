// The faults of scanners as errors with one sentence each: what happened, at which sheet, what to do. Pure functions.
#pragma once

#include "core/error.h"
#include "core/scanner/scanner.h"

#include <optional>
#include <string>
#include <string_view>

namespace yelvin {

// `sheet` is the number of the sheet in the run, from 1; 0 on the glass.
Error scanner_fault(ErrorKind kind, std::string_view scanner, int sheet, std::string detail = {});

// Whether the run can continue after such a fault, once the user has corrected it.
bool can_go_on(ErrorKind kind);

// Returns the state that a scanner shows after such a fault, or nothing if the fault leaves its state as it was.
std::optional<ScannerState> state_after(ErrorKind kind);

// Returns the same fault with another sheet number: scanners count within a job, users within the stack.
Error with_sheet(const Error& fault, std::string_view scanner, int sheet);

}
