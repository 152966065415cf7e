// A backend's options as values, and their meaning: sources of paper, colour modes, resolutions, the unit of areas.
// Backends name and constrain these in many ways (SANE Standard 1.06, 4.2.9 and 4.5); all guessing about names is here,
// so that it is tested without devices. Pure functions.
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
    bool by_hand = false;                 // SANE_CAP_HARD_SELECT: set at the device (a button, a sensor)
    int values = 1;                       // array elements
    std::vector<double> numbers;          // allowed values, if it is constrained to a list
    double least = 0, most = 0, step = 0; // a range, if most > least
    std::vector<std::string> words;
    OptionValue value; // read if it is detectable and not an array

    bool usable() const { return active && settable; }
    // Returns the nearest allowed value; with `up`, the next one at or above `wanted`.
    double nearest(double wanted, bool up = false) const;
    double largest() const;
};

struct Mode {
    std::string word;          // value of the option "mode"; empty if there is none
    std::optional<int> depth;  // value of the option "depth"
    bool brought_down = false; // the device delivers more, and we make it black and white
};

// How the choices of a ticket are expressed to this backend.
struct Meaning {
    Capabilities can;
    std::vector<std::pair<Source, std::string>> sources; // values of the option `source_option`
    std::string source_option;                           // "source", "adf-mode"; empty if there is only one source
    std::string duplex_option;                           // a flag for both sides, if there is one
    std::vector<std::pair<Ink, Mode>> modes;
    std::string resolution_option;
    bool area_in_px = false;
};

const Option* find(const std::vector<Option>& table, std::string_view name);

Meaning meaning_of(const std::vector<Option>& table);

// Determines the largest area of each source, because a feeder may take longer sheets than the glass. `table_with` sets
// a source by its value and returns the options as they are then, or none if that failed. Sources whose options name no
// area keep the one they have. Does nothing if there is only one source.
void ask_areas(Meaning& meaning, const std::function<std::vector<Option>(const std::string& source)>& table_with);

// Return the meaning of values of the options "source" and "mode"; nullopt for those that are not supported
// (transparency units, backs alone).
std::optional<Source> source_of(const std::string& word);
std::optional<Ink> ink_of(const std::string& word);

}
