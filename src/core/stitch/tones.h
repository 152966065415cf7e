// Matching the tones of neighbouring pieces. A value; pure functions.
#pragma once

#include "core/stitch/layout.h"

#include <array>

namespace yelvin {

// value = (c0 + c1 x + c2 y + c3 x² + c4 y²) · value + offset for each channel (blue, green, red; grey takes the green
// one), with x and y from -1 to 1 across the piece, because lamps are not even and each piece lay differently under
// them.
struct Tones {
    using Gain = std::array<double, 5>;
    std::array<Gain, 3> gain{Gain{1, 0, 0, 0, 0}, Gain{1, 0, 0, 0, 0}, Gain{1, 0, 0, 0, 0}};
    std::array<double, 3> offset{};
    bool untouched() const { return *this == Tones{}; }
    double gain_at(size_t channel, double x, double y) const {
        const Gain& g = gain[channel];
        return g[0] + g[1] * x + g[2] * y + g[3] * x * x + g[4] * y * y;
    }
    bool operator==(const Tones&) const = default;
};

// Returns the tones for each piece by least squares over all overlaps, regularised towards no change. Invisible
// differences are not corrected.
std::vector<Tones> even_tones(const std::vector<PieceLookPtr>& looks, const Layout& layout);

}
