// The corrections of a page's tones, its edges and its cleanliness: a value with a resting state for each, in which it
// changes nothing. One table describes them all, so that files, sliders and tests know the same names and ranges.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace yelvin {

struct Spot { // a round place; mm of the original
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
    double even_light = 0;      // switch: the paper's brightness made the same everywhere
    double threshold = 0;       // for black: levels at or under it become ink; 0: found by itself
    double local_threshold = 0; // switch: for black, a threshold for each place
    double sharpen = 0;         // percent
    double screen_lpi = 0;      // the print's screen that is taken out, lines per inch; 0: none
    double edge_shadow = 0;     // switch
    double punch_holes = 0;     // switch
    double drop_reach = 0;      // how far around the dropped colour, percent; 0: none is dropped
    double specks_mm = 0;       // dots up to this size go
    double paper_white = 0;     // percent of the paper's own levels that become white
    double dust_mm = 0;         // on photographs: dust and scratches up to this width
    double red_eyes = 0;        // switch
    std::optional<PickedColour> drop_colour;
    std::vector<Spot> eyes; // in the order of their places
    bool operator==(const Adjust&) const = default;
};

struct AdjustField {
    std::string_view key; // in files
    double Adjust::*value;
    double least, most, rest, step;
    bool is_switch() const { return least == 0 && most == 1 && step == 1; }
};
std::span<const AdjustField> adjust_fields();
const AdjustField* find_adjust_field(std::string_view key);

// In range and on its step; black under white; eyes in order, so that the order of switching on makes no difference.
Adjust kept_in_range(Adjust adjust);

// `adjust` with everything that `from` does not leave at rest; spots stay each page's own.
Adjust with_same(Adjust adjust, const Adjust& from);

}
