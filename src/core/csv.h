// Lines of comma-separated values (RFC 4180).
#pragma once

#include <span>
#include <string>

namespace yelvin {

// With its end of line; fields in quotes where they need them.
std::string csv_line(std::span<const std::string> fields);

}
