#include "batch/batch.h"

#include "batch/pages.h"
#include "jobs/page_work.h"

#include <fmt/format.h>

#include <cmath>

namespace yelvin {

namespace {

double rounded(double value) { return std::round(value * 1000) / 1000; }

nlohmann::json described(const std::string& file, int page, const LoadedPage& loaded, const Notices& n,
                         double blank_limit) {
    nlohmann::json regions = nlohmann::json::array();
    for (const Region& r : n.regions) {
        regions.push_back({{"x_mm", rounded(r.x_mm)},
                           {"y_mm", rounded(r.y_mm)},
                           {"w_mm", rounded(r.w_mm)},
                           {"h_mm", rounded(r.h_mm)},
                           {"angle_degrees", rounded(r.angle_degrees)}});
    }
    return {{"file", file},
            {"page", page + 1},
            {"width_px", loaded.raster.width_px()},
            {"height_px", loaded.raster.height_px()},
            {"dpi", loaded.resolution_known ? nlohmann::json(loaded.raster.dpi) : nlohmann::json()},
            {"blank", n.blank(blank_limit)},
            {"ink_percent", rounded(n.ink_percent)},
            {"tilt_degrees", rounded(n.tilt_degrees.value_or(0))},
            {"turn", n.turn_degrees.value_or(0)},
            {"ink", ink_word(n.ink.least)},
            {"kind", kind_word(n.kind)},
            {"regions", std::move(regions)}};
}

}

int run_inspect(const std::vector<std::string>& inputs) {
    const Ticket ticket;
    ReaderPool readers;
    nlohmann::json pages = nlohmann::json::array();
    std::atomic<bool> left_out = false;
    for (const std::string& file : inputs) {
        for (const InputPage& input : pages_of({file}, left_out)) {
            const auto page = loaded(input, left_out);
            if (!page) {
                complain(page.error());
                left_out = true;
                continue;
            }
            pages.push_back(described(file, input.index, *page, noticed(page->raster, ticket, readers),
                                      ticket.pages.blank_limit_percent));
        }
    }
    print(pages, 2);
    return left_out ? 1 : 0;
}

}
