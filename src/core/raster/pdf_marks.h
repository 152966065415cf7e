// Interprets what a page of a PDF draws: its pictures with their places, and whether it shows text or lines as well.
// Internal to PdfPages.
//
// The content stream and the forms that it draws are interpreted as ISO 32000-1, 8 and 9 define them. Marks that a
// later picture hides completely do not count, because some programs put the text of a scan under its picture.
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

// Returns the bounding box of the mapped unit square, which is where a picture is drawn.
cv::Rect2d unit_square_in(const PdfMatrix& matrix);

struct PdfPicture {
    QPDFObjectHandle image; // a stream; valid as long as its document
    PdfMatrix matrix;       // from the unit square to the page, in pt
    cv::Rect2d shown;       // the part of the page on which it is visible: its place within the clip
    std::optional<std::array<double, 3>> fill_rgb; // the colour of a stencil, 0 to 1; nullopt: in a colour space that
                                                   // is not supported here
};

struct PdfMarks {
    std::vector<PdfPicture> pictures;
    size_t letters = 0;        // bytes of visible text
    size_t paths = 0;          // number of filled or stroked paths and shadings
    bool is_understood = true; // false: transparency, patterns, clips by curves, inline pictures or layers occur
    bool has_only_pictures() const { return is_understood && letters == 0 && paths == 0; }
};

// Returns the visible part of a page: its crop box within its media box (ISO 32000-1, 14.11.2), in pt.
cv::Rect2d shown_box(QPDFPageObjectHelper page);

// Interprets the page. Throws QPDF's exceptions if the page cannot be parsed.
PdfMarks marks_of(QPDFPageObjectHelper page);

}
