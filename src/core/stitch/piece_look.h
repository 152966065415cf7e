// What finding the place of a piece needs of it: made once, small beside the piece, shared.
#pragma once

#include "core/error.h"
#include "core/raster/raster.h"

#include <opencv2/core.hpp>

#include <memory>
#include <string>
#include <vector>

namespace yelvin {

// A copy of a piece at some resolution. The centre of dot (i, j) lies at ((i + 0.5) · mm_x, (j + 0.5) · mm_y).
struct LookLevel {
    cv::Mat pixels;
    double mm_x = 0, mm_y = 0;

    cv::Point2d mm(cv::Point2d dot) const { return {(dot.x + 0.5) * mm_x, (dot.y + 0.5) * mm_y}; }
    cv::Point2d dot(cv::Point2d mm) const { return {mm.x / mm_x - 0.5, mm.y / mm_y - 0.5}; }
};

// A place that looks like no other around it (SIFT: D. Lowe, Int. J. Computer Vision 60(2), 2004).
struct Feature {
    cv::Point2d at;     // mm
    double radians = 0; // which way it points, clockwise
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
    LookLevel colour; // 75 dpi, BGR or grey, for tones and for laying out on screen
    LookLevel coarse; // the same in grey, CV_32F, softened by one dot
    LookLevel soft;   // softened by three
    LookLevel fine;   // grey, CV_8U, at 300 dpi or the piece's own
    // For each cell of 4 mm: straight edges with nothing at all beyond them up to the piece's own edge, and on which
    // side nothing is (bits of Side). The edge of paper against the lid is one: it fits any other, so it says nothing.
    cv::Mat outline;    // CV_8U
    int cell_dots = 12; // of `coarse`
    std::vector<Feature> features;
    cv::Mat descriptors; // CV_8U, a row of 128 each
};
using PieceLookPtr = std::shared_ptr<const PieceLook>;

// The sides of the outline at a place of the piece, or right beside it; 0 where there is none.
unsigned outline_at(const PieceLook& look, cv::Point2d mm);
// The same sides after a turn by the nearest quarter.
unsigned turned_sides(unsigned sides, double radians);

// Of any raster of 50 dpi and more.
PieceLookPtr look_at_piece(const std::string& name, const Raster& piece);

}
