// Writes words and their positions as hOCR 1.2, in pixels of the saved page.
#include "core/output/joined_writer.h"

#include "core/text/text_places.h"
#include "core/xml_text.h"

#include <fmt/format.h>

#include <cmath>

namespace yelvin {

namespace {

std::string box_words(const cv::Rect& box, const TextLayer& layer) {
    const cv::Rect2d at = on_page(box, layer);
    return fmt::format("bbox {:.0f} {:.0f} {:.0f} {:.0f}", at.x, at.y, at.br().x, at.br().y);
}

cv::Rect box_of(const TextLine& line) {
    cv::Rect box = line.words.front().box;
    for (const Word& word : line.words) box |= word.box;
    return box;
}

std::string line_element(const TextLine& line, const TextLayer& layer) {
    const cv::Rect box = box_of(line);
    // The baseline relative to the lower left corner of the box: its slope and its offset.
    const cv::Point2d run = line.baseline_end - line.baseline_start;
    const double slope = std::abs(run.x) > 1 ? run.y / run.x : 0,
                 up = line.baseline_start.y + slope * (box.x - line.baseline_start.x) - box.br().y;
    std::string out = fmt::format("<span class=\"ocr_line\" title=\"{}; baseline {:.4f} {:.1f}; x_size {:.1f}\">",
                                  box_words(box, layer), slope, up, line.ascent_px + line.descent_px);
    for (size_t i = 0; i < line.words.size(); ++i) {
        const Word& word = line.words[i];
        const std::string text = xml_text(word.text);
        out += fmt::format("{}<span class=\"ocrx_word\" title=\"{}; x_wconf {:.0f}\">{}</span>", i > 0 ? " " : "",
                           box_words(word.box, layer), word.confidence,
                           word.bold ? "<strong>" + text + "</strong>" : text);
    }
    return out + "</span>\n";
}

class HocrWriter : public JoinedWriter {
  public:
    HocrWriter(std::filesystem::path file, DocumentInfo info)
        : JoinedWriter(std::move(file), Format::Hocr), info_(std::move(info)) {}

  private:
    std::string head(const EncodedPage& first) override {
        return fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                           "<html xmlns=\"http://www.w3.org/1999/xhtml\" xml:lang=\"{0}\" lang=\"{0}\">\n<head>\n"
                           "<title>{1}</title>\n<meta charset=\"utf-8\" />\n"
                           "<meta name=\"ocr-system\" content=\"Yelvin\" />\n"
                           "<meta name=\"ocr-capabilities\" content=\"ocr_page ocr_carea ocr_par ocr_line ocrx_word "
                           "ocrp_lang ocrp_wconf\" />\n</head>\n<body>\n",
                           language_tag(first.text.layer.language), xml_text(info_.title));
    }
    std::string page(const EncodedPage& page, int number) override {
        const TextLayer& layer = page.text.layer;
        std::string out = fmt::format("<div class=\"ocr_page\" id=\"page_{}\" title=\"bbox 0 0 {} {}; ppageno {}; "
                                      "scan_res {:.0f} {:.0f}\">\n",
                                      number, page.width_px, page.height_px, number - 1, page.dpi, page.dpi);
        for (const TextParagraph& paragraph : page.text.paragraphs) {
            out += fmt::format("<div class=\"ocr_carea\" title=\"{0}\"><p class=\"ocr_par\" lang=\"{1}\" "
                               "title=\"{0}\">\n",
                               box_words(paragraph.box, layer), language_tag(paragraph.language));
            for (size_t i = 0; i < paragraph.count; ++i) out += line_element(layer.lines[paragraph.first + i], layer);
            out += "</p></div>\n";
        }
        return out + "</div>\n";
    }
    std::string tail() override { return "</body>\n</html>\n"; }
    DocumentInfo info_;
};

}

std::unique_ptr<DocumentWriter> new_hocr_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<HocrWriter>(file, info);
}

}
