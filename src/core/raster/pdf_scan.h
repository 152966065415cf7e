// Recognising pages of PDFs that are scans (one picture that covers the page, its strips or tiles, or stencils over a
// background, and nothing else that is visible), and taking their pixels unchanged. Internal to PdfPages.
#pragma once

#include "core/raster/pdf_marks.h"
#include "core/raster/raster.h"

#include <optional>
#include <string>

namespace yelvin {

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

// Interprets the page without decoding its pictures. Throws QPDF's exceptions.
PdfLook look_at_pdf_page(const QPDFPageObjectHelper& page);

// Returns the size of the page as it is shown, after its rotation, in pt.
cv::Size2d shown_size(const PdfLook& look);

// Returns the map from the unit square to the picture's place on the page as it is shown, in pt from the lower left
// corner. A picture that covers the page to within 1 pt is mapped to exactly the page.
PdfMatrix matrix_as_shown(const PdfLook& look, const PdfPicture& picture);

// Returns the page's pixels as they are in the file, with their resolution. A single picture and strips are taken bit
// for bit, rotated as the page is shown and cropped to its crop box at whole pixels. If a stencil or a soft mask lies
// over a background, the finest of them determines the resolution and keeps its pixels, and coarser ones are enlarged
// to it. Returns nullopt if look.is_scan is false or a picture cannot be decoded here, so that the page must be drawn.
std::optional<Raster> scan_of(const PdfLook& look);

// Rounds a resolution to a whole number if it is within 0.3 % of one: most pages differ from it by a fraction of a
// pixel.
double whole_dpi_near(double dpi);

}
