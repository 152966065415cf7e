// Where the pictures of a PDF's page lie on the page as it is shown. Pure functions. Internal to PdfPages.
#pragma once

#include "core/raster/pdf_marks.h"

#include <opencv2/core.hpp>

#include <optional>

namespace yelvin {

inline constexpr double rim_pt = 0.75; // pages' sizes are often rounded to whole points

struct PdfLook {
    PdfMarks marks;
    cv::Rect2d box; // shown_box()
    int turned = 0; // clockwise rotation of the page: 0, 90, 180 or 270
    // The resolution in dpi of the one picture that covers the page, the finer one if it differs by direction; nullopt
    // if no picture covers the page.
    std::optional<double> picture_dpi;
    // Whether the pictures make up the whole page and nothing else is visible, so that scan_of() can take its pixels.
    bool is_scan = false;
};

// The placement of a picture on the shown page, with y pointing down: the vectors of its width and its height.
struct PicturePlacement {
    cv::Point2d along, down; // of the whole picture, pt
    cv::Rect2d place;        // pt, from the upper left corner of the shown page
};

PicturePlacement placement_of(const PdfLook& look, const PdfPicture& picture);
// Whether the picture is rotated by 90 or 270 degrees.
bool lies_on_its_side(const PicturePlacement& placement);
// Whether the placement is only a rotation by multiples of 90 degrees and a reflection, so that pixels need no
// interpolation.
bool is_upright(const PicturePlacement& placement);
// Whether a rectangle covers a page, to within rim_pt.
bool covers(const cv::Rect2d& place, cv::Size2d page);

// Returns the picture's size in its own pixels; 0 where the file does not say it.
cv::Size pixels_of(const PdfPicture& picture);
// Returns the horizontal and vertical resolution of the picture on the shown page.
cv::Size2d dpi_of(const PdfPicture& picture, const PicturePlacement& placement);
// Rotates and reflects pixels as the placement does. May use the memory of `pixels`.
cv::Mat as_placed(cv::Mat pixels, const PicturePlacement& placement);

// Returns the size of the page as it is shown, after its rotation, in pt.
cv::Size2d shown_size(const PdfLook& look);

// Returns the map from the unit square to the picture's place on the page as it is shown, in pt from the lower left
// corner. A picture that covers the page to within 1 pt is mapped to exactly the page.
PdfMatrix matrix_as_shown(const PdfLook& look, const PdfPicture& picture);

}
