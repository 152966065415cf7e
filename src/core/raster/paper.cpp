#include "core/raster/paper.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace yelvin {

std::span<const PaperSize> paper_sizes() {
    static constexpr std::array<PaperSize, 15> sizes{{
        {"A4", {210, 297}},
        {"A5", {148, 210}},
        {"A6", {105, 148}},
        {"A7", {74, 105}},
        {"A3", {297, 420}},
        {"B4", {250, 353}},
        {"B5", {176, 250}},
        {"B6", {125, 176}},
        {"Letter", {215.9, 279.4}},
        {"Legal", {215.9, 355.6}},
        {"Ledger", {279.4, 431.8}},
        {"Statement", {139.7, 215.9}},
        {"Card", {85.6, 53.98}},
        {"Postcard", {100, 148}},
        {"Till roll", {80, 297}},
    }};
    return sizes;
}

std::optional<PaperSize> find_paper(std::string_view name) {
    const auto same = [](char a, char b) { return std::tolower(a) == std::tolower(b); };
    for (const PaperSize& paper : paper_sizes()) {
        if (std::ranges::equal(paper.name, name, same)) return paper;
    }
    return std::nullopt;
}

std::optional<PaperSize> nearest_paper(SizeMm size, double tolerance_mm) {
    std::optional<PaperSize> best;
    double best_error = tolerance_mm;
    for (const PaperSize& paper : paper_sizes()) {
        const auto error = [&](double w, double h) {
            return std::max(std::abs(w - paper.size.width), std::abs(h - paper.size.height));
        };
        const double nearest = std::min(error(size.width, size.height), error(size.height, size.width));
        if (nearest <= best_error) {
            best_error = nearest;
            best = paper;
        }
    }
    return best;
}

}
