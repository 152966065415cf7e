#include "core/developing/recipe_json.h"
#include "core/json_text.h"
#include "core/text/text_edits.h"

using nlohmann::json;

namespace yelvin {

namespace {

json to_json(cv::Point2d point) { return {point.x, point.y}; }
cv::Point2d point_from_json(const json& j) { return {j.at(0).get<double>(), j.at(1).get<double>()}; }

json to_json(const ParagraphEdit& edit) {
    json out{{"at", to_json(edit.at)}};
    if (edit.kind) out["kind"] = static_cast<int>(*edit.kind);
    if (edit.left_out) out["left_out"] = true;
    if (edit.read_again)
        out["read"] = {{"recipe", to_json(edit.read_again->read_as)}, {"layer", to_json(edit.read_again->layer)}};
    return out;
}

ParagraphEdit paragraph_edit_from_json(const json& j) {
    ParagraphEdit edit{point_from_json(j.at("at")), {}, j.value("left_out", false), {}};
    if (const auto kind = j.find("kind"); kind != j.end()) edit.kind = choice_from_json(*kind, ParagraphKind::Table);
    if (const auto read = j.find("read"); read != j.end())
        edit.read_again = std::make_shared<const PartRead>(
            PartRead{recipe_from_json(read->at("recipe")), text_layer_from_json(read->at("layer"))});
    return edit;
}

}

json to_json(const TextEdits& edits) {
    json out = json::object();
    if (!edits.languages.empty()) out["languages"] = edits.languages;
    for (const WordEdit& w : edits.words)
        out["words"].push_back({w.middle.x, w.middle.y, w.width, w.height, w.was, w.is, w.was_doubtful});
    for (const ParagraphEdit& edit : edits.paragraphs) out["paragraphs"].push_back(to_json(edit));
    for (const cv::Point2d at : edits.order) out["order"].push_back(to_json(at));
    return out;
}

TextEdits text_edits_from_json(const json& j) {
    TextEdits edits;
    edits.languages = j.value("languages", std::vector<std::string>{});
    for (const json& w : j.value("words", json::array()))
        edits.words.push_back({{w.at(0), w.at(1)}, w.at(2), w.at(3), w.at(4), w.at(5), w.at(6).get<bool>()});
    for (const json& edit : j.value("paragraphs", json::array()))
        edits.paragraphs.push_back(paragraph_edit_from_json(edit));
    for (const json& at : j.value("order", json::array())) edits.order.push_back(point_from_json(at));
    return edits;
}

}
