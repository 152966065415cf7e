#include "core/seeing/notices_json.h"

#include "core/developing/recipe_json.h"
#include "core/json_text.h"

using nlohmann::json;

namespace yelvin {

namespace {
template <class T>
json optional_json(const std::optional<T>& value) {
    return value ? json(*value) : json();
}
template <class T>
std::optional<T> optional_from(const json& object, const char* key) {
    return object.contains(key) && !object[key].is_null() ? std::optional<T>(object[key].get<T>()) : std::nullopt;
}
json corners_json(const std::optional<Corners>& corners) {
    if (!corners) return {};
    json out = json::array();
    for (const PointMm& corner : *corners) {
        out.push_back(corner.x);
        out.push_back(corner.y);
    }
    return out;
}
json blemishes_json(const Blemishes& b) {
    return {{"contrast", b.contrast_percent}, {"show_through", b.show_through_percent},
            {"cut_off", b.cut_off},           {"shadow", b.shadow_mm},
            {"holes", b.punch_holes},         {"uneven", b.uneven_percent},
            {"screen", b.screen_lpi}};
}
Blemishes blemishes_from_json(const json& j) {
    Blemishes b;
    b.contrast_percent = j.value("contrast", 0.0);
    b.show_through_percent = j.value("show_through", 0.0);
    b.cut_off = j.value("cut_off", b.cut_off);
    b.shadow_mm = j.value("shadow", b.shadow_mm);
    b.punch_holes = j.value("holes", 0);
    b.uneven_percent = j.value("uneven", 0.0);
    b.screen_lpi = j.value("screen", 0.0);
    return b;
}
}

json to_json(const Notices& n) {
    json regions = json::array();
    for (const Region& r : n.regions) regions.push_back({r.x_mm, r.y_mm, r.w_mm, r.h_mm, r.angle_degrees});
    return {{"tilt", optional_json(n.tilt_degrees)},
            {"by_text", n.tilt_by_text},
            {"across", n.lines_across},
            {"letters", n.letters},
            {"turn", optional_json(n.turn_degrees)},
            {"ink_percent", n.ink_percent},
            {"writing", n.writing},
            {"in_doubt", n.in_doubt},
            {"least_ink", static_cast<int>(n.ink.least)},
            {"colour_mm2", n.ink.colour_mm2},
            {"tone_percent", n.ink.tone_percent},
            {"solid_percent", n.ink.solid_percent},
            {"faint_mm2", n.ink.faint_mm2},
            {"kind", static_cast<int>(n.kind)},
            {"regions", regions},
            {"barcodes", n.barcodes},
            {"framed", n.framed},
            {"paper", n.paper},
            {"blemishes", blemishes_json(n.blemishes)},
            {"eyes", spots_json(n.red_eyes)},
            {"askew", corners_json(n.askew)},
            {"sheet", n.sheet ? json{n.sheet->x_mm, n.sheet->y_mm, n.sheet->w_mm, n.sheet->h_mm, n.sheet->angle_degrees}
                              : json()}};
}

Notices notices_from_json(const json& j) {
    Notices n;
    n.tilt_degrees = optional_from<double>(j, "tilt");
    n.tilt_by_text = j.value("by_text", false);
    n.lines_across = j.value("across", false);
    n.letters = j.value("letters", 0);
    n.turn_degrees = optional_from<int>(j, "turn");
    n.ink_percent = j.value("ink_percent", 0.0);
    n.writing = j.value("writing", false);
    n.in_doubt = j.value("in_doubt", false);
    n.ink.least = choice_from_json(j.value("least_ink", json(1)), Ink::Black);
    n.ink.colour_mm2 = j.value("colour_mm2", 0.0);
    n.ink.tone_percent = j.value("tone_percent", 0.0);
    n.ink.solid_percent = j.value("solid_percent", 0.0);
    n.ink.faint_mm2 = j.value("faint_mm2", 0.0);
    n.kind = choice_from_json(j.value("kind", json(0)), PageKind::Mixed);
    for (const json& r : j.value("regions", json::array()))
        n.regions.push_back({r.at(0), r.at(1), r.at(2), r.at(3), r.at(4)});
    n.framed = j.value("framed", false);
    n.paper = j.value("paper", std::string());
    n.barcodes = j.value("barcodes", std::vector<std::string>{});
    n.blemishes = blemishes_from_json(j.value("blemishes", json::object()));
    n.red_eyes = spots_from_json(j.value("eyes", json::array()));
    if (const json c = j.value("askew", json()); c.is_array() && c.size() == 8)
        n.askew = Corners{PointMm{c[0], c[1]}, {c[2], c[3]}, {c[4], c[5]}, {c[6], c[7]}};
    if (const json r = j.value("sheet", json()); r.is_array() && r.size() == 5)
        n.sheet = Region{r[0], r[1], r[2], r[3], r[4]};
    return n;
}

}
