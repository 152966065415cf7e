// The median of numbers.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace yelvin {

// The median of `values`; the upper of the two middle values where their count is even, and 0 where there are none.
inline double median_of(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, middle);
    return *middle;
}

}
