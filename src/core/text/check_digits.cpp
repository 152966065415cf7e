#include "core/text/check_digits.h"

#include <algorithm>
#include <string>

namespace yelvin {

namespace {

bool is_digit(char c) { return c >= '0' && c <= '9'; }
bool is_capital(char c) { return c >= 'A' && c <= 'Z'; }

// ISO 7064 MOD 97-10: the first four characters are moved to the end and letters are replaced by 10 to 35; the
// remainder is 1.
bool leaves_one(std::string text) {
    std::ranges::rotate(text, text.begin() + 4);
    int rest = 0;
    for (const char c : text) rest = is_digit(c) ? (rest * 10 + (c - '0')) % 97 : (rest * 100 + (c - 'A' + 10)) % 97;
    return rest == 1;
}

// ISO/IEC 15420: the sum with alternating weights 1 and 3 is a multiple of ten.
bool is_multiple_of_ten(std::string_view digits) {
    int sum = 0;
    for (size_t i = 0; i < digits.size(); ++i) sum += (digits[i] - '0') * (i % 2 ? 3 : 1);
    return sum % 10 == 0;
}

}

CheckDigits check_digits(std::string_view spaced) {
    std::string text;
    for (const char c : spaced) {
        if (c == ' ') continue;
        if (!is_digit(c) && !is_capital(c)) return CheckDigits::None;
        text += c;
    }
    const auto as = [](bool right) { return right ? CheckDigits::Right : CheckDigits::Wrong; };
    if (text.size() == 13 && std::ranges::all_of(text, is_digit)) return as(is_multiple_of_ten(text));
    if (text.size() < 15 || text.size() > 34) return CheckDigits::None;
    if (!is_capital(text[0]) || !is_capital(text[1]) || !is_digit(text[2]) || !is_digit(text[3]))
        return CheckDigits::None;
    return as(leaves_one(text));
}

}
