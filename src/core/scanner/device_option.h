// The options of a scanner's driver beyond the choices of the ticket, as values from which controls are made.
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
    std::string name; // the driver's name of it, which stays the same
    std::string title, explanation;
    Kind kind = Kind::Flag;
    OptionValue value; // the present value; of a Choice, one of `choices`
    // Limits of a Number: one of `numbers` if there are any, otherwise from `least` to `most`, in steps if `step` > 0.
    double least = 0, most = 0, step = 0;
    std::vector<double> numbers;
    std::string unit; // "mm", "dpi", "%", …; may be empty
    std::vector<std::string> choices;
    bool operator==(const DeviceOption&) const = default;
};

// Returns the allowed value nearest to `value`, or the option's present value if `value` has the wrong type. A pure
// function.
OptionValue allowed_value(const DeviceOption& option, const OptionValue& value);

}
