#include "core/developing/adjust.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace yelvin {

std::span<const AdjustField> adjust_fields() { return adjust_table; }

const AdjustField& field_of(double Adjust::*value) {
    return *std::ranges::find(adjust_table, value, &AdjustField::value);
}

const AdjustField* find_adjust_field(std::string_view key) {
    const auto fields = adjust_fields();
    const auto at = std::ranges::find(fields, key, &AdjustField::key);
    return at == fields.end() ? nullptr : &*at;
}

Adjust kept_in_range(Adjust adjust) {
    for (const AdjustField& field : adjust_fields()) {
        double& value = adjust.*field.value;
        if (!std::isfinite(value)) value = field.rest;
        value = std::clamp(std::round(value / field.step) * field.step, field.least, field.most);
        value = std::round(value * 1000) / 1000;
    }
    adjust.white_point = std::max(adjust.white_point, adjust.black_point + 1);
    std::ranges::sort(adjust.eyes, {}, [](const Spot& s) { return std::tuple(s.y_mm, s.x_mm, s.radius_mm); });
    const auto rest = std::ranges::unique(adjust.eyes);
    adjust.eyes.erase(rest.begin(), rest.end());
    return adjust;
}

}
