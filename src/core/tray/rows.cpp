#include "core/tray/rows.h"

#include "core/developing/recipe_json.h"
#include "core/json_text.h"
#include "core/seeing/notices_json.h"

#include <stdexcept>

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
    if (page.left_alone) out["left_alone"] = true;
    if (page.incomplete) out["incomplete"] = true;
    if (!page.ticket.empty()) out["ticket"] = page.ticket;
    if (!page.text.empty()) out["text"] = to_json(page.text);
    for (const PagePtr& piece : page.pieces) {
        out["pieces"].push_back(page_json(*piece));
        out["pieces"].back()["id"] = piece->id;
    }
    return out;
}

std::string row_of(const Page& page) { return page_json(page).dump(-1, ' ', false, json::error_handler_t::replace); }

bool is_original_name(const std::string& file) {
    return file.size() > 4 && file.size() < 100 && file.ends_with(".tif") && file.find('/') == std::string::npos &&
           file.find('\0') == std::string::npos && file.front() != '.';
}

namespace {

constexpr int deepest_pieces = 16; // A piece of a stitched page may itself be stitched.
constexpr int longest_side_px = 1 << 20;

Original original_from_json(const json& o) {
    Original original{o.at("file"), o.at("width"), o.at("height"), o.at("dpi"),
                      choice_from_json(o.at("ink"), Ink::Black)};
    const auto side = [](int px) { return px > 0 && px <= longest_side_px; };
    if (!is_original_name(original.file) || !side(original.width_px) || !side(original.height_px) ||
        !(original.dpi >= 1 && original.dpi <= 100'000))
        throw std::range_error("an original that cannot be");
    return original;
}

Page page_from_json(const std::string& id, const json& j, int depth) {
    if (id.empty() || depth > deepest_pieces) throw std::range_error("a page that cannot be");
    std::vector<PagePtr> pieces;
    if (const auto at = j.find("pieces"); at != j.end()) {
        for (const json& piece : *at)
            pieces.push_back(std::make_shared<const Page>(page_from_json(piece.at("id"), piece, depth + 1)));
    }
    return {id,
            original_from_json(j.at("original")),
            j.value("noticed", false),
            notices_from_json(j.value("notices", json::object())),
            recipe_from_json(j.value("recipe", json::object())),
            j.value("touched", false),
            j.value("sheet", 0),
            j.value("back", false),
            choice_from_json(j.value("dropped", json(0)), Dropped::Separator),
            j.value("dropped_by_hand", false),
            std::move(pieces),
            j.value("left_alone", false),
            text_edits_from_json(j.value("text", json::object())),
            j.value("incomplete", false),
            j.value("ticket", std::string())};
}

}

Page page_from_json(const std::string& id, const json& json) { return page_from_json(id, json, 0); }

}
