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
// Each function below names every member of its structure, so that it does not compile if one is missing.
json blemishes_json(const Blemishes& b) {
    const auto& [contrast, show_through, cut_off, shadow, holes, uneven, screen] = b;
    return {{"contrast", contrast}, {"show_through", show_through},
            {"cut_off", cut_off},   {"shadow", shadow},
            {"holes", holes},       {"uneven", uneven},
            {"screen", screen}};
}
Blemishes blemishes_from_json(const json& j) {
    Blemishes b;
    auto& [contrast, show_through, cut_off, shadow, holes, uneven, screen] = b;
    contrast = j.value("contrast", 0.0);
    show_through = j.value("show_through", 0.0);
    cut_off = j.value("cut_off", cut_off);
    shadow = j.value("shadow", shadow);
    holes = j.value("holes", 0);
    uneven = j.value("uneven", 0.0);
    screen = j.value("screen", 0.0);
    return b;
}
}

json to_json(const Notices& n) {
    const auto& [tilt, by_text, across, letters, turn, ink_percent, writing, in_doubt, ink, kind, regions, sheet,
                 framed, paper, blemishes, eyes, askew, barcodes] = n;
    const auto& [least, colour_mm2, tone_percent, solid_percent, faint_mm2] = ink;
    json all = json::array();
    for (const Region& r : regions) all.push_back({r.x_mm, r.y_mm, r.w_mm, r.h_mm, r.angle_degrees});
    return {{"tilt", optional_json(tilt)},
            {"by_text", by_text},
            {"across", across},
            {"letters", letters},
            {"turn", optional_json(turn)},
            {"ink_percent", ink_percent},
            {"writing", writing},
            {"in_doubt", in_doubt},
            {"least_ink", static_cast<int>(least)},
            {"colour_mm2", colour_mm2},
            {"tone_percent", tone_percent},
            {"solid_percent", solid_percent},
            {"faint_mm2", faint_mm2},
            {"kind", static_cast<int>(kind)},
            {"regions", all},
            {"barcodes", barcodes},
            {"framed", framed},
            {"paper", paper},
            {"blemishes", blemishes_json(blemishes)},
            {"eyes", spots_json(eyes)},
            {"askew", corners_json(askew)},
            {"sheet", sheet ? json{sheet->x_mm, sheet->y_mm, sheet->w_mm, sheet->h_mm, sheet->angle_degrees} : json()}};
}

Notices notices_from_json(const json& j) {
    Notices n;
    auto& [tilt, by_text, across, letters, turn, ink_percent, writing, in_doubt, ink, kind, regions, sheet, framed,
           paper, blemishes, eyes, askew, barcodes] = n;
    auto& [least, colour_mm2, tone_percent, solid_percent, faint_mm2] = ink;
    tilt = optional_from<double>(j, "tilt");
    by_text = j.value("by_text", false);
    across = j.value("across", false);
    letters = j.value("letters", 0);
    turn = optional_from<int>(j, "turn");
    ink_percent = j.value("ink_percent", 0.0);
    writing = j.value("writing", false);
    in_doubt = j.value("in_doubt", false);
    least = choice_from_json(j.value("least_ink", json(1)), Ink::Black);
    colour_mm2 = j.value("colour_mm2", 0.0);
    tone_percent = j.value("tone_percent", 0.0);
    solid_percent = j.value("solid_percent", 0.0);
    faint_mm2 = j.value("faint_mm2", 0.0);
    kind = choice_from_json(j.value("kind", json(0)), PageKind::Mixed);
    for (const json& r : j.value("regions", json::array()))
        regions.push_back({r.at(0), r.at(1), r.at(2), r.at(3), r.at(4)});
    framed = j.value("framed", false);
    paper = j.value("paper", std::string());
    barcodes = j.value("barcodes", std::vector<std::string>{});
    blemishes = blemishes_from_json(j.value("blemishes", json::object()));
    eyes = spots_from_json(j.value("eyes", json::array()));
    if (const json c = j.value("askew", json()); c.is_array() && c.size() == 8)
        askew = Corners{PointMm{c[0], c[1]}, {c[2], c[3]}, {c[4], c[5]}, {c[6], c[7]}};
    if (const json r = j.value("sheet", json()); r.is_array() && r.size() == 5)
        sheet = Region{r[0], r[1], r[2], r[3], r[4]};
    return n;
}

}
