// What a PDF says about itself, and what makes one for the archive of it (ISO 19005-1 and 19005-2).
#include "core/output/joined_writer.h"
#include "core/output/pdf_structure.h"
#include "core/raster/colour_profile.h"

#include <fmt/chrono.h>
#include <fmt/format.h>
#include <qpdf/QPDFObjectHandle.hh>

namespace yelvin {

namespace {

constexpr const char* maker = "Yelvin";

// XMP (ISO 16684-1) in its packet.
std::string metadata(const PdfAbout& about, int part, char level) {
    const std::string title =
        about.title.empty()
            ? ""
            : fmt::format(R"(<dc:title><rdf:Alt><rdf:li xml:lang="x-default">{}</rdf:li></rdf:Alt></dc:title>
)",
                          xml_text(about.title));
    const std::string language =
        about.language.empty()
            ? ""
            : fmt::format("<dc:language><rdf:Bag><rdf:li>{}</rdf:li></rdf:Bag></dc:language>\n", about.language);
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
<rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/">
<xmp:CreatorTool>{}</xmp:CreatorTool>
<xmp:CreateDate>{:%Y-%m-%dT%H:%M:%S}+00:00</xmp:CreateDate>
</rdf:Description>
</rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>
)",
                       "\xEF\xBB\xBF", part, level, title, language, maker, fmt::gmtime(about.made));
}

}

QPDFObjectHandle pdf_information(const PdfAbout& about) {
    QPDFObjectHandle info = QPDFObjectHandle::newDictionary();
    if (!about.title.empty()) info.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(about.title));
    info.replaceKey("/Creator", QPDFObjectHandle::newString(maker));
    info.replaceKey("/CreationDate",
                    QPDFObjectHandle::newString(fmt::format("D:{:%Y%m%d%H%M%S}+00'00'", fmt::gmtime(about.made))));
    return info;
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
