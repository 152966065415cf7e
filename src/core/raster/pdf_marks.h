// What a page of a PDF draws: its pictures, each with its place, and whether it shows text or lines as well. Internal
// to PdfPages.
//
// The page's content stream is followed as ISO 32000-1, 8 and 9 define it, into the forms that it draws. Marks that a
// later picture hides completely do not count: some programs put the words of a scan under its picture.
#pragma once

#include <opencv2/core.hpp>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <array>
#include <optional>
#include <vector>

namespace yelvin {

// An affine map of PDF: (x, y) becomes (a x + c y + e, b x + d y + f). y points up.
struct PdfMatrix {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
    cv::Point2d at(double x, double y) const { return {a * x + c * y + e, b * x + d * y + f}; }
};
// The map that applies `first` and then `second`.
PdfMatrix operator*(const PdfMatrix& first, const PdfMatrix& second);

// The upright rectangle around the unit square after a map: where a picture comes to lie.
cv::Rect2d unit_square_in(const PdfMatrix& matrix);

struct PdfPicture {
    QPDFObjectHandle image; // a stream; shares the document's life
    PdfMatrix matrix;       // from the unit square to the page, in pt
    cv::Rect2d shown;       // the part of the page on which it is shown: its place within the clip
    std::optional<std::array<double, 3>> fill_rgb; // 0 to 1: what a stencil is painted with; empty: a colour space that
                                                   // is not followed here
};

struct PdfMarks {
    std::vector<PdfPicture> pictures;
    size_t letters = 0;        // bytes of visible text
    size_t paths = 0;          // paths that are filled or stroked, and shadings
    bool is_understood = true; // false: transparency, patterns or clips by curves, inline pictures, layers
    bool has_only_pictures() const { return is_understood && letters == 0 && paths == 0; }
};

// The part of a page that is shown: its crop box within its media box (ISO 32000-1, 14.11.2), in pt.
cv::Rect2d shown_box(QPDFPageObjectHelper page);

// Follows all marks of the page. Throws what QPDF throws where the page cannot be parsed.
PdfMarks marks_of(QPDFPageObjectHelper page);

}
