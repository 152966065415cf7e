// Measuring how soft the edges of marks are, independently of the grain of paper and sensor. Internal to core/seeing.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// The energy of the grey levels' gradient (the sum of its squares) after smoothing by a narrow and by a wide Gaussian.
// Smoothing weakens a crisp edge more than a soft one: per unit of length, an edge of height h and standard deviation s
// has the energy h² / (2 sqrt(pi (s² + t²))) after a Gaussian of t.
struct EdgeEnergy {
    double narrow = 0, wide = 0;
    int pixels = 0; // it was summed over so many
    EdgeEnergy& operator+=(const EdgeEnergy& other);
};

class SoftEdges {
  public:
    // `grey` is CV_8UC1 and must outlive this object. The grain is measured on the emptiest quarter of the page.
    explicit SoftEdges(const cv::Mat& grey);

    // Returns the energy over the pixels that are not 0 in `where` (CV_8UC1), whose first pixel is at `at` of the page,
    // less the energy of the grain.
    EdgeEnergy energy(const cv::Mat1b& where, cv::Point at) const;

    // Returns the standard deviation of the blur in pixels, for strokes that are `stroke` pixels wide at half their
    // height; 0 for edges crisper than any lens shows, `softest` if there is hardly anything but grain.
    static double blur_of(const EdgeEnergy& energy, double stroke);
    static constexpr double softest = 9;
    double narrow_grain() const { return narrow_grain_; } // energy of one pixel of bare paper

  private:
    const cv::Mat& grey_;
    double narrow_grain_ = 0, wide_grain_ = 0;
};

}
