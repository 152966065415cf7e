#include "core/scanner/faults.h"

#include <fmt/format.h>

namespace yelvin {

namespace {

std::string fault_sentence(ErrorKind kind, std::string_view scanner, int sheet) {
    const std::string at = sheet > 0 ? fmt::format(" at sheet {}", sheet) : std::string();
    const std::string back = sheet > 0 ? fmt::format("put sheet {} back on top of the stack", sheet) : "try again";
    switch (kind) {
    case ErrorKind::Jam:
        return fmt::format("Paper jam in {}{}. Open it, take the sheet out, {}, and go on.", scanner, at, back);
    case ErrorKind::TwoSheets:
        return fmt::format("{} pulled two sheets at once{}. Take both out, put sheets {} and {} back on top of the "
                           "stack, and go on.",
                           scanner, at, sheet, sheet + 1);
    case ErrorKind::FeederEmpty:
        return sheet > 1 ? fmt::format("The feeder of {} is empty after sheet {}. Put in more paper and go on, or "
                                       "finish here.",
                                       scanner, sheet - 1)
                         : fmt::format("The feeder of {} is empty. Put paper in, then scan.", scanner);
    case ErrorKind::LidOpen:
        return sheet > 0 ? fmt::format("The lid of {} was opened{}. Close it, {}, and go on.", scanner, at, back)
                         : fmt::format("The lid of {} is open. Close it and scan again.", scanner);
    case ErrorKind::Busy:
        return fmt::format("{} is in use by another program. Wait until it is free, then go on.", scanner);
    case ErrorKind::Offline:
        return sheet > 0
                   ? fmt::format("{} stopped responding{}. Check its cable and its power, {}, and go on.", scanner, at,
                                 back)
                   : fmt::format("{} is not responding. Check its cable and its power, then scan again.", scanner);
    case ErrorKind::NoAnswer:
        return fmt::format(
            "{} sent nothing{} for too long, so the scan was stopped. Switch it off and on, {}, and go on.", scanner,
            at, back);
    case ErrorKind::AccessDenied:
        return fmt::format("You do not have permission to use {}. Ask your administrator.", scanner);
    case ErrorKind::NoMemory:
        return fmt::format("{} ran out of memory{}. Choose a lower resolution or a smaller area, {}, and go on.",
                           scanner, at, back);
    case ErrorKind::WrongSetting:
        return fmt::format("{} does not support this combination of settings. Change the resolution, the colour or "
                           "the area, and scan again.",
                           scanner);
    case ErrorKind::Unsupported:
        return fmt::format("{} does not support this. Choose another source or colour, and scan again.", scanner);
    case ErrorKind::Device:
    case ErrorKind::BadInput: // this and the following are not reported by scanners
    case ErrorKind::Missing:
    case ErrorKind::NotWritable:
    case ErrorKind::DiskFull:
    case ErrorKind::Encrypted:
    case ErrorKind::Stopped:
    case ErrorKind::Usage:
    case ErrorKind::Internal:
    case ErrorKind::Untrusted:
        return fmt::format("{} reported a fault{}. Switch it off and on, {}, and go on.", scanner, at, back);
    }
    return {};
}

struct FaultFacts {
    bool can_go_on = false, names_sheet = false;
    std::optional<ScannerState> state = {}; // see state_after()
};

FaultFacts facts_of(ErrorKind kind) {
    switch (kind) {
    case ErrorKind::Jam:
    case ErrorKind::TwoSheets:
        return {true, true, ScannerState::Jam};
    case ErrorKind::FeederEmpty:
        return {true, true, ScannerState::FeederEmpty};
    case ErrorKind::LidOpen:
        return {true, true, ScannerState::LidOpen};
    case ErrorKind::Offline:
        return {true, true, ScannerState::Offline};
    case ErrorKind::NoMemory:
    case ErrorKind::Device:
        return {true, true};
    case ErrorKind::Busy:
        return {true, false, ScannerState::Busy};
    case ErrorKind::DiskFull:
    case ErrorKind::NotWritable:
        return {true, false};
    case ErrorKind::BadInput:
    case ErrorKind::Missing:
    case ErrorKind::Encrypted:
    case ErrorKind::Stopped:
    case ErrorKind::Usage:
    case ErrorKind::Internal:
    case ErrorKind::NoAnswer:
    case ErrorKind::AccessDenied:
    case ErrorKind::WrongSetting:
    case ErrorKind::Unsupported:
    case ErrorKind::Untrusted:
        break;
    }
    return {};
}

}

Error scanner_fault(ErrorKind kind, std::string_view scanner, int sheet, std::string detail) {
    return {kind, fault_sentence(kind, scanner, sheet), std::move(detail)};
}

bool can_go_on(ErrorKind kind) { return facts_of(kind).can_go_on; }

std::optional<ScannerState> state_after(ErrorKind kind) { return facts_of(kind).state; }

Error with_sheet(const Error& fault, std::string_view scanner, int sheet) {
    return facts_of(fault.kind).names_sheet ? scanner_fault(fault.kind, scanner, sheet, fault.detail) : fault;
}

}
