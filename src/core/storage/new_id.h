// Identifiers for pages, documents, deliveries and temporary folders.
#pragma once

#include <string>

namespace yelvin {

// Returns 64 bits of the system's randomness as 16 hexadecimal digits. Thread-safe; never fails.
std::string new_id();

}
