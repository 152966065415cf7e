#include "core/output/pdf_font.h"

#include <fmt/format.h>
#include <qpdf/QPDF.hh>

namespace yelvin {

void fill_font(QPDF& pdf, QPDFObjectHandle font, const GlyphlessCodes& codes) {
    if (codes.count() == 0) return;
    const std::string glyphs = glyphless_truetype(codes.count());
    QPDFObjectHandle program = QPDFObjectHandle::newStream(&pdf, glyphs);
    program.getDict().replaceKey("/Length1", QPDFObjectHandle::newInteger(static_cast<long long>(glyphs.size())));
    const int ascent = static_cast<int>(1000 * font_ascent), descent = static_cast<int>(1000 * font_descent);
    QPDFObjectHandle descriptor = QPDFObjectHandle::parse(fmt::format(
        "<< /Type /FontDescriptor /FontName /YelvinText /Flags 4 /FontBBox [0 {} {} {}] /ItalicAngle 0 /Ascent {} "
        "/Descent {} /CapHeight {} /StemV 80 >>",
        -descent, glyph_width, ascent, ascent, -descent, ascent));
    descriptor.replaceKey("/FontFile2", program);
    QPDFObjectHandle descendant = QPDFObjectHandle::parse(
        fmt::format("<< /Type /Font /Subtype /CIDFontType2 /BaseFont /YelvinText /CIDToGIDMap /Identity /DW {} "
                    "/CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >> >>",
                    glyph_width));
    descendant.replaceKey("/FontDescriptor", pdf.makeIndirectObject(descriptor));
    font.replaceKey("/Type", QPDFObjectHandle::newName("/Font"));
    font.replaceKey("/Subtype", QPDFObjectHandle::newName("/Type0"));
    font.replaceKey("/BaseFont", QPDFObjectHandle::newName("/YelvinText"));
    font.replaceKey("/Encoding", QPDFObjectHandle::newName("/Identity-H"));
    font.replaceKey("/DescendantFonts", QPDFObjectHandle::newArray({pdf.makeIndirectObject(descendant)}));
    font.replaceKey("/ToUnicode", QPDFObjectHandle::newStream(&pdf, codes.to_unicode_map()));
}

}
