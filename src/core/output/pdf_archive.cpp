// Metadata of PDF files, and the additions required for archiving (ISO 19005-1 and 19005-2).
#include "core/output/pdf_structure.h"
#include "core/raster/colour_profile.h"
#include "core/xml_text.h"

#include <fmt/chrono.h>
#include <fmt/format.h>
#include <qpdf/QPDFObjectHandle.hh>

namespace yelvin {

namespace {

constexpr const char* maker = "Yelvin";

std::string in_any_language(const char* name, const std::string& words) {
    if (words.empty()) return {};
    return fmt::format("<{0}><rdf:Alt><rdf:li xml:lang=\"x-default\">{1}</rdf:li></rdf:Alt></{0}>\n", name,
                       xml_text(words));
}

// Returns the XMP packet (ISO 16684-1). Its values must equal those of the information dictionary (ISO 19005-1, 6.7.3).
std::string metadata(const PdfAbout& about, int part, char level) {
    const std::string title =
        in_any_language("dc:title", about.title) + in_any_language("dc:description", about.subject);
    std::string language, keywords;
    if (!about.author.empty())
        language +=
            fmt::format("<dc:creator><rdf:Seq><rdf:li>{}</rdf:li></rdf:Seq></dc:creator>\n", xml_text(about.author));
    if (!about.language.empty())
        language += fmt::format("<dc:language><rdf:Bag><rdf:li>{}</rdf:li></rdf:Bag></dc:language>\n", about.language);
    if (!about.keywords.empty())
        keywords = fmt::format("<rdf:Description rdf:about=\"\" xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\">\n"
                               "<pdf:Keywords>{}</pdf:Keywords>\n</rdf:Description>\n",
                               xml_text(about.keywords));
    return fmt::format(R"(<?xpacket begin="{}" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/">
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:pdfaid="http://www.aiim.org/pdfa/ns/id/">
<pdfaid:part>{}</pdfaid:part>
<pdfaid:conformance>{}</pdfaid:conformance>
</rdf:Description>
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">
<dc:format>application/pdf</dc:format>
{}{}</rdf:Description>
{}<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/">
<xmp:CreatorTool>{}</xmp:CreatorTool>
<xmp:CreateDate>{:%Y-%m-%dT%H:%M:%S}+00:00</xmp:CreateDate>
</rdf:Description>
</rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>
)",
                       "\xEF\xBB\xBF", part, level, title, language, keywords, maker, fmt::gmtime(about.made));
}

}

QPDFObjectHandle pdf_information(const PdfAbout& about) {
    QPDFObjectHandle info = QPDFObjectHandle::newDictionary();
    const auto say = [&info](const char* key, const std::string& words) {
        if (!words.empty()) info.replaceKey(key, QPDFObjectHandle::newUnicodeString(words));
    };
    say("/Title", about.title);
    say("/Author", about.author);
    say("/Subject", about.subject);
    say("/Keywords", about.keywords);
    info.replaceKey("/Creator", QPDFObjectHandle::newString(maker));
    info.replaceKey("/CreationDate",
                    QPDFObjectHandle::newString(fmt::format("D:{:%Y%m%d%H%M%S}+00'00'", fmt::gmtime(about.made))));
    return info;
}

namespace {

// The number of glyphs in a TrueType font (ISO/IEC 14496-22, maxp), or 0 if it is none.
int glyph_count(QPDFObjectHandle program) {
    if (!program.isStream()) return 0;
    const auto buffer = program.getStreamData();
    const std::string bytes(reinterpret_cast<const char*>(buffer->getBuffer()), buffer->getSize());
    const auto number = [&](size_t at, int size) {
        size_t value = 0;
        for (int i = 0; i < size; ++i)
            value = value << 8U | (at + static_cast<size_t>(i) < bytes.size()
                                       ? static_cast<unsigned char>(bytes[at + static_cast<size_t>(i)])
                                       : 0U);
        return value;
    };
    for (size_t table = 0; table < number(4, 2); ++table) {
        const size_t at = 12 + table * 16;
        if (bytes.compare(at, 4, "maxp") == 0) return static_cast<int>(number(number(at + 8, 4) + 4, 2));
    }
    return 0;
}

}

void complete_fonts(QPDF& pdf) {
    for (QPDFObjectHandle font : pdf.getAllObjects()) {
        if (!font.isDictionaryOfType("/Font", "/CIDFontType2")) continue;
        if (!font.hasKey("/CIDToGIDMap")) font.replaceKey("/CIDToGIDMap", QPDFObjectHandle::newName("/Identity"));
        QPDFObjectHandle about = font.getKey("/FontDescriptor");
        const int count = about.isDictionary() ? glyph_count(about.getKey("/FontFile2")) : 0;
        if (count == 0) continue;
        std::string codes(static_cast<size_t>(count + 7) / 8, '\0');
        for (int i = 0; i < count; ++i)
            codes[static_cast<size_t>(i) / 8] = static_cast<char>(codes[static_cast<size_t>(i) / 8] | 0x80 >> i % 8);
        about.replaceKey("/CIDSet", QPDFObjectHandle::newStream(&pdf, codes));
    }
}

void add_archive_parts(QPDF& pdf, const PdfAbout& about, int part, char level) {
    QPDFObjectHandle said = QPDFObjectHandle::newStream(&pdf, metadata(about, part, level));
    said.getDict().replaceKey("/Type", QPDFObjectHandle::newName("/Metadata"));
    said.getDict().replaceKey("/Subtype", QPDFObjectHandle::newName("/XML"));
    pdf.getRoot().replaceKey("/Metadata", said);
    QPDFObjectHandle profile = QPDFObjectHandle::newStream(&pdf, colour_profile(Ink::Colour));
    profile.getDict().replaceKey("/N", QPDFObjectHandle::newInteger(3));
    QPDFObjectHandle intent = QPDFObjectHandle::parse(
        "<< /Type /OutputIntent /S /GTS_PDFA1 /OutputConditionIdentifier (sRGB IEC61966-2.1) /Info (sRGB IEC61966-2.1) "
        "/RegistryName (http://www.color.org) >>");
    intent.replaceKey("/DestOutputProfile", profile);
    pdf.getRoot().replaceKey("/OutputIntents", QPDFObjectHandle::newArray({pdf.makeIndirectObject(intent)}));
}

}
