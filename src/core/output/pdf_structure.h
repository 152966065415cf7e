// What a PDF says about its pages besides them: structure, bookmarks, page labels, metadata, as QPDF's objects.
#pragma once

#include "core/output/pdf_tags.h"

#include <qpdf/QPDF.hh>

#include <ctime>

namespace yelvin {

// The structure tree (ISO 32000-2, 14.7): its elements and the way back from marked content to them.
class PdfStructure {
  public:
    explicit PdfStructure(QPDF& pdf);
    // `sheet` is the page's indirect dictionary.
    void add(QPDFObjectHandle sheet, const PdfTags& tags, double height_pt, double dpi);
    void finish(); // the catalog knows the tree, if any page had words

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
// The outline (12.3.3); a bookmark hangs below the nearest one before it with a smaller level.
void add_bookmarks(QPDF& pdf, const std::vector<PdfBookmark>& bookmarks);
std::vector<PdfBookmark> bookmarks_of(const PageText& text, const QPDFObjectHandle& sheet, double height_pt,
                                      double dpi);

// Labels (12.4.2) as printed on most of the pages that have a number printed on them, if those agree; what comes before
// page 1 gets small Roman numbers. `printed`: of each page, if any.
void add_page_labels(QPDF& pdf, const std::vector<std::optional<int>>& printed);

struct PdfAbout {
    std::string title, author, subject, keywords; // each may be empty
    std::string language;                         // by BCP 47; may be empty
    std::time_t made = 0;
};
// The information dictionary (14.3.3).
QPDFObjectHandle pdf_information(const PdfAbout& about);
// What an archive asks of composite fonts, and not everybody writes: which glyph each code is (ISO 19005-1, 6.3.3.2),
// and which codes are in a part of a font (6.3.5).
void complete_fonts(QPDF& pdf);
// What makes an archive's file of it: metadata that say the same as the information dictionary (ISO 16684-1), and which
// colours are meant. `part` 1 or 2 of ISO 19005, `level` its letter.
void add_archive_parts(QPDF& pdf, const PdfAbout& about, int part, char level);

}
