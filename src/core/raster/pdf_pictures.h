// Carrying the pictures of a scanned PDF page into a new PDF with their compressed bytes unchanged. The functions may
// be called on any thread; a QPDF is used by one at a time.
#pragma once

#include "core/raster/pdf_scan.h"

#include <string>

namespace yelvin {

// Returns a one-page PDF of the size of the visible page that shows the pictures of `look` and nothing else: no text,
// no metadata. `look.is_scan` must be true. Throws QPDF's exceptions.
std::string pictures_alone(const PdfLook& look);

// Copies the pictures of such a page into `to` and returns a form (ISO 32000-1, 8.10) that fills the unit square, or
// the picture itself if there is only one. `to` holds the streams in memory. Throws QPDF's exceptions.
QPDFObjectHandle picture_in_unit_square(QPDF& to, const std::string& pictures);

// Whether such a page may be part of a PDF/A file: it has only codings, colours and masks that every part of the
// standard allows (ISO 19005-1, 6.1.10, 6.2 and 6.4).
bool may_be_archived(const std::string& pictures);

}
