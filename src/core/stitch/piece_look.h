// What finding the place of a piece needs of it: reduced copies, features and outline. Computed once, immutable,
// shared, and small compared with the piece.
#pragma once

#include "core/raster/raster.h"

#include <opencv2/core.hpp>

#include <memory>
#include <string>
#include <vector>

namespace yelvin {

// A copy of a piece at some resolution. The centre of pixel (i, j) is at ((i + 0.5) · mm_x, (j + 0.5) · mm_y).
struct LookLevel {
    cv::Mat pixels;
    double mm_x = 0, mm_y = 0;

    cv::Point2d mm(cv::Point2d pixel) const { return {(pixel.x + 0.5) * mm_x, (pixel.y + 0.5) * mm_y}; }
    cv::Point2d pixel(cv::Point2d mm) const { return {mm.x / mm_x - 0.5, mm.y / mm_y - 0.5}; }
};

// A distinctive place (SIFT: D. Lowe, Int. J. Computer Vision 60(2), 2004).
struct Feature {
    cv::Point2d at;     // mm
    double radians = 0; // its direction, clockwise
    double size_mm = 0;
};

inline constexpr double coarse_look_dpi = 75, fine_look_dpi = 300;

inline constexpr double cell_mm = 4;
enum Side : unsigned char { LeftSide = 1, UpperSide = 2, RightSide = 4, LowerSide = 8 };

struct PieceLook {
    std::string name; // in reasons
    int width_px = 0, height_px = 0;
    double dpi = 300;
    Ink ink = Ink::Colour;
    SizeMm size;
    LookLevel colour; // 75 dpi, BGR or grey, for tones and for display
    LookLevel coarse; // the same in grey, CV_32F, blurred by one pixel
    LookLevel soft;   // blurred by three pixels
    LookLevel fine;   // grey, CV_8U, at 300 dpi or the piece's own resolution if that is lower
    // For each cell of 4 mm: the sides (bits of Side) on which a straight edge has nothing beyond it up to the border
    // of the piece. The edge of paper against the lid is such an edge; it fits any other, so it is no evidence.
    cv::Mat outline;  // CV_8U
    int cell_px = 12; // of `coarse`
    std::vector<Feature> features;
    cv::Mat descriptors; // CV_8U, a row of 128 each
};
using PieceLookPtr = std::shared_ptr<const PieceLook>;

// Returns the sides of the outline at or next to a place of the piece; 0 if there is none.
unsigned outline_at(const PieceLook& look, cv::Point2d mm);
// Returns the sides after a turn by the nearest multiple of 90 degrees.
unsigned turned_sides(unsigned sides, double radians);

// Computes the look of a raster of at least 50 dpi. May be called on any thread.
PieceLookPtr look_at_piece(const std::string& name, const Raster& piece);

}
