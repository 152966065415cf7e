// Writes words and their positions as ALTO 4, in pixels of the saved page. Both parts of a hyphenated word contain the
// whole word (SUBS_CONTENT).
#include "core/output/joined_writer.h"

#include "core/text/text_places.h"
#include "core/xml_text.h"

#include <fmt/format.h>

namespace yelvin {

namespace {

std::string place(const cv::Rect& box, const TextLayer& layer) {
    const cv::Rect2d at = on_page(box, layer);
    return fmt::format("HPOS=\"{:.0f}\" VPOS=\"{:.0f}\" WIDTH=\"{:.0f}\" HEIGHT=\"{:.0f}\"", at.x, at.y, at.width,
                       at.height);
}

// The whole word of which this is a part, and whether this is its first part. Empty if the word is not hyphenated.
struct Half {
    std::string whole;
    bool first = true;
};
std::vector<Half> halves_of(const PageText& text, const std::vector<WordPlace>& words) {
    std::vector<Half> halves(words.size());
    for (size_t i = 0; i + 1 < words.size(); ++i) {
        if (!joint(text, words[i], words[i + 1]).hyphen_goes) continue;
        std::string begin = text.at(words[i]).text;
        begin.pop_back();
        halves[i] = {begin + text.at(words[i + 1]).text, true};
        halves[i + 1] = {halves[i].whole, false};
    }
    return halves;
}

std::string word_element(const Word& word, const Half& half, const TextLayer& layer) {
    std::string text = word.text, parted;
    if (!half.whole.empty()) {
        parted = fmt::format(" SUBS_TYPE=\"{}\" SUBS_CONTENT=\"{}\"", half.first ? "HypPart1" : "HypPart2",
                             xml_text(half.whole));
        if (half.first) text.pop_back();
    }
    std::string out = fmt::format("<String {} CONTENT=\"{}\" WC=\"{:.2f}\"{}{}/>", place(word.box, layer),
                                  xml_text(text), word.confidence / 100, word.bold ? " STYLE=\"bold\"" : "", parted);
    if (!parted.empty() && half.first) out += "<HYP CONTENT=\"-\"/>";
    return out;
}

class AltoWriter : public JoinedWriter {
  public:
    AltoWriter(std::filesystem::path file, DocumentInfo info)
        : JoinedWriter(std::move(file), Format::Alto), info_(std::move(info)) {}

  private:
    std::string head(const EncodedPage&) override {
        return fmt::format("<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                           "<alto xmlns=\"http://www.loc.gov/standards/alto/ns-v4#\" "
                           "xmlns:xsi=\"http://www.w3.org/2001/XMLSchema-instance\" "
                           "xsi:schemaLocation=\"http://www.loc.gov/standards/alto/ns-v4# "
                           "http://www.loc.gov/standards/alto/v4/alto-4-2.xsd\" SCHEMAVERSION=\"4.2\">\n"
                           "<Description>\n<MeasurementUnit>pixel</MeasurementUnit>\n<sourceImageInformation>"
                           "<fileName>{}</fileName></sourceImageInformation>\n<Processing ID=\"read\">"
                           "<processingSoftware><softwareName>Yelvin</softwareName></processingSoftware></Processing>\n"
                           "</Description>\n<Layout>\n",
                           xml_text(info_.title));
    }
    std::string page(const EncodedPage& page, int number) override {
        const TextLayer& layer = page.text.layer;
        const auto words = page.text.words();
        const auto halves = halves_of(page.text, words);
        std::string out = fmt::format("<Page ID=\"p{0}\" PHYSICAL_IMG_NR=\"{0}\" WIDTH=\"{1}\" HEIGHT=\"{2}\">\n"
                                      "<PrintSpace HPOS=\"0\" VPOS=\"0\" WIDTH=\"{1}\" HEIGHT=\"{2}\">\n",
                                      number, page.width_px, page.height_px);
        size_t at = 0;
        for (size_t p = 0; p < page.text.paragraphs.size(); ++p) {
            const TextParagraph& paragraph = page.text.paragraphs[p];
            out += fmt::format("<TextBlock ID=\"p{}b{}\" {} LANG=\"{}\">\n", number, p + 1, place(paragraph.box, layer),
                               language_tag(paragraph.language));
            for (size_t i = paragraph.first; i < paragraph.first + paragraph.count; ++i) {
                cv::Rect box = layer.lines[i].words.front().box;
                for (const Word& word : layer.lines[i].words) box |= word.box;
                out += fmt::format(
                    "<TextLine {} BASELINE=\"{:.0f}\">", place(box, layer),
                    on_page({cvRound(layer.lines[i].baseline_start.x), cvRound(layer.lines[i].baseline_start.y), 1, 1},
                            layer)
                        .y);
                for (size_t w = 0; w < layer.lines[i].words.size(); ++w, ++at)
                    out += (w > 0 ? "<SP/>" : "") + word_element(layer.lines[i].words[w], halves[at], layer);
                out += "</TextLine>\n";
            }
            out += "</TextBlock>\n";
        }
        return out + "</PrintSpace>\n</Page>\n";
    }
    std::string tail() override { return "</Layout>\n</alto>\n"; }
    DocumentInfo info_;
};

}

std::unique_ptr<DocumentWriter> new_alto_writer(const std::filesystem::path& file, const DocumentInfo& info) {
    return std::make_unique<AltoWriter>(file, info);
}

}
