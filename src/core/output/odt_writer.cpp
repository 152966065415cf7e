// Writes an editable OpenDocument text (ISO/IEC 26300), with one master page for each page size and margins.
#include "core/output/flow.h"
#include "core/output/joined_writer.h"
#include "core/output/zip_file.h"
#include "core/xml_text.h"

#include <fmt/chrono.h>
#include <fmt/format.h>

#include <ctime>
#include <set>

namespace yelvin {

namespace {

constexpr double odt_least_margin_mm = 10;
constexpr const char* spaces =
    R"(xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:style="urn:oasis:names:tc:opendocument:xmlns:style:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:draw="urn:oasis:names:tc:opendocument:xmlns:drawing:1.0" xmlns:fo="urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0" xmlns:svg="urn:oasis:names:tc:opendocument:xmlns:svg-compatible:1.0" xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:meta="urn:oasis:names:tc:opendocument:xmlns:meta:1.0" office:version="1.2")";

struct PageLayout {
    int width, height, left, top, right; // mm
    auto operator<=>(const PageLayout&) const = default;
};

PageLayout layout_of(const FlowPage& page) {
    const double w = page.size.width, h = page.size.height;
    const auto margin = [](double found, double most) {
        return static_cast<int>(std::lround(std::clamp(found, odt_least_margin_mm / 2, most)));
    };
    if (page.blocks.empty()) return {static_cast<int>(std::lround(w)), static_cast<int>(std::lround(h)), 10, 10, 10};
    const int left = margin(page.used.x, w / 3);
    return {static_cast<int>(std::lround(w)), static_cast<int>(std::lround(h)), left, margin(page.used.y, h / 3),
            margin(std::min<double>(w - page.used.x - page.used.width, left), w / 3)};
}

std::string span(const FlowRun& run, bool heading) {
    return run.bold && !heading ? R"(<text:span text:style-name="Bold">)" + xml_text(run.text) + "</text:span>"
                                : xml_text(run.text);
}

class OdtWriter : public DocumentWriter {
  public:
    OdtWriter(std::filesystem::path file, DocumentInfo info)
        : DocumentWriter(std::move(file), Format::Odt), info_(std::move(info)) {}

  private:
    Result<void> add(EncodedPage page) override {
        if (language_.empty()) language_ = language_tag(page.text.layer.language);
        const auto layout = std::ranges::find(layouts_, layout_of(page.flow));
        page_ = static_cast<int>(layout - layouts_.begin()) + 1;
        if (layout == layouts_.end()) layouts_.push_back(layout_of(page.flow));
        begins_page_ = true;
        const FlowPage& flow = page.flow;
        std::string body = lines_in_place(flow);
        for (const FlowBand& band : flow.bands) {
            auto drawn = blocks(flow, band);
            if (!drawn) return std::unexpected(drawn.error());
            body += *drawn;
        }
        if (flow.bands.empty())
            for (const FlowBlock& block : flow.blocks) {
                auto drawn = picture(block.picture, Placed::OnPage);
                if (!drawn) return std::unexpected(drawn.error());
                body += *drawn;
            }
        if (begins_page_) body += nothing();
        return body_->append(body);
    }

    Result<std::string> blocks(const FlowPage& page, const FlowBand& band) {
        std::string body;
        bool in_list = false;
        const auto close_list = [&](bool item) {
            if (in_list && !item) body += "</text:list>\n";
            in_list = item;
        };
        const bool columns = band.columns.size() > 1;
        if (columns) body += begin_columns(band);
        for (size_t i = band.first; i < band.first + band.count; ++i) {
            const FlowBlock& block = page.blocks[i];
            begins_column_ = i > band.first && std::ranges::count(band.columns, i, &FlowColumn::first) > 0;
            const bool item = block.kind == FlowBlock::Kind::ListItem;
            if (begins_column_ && item) close_list(false);
            if (item && !in_list) {
                if (begins_page_) body += nothing();
                body += R"(<text:list text:style-name="AsPrinted">)";
            }
            close_list(item);
            if (block.kind == FlowBlock::Kind::Picture) {
                auto drawn = picture(block.picture, Placed::InText);
                if (!drawn) return std::unexpected(drawn.error());
                body += *drawn;
            } else if (block.kind == FlowBlock::Kind::Table) {
                if (begins_page_ || begins_column_) body += nothing();
                body += table(block);
            } else {
                body += paragraph(block);
            }
        }
        close_list(false);
        return body + (columns ? "</text:section>\n" : "");
    }

    std::string begin_columns(const FlowBand& band) {
        const std::string name = fmt::format("Columns{}", ++sections_);
        const size_t count = band.columns.size();
        styles_ += fmt::format(
            R"(<style:style style:name="{}" style:family="section"><style:section-properties text:dont-balance-text-columns="true"><style:columns fo:column-count="{}">)",
            name, count);
        for (size_t i = 0; i < count; ++i) {
            const FlowColumn& column = band.columns[i];
            const double before = i > 0 ? (column.left - band.columns[i - 1].right) / 2 : 0,
                         after = i + 1 < count ? (band.columns[i + 1].left - column.right) / 2 : 0;
            styles_ += fmt::format(
                R"(<style:column style:rel-width="{}*" fo:start-indent="{:.1f}mm" fo:end-indent="{:.1f}mm"/>)",
                std::lround(10 * (column.right - column.left + before + after)), std::max(0.0, before),
                std::max(0.0, after));
        }
        styles_ += "</style:columns></style:section-properties></style:style>\n";
        const std::string first = begins_page_ ? nothing() : "";
        return first + fmt::format(R"(<text:section text:style-name="{0}" text:name="{0}">)", name);
    }

    // Returns one paragraph to which all frames of the page are anchored.
    std::string lines_in_place(const FlowPage& page) {
        if (page.lines.empty()) return {};
        std::string out = fmt::format("<text:p text:style-name=\"{}\">", style("Standard", 2));
        for (const FlowLine& line : page.lines) {
            const double high = line.size_pt * mm_per_inch / points_per_inch;
            std::string runs;
            for (const FlowRun& run : line.runs) runs += span(run, false);
            out += fmt::format(
                R"(<draw:frame draw:style-name="Line" text:anchor-type="paragraph" svg:x="{:.2f}mm" svg:y="{:.2f}mm" svg:width="{:.2f}mm" svg:height="{:.2f}mm"><draw:text-box><text:p text:style-name="{}">{}</text:p></draw:text-box></draw:frame>
)",
                line.place.x, line.baseline - 0.8 * high, 1.15 * line.place.width + high, high, line_style(line), runs);
        }
        return out + "</text:p>\n";
    }

    std::string line_style(const FlowLine& line) {
        const long percent = 2 * std::lround(50 * line.stretched);
        std::string name = fmt::format("Lines{}w{}", std::lround(2 * line.size_pt), percent);
        if (styled_.insert(name).second)
            styles_ += fmt::format(
                R"(<style:style style:name="{}" style:family="paragraph" style:parent-style-name="Standard"><style:paragraph-properties fo:margin-top="0mm" fo:margin-bottom="0mm" fo:line-height="{:.1f}pt"/><style:text-properties fo:font-size="{:.1f}pt" style:text-scale="{}%"/></style:style>
)",
                name, line.size_pt, line.size_pt, percent);
        return name;
    }

    // Returns the style of a paragraph. The first one on a page names the master page.
    std::string style(const std::string& parent, double size_pt) {
        const bool column = std::exchange(begins_column_, false) && !begins_page_;
        std::string name = fmt::format("{}{}{}s{}", parent, begins_page_ ? fmt::format("p{}", page_) : "",
                                       column ? "column" : "", std::lround(2 * size_pt));
        if (styled_.insert(name).second)
            styles_ += fmt::format(
                R"(<style:style style:name="{}" style:family="paragraph" style:parent-style-name="{}"{}>{}<style:text-properties fo:font-size="{:.1f}pt"/></style:style>
)",
                name, parent, begins_page_ ? fmt::format(R"( style:master-page-name="Page{}")", page_) : "",
                column ? R"(<style:paragraph-properties fo:break-before="column"/>)" : "", size_pt);
        begins_page_ = false;
        return name;
    }
    std::string nothing() { return fmt::format("<text:p text:style-name=\"{}\"/>\n", style("Standard", 2)); }

    std::string paragraph(const FlowBlock& block) {
        std::string runs;
        const bool heading = block.kind == FlowBlock::Kind::Heading;
        for (const FlowRun& run : block.runs) runs += span(run, heading);
        if (heading) {
            const std::string name = style(fmt::format("Heading{}", block.level), block.size_pt);
            return fmt::format("<text:h text:style-name=\"{}\" text:outline-level=\"{}\">{}</text:h>\n", name,
                               block.level, runs);
        }
        const std::string made =
            fmt::format("<text:p text:style-name=\"{}\">{}</text:p>", style("Standard", block.size_pt), runs);
        return block.kind == FlowBlock::Kind::ListItem ? "<text:list-item>" + made + "</text:list-item>\n"
                                                       : made + "\n";
    }

    std::string table(const FlowBlock& block) {
        std::string out = fmt::format("<table:table table:name=\"Table{}\"><table:table-column "
                                      "table:number-columns-repeated=\"{}\"/>\n",
                                      ++tables_, std::max<size_t>(1, block.table.columns()));
        for (const auto& row : block.table.rows) {
            out += "<table:table-row>";
            for (const std::string& cell : row)
                out += fmt::format("<table:table-cell table:style-name=\"Cell\" office:value-type=\"string\"><text:p "
                                   "text:style-name=\"{}\">{}</text:p></table:table-cell>",
                                   style("Standard", block.size_pt), xml_text(cell));
            out += "</table:table-row>\n";
        }
        return out + "</table:table>\n";
    }

    enum class Placed { InText, OnPage };
    Result<std::string> picture(const FlowPicture& picture, Placed placed) {
        const std::string name = fmt::format("Pictures/picture{}.{}", ++pictures_, picture.is_png ? "png" : "jpg");
        auto kept = spooled(pictures_kept_, picture.bytes);
        if (!kept) return std::unexpected(kept.error());
        kept_.add(name, std::move(*kept), ZipFile::Packed::No);
        manifest_ += fmt::format(R"(<manifest:file-entry manifest:full-path="{}" manifest:media-type="image/{}"/>
)",
                                 name, picture.is_png ? "png" : "jpeg");
        const std::string where =
            placed == Placed::InText
                ? R"(text:anchor-type="as-char")"
                : fmt::format(
                      R"(draw:style-name="Line" text:anchor-type="paragraph" svg:x="{:.2f}mm" svg:y="{:.2f}mm")",
                      picture.place.x, picture.place.y);
        return fmt::format(
            R"(<text:p text:style-name="{}"><draw:frame draw:name="Picture{}" {} svg:width="{:.1f}mm" svg:height="{:.1f}mm"><draw:image xlink:href="{}" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/><svg:desc>Picture on the page</svg:desc></draw:frame></text:p>
)",
            style("Standard", placed == Placed::InText ? 11 : 2), pictures_, where, picture.place.width,
            picture.place.height, name);
    }

    std::string content_begin() const {
        return fmt::format(R"(<?xml version="1.0" encoding="UTF-8"?>
<office:document-content {}><office:automatic-styles>
{}<style:style style:name="Bold" style:family="text"><style:text-properties fo:font-weight="bold"/></style:style>
<style:style style:name="Cell" style:family="table-cell"><style:table-cell-properties fo:border="0.5pt solid #808080" fo:padding="1mm"/></style:style>
<style:style style:name="Line" style:family="graphic"><style:graphic-properties style:wrap="run-through" style:run-through="foreground" style:vertical-pos="from-top" style:vertical-rel="page" style:horizontal-pos="from-left" style:horizontal-rel="page" fo:padding="0mm" fo:border="none" draw:fill="none" draw:stroke="none"/></style:style>
<text:list-style style:name="AsPrinted"><text:list-level-style-bullet text:level="1" text:bullet-char=" "><style:list-level-properties text:space-before="4mm"/></text:list-level-style-bullet></text:list-style>
</office:automatic-styles><office:body><office:text>
)",
                           spaces, styles_);
    }

    std::string styles_part() const {
        const size_t dash = language_.find('-');
        std::string out = fmt::format(
            R"(<?xml version="1.0" encoding="UTF-8"?>
<office:document-styles {0}><office:styles><style:default-style style:family="paragraph"><style:text-properties style:font-name="Liberation Serif" fo:font-size="11pt"{1}/></style:default-style><style:style style:name="Standard" style:family="paragraph"><style:paragraph-properties fo:margin-bottom="2mm"/></style:style>
)",
            spaces,
            language_ == "und" ? "" : fmt::format(R"( fo:language="{}" fo:country="none")", language_.substr(0, dash)));
        for (int level = 1; level <= 3; ++level)
            out += fmt::format(
                R"(<style:style style:name="Heading{0}" style:display-name="Heading {0}" style:family="paragraph" style:parent-style-name="Standard" style:default-outline-level="{0}"><style:paragraph-properties fo:keep-with-next="always" fo:margin-top="3mm"/><style:text-properties fo:font-weight="bold"/></style:style>
)",
                level);
        out += "</office:styles><office:automatic-styles>\n";
        for (size_t i = 0; i < layouts_.size(); ++i) {
            const PageLayout& l = layouts_[i];
            out += fmt::format(
                R"(<style:page-layout style:name="Layout{}"><style:page-layout-properties fo:page-width="{}mm" fo:page-height="{}mm" style:print-orientation="{}" fo:margin-left="{}mm" fo:margin-top="{}mm" fo:margin-right="{}mm" fo:margin-bottom="{}mm"/></style:page-layout>
)",
                i + 1, l.width, l.height, l.width > l.height ? "landscape" : "portrait", l.left, l.top, l.right,
                odt_least_margin_mm);
        }
        out += "</office:automatic-styles><office:master-styles>\n";
        for (size_t i = 0; i < layouts_.size(); ++i)
            out += fmt::format(R"(<style:master-page style:name="Page{0}" style:page-layout-name="Layout{0}"/>
)",
                               i + 1);
        return out + "</office:master-styles></office:document-styles>\n";
    }

    Result<void> complete() override {
        const std::string meta = fmt::format(
            R"(<?xml version="1.0" encoding="UTF-8"?>
<office:document-meta {}><office:meta><dc:title>{}</dc:title>{}{}{}<meta:creation-date>{:%Y-%m-%dT%H:%M:%S}</meta:creation-date></office:meta></office:document-meta>
)",
            spaces, xml_text(info_.title), element_with("dc:subject", info_.subject),
            element_with("meta:initial-creator", info_.author), element_with("meta:keyword", info_.keywords),
            fmt::gmtime(std::time(nullptr)));
        const std::string manifest = fmt::format(
            R"(<?xml version="1.0" encoding="UTF-8"?>
<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.2"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.text"/>
<manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/>
<manifest:file-entry manifest:full-path="styles.xml" manifest:media-type="text/xml"/>
<manifest:file-entry manifest:full-path="meta.xml" manifest:media-type="text/xml"/>
{}</manifest:manifest>
)",
            manifest_);
        ZipFile zip; // ISO/IEC 26300, part 3: the kind of file first, as it is
        if (auto kept = zip.add("mimetype", "application/vnd.oasis.opendocument.text", ZipFile::Packed::No); !kept)
            return kept;
        auto begin = spooled(pictures_kept_, content_begin());
        if (!begin) return std::unexpected(begin.error());
        auto end = spooled(pictures_kept_, "</office:text></office:body></office:document-content>\n");
        if (!end) return std::unexpected(end.error());
        zip.add("content.xml", {*begin, {body_, 0, body_->size()}, *end}, ZipFile::Packed::Yes);
        for (const auto& [name, bytes] : {std::pair<const char*, std::string>{"styles.xml", styles_part()},
                                          {"meta.xml", meta},
                                          {"META-INF/manifest.xml", manifest}})
            if (auto kept = zip.add(name, bytes); !kept) return kept;
        zip.take_over(kept_);
        return zip.write(file());
    }

    DocumentInfo info_;
    std::string styles_, manifest_, language_;
    std::set<std::string> styled_;
    std::vector<PageLayout> layouts_;
    std::shared_ptr<Spool> body_ = std::make_shared<Spool>(), pictures_kept_ = std::make_shared<Spool>();
    ZipFile kept_;
    int page_ = 1, pictures_ = 0, tables_ = 0, sections_ = 0;
    bool begins_page_ = true, begins_column_ = false;
};

}

std::unique_ptr<DocumentWriter> new_odt_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<OdtWriter>(file, info);
}

}
