#include "core/developing/adjust.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <tuple>

namespace yelvin {

std::span<const AdjustField> adjust_fields() {
    static constexpr std::array fields{
        AdjustField{"brightness", &Adjust::brightness, -100, 100, 0, 1},
        AdjustField{"contrast", &Adjust::contrast, -100, 100, 0, 1},
        AdjustField{"gamma", &Adjust::gamma, 0.2, 5, 1, 0.05},
        AdjustField{"black_point", &Adjust::black_point, 0, 254, 0, 1},
        AdjustField{"white_point", &Adjust::white_point, 1, 255, 255, 1},
        AdjustField{"fading", &Adjust::fading, 0, 100, 0, 5},
        AdjustField{"cast", &Adjust::cast, 0, 100, 0, 5},
        AdjustField{"even_light", &Adjust::even_light, 0, 1, 0, 1},
        AdjustField{"threshold", &Adjust::threshold, 0, 254, 0, 1},
        AdjustField{"local_threshold", &Adjust::local_threshold, 0, 1, 0, 1},
        AdjustField{"sharpen", &Adjust::sharpen, 0, 300, 0, 10},
        AdjustField{"screen_lpi", &Adjust::screen_lpi, 0, 250, 0, 1},
        AdjustField{"edge_shadow", &Adjust::edge_shadow, 0, 1, 0, 1},
        AdjustField{"punch_holes", &Adjust::punch_holes, 0, 1, 0, 1},
        AdjustField{"drop_reach", &Adjust::drop_reach, 0, 100, 0, 5},
        AdjustField{"specks_mm", &Adjust::specks_mm, 0, 2, 0, 0.1},
        AdjustField{"paper_white", &Adjust::paper_white, 0, 100, 0, 5},
        AdjustField{"dust_mm", &Adjust::dust_mm, 0, 1, 0, 0.1},
        AdjustField{"red_eyes", &Adjust::red_eyes, 0, 1, 0, 1},
    };
    return fields;
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

Adjust with_same(Adjust adjust, const Adjust& from) {
    for (const AdjustField& field : adjust_fields()) {
        if (from.*field.value != field.rest) adjust.*field.value = from.*field.value;
    }
    if (from.drop_colour) adjust.drop_colour = from.drop_colour;
    return kept_in_range(std::move(adjust));
}

}
