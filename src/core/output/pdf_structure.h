// The parts of a PDF besides its pages: structure tree, bookmarks, page labels, metadata, as QPDF objects. Internal to
// core/output.
#pragma once

#include "core/output/pdf_tags.h"

#include <qpdf/QPDF.hh>

#include <ctime>

namespace yelvin {

// Builds the structure tree (ISO 32000-2, 14.7) and the parent tree from marked content to its elements.
class PdfStructure {
  public:
    explicit PdfStructure(QPDF& pdf);
    // `sheet` is the page's indirect dictionary.
    void add(QPDFObjectHandle sheet, const PdfTags& tags, double height_pt, double dpi);
    void finish(); // adds the tree to the catalog if any page has text

  private:
    QPDF& pdf_;
    QPDFObjectHandle root_, document_, parents_;
    int pages_ = 0;
    bool has_words_ = false;

    QPDFObjectHandle element(const PdfTag& tag, QPDFObjectHandle& parent, QPDFObjectHandle& sheet,
                             std::vector<QPDFObjectHandle>& of_marks, const cv::Matx23d& to_pt);
};

struct PdfBookmark {
    std::string title;
    int level = 1; // 1 to 3
    QPDFObjectHandle sheet;
    double top_pt = 0;
};
// Adds the outline (12.3.3). A bookmark is a child of the nearest one before it with a smaller level.
void add_bookmarks(QPDF& pdf, const std::vector<PdfBookmark>& bookmarks);
std::vector<PdfBookmark> bookmarks_of(const PageText& text, const QPDFObjectHandle& sheet, double height_pt,
                                      double dpi);

// Adds page labels (12.4.2) as printed on the pages, if most of those with a number agree; pages before page 1 get
// small Roman numerals. `printed` has the number printed on each page, if any.
void add_page_labels(QPDF& pdf, const std::vector<std::optional<int>>& printed);

struct PdfAbout {
    std::string title, author, subject, keywords; // each may be empty
    std::string language;                         // by BCP 47; may be empty
    std::time_t made = 0;
};
// Returns the information dictionary (14.3.3).
QPDFObjectHandle pdf_information(const PdfAbout& about);
// Adds what PDF/A requires of composite fonts and not every program writes: CIDToGIDMap (ISO 19005-1, 6.3.3.2) and
// CIDSet of subset fonts (6.3.5).
void complete_fonts(QPDF& pdf);
// Adds what makes the file PDF/A: XMP metadata equal to the information dictionary (ISO 16684-1) and an output intent.
// `part` is 1 or 2 of ISO 19005, `level` its letter.
void add_archive_parts(QPDF& pdf, const PdfAbout& about, int part, char level);

}
