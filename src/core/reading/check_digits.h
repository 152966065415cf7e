// Numbers that carry digits to check them by.
#pragma once

#include <string_view>

namespace yelvin {

enum class CheckDigits { None, Right, Wrong }; // None: not such a number

// An IBAN (ISO 13616-1: two letters, two check digits by ISO 7064 MOD 97-10, up to 30 letters and digits) or an article
// number of 13 digits (EAN-13, ISO/IEC 15420). Spaces do not count; capital letters only.
CheckDigits check_digits(std::string_view text);

}
