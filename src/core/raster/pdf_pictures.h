// The pictures of a scanned PDF page as a PDF of their own, so that they go into a new file with the bytes that they
// have: nothing is decoded and compressed once more.
#pragma once

#include "core/raster/pdf_scan.h"

#include <string>

namespace yelvin {

// A PDF of one page that shows the pictures of `look` as the page is shown, and nothing else: no words, no metadata.
// Its sheet has the size of the shown page. `look` must be a scan. Throws what QPDF throws.
std::string pictures_alone(const PdfLook& look);

// Puts the pictures of such a page into `to`: a form (ISO 32000-1, 8.10) that fills the unit square, or the picture
// itself where there is but one. Its streams are held in memory by `to`. Throws what QPDF throws.
QPDFObjectHandle picture_in_unit_square(QPDF& to, const std::string& pictures);

// Whether such a page may go into an archive file (ISO 19005-1, 6.1.10, 6.2 and 6.4): codings, colours and masks that
// every part of the standard allows.
bool may_be_archived(const std::string& pictures);

}
