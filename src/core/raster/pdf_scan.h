// Recognising pages of PDFs that are scans (one picture that covers the page, its strips or tiles, or stencils over a
// background, and nothing else that is visible), and taking their pixels unchanged. Internal to PdfPages.
#pragma once

#include "core/raster/pdf_placement.h"
#include "core/raster/raster.h"

#include <optional>
#include <string>

namespace yelvin {

// Interprets the page without decoding its pictures. Throws QPDF's exceptions.
PdfLook look_at_pdf_page(const QPDFPageObjectHelper& page);

// Returns the page's pixels as they are in the file, with their resolution. A single picture and strips are taken bit
// for bit, rotated as the page is shown and cropped to its crop box at whole pixels. If a stencil or a soft mask lies
// over a background, the finest of them determines the resolution and keeps its pixels, and coarser ones are enlarged
// to it. Returns nullopt if look.is_scan is false or a picture cannot be decoded here, so that the page must be drawn.
std::optional<Raster> scan_of(const PdfLook& look);

// Rounds a resolution to a whole number if it is within 0.3 % of one: most pages differ from it by a fraction of a
// pixel.
double whole_dpi_near(double dpi);

}
