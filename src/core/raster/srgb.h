// The transfer function of sRGB (IEC 61966-2-1:1999, 4.2) between stored levels and linear light. Pure functions.
#pragma once

#include <cmath>

namespace yelvin {

// Arguments and results are from 0 to 1.
inline double light_of(double stored) {
    return stored <= 0.04045 ? stored / 12.92 : std::pow((stored + 0.055) / 1.055, 2.4);
}
inline double stored_of(double light) {
    return light <= 0.0031308 ? light * 12.92 : 1.055 * std::pow(light, 1 / 2.4) - 0.055;
}

}
