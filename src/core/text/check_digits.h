// Numbers with check digits. A pure function.
#pragma once

#include <string_view>

namespace yelvin {

enum class CheckDigits { None, Right, Wrong }; // None: the text is not such a number

// Checks an IBAN (ISO 13616-1: two letters, two check digits by ISO 7064 MOD 97-10, up to 30 letters and digits) or an
// article number of 13 digits (EAN-13, ISO/IEC 15420). Spaces are ignored; letters must be capitals.
CheckDigits check_digits(std::string_view text);

}
