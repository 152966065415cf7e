// What can go wrong at a scanner, as one sentence each: what happened, at which sheet, what to do.
#pragma once

#include "core/error.h"

#include <string_view>

namespace yelvin {

// `sheet` counts from 1 within the run; 0 where there is no sheet to speak of (the glass).
Error scanner_fault(ErrorKind kind, std::string_view scanner, int sheet, std::string detail = {});

// Whether the run can go on from there once a person has put things right.
bool can_go_on(ErrorKind kind);

// The same fault for a sheet counted from a later start: scanners count within a job, people within the stack.
Error with_sheet(const Error& fault, std::string_view scanner, int sheet);

}
