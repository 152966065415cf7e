// The corrections of a page's tones, edges and cleanliness. Each has a default at which it changes nothing. One table
// describes all of them, so that files, sliders and tests use the same names and ranges. A value; pure functions.
#pragma once

#include <algorithm>
#include <array>
#include <cstddef>
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

// When a correction is applied, in this order, and to what.
enum class AdjustStage {
    Eyes,   // the spots that were marked
    Paper,  // every pixel, by its place and by what was measured on the page
    Tone,   // the levels, by the tables of tone_tables()
    Filter, // every pixel and its neighbours
    Black   // the conversion to black and white
};
// What a correction has to know apart from the pixel itself.
enum class AdjustNeeds {
    Nothing,
    Measure,   // a PageMeasure of the page
    Neighbours // the pixels up to 4 mm around
};
// A line of the table.
struct AdjustField {
    std::string_view key; // in files
    double Adjust::*value;
    double least, most, rest, step;
    AdjustStage stage;
    AdjustNeeds needs;
    constexpr bool is_switch() const { return least == 0 && most == 1 && step == 1; }
};
// The table of all corrections. A number of Adjust without a line does not compile.
inline constexpr std::array adjust_table{
    AdjustField{"brightness", &Adjust::brightness, -100, 100, 0, 1, AdjustStage::Tone, AdjustNeeds::Nothing},
    AdjustField{"contrast", &Adjust::contrast, -100, 100, 0, 1, AdjustStage::Tone, AdjustNeeds::Nothing},
    AdjustField{"gamma", &Adjust::gamma, 0.2, 5, 1, 0.05, AdjustStage::Tone, AdjustNeeds::Nothing},
    AdjustField{"black_point", &Adjust::black_point, 0, 254, 0, 1, AdjustStage::Tone, AdjustNeeds::Nothing},
    AdjustField{"white_point", &Adjust::white_point, 1, 255, 255, 1, AdjustStage::Tone, AdjustNeeds::Nothing},
    AdjustField{"fading", &Adjust::fading, 0, 100, 0, 5, AdjustStage::Tone, AdjustNeeds::Measure},
    AdjustField{"cast", &Adjust::cast, 0, 100, 0, 5, AdjustStage::Tone, AdjustNeeds::Measure},
    AdjustField{"even_light", &Adjust::even_light, 0, 1, 0, 1, AdjustStage::Paper, AdjustNeeds::Measure},
    AdjustField{"threshold", &Adjust::threshold, 0, 254, 0, 1, AdjustStage::Black, AdjustNeeds::Nothing},
    AdjustField{"local_threshold", &Adjust::local_threshold, 0, 1, 0, 1, AdjustStage::Black, AdjustNeeds::Neighbours},
    AdjustField{"sharpen", &Adjust::sharpen, 0, 300, 0, 10, AdjustStage::Filter, AdjustNeeds::Neighbours},
    AdjustField{"screen_lpi", &Adjust::screen_lpi, 0, 250, 0, 1, AdjustStage::Filter, AdjustNeeds::Neighbours},
    AdjustField{"edge_shadow", &Adjust::edge_shadow, 0, 1, 0, 1, AdjustStage::Paper, AdjustNeeds::Measure},
    AdjustField{"punch_holes", &Adjust::punch_holes, 0, 1, 0, 1, AdjustStage::Paper, AdjustNeeds::Measure},
    AdjustField{"drop_reach", &Adjust::drop_reach, 0, 100, 0, 5, AdjustStage::Paper, AdjustNeeds::Measure},
    AdjustField{"specks_mm", &Adjust::specks_mm, 0, 2, 0, 0.1, AdjustStage::Filter, AdjustNeeds::Neighbours},
    AdjustField{"paper_white", &Adjust::paper_white, 0, 100, 0, 5, AdjustStage::Tone, AdjustNeeds::Measure},
    AdjustField{"dust_mm", &Adjust::dust_mm, 0, 1, 0, 0.1, AdjustStage::Filter, AdjustNeeds::Neighbours},
    AdjustField{"red_eyes", &Adjust::red_eyes, 0, 1, 0, 1, AdjustStage::Eyes, AdjustNeeds::Nothing},
};
static_assert(adjust_table.size() * sizeof(double) == offsetof(Adjust, drop_colour),
              "every number of Adjust needs its line in adjust_table");
// The table as a span; lives as long as the program.
std::span<const AdjustField> adjust_fields();
// Whether a correction that `is` is true for is not at its default.
template <class Is>
bool changes_any(const Adjust& adjust, Is is) {
    return std::ranges::any_of(adjust_table, [&](const AdjustField& f) { return is(f) && adjust.*f.value != f.rest; });
}
// The line of a number of Adjust.
const AdjustField& field_of(double Adjust::*value);
// Returns null if no correction has this key.
const AdjustField* find_adjust_field(std::string_view key);

// Limits every value to its range and step, keeps the black point below the white point, and sorts the eyes, so that
// the order of changes makes no difference.
Adjust kept_in_range(Adjust adjust);

}
