// Pages of PDFs that are scans: one picture that covers the page, the strips or tiles of one, or stencils over a
// background, with nothing else that shows. Such a page is taken as the dots that its file holds. Internal to PdfPages.
#pragma once

#include "core/raster/pdf_marks.h"
#include "core/raster/raster.h"

#include <optional>
#include <string>

namespace yelvin {

struct PdfLook {
    PdfMarks marks;
    cv::Rect2d box; // shown_box()
    int turned = 0; // clockwise, as the page is shown: 0, 90, 180 or 270
    // The resolution of the one picture that covers the page, whether it can be taken or not; the finer one where they
    // differ. Empty: no picture covers it.
    std::optional<double> picture_dpi;
    // Whether the pictures make up the whole page and nothing else shows: then scan_of() may take its dots.
    bool is_scan = false;
};

// Looks at what the page draws, without decoding it. Throws what QPDF throws.
PdfLook look_at_pdf_page(const QPDFPageObjectHelper& page);

// The size of the page as it is shown, turned, in pt.
cv::Size2d shown_size(const PdfLook& look);

// Where the picture lies on the page as it is shown: from the unit square, in pt, from the lower left corner. One that
// covers the page to within a point is given exactly the page.
PdfMatrix matrix_as_shown(const PdfLook& look, const PdfPicture& picture);

// The page's dots as they are in the file, with its resolution. A single picture and stripes are taken bit for bit,
// turned as the page is shown and cut to its crop box at whole dots; where a stencil or a soft mask lies over a
// background, the finest of them sets the resolution and keeps its dots, and what is coarser is enlarged to it.
// Returns nullopt unless look.is_scan, and where a picture cannot be decoded here: then the page is to be drawn.
std::optional<Raster> scan_of(const PdfLook& look);

// Most pages hold a fraction of a dot more or less than a whole resolution: it is rounded where it lies within 0.3 %.
double whole_dpi_near(double dpi);

}
