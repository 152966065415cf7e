// Reading a device's options from libsane into a table, and setting them. Call these functions on the device's own
// thread only.
#pragma once

#include "devices/sane/option_table.h"

#include <sane/sane.h>

namespace yelvin::sane {

// A backend's text, which may be a null pointer.
inline std::string words(const char* text) { return text ? text : ""; }

std::vector<Option> read_table(SANE_Handle handle);
// Sets an option. `info` receives libsane's flags about what else has changed. A value of another type is refused with
// SANE_STATUS_INVAL.
SANE_Status set_value(SANE_Handle handle, const Option& option, const OptionValue& value, SANE_Int& info);

}
