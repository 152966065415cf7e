#include "core/output/html_blocks.h"

#include "core/output/joined_writer.h"
#include "core/xml_text.h"

#include <fmt/format.h>

namespace yelvin {

namespace {

std::string runs_html(const FlowBlock& block) {
    std::string out;
    const bool heading = block.kind == FlowBlock::Kind::Heading; // bold already
    for (const FlowRun& run : block.runs)
        out += run.bold && !heading ? "<strong>" + xml_text(run.text) + "</strong>" : xml_text(run.text);
    return out;
}

std::string table_html(const Table& table) {
    std::string out = "<table>\n<tbody>\n";
    for (const auto& row : table.rows) {
        out += "<tr>";
        for (const std::string& cell : row) out += "<td>" + xml_text(cell) + "</td>";
        out += "</tr>\n";
    }
    return out + "</tbody>\n</table>\n";
}

}

std::string html_blocks(const FlowPage& page, const HtmlHow& how) {
    std::string out;
    bool in_list = false;
    for (const FlowBlock& block : page.blocks) {
        const bool item = block.kind == FlowBlock::Kind::ListItem;
        if (item != in_list) out += item ? "<ul>\n" : "</ul>\n";
        in_list = item;
        const std::string tag = language_tag(block.language);
        const std::string lang = tag == how.page_language || tag == "und" ? "" : fmt::format(" lang=\"{0}\"", tag);
        switch (block.kind) {
        case FlowBlock::Kind::Heading: {
            const std::string id = how.heading_id ? how.heading_id(block) : "";
            out += fmt::format("<h{0}{1}{2}>{3}</h{0}>\n", block.level, id.empty() ? "" : " id=\"" + id + "\"", lang,
                               runs_html(block));
            break;
        }
        case FlowBlock::Kind::Paragraph:
            out += fmt::format("<p{}>{}</p>\n", lang, runs_html(block));
            break;
        case FlowBlock::Kind::ListItem:
            out += fmt::format("<li{}>{}</li>\n", lang, runs_html(block));
            break;
        case FlowBlock::Kind::Table:
            out += table_html(block.table);
            break;
        case FlowBlock::Kind::Picture:
            out += fmt::format("<figure><img src=\"{}\" width=\"{:.0f}\" height=\"{:.0f}\" alt=\"Picture on page {}\" "
                               "/></figure>\n",
                               how.source_of(block.picture), block.picture.place.width / mm_per_inch * 96,
                               block.picture.place.height / mm_per_inch * 96, how.page);
            break;
        }
    }
    return out + (in_list ? "</ul>\n" : "");
}

std::string html_style() {
    return "body { font-family: serif; line-height: 1.4; margin: 2em auto; max-width: 46em; padding: 0 1em; }\n"
           "section { margin-bottom: 3em; }\n"
           "ul { list-style: none; padding-left: 1.5em; }\n" // their marks are printed
           "table { border-collapse: collapse; margin: 1em 0; }\n"
           "td { border: 1px solid #999; padding: 0.2em 0.6em; vertical-align: top; }\n"
           "figure { margin: 1em 0; }\n"
           "img { max-width: 100%; height: auto; }\n";
}

}
