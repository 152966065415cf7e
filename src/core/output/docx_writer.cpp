// Writes an editable document in Office Open XML (ECMA-376, part 1, WordprocessingML). Each page is a section with its
// own size and margins.
#include "core/output/flow.h"
#include "core/output/joined_writer.h"
#include "core/output/zip_file.h"
#include "core/xml_text.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <ctime>

namespace yelvin {

namespace {

constexpr double twips_per_mm = 1440 / mm_per_inch, emu_per_mm = 914400 / mm_per_inch;
constexpr double least_margin_mm = 10;

int twips(double mm) { return static_cast<int>(std::lround(mm * twips_per_mm)); }

constexpr const char* types = R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/><Default Extension="jpg" ContentType="image/jpeg"/><Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/><Override PartName="/word/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.styles+xml"/><Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>
)";
constexpr const char* package_parts = R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>
)";
constexpr const char* document_begin = R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"><w:body>
)";

std::string styles(const std::string& language) {
    std::string out = fmt::format(
        R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<w:styles xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="Liberation Serif" w:hAnsi="Liberation Serif" w:cs="Liberation Serif"/><w:sz w:val="22"/><w:lang w:val="{}"/></w:rPr></w:rPrDefault><w:pPrDefault><w:pPr><w:spacing w:after="120"/></w:pPr></w:pPrDefault></w:docDefaults><w:style w:type="paragraph" w:default="1" w:styleId="Normal"><w:name w:val="Normal"/></w:style>)",
        language);
    for (int level = 1; level <= 3; ++level)
        out += fmt::format(
            R"(<w:style w:type="paragraph" w:styleId="Heading{0}"><w:name w:val="heading {0}"/><w:basedOn w:val="Normal"/><w:next w:val="Normal"/><w:pPr><w:keepNext/><w:spacing w:before="{1}"/><w:outlineLvl w:val="{2}"/></w:pPr><w:rPr><w:b/></w:rPr></w:style>)",
            level, 280 - 40 * level, level - 1);
    return out +
           R"(<w:style w:type="paragraph" w:styleId="ListParagraph"><w:name w:val="List Paragraph"/><w:basedOn w:val="Normal"/><w:pPr><w:ind w:left="360"/><w:contextualSpacing/></w:pPr></w:style><w:style w:type="table" w:default="1" w:styleId="TableNormal"><w:name w:val="Normal Table"/></w:style><w:style w:type="table" w:styleId="TableGrid"><w:name w:val="Table Grid"/><w:basedOn w:val="TableNormal"/><w:tblPr><w:tblBorders><w:top w:val="single" w:sz="4"/><w:left w:val="single" w:sz="4"/><w:bottom w:val="single" w:sz="4"/><w:right w:val="single" w:sz="4"/><w:insideH w:val="single" w:sz="4"/><w:insideV w:val="single" w:sz="4"/></w:tblBorders></w:tblPr></w:style></w:styles>
)";
}

std::string columns_of_section(const FlowBand& band) {
    const size_t count = band.columns.size();
    if (count < 2) return {};
    std::string out = fmt::format(R"(<w:cols w:num="{}" w:equalWidth="0">)", count);
    for (size_t i = 0; i < count; ++i) {
        const FlowColumn& column = band.columns[i];
        const double gap = i + 1 < count ? std::max(1.0, band.columns[i + 1].left - column.right) : 0;
        out += fmt::format(R"(<w:col w:w="{}" w:space="{}"/>)", twips(column.right - column.left), twips(gap));
    }
    return out + "</w:cols>";
}

// Returns the page's size and margins: the space around its text. `kind` says where the section begins.
std::string section(const FlowPage& page, const FlowBand* band, const char* kind) {
    const double w = page.size.width, h = page.size.height;
    const auto margin = [](double found, double most) { return std::clamp(found, least_margin_mm / 2, most); };
    const bool blank = page.blocks.empty();
    const double left = blank ? least_margin_mm : margin(page.used.x, w / 3),
                 top = blank ? least_margin_mm : margin(page.used.y, h / 3),
                 right = blank ? least_margin_mm : margin(std::min(w - page.used.x - page.used.width, left), w / 3);
    return fmt::format(
        R"(<w:sectPr><w:type w:val="{}"/><w:pgSz w:w="{}" w:h="{}"{}/><w:pgMar w:top="{}" w:right="{}" w:bottom="{}" w:left="{}" w:header="0" w:footer="0" w:gutter="0"/>{}</w:sectPr>)",
        kind, twips(w), twips(h), w > h ? R"( w:orient="landscape")" : "", twips(top), twips(right),
        twips(least_margin_mm), twips(left), band ? columns_of_section(*band) : "");
}

std::string run(const FlowRun& run, double size_pt, const std::string& language, double stretched = 1) {
    const std::string width = stretched == 1 ? "" : fmt::format(R"(<w:w w:val="{}"/>)", std::lround(100 * stretched));
    return fmt::format(R"(<w:r><w:rPr>{}{}<w:sz w:val="{}"/>{}</w:rPr><w:t xml:space="preserve">{}</w:t></w:r>)",
                       run.bold ? "<w:b/>" : "", width, std::lround(2 * size_pt),
                       language == "und" ? "" : fmt::format(R"(<w:lang w:val="{}"/>)", language), xml_text(run.text));
}

constexpr const char* next_column = R"(<w:r><w:br w:type="column"/></w:r>)";

// A frame at its place. Its letters are on the baseline; a line of the height of the letters has four fifths of it
// above.
std::string line_in_place(const FlowLine& line) {
    const double high = line.size_pt * mm_per_inch / points_per_inch;
    std::string out = fmt::format(
        R"(<w:p><w:pPr><w:framePr w:wrap="around" w:vAnchor="page" w:hAnchor="page" w:x="{}" w:y="{}"/><w:spacing w:before="0" w:after="0" w:line="{}" w:lineRule="exact"/></w:pPr>)",
        std::max(1, twips(line.place.x)), std::max(1, twips(line.baseline - 0.8 * high)), twips(high));
    for (const FlowRun& each : line.runs) out += run(each, line.size_pt, language_tag(line.language), line.stretched);
    return out + "</w:p>\n";
}

std::string paragraph(const FlowBlock& block, bool begins_column) {
    std::string style;
    if (block.kind == FlowBlock::Kind::Heading) style = fmt::format("Heading{}", block.level);
    if (block.kind == FlowBlock::Kind::ListItem) style = "ListParagraph";
    std::string out = "<w:p>";
    if (!style.empty()) out += fmt::format(R"(<w:pPr><w:pStyle w:val="{}"/></w:pPr>)", style);
    if (begins_column) out += next_column;
    for (const FlowRun& each : block.runs) out += run(each, block.size_pt, language_tag(block.language));
    return out + "</w:p>\n";
}

std::string table(const FlowBlock& block, double width_mm) {
    const size_t columns = std::max<size_t>(1, block.table.columns());
    const int each = twips(width_mm) / static_cast<int>(columns);
    std::string out =
        R"(<w:tbl><w:tblPr><w:tblStyle w:val="TableGrid"/><w:tblW w:w="0" w:type="auto"/></w:tblPr><w:tblGrid>)";
    for (size_t i = 0; i < columns; ++i) out += fmt::format(R"(<w:gridCol w:w="{}"/>)", each);
    out += "</w:tblGrid>\n";
    for (const auto& row : block.table.rows) {
        out += "<w:tr>";
        for (const std::string& cell : row)
            out += fmt::format(R"(<w:tc><w:tcPr><w:tcW w:w="{}" w:type="dxa"/></w:tcPr><w:p>{}</w:p></w:tc>)", each,
                               cell.empty() ? "" : run({cell, false}, block.size_pt, language_tag(block.language)));
        out += "</w:tr>\n";
    }
    // The empty paragraph keeps two tables apart.
    return out + "</w:tbl><w:p><w:pPr><w:spacing w:after=\"0\"/></w:pPr></w:p>\n";
}

class DocxWriter : public DocumentWriter {
  public:
    DocxWriter(std::filesystem::path file, DocumentInfo info)
        : DocumentWriter(std::move(file), Format::Docx), info_(std::move(info)) {}

  private:
    Result<void> add(EncodedPage page) override {
        if (!begun_) {
            if (auto head = body_->append(document_begin); !head) return head;
            language_ = language_tag(page.text.layer.language);
        }
        const FlowPage& flow = page.flow;
        std::vector<FlowBand> bands = flow.bands;
        // With lines in their places there are no bands.
        if (bands.empty()) bands.push_back({0, flow.blocks.size(), {{}}});
        for (const FlowBand& band : bands) {
            std::string body = begins_section(flow, band, &band == &bands.front());
            for (const FlowLine& line : flow.lines) body += line_in_place(line);
            for (size_t i = band.first; i < band.first + band.count; ++i) {
                const auto begins = [&](const FlowColumn& column) { return column.first == i && i != band.first; };
                auto drawn = made(flow, flow.blocks[i], std::ranges::any_of(band.columns, begins));
                if (!drawn) return std::unexpected(drawn.error());
                body += *drawn;
            }
            if (auto kept = body_->append(body); !kept) return kept;
        }
        return {};
    }

    // The properties of a section are stored in its last paragraph.
    std::string begins_section(const FlowPage& page, const FlowBand& band, bool begins_page) {
        std::string end_of_last;
        if (std::exchange(begun_, true))
            end_of_last = R"(<w:p><w:pPr><w:spacing w:before="0" w:after="0" w:line="20" w:lineRule="exact"/>)" +
                          section_ + "</w:pPr></w:p>\n";
        section_ = section(page, &band, begins_page ? "nextPage" : "continuous");
        return end_of_last;
    }

    Result<std::string> made(const FlowPage& page, const FlowBlock& block, bool begins_column) {
        const std::string before = begins_column ? fmt::format("<w:p>{}</w:p>\n", next_column) : "";
        if (block.kind == FlowBlock::Kind::Table) return before + table(block, page.used.width);
        if (block.kind != FlowBlock::Kind::Picture) return paragraph(block, begins_column);
        auto drawn = picture(block.picture, page.lines.empty() ? Placed::InText : Placed::OnPage);
        if (drawn) drawn->insert(0, before);
        return drawn;
    }

    enum class Placed { InText, OnPage };
    Result<std::string> picture(const FlowPicture& picture, Placed placed) {
        const int number = ++pictures_;
        const std::string name = fmt::format("picture{}.{}", number, picture.is_png ? "png" : "jpg");
        auto kept = spooled(pictures_kept_, picture.bytes);
        if (!kept) return std::unexpected(kept.error());
        zip_.add("word/media/" + name, std::move(*kept), ZipFile::Packed::No);
        parts_ += fmt::format(
            R"(<Relationship Id="picture{}" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/image" Target="media/{}"/>)",
            number, name);
        const auto wide = std::lround(picture.place.width * emu_per_mm),
                   high = std::lround(picture.place.height * emu_per_mm);
        std::string begin = R"(<wp:inline distT="0" distB="0" distL="0" distR="0">)", wrap, end = "</wp:inline>";
        if (placed == Placed::OnPage) {
            begin = fmt::format(
                R"(<wp:anchor distT="0" distB="0" distL="0" distR="0" simplePos="0" relativeHeight="{}" behindDoc="1" locked="0" layoutInCell="1" allowOverlap="1"><wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="page"><wp:posOffset>{}</wp:posOffset></wp:positionH><wp:positionV relativeFrom="page"><wp:posOffset>{}</wp:posOffset></wp:positionV>)",
                number, std::lround(picture.place.x * emu_per_mm), std::lround(picture.place.y * emu_per_mm));
            wrap = "<wp:wrapNone/>";
            end = "</wp:anchor>";
        }
        return fmt::format(
            R"(<w:p><w:r><w:drawing>{4}<wp:extent cx="{0}" cy="{1}"/>{5}<wp:docPr id="{2}" name="Picture {2}" descr="Picture on the page"/><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture"><pic:pic><pic:nvPicPr><pic:cNvPr id="{2}" name="{3}"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="picture{2}"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="{0}" cy="{1}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic>{6}</w:drawing></w:r></w:p>
)",
            wide, high, number, name, begin, wrap, end);
    }

    Result<void> complete() override {
        // Frames are anchored to the next ordinary paragraph.
        const std::string last = info_.make.as_it_looks ? "<w:p/>\n" : "";
        if (auto ended = body_->append(last + section_ + "</w:body></w:document>\n"); !ended) return ended;
        const std::string relations = fmt::format(
            R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="styles" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/>{}</Relationships>
)",
            parts_);
        const std::string core = fmt::format(
            R"(<?xml version="1.0" encoding="UTF-8" standalone="yes"?>
<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><dc:title>{}</dc:title>{}{}{}<dcterms:created xsi:type="dcterms:W3CDTF">{:%Y-%m-%dT%H:%M:%SZ}</dcterms:created></cp:coreProperties>
)",
            xml_text(info_.title), element_with("dc:subject", info_.subject), element_with("dc:creator", info_.author),
            element_with("cp:keywords", info_.keywords), fmt::gmtime(std::time(nullptr)));
        ZipFile zip; // The part that describes the types of the others comes first.
        for (const auto& [name, bytes] : {std::pair<const char*, std::string>{"[Content_Types].xml", types},
                                          {"_rels/.rels", package_parts},
                                          {"docProps/core.xml", core},
                                          {"word/_rels/document.xml.rels", relations},
                                          {"word/styles.xml", styles(language_ == "und" ? "en" : language_)}})
            if (auto kept = zip.add(name, bytes); !kept) return kept;
        zip.add("word/document.xml", {body_, 0, body_->size()}, ZipFile::Packed::Yes);
        zip.take_over(zip_);
        return zip.write(file());
    }

    DocumentInfo info_;
    std::string section_, parts_, language_;
    std::shared_ptr<Spool> body_ = std::make_shared<Spool>(), pictures_kept_ = std::make_shared<Spool>();
    ZipFile zip_;
    int pictures_ = 0;
    bool begun_ = false;
};

}

std::unique_ptr<DocumentWriter> new_docx_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<DocxWriter>(file, info);
}

}
