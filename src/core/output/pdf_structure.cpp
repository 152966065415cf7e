#include "core/output/pdf_structure.h"

#include "core/output/flow.h"
#include "core/raster/units.h"
#include "core/text/text_places.h"

#include <fmt/format.h>
#include <qpdf/QPDFObjectHandle.hh>

#include <map>

namespace yelvin {

namespace {

using Handle = QPDFObjectHandle;

Handle name(const std::string& plain) { return Handle::newName("/" + plain); }

}

PdfStructure::PdfStructure(QPDF& pdf)
    : pdf_(pdf), root_(pdf.makeIndirectObject(Handle::parse("<< /Type /StructTreeRoot >>"))),
      document_(pdf.makeIndirectObject(Handle::parse("<< /Type /StructElem /S /Document /K [] >>"))),
      parents_(Handle::newArray()) {
    document_.replaceKey("/P", root_);
    root_.replaceKey("/K", Handle::newArray({document_}));
}

Handle PdfStructure::element(const PdfTag& tag, Handle& parent, Handle& sheet, std::vector<Handle>& of_marks,
                             const cv::Matx23d& to_pt) {
    Handle out = pdf_.makeIndirectObject(Handle::newDictionary());
    out.replaceKey("/S", name(tag.type));
    out.replaceKey("/P", parent);
    out.replaceKey("/Pg", sheet);
    if (!tag.language.empty() && tag.language != "und") out.replaceKey("/Lang", Handle::newString(tag.language));
    if (tag.type == "TH") out.replaceKey("/A", Handle::parse("<< /O /Table /Scope /Column >>"));
    if (!tag.alternative.empty()) out.replaceKey("/Alt", Handle::newUnicodeString(tag.alternative));
    if (tag.box) {
        const cv::Vec2d a = to_pt * cv::Vec3d(tag.box->x, tag.box->br().y, 1),
                        b = to_pt * cv::Vec3d(tag.box->br().x, tag.box->y, 1);
        out.replaceKey(
            "/A", Handle::parse(fmt::format("<< /O /Layout /Placement /Block /BBox [{:.3f} {:.3f} {:.3f} {:.3f}] >>",
                                            a[0], a[1], b[0], b[1])));
    }
    Handle kids = Handle::newArray();
    for (const int mark : tag.marks) {
        kids.appendItem(Handle::newInteger(mark));
        of_marks[static_cast<size_t>(mark)] = out;
    }
    for (const PdfTag& part : tag.parts) kids.appendItem(element(part, out, sheet, of_marks, to_pt));
    out.replaceKey("/K", kids.getArrayNItems() == 1 ? kids.getArrayItem(0) : kids);
    return out;
}

void PdfStructure::add(Handle sheet, const PdfTags& tags, double height_pt, double dpi) {
    const double by = points_per_inch / dpi;
    const cv::Matx23d to_pt(by, 0, 0, 0, -by, height_pt);
    std::vector<Handle> of_marks(tags.marks.size(), Handle::newNull());
    Handle kids = document_.getKey("/K");
    for (const PdfTag& block : tags.blocks) kids.appendItem(element(block, document_, sheet, of_marks, to_pt));
    parents_.appendItem(Handle::newInteger(pages_));
    parents_.appendItem(pdf_.makeIndirectObject(Handle::newArray(of_marks)));
    sheet.replaceKey("/StructParents", Handle::newInteger(pages_++));
    sheet.replaceKey("/Tabs", name("S"));
    has_words_ = has_words_ || !tags.is_figure;
}

void PdfStructure::finish() {
    if (!has_words_) {
        for (Handle sheet : pdf_.getAllPages()) sheet.removeKey("/StructParents"), sheet.removeKey("/Tabs");
        return;
    }
    Handle tree = Handle::newDictionary();
    tree.replaceKey("/Nums", parents_);
    root_.replaceKey("/ParentTree", pdf_.makeIndirectObject(tree));
    root_.replaceKey("/ParentTreeNextKey", Handle::newInteger(pages_));
    pdf_.getRoot().replaceKey("/StructTreeRoot", root_);
    pdf_.getRoot().replaceKey("/MarkInfo", Handle::parse("<< /Marked true >>"));
}

std::vector<PdfBookmark> bookmarks_of(const PageText& text, const Handle& sheet, double height_pt, double dpi) {
    std::vector<PdfBookmark> bookmarks;
    const std::vector<int> levels = heading_levels(text);
    const std::vector<WordPlace> words = text.words();
    for (size_t p = 0; p < levels.size(); ++p) {
        if (levels[p] == 0) continue;
        std::string said;
        for (const WordPlace& place : words)
            if (place.paragraph == p) said += (said.empty() ? "" : " ") + text.at(place).text;
        const double top = on_page(text.paragraphs[p].box, text.layer).y;
        bookmarks.push_back({said, levels[p], sheet, height_pt - px_to_pt(top, dpi)});
    }
    return bookmarks;
}

void add_bookmarks(QPDF& pdf, const std::vector<PdfBookmark>& bookmarks) {
    if (bookmarks.empty()) return;
    Handle outline = pdf.makeIndirectObject(Handle::parse("<< /Type /Outlines >>"));
    struct Open {
        int level;
        Handle item;
    };
    std::vector<Open> above{{0, outline}};
    std::map<QPDFObjGen, int> children;
    for (const PdfBookmark& each : bookmarks) {
        while (above.back().level >= each.level) above.pop_back();
        Handle parent = above.back().item;
        Handle item = pdf.makeIndirectObject(Handle::newDictionary());
        item.replaceKey("/Title", Handle::newUnicodeString(each.title));
        item.replaceKey("/Parent", parent);
        item.replaceKey("/Dest", Handle::newArray({each.sheet, name("XYZ"), Handle::newNull(),
                                                   Handle::newReal(each.top_pt, 3), Handle::newNull()}));
        if (Handle before = parent.getKey("/Last"); before.isDictionary()) {
            before.replaceKey("/Next", item);
            item.replaceKey("/Prev", before);
        } else {
            parent.replaceKey("/First", item);
        }
        parent.replaceKey("/Last", item);
        // All levels are open at first, so all descendants count (ISO 32000-1, 12.3.3).
        for (const Open& open : above) ++children[open.item.getObjGen()];
        above.push_back({each.level, item});
        item.replaceKey("/Count", Handle::newInteger(0));
    }
    pdf.getRoot().replaceKey("/Outlines", outline);
    pdf.getRoot().replaceKey("/PageMode", name("UseOutlines"));
    for (Handle at : pdf.getAllObjects()) {
        if (!at.isDictionary() || !children.contains(at.getObjGen())) continue;
        at.replaceKey("/Count", Handle::newInteger(children[at.getObjGen()]));
    }
}

void add_page_labels(QPDF& pdf, const std::vector<std::optional<int>>& printed) {
    std::map<int, int> shifts; // How often each difference between the printed number and the page's own number occurs.
    int numbered = 0;
    for (size_t i = 0; i < printed.size(); ++i)
        if (printed[i]) ++shifts[*printed[i] - static_cast<int>(i) - 1], ++numbered;
    const auto most = std::ranges::max_element(shifts, {}, [](const auto& each) { return each.second; });
    const bool agree = most != shifts.end() && most->second >= 2 && 2 * most->second > numbered;
    const int shift = agree ? most->first : 0;
    const bool front = shift < 0 && -shift < static_cast<int>(printed.size());
    const std::string labels = front ? fmt::format("0 << /S /r >> {} << /S /D >>", -shift)
                                     : fmt::format("0 << /S /D /St {} >>", std::max(0, shift) + 1);
    pdf.getRoot().replaceKey("/PageLabels", Handle::parse(fmt::format("<< /Nums [ {} ] >>", labels)));
}

}
