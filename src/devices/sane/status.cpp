// Translates libsane's status codes, option names and units.
#include "devices/sane/session.h"

#include <sane/sane.h>

namespace yelvin::sane {

static_assert(no_answer == SANE_STATUS_IO_ERROR);

std::string connection_of(const std::string& name) {
    const auto has = [&](const char* part) { return name.find(part) != std::string::npos; };
    if (has("usb")) return "USB";
    if (name.starts_with("net:") || has("http") || has("tcp") || has("escl") || has("airscan") || has("ip="))
        return "network";
    return "local";
}

std::optional<ErrorKind> fault_of(int status) {
    switch (status) {
    case SANE_STATUS_GOOD:
    case SANE_STATUS_EOF:
        return std::nullopt;
    case SANE_STATUS_CANCELLED:
        return ErrorKind::Stopped;
    case SANE_STATUS_DEVICE_BUSY:
        return ErrorKind::Busy;
    case SANE_STATUS_UNSUPPORTED:
        return ErrorKind::Unsupported;
    case SANE_STATUS_INVAL:
        return ErrorKind::WrongSetting;
    case SANE_STATUS_JAMMED:
        return ErrorKind::Jam;
    case SANE_STATUS_NO_DOCS:
        return ErrorKind::FeederEmpty;
    case SANE_STATUS_COVER_OPEN:
        return ErrorKind::LidOpen;
    case SANE_STATUS_IO_ERROR:
        return ErrorKind::Offline;
    case SANE_STATUS_NO_MEM:
        return ErrorKind::NoMemory;
    case SANE_STATUS_ACCESS_DENIED:
        return ErrorKind::AccessDenied;
    default:
        return ErrorKind::Device;
    }
}

std::string status_words(int status) { return sane_strstatus(static_cast<SANE_Status>(status)); }

}
