#include "core/output/pdf_tags.h"

#include "core/output/flow.h"
#include "core/output/joined_writer.h"
#include "core/text/tables.h"
#include "core/text/text_places.h"

#include <fmt/format.h>

#include <algorithm>
#include <regex>

namespace yelvin {

namespace {

// Collects the marked content of one page.
class Marker {
  public:
    Marker(const PageText& text, PdfTags& tags) : text_(text), tags_(tags) {
        for (const TextLine& line : text.layer.lines) tags.of_words.emplace_back(line.words.size(), -1);
    }

    int mark(const std::string& type) {
        tags_.marks.push_back(type);
        return static_cast<int>(tags_.marks.size()) - 1;
    }
    // Returns a tag with the paragraph's words from index `skipped` on.
    PdfTag words(const std::string& type, const TextParagraph& paragraph, size_t skipped) {
        PdfTag tag{type, {}, {}, {mark(type)}, {}, {}};
        for (size_t line = paragraph.first; line < paragraph.first + paragraph.count; ++line)
            for (int& each : tags_.of_words[line]) {
                if (skipped > 0)
                    --skipped;
                else
                    each = tag.marks.front();
            }
        return tag;
    }
    PdfTag cell(const std::string& type, const std::vector<LineWord>& words) {
        PdfTag tag{type, {}, {}, {}, {}, {}};
        if (!words.empty()) tag.marks.push_back(mark(type));
        for (const LineWord& word : words) tags_.of_words[word.line][word.word] = tag.marks.front();
        return tag;
    }
    PdfTag table(const TextParagraph& paragraph) {
        const Table table = table_of(text_, paragraph);
        PdfTag tag{"Table", {}, {}, {}, {}, {}};
        const bool headed = table.words.size() > 1 && is_bold(table.words.front()) && !is_bold(table.words[1]);
        for (const auto& row : table.words) {
            const bool head = headed && &row == &table.words.front();
            PdfTag& out = tag.parts.emplace_back(PdfTag{"TR", {}, {}, {}, {}, {}});
            for (const auto& words : row) out.parts.push_back(cell(head ? "TH" : "TD", words));
        }
        return tag;
    }
    PdfTag item(const TextParagraph& paragraph) {
        static const std::regex label("[•◦▪■□●○·–—*-]|\\(?([0-9]{1,3}|[a-zA-Z]|[ivx]{1,5})[.)]");
        const auto& words = text_.layer.lines[paragraph.first].words;
        const bool labelled = std::regex_match(words.front().text, label) && (paragraph.count > 1 || words.size() > 1);
        PdfTag tag{"LI", {}, {}, {}, {}, {}};
        if (labelled) tag.parts.push_back(cell("Lbl", {{paragraph.first, 0}}));
        tag.parts.push_back(words_of_item(paragraph, labelled ? 1 : 0));
        return tag;
    }

  private:
    const PageText& text_;
    PdfTags& tags_;

    bool is_bold(const std::vector<std::vector<LineWord>>& row) const {
        return std::ranges::all_of(row, [&](const auto& cell) {
            return std::ranges::all_of(
                cell, [&](const LineWord& at) { return text_.layer.lines[at.line].words[at.word].bold; });
        });
    }

    PdfTag words_of_item(const TextParagraph& paragraph, size_t skipped) { return words("LBody", paragraph, skipped); }
};

PdfTag figure(Marker& marker, const cv::Rect2d& box, const std::string& words) {
    return {"Figure", {}, words, {marker.mark("Figure")}, box, {}};
}

}

PdfTags pdf_tags_of(const PageText& text, const std::vector<cv::Rect>& pictures, int number, cv::Size size_px) {
    PdfTags tags;
    Marker marker(text, tags);
    if (text.layer.lines.empty()) {
        tags.is_figure = true;
        tags.blocks.push_back(figure(marker, cv::Rect2d(0, 0, size_px.width, size_px.height),
                                     fmt::format("Page {} as a picture", number)));
        return tags;
    }
    const std::vector<int> levels = heading_levels(text);
    std::vector<cv::Rect2d> places;
    bool in_list = false;
    for (size_t p = 0; p < text.paragraphs.size(); ++p) {
        const TextParagraph& paragraph = text.paragraphs[p];
        const bool item = paragraph.kind == ParagraphKind::ListItem;
        PdfTag tag = item ? marker.item(paragraph)
                     : paragraph.kind == ParagraphKind::Table
                         ? marker.table(paragraph)
                         : marker.words(levels[p] > 0 ? fmt::format("H{}", levels[p]) : "P", paragraph, 0);
        if (paragraph.language != text.layer.language && !paragraph.language.empty())
            tag.language = language_tag(paragraph.language);
        const cv::Rect2d place = on_page(paragraph.box, text.layer);
        if (item && in_list) {
            tags.blocks.back().parts.push_back(std::move(tag));
            places.back() |= place;
            continue;
        }
        in_list = item;
        if (item) tag = {"L", {}, {}, {}, {}, {std::move(tag)}};
        tags.blocks.push_back(std::move(tag));
        places.push_back(place);
    }
    for (const cv::Rect& box : pictures) {
        const size_t behind = behind_which(places, box);
        tags.blocks.insert(tags.blocks.begin() + static_cast<std::ptrdiff_t>(behind),
                           figure(marker, cv::Rect2d(box), fmt::format("Picture on page {}", number)));
        places.insert(places.begin() + static_cast<std::ptrdiff_t>(behind), cv::Rect2d(box));
    }
    return tags;
}

std::optional<int> printed_number(const PageText& text) {
    static const std::regex alone("(?:[-–—] ?)?(?:(?:[Pp]age|[Ss]eite|[Pp]ágina|[Ss]trona|p\\.|S\\.) )?([0-9]{1,4})"
                                  "(?: ?(?:of|von|sur|de|z|/) ?[0-9]{1,4})?(?: ?[-–—])?");
    const auto& lines = text.layer.lines;
    if (lines.empty()) return std::nullopt;
    const auto by_height = [](const TextLine& line) { return line.baseline_start.y; };
    for (const auto& line :
         {std::ranges::max_element(lines, {}, by_height), std::ranges::min_element(lines, {}, by_height)}) {
        std::string said;
        for (const Word& word : line->words) said += (said.empty() ? "" : " ") + word.text;
        std::smatch found;
        if (std::regex_match(said, found, alone)) return std::stoi(found[1]);
    }
    return std::nullopt;
}

}
