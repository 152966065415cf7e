// The median of numbers.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace yelvin {

// Returns the median of `values`: the upper of the two middle values if their count is even, 0 if there are none.
inline double median_of(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, middle);
    return *middle;
}

}
