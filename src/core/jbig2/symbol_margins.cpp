#include "core/jbig2/symbol_margins.h"

#include <algorithm>
#include <limits>
#include <numeric>
#include <optional>

namespace yelvin {

namespace {

// Two symbols that follow each other in a line.
struct Neighbours {
    size_t first = 0, second = 0; // symbols
    int gap = 0;                  // px between their boxes; negative if they overlap
    int lower = 0;                // by how many px the second one's lower edge is lower
};

// Finds the neighbours on one page.
void add_neighbours(std::span<const PlacedSymbol> page, std::vector<Neighbours>& out) {
    constexpr int farthest = 2; // largest gap, relative to the higher one of both
    std::vector<size_t> order(page.size());
    std::iota(order.begin(), order.end(), size_t{0});
    std::ranges::stable_sort(order, {}, [&](size_t i) { return page[i].box.x; });
    int highest = 0;
    for (const PlacedSymbol& each : page) highest = std::max(highest, each.box.height);
    std::vector<size_t> ends; // the last symbol of each line so far
    for (const size_t i : order) {
        const cv::Rect& box = page[i].box;
        std::erase_if(ends, [&](size_t end) { return page[end].box.br().x < box.x - farthest * highest; });
        std::optional<size_t> nearest;
        int least_gap = std::numeric_limits<int>::max();
        for (size_t k = 0; k < ends.size(); ++k) {
            const cv::Rect& before = page[ends[k]].box;
            const int shared = std::min(before.br().y, box.br().y) - std::max(before.y, box.y);
            const int gap = box.x - before.br().x;
            if (2 * shared < std::min(before.height, box.height) || gap >= least_gap ||
                gap > farthest * std::max(before.height, box.height))
                continue;
            least_gap = gap;
            nearest = k;
        }
        if (!nearest) {
            ends.push_back(i);
            continue;
        }
        const PlacedSymbol& before = page[ends[*nearest]];
        out.push_back({before.symbol, page[i].symbol, least_gap, box.br().y - before.box.br().y});
        ends[*nearest] = i;
    }
}

int middle_of(std::vector<int>& values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, middle);
    return *middle;
}

// Replaces each symbol's value by the median of what its neighbours suggest. Symbols without neighbours keep theirs.
template <class Suggest>
void settle(std::vector<int>& values, const std::vector<Neighbours>& pairs, const Suggest& suggest) {
    std::vector<std::vector<int>> suggestions(values.size());
    for (const Neighbours& pair : pairs) suggest(pair, suggestions);
    for (size_t i = 0; i < values.size(); ++i)
        if (!suggestions[i].empty()) values[i] = middle_of(suggestions[i]);
}

// The value below which the given share of all values lies.
int quantile(std::vector<int> values, double share) {
    const auto at = values.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(values.size() - 1) * share);
    std::ranges::nth_element(values, at);
    return *at;
}

}

std::vector<SymbolMargins> margins_for(std::span<const PlacedSymbol> places, size_t count) {
    std::vector<SymbolMargins> out(count);
    std::vector<Neighbours> pairs;
    for (size_t from = 0, to = 0; from < places.size(); from = to) {
        while (to < places.size() && places[to].page == places[from].page) ++to;
        add_neighbours(places.subspan(from, to - from), pairs);
    }
    if (pairs.empty()) return out;

    // The depth of each symbol below its line, and its share of the gaps beside it.
    std::vector<int> depth(count), left(count), right(count);
    constexpr int rounds = 6; // more rounds change hardly anything
    for (int round = 0; round < rounds; ++round) {
        settle(depth, pairs, [&](const Neighbours& pair, auto& suggestions) {
            suggestions[pair.second].push_back(depth[pair.first] + pair.lower);
            suggestions[pair.first].push_back(depth[pair.second] - pair.lower);
        });
        settle(right, pairs, [&](const Neighbours& pair, auto& suggestions) {
            suggestions[pair.first].push_back(pair.gap - left[pair.second]);
        });
        settle(left, pairs, [&](const Neighbours& pair, auto& suggestions) {
            suggestions[pair.second].push_back(pair.gap - right[pair.first]);
        });
    }

    // Margins cannot be negative, so all are counted from nearly the least value. A few exceptions get none.
    std::vector<int> depths;
    for (const Neighbours& pair : pairs) depths.push_back(depth[pair.second]);
    const int deepest = quantile(depths, 0.995), least_left = quantile(left, 0.05), least_right = quantile(right, 0.05);
    constexpr int widest = 20, highest = 80; // px; larger margins mean that a symbol is in no line
    for (size_t i = 0; i < count; ++i) {
        out[i].left = std::clamp(left[i] - least_left, 0, widest);
        out[i].right = std::clamp(right[i] - least_right, 0, widest);
        const int below = deepest - depth[i];
        if (below >= 0 && below <= highest) out[i].bottom = below;
    }
    return out;
}

}
