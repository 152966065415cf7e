#include "core/text/text_layer.h"

#include "core/text/word_order.h"

using nlohmann::json;

namespace yelvin {

int TextLayer::word_count() const {
    size_t count = 0;
    for (const TextLine& line : lines) count += line.words.size();
    return static_cast<int>(count);
}

std::string TextLayer::text() const {
    std::string out;
    for (const TextLine& line : lines) {
        for (size_t i = 0; i < line.words.size(); ++i) {
            out += line.words[i].text;
            out += i + 1 < line.words.size() ? space_between(line.words[i], line.words[i + 1]) : "\n";
        }
    }
    return out;
}

json to_json(const TextLayer& layer) {
    json lines = json::array();
    for (const TextLine& line : layer.lines) {
        json words = json::array();
        for (const Word& w : line.words)
            words.push_back({w.text, w.box.x, w.box.y, w.box.width, w.box.height, w.confidence, w.bold});
        lines.push_back(
            {{"base", {line.baseline_start.x, line.baseline_start.y, line.baseline_end.x, line.baseline_end.y}},
             {"reach", {line.ascent_px, line.descent_px}},
             {"words", std::move(words)},
             {"language", line.language}});
    }
    return {{"width", layer.width_px},
            {"height", layer.height_px},
            {"language", layer.language},
            {"turned", layer.turned_degrees},
            {"lines", std::move(lines)}};
}

TextLayer text_layer_from_json(const json& j) {
    TextLayer layer;
    layer.width_px = j.value("width", 0);
    layer.height_px = j.value("height", 0);
    layer.language = j.value("language", "");
    layer.turned_degrees = j.value("turned", 0);
    for (const json& l : j.value("lines", json::array())) {
        const json &base = l.at("base"), &reach = l.at("reach");
        TextLine line{{},          {base.at(0), base.at(1)}, {base.at(2), base.at(3)}, reach.at(0),
                      reach.at(1), l.value("language", "")};
        for (const json& w : l.at("words"))
            line.words.push_back(
                {w.at(0), {w.at(1), w.at(2), w.at(3), w.at(4)}, w.at(5), w.size() > 6 && w.at(6).get<bool>()});
        layer.lines.push_back(std::move(line));
    }
    return layer;
}

}
