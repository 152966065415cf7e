// Lines of comma-separated values (RFC 4180).
#pragma once

#include <span>
#include <string>

namespace yelvin {

// Returns one line with its line end (CRLF). Fields are quoted if they contain quotes, commas or line ends. A pure
// function.
std::string csv_line(std::span<const std::string> fields);

}
