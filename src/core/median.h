// The middle one of some numbers.
#pragma once

#include <algorithm>
#include <cstddef>
#include <vector>

namespace yelvin {

// Of an even number the upper of the two in the middle; 0 of none.
inline double median_of(std::vector<double> values) {
    if (values.empty()) return 0;
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::ranges::nth_element(values, middle);
    return *middle;
}

}
