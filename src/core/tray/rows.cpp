#include "core/tray/rows.h"

#include "core/developing/recipe_json.h"
#include "core/seeing/notices_json.h"

using nlohmann::json;

namespace yelvin {

json page_json(const Page& page) {
    json out{{"original",
              {{"file", page.original.file},
               {"width", page.original.width_px},
               {"height", page.original.height_px},
               {"dpi", page.original.dpi},
               {"ink", static_cast<int>(page.original.ink)}}},
             {"noticed", page.noticed},
             {"notices", to_json(page.notices)},
             {"recipe", to_json(page.recipe)},
             {"touched", page.recipe_touched},
             {"sheet", page.sheet},
             {"back", page.back},
             {"dropped", static_cast<int>(page.dropped)},
             {"dropped_by_hand", page.dropped_by_hand}};
    for (const PagePtr& piece : page.pieces) {
        out["pieces"].push_back(page_json(*piece));
        out["pieces"].back()["id"] = piece->id;
    }
    return out;
}

Page page_from_json(const std::string& id, const json& j) {
    const json& o = j.at("original");
    std::vector<PagePtr> pieces;
    for (const json& piece : j.value("pieces", json::array()))
        pieces.push_back(std::make_shared<const Page>(page_from_json(piece.at("id"), piece)));
    return {id,
            {o.at("file"), o.at("width"), o.at("height"), o.at("dpi"), static_cast<Ink>(o.at("ink").get<int>())},
            j.value("noticed", false),
            notices_from_json(j.value("notices", json::object())),
            recipe_from_json(j.value("recipe", json::object())),
            j.value("touched", false),
            j.value("sheet", 0),
            j.value("back", false),
            static_cast<Dropped>(j.value("dropped", 0)),
            j.value("dropped_by_hand", false),
            std::move(pieces)};
}

}
