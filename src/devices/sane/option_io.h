// A device's options as libsane holds them: read into a table that is a value, set one by one. On the device's own
// thread.
#pragma once

#include "devices/sane/option_table.h"

#include <sane/sane.h>

namespace yelvin::sane {

// A backend's text, which may be null.
inline std::string words(const char* text) { return text ? text : ""; }

std::vector<Option> read_table(SANE_Handle handle);
// `info` gets libsane's flags about what else has changed. A value of another type is refused.
SANE_Status set_value(SANE_Handle handle, const Option& option, const OptionValue& value, SANE_Int& info);

}
