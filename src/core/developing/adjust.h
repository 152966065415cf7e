// The corrections of a page's tones, edges and cleanliness. Each has a default at which it changes nothing. One table
// describes all of them, so that files, sliders and tests use the same names and ranges. A value; pure functions.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace yelvin {

struct Spot { // a disc; mm of the original
    double x_mm = 0, y_mm = 0, radius_mm = 1;
    bool operator==(const Spot&) const = default;
};

struct PickedColour {
    int red = 0, green = 0, blue = 0; // 0 to 255
    bool operator==(const PickedColour&) const = default;
};

struct Adjust {
    double brightness = 0;      // percent of half the range, added
    double contrast = 0;        // percent, about the middle grey
    double gamma = 1;           // above 1 is lighter
    double black_point = 0;     // grey levels that become 0 …
    double white_point = 255;   // … and 255
    double fading = 0;          // percent of the way to full range, each channel by itself
    double cast = 0;            // percent of the way to a neutral white
    double even_light = 0;      // switch: makes the paper equally bright everywhere
    double threshold = 0;       // for black and white: levels at or below it become ink; 0: determined automatically
    double local_threshold = 0; // switch: for black and white, an adaptive threshold
    double sharpen = 0;         // percent
    double screen_lpi = 0;      // printed dots that are smoothed, lines per inch; 0: none
    double edge_shadow = 0;     // switch
    double punch_holes = 0;     // switch
    double drop_reach = 0;      // tolerance of the dropped colour, percent; 0: no colour is dropped
    double specks_mm = 0;       // specks up to this size are removed
    double paper_white = 0;     // percent of the paper's own levels that become white
    double dust_mm = 0;         // on photographs: dust and scratches up to this width
    double red_eyes = 0;        // switch
    std::optional<PickedColour> drop_colour;
    std::vector<Spot> eyes; // sorted by place
    bool operator==(const Adjust&) const = default;
};

// A line of the table.
struct AdjustField {
    std::string_view key; // in files
    double Adjust::*value;
    double least, most, rest, step;
    bool is_switch() const { return least == 0 && most == 1 && step == 1; }
};
// The table; lives as long as the program.
std::span<const AdjustField> adjust_fields();
// Returns null if no correction has this key.
const AdjustField* find_adjust_field(std::string_view key);

// Limits every value to its range and step, keeps the black point below the white point, and sorts the eyes, so that
// the order of changes makes no difference.
Adjust kept_in_range(Adjust adjust);

// Returns `adjust` with every correction of `from` that is not at its default. Spots are not copied, because they
// belong to one page.
Adjust with_same(Adjust adjust, const Adjust& from);

}
