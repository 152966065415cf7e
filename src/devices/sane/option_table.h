// A backend's options as plain values, and what they mean: where paper comes from, which colours and resolutions there
// are, in which unit areas are given. Backends name and constrain these things in many ways (SANE Standard 1.06, 4.2.9
// and 4.5); all guessing about names is here, so that it can be tested without a device.
#pragma once

#include "core/scanner/scanner.h"

#include <functional>
#include <optional>
#include <string>
#include <vector>

namespace yelvin::sane {

enum class Type { Flag, Int, Fixed, Text, Button, Group };
enum class Unit { None, Pixel, Bit, Mm, Dpi, Percent, Microsecond };

struct Option {
    int index = 0;
    std::string name, title, explanation;
    Type type = Type::Int;
    Unit unit = Unit::None;
    bool active = true, settable = true, detectable = true, advanced = false;
    bool by_hand = false;                 // set at the device (a button, a sensor): SANE_CAP_HARD_SELECT
    int values = 1;                       // array elements
    std::vector<double> numbers;          // a list, where it is constrained to one
    double least = 0, most = 0, step = 0; // a range, where most > least
    std::vector<std::string> words;
    OptionValue value; // read when detectable and a single one

    bool usable() const { return active && settable; }
    // The nearest value it takes, rounding up to the next step where `up` says so.
    double nearest(double wanted, bool up = false) const;
    double largest() const;
    double smallest() const;
};

struct Mode {
    std::string word;          // of the option "mode"; empty: there is no such option
    std::optional<int> depth;  // of the option "depth"
    bool brought_down = false; // delivered with more, made black by us
};

// How the well-known choices are said to this backend.
struct Meaning {
    Capabilities can;
    std::vector<std::pair<Source, std::string>> sources; // by the option `source_option`
    std::string source_option;                           // "source", "adf-mode"; empty: there is but one
    std::string duplex_option;                           // a flag of its own for both sides
    std::vector<std::pair<Ink, Mode>> modes;
    std::string resolution_option;
    bool area_in_px = false;
};

const Option* find(const std::vector<Option>& table, std::string_view name);

Meaning meaning_of(const std::vector<Option>& table);

// Asks for the largest area of each source, since a feeder may take longer sheets than the glass is: `table_with`
// chooses the source by its word and returns the options as they are then, or none where that failed. Sources whose
// options name no area keep the one they have. Asks nothing where there is but one source.
void ask_areas(Meaning& meaning, const std::function<std::vector<Option>(const std::string& source)>& table_with);

// What "source" words mean: nothing for those that are not one of ours (transparency units, backs alone).
std::optional<Source> source_of(const std::string& word);
std::optional<Ink> ink_of(const std::string& word);

}
