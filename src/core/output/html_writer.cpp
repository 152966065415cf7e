// Writes one HTML 5 file with embedded pictures.
#include "core/output/html_blocks.h"
#include "core/output/joined_writer.h"
#include "core/raster/base64.h"
#include "core/xml_text.h"

#include <fmt/format.h>

namespace yelvin {

namespace {

class HtmlWriter : public JoinedWriter {
  public:
    HtmlWriter(std::filesystem::path file, DocumentInfo info)
        : JoinedWriter(std::move(file), Format::Html), info_(std::move(info)) {}

  private:
    static std::string said_in_head(const char* name, const std::string& words) {
        if (words.empty()) return {};
        return fmt::format("<meta name=\"{}\" content=\"{}\" />\n", name, xml_text(words));
    }
    std::string head(const EncodedPage& first) override {
        language_ = language_tag(first.text.layer.language);
        return fmt::format("<!DOCTYPE html>\n<html lang=\"{}\">\n<head>\n<meta charset=\"utf-8\" />\n<meta "
                           "name=\"viewport\" content=\"width=device-width\" />\n<title>{}</title>\n{}{}{}<style>\n{}"
                           "</style>\n</head>\n<body>\n",
                           language_, xml_text(info_.title), said_in_head("author", info_.author),
                           said_in_head("description", info_.subject), said_in_head("keywords", info_.keywords),
                           html_style());
    }
    std::string page(const EncodedPage& page, int number) override {
        HtmlHow how;
        how.source_of = [](const FlowPicture& picture) {
            return fmt::format("data:image/{};base64,{}", picture.is_png ? "png" : "jpeg", base64(picture.bytes));
        };
        how.page_language = language_;
        how.page = number;
        return fmt::format("<section id=\"page-{0}\" aria-label=\"Page {0}\">\n{1}</section>\n", number,
                           html_blocks(page.flow, how));
    }
    std::string tail() override { return "</body>\n</html>\n"; }
    DocumentInfo info_;
    std::string language_;
};

}

std::unique_ptr<DocumentWriter> new_html_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<HtmlWriter>(file, info);
}

}
