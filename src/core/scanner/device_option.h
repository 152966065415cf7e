// What one scanner offers beyond the choices of the ticket, as a value from which a sheet of controls can be made.
#pragma once

#include <map>
#include <string>
#include <variant>
#include <vector>

namespace yelvin {

using OptionValue = std::variant<bool, double, std::string>;
using OptionValues = std::map<std::string, OptionValue>;

struct DeviceOption {
    enum class Kind { Flag, Number, Choice, Text, Button };
    std::string name; // the scanner's own, stable
    std::string title, explanation;
    Kind kind = Kind::Flag;
    OptionValue value; // now; a Choice holds one of `choices`
    // Numbers: from `least` to `most`, in steps where `step` is above 0, or one of `numbers` where there are any.
    double least = 0, most = 0, step = 0;
    std::vector<double> numbers;
    std::string unit; // "mm", "dpi", "%", …; may be empty
    std::vector<std::string> choices;
    bool operator==(const DeviceOption&) const = default;
};

// The nearest value that the option takes; nothing sensible in `value` leaves the option's own.
OptionValue allowed_value(const DeviceOption& option, const OptionValue& value);

}
