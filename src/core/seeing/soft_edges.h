// How soft the edges of marks are, measured so that the grain of the paper and of the sensor does not count. Internal
// to seeing.
#pragma once

#include <opencv2/core.hpp>

namespace yelvin {

// The energy of the grey level's gradient (the sum of its squares) after smoothing by a narrow and by a wide Gaussian.
// Smoothing weakens a crisp edge more than a soft one: per unit of length an edge of standard deviation s has the
// energy h² / (2 sqrt(pi (s² + t²))) after a Gaussian of t (h is its height).
struct EdgeEnergy {
    double narrow = 0, wide = 0;
    int dots = 0; // it was summed over so many
    EdgeEnergy& operator+=(const EdgeEnergy& other);
};

class SoftEdges {
  public:
    // `grey` is CV_8UC1 and must outlive this. The grain is measured by the emptiest quarter of the page.
    explicit SoftEdges(const cv::Mat& grey);

    // Over the dots of `where` (CV_8UC1, not 0) whose first dot is at `at` of the page, less what the grain has there.
    EdgeEnergy energy(const cv::Mat1b& where, cv::Point at) const;

    // The standard deviation of the edges' blur, dots, of strokes that are `stroke` dots wide at half their height; 0
    // for edges that are crisper than any lens shows, and `softest` where hardly anything but grain is seen.
    static double blur_of(const EdgeEnergy& energy, double stroke);
    static constexpr double softest = 9;
    double narrow_grain() const { return narrow_grain_; } // energy of a dot of bare paper

  private:
    const cv::Mat& grey_;
    double narrow_grain_ = 0, wide_grain_ = 0;
};

}
