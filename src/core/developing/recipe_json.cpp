#include "core/developing/recipe_json.h"

#include "core/json_text.h"

#include <fmt/format.h>

#include <charconv>

using nlohmann::json;

namespace yelvin {

json spots_json(const std::vector<Spot>& spots) {
    json out = json::array();
    for (const Spot& spot : spots) out.push_back({spot.x_mm, spot.y_mm, spot.radius_mm});
    return out;
}
std::vector<Spot> spots_from_json(const json& array) {
    std::vector<Spot> out;
    for (const json& spot : array) {
        if (spot.is_array() && spot.size() == 3) out.push_back({spot[0], spot[1], spot[2]});
    }
    return out;
}

json to_json(const Adjust& adjust) {
    json out = json::object();
    for (const AdjustField& field : adjust_fields()) {
        const double value = adjust.*field.value;
        if (value == field.rest) continue;
        if (field.is_switch())
            out[std::string(field.key)] = true;
        else
            out[std::string(field.key)] = value;
    }
    if (adjust.drop_colour) {
        const PickedColour& c = *adjust.drop_colour;
        out["drop_colour"] = fmt::format("#{:02x}{:02x}{:02x}", c.red, c.green, c.blue);
    }
    if (!adjust.eyes.empty()) out["eyes"] = spots_json(adjust.eyes);
    return out;
}

std::optional<PickedColour> colour_from_text(const std::string& text) {
    unsigned all = 0;
    if (text.size() != 7 || text[0] != '#') return std::nullopt;
    const auto end = std::from_chars(text.data() + 1, text.data() + 7, all, 16);
    if (end.ec != std::errc{} || end.ptr != text.data() + 7) return std::nullopt;
    return PickedColour{static_cast<int>(all >> 16), static_cast<int>(all >> 8 & 255), static_cast<int>(all & 255)};
}

Adjust adjust_from_json(const json& j) {
    Adjust adjust;
    if (!j.is_object()) return adjust;
    for (const AdjustField& field : adjust_fields()) {
        const auto at = j.find(field.key);
        if (at == j.end()) continue;
        if (at->is_boolean())
            adjust.*field.value = at->get<bool>() ? field.most : field.rest;
        else if (at->is_number())
            adjust.*field.value = at->get<double>();
    }
    if (const auto at = j.find("drop_colour"); at != j.end() && at->is_string())
        adjust.drop_colour = colour_from_text(at->get<std::string>());
    adjust.eyes = spots_from_json(j.value("eyes", json::array()));
    return kept_in_range(std::move(adjust));
}

json to_json(const Recipe& r) {
    json out = {{"turn", r.turn_degrees}, {"tilt", r.tilt_degrees}};
    if (r.crop) out["crop"] = {r.crop->x, r.crop->y, r.crop->width, r.crop->height};
    if (r.rim_mm > 0) out["rim"] = r.rim_mm;
    if (r.ink) out["ink"] = static_cast<int>(*r.ink);
    if (r.adjust != Adjust{}) out["adjust"] = to_json(r.adjust);
    if (r.flatten) {
        out["flatten"] = {r.flatten->size.width, r.flatten->size.height};
        for (const PointMm& corner : r.flatten->corners) {
            out["flatten"].push_back(corner.x);
            out["flatten"].push_back(corner.y);
        }
    }
    return out;
}

Recipe recipe_from_json(const json& j) {
    Recipe r;
    r.turn_degrees = j.value("turn", 0);
    r.tilt_degrees = j.value("tilt", 0.0);
    if (j.contains("crop")) r.crop = RectMm{j["crop"].at(0), j["crop"].at(1), j["crop"].at(2), j["crop"].at(3)};
    r.rim_mm = j.value("rim", 0.0);
    if (j.contains("ink") && !j["ink"].is_null()) r.ink = choice_from_json(j["ink"], Ink::Black);
    if (j.contains("adjust")) r.adjust = adjust_from_json(j["adjust"]);
    if (const json f = j.value("flatten", json()); f.is_array() && f.size() == 10)
        r.flatten = Flatten{{PointMm{f[2], f[3]}, {f[4], f[5]}, {f[6], f[7]}, {f[8], f[9]}}, {f[0], f[1]}};
    return r;
}

}
