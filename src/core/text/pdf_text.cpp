#include "core/text/pdf_text.h"

#include "core/raster/pdf_pages.h"
#include "core/raster/units.h"
#include "core/text/languages.h"
#include "core/text/reading_order.h"

#include <fmt/format.h>
#include <poppler-document.h>
#include <poppler-page.h>

#include <algorithm>
#include <fstream>
#include <memory>

namespace yelvin {

namespace {

// The fraction of a word's box below the baseline, in most typefaces.
constexpr double below_line = 0.22;

// Whether the word contains only known characters: no U+FFFD and no control characters.
bool is_readable(const std::string& word) {
    return !word.empty() && word.find("\xEF\xBF\xBD") == std::string::npos &&
           std::ranges::none_of(word, [](unsigned char c) { return c < 0x20; });
}

std::optional<Word> word_of(const poppler::text_box& box, double dpi) {
    const auto bytes = box.text().to_utf8();
    Word word{std::string(bytes.begin(), bytes.end()), {}, 100};
    const auto px = [dpi](double pt) { return static_cast<int>(std::lround(pt * dpi / points_per_inch)); };
    const auto at = box.bbox();
    word.box = {cv::Point(px(at.left()), px(at.top())), cv::Point(px(at.right()), px(at.bottom()))};
    if (box.rotation() != 0 || !is_readable(word.text) || word.box.empty()) return std::nullopt;
    return word;
}

bool goes_on(const TextLine& line, const Word& word) {
    const cv::Rect& last = line.words.back().box;
    const int shared = std::min(last.br().y, word.box.br().y) - std::max(last.y, word.box.y);
    const int gap = word.box.x - last.br().x;
    return 2 * shared > std::min(last.height, word.box.height) && gap > -last.height && gap < 3 * last.height;
}

// The boxes of words in a PDF have the height of the font, so the baseline is computed from them.
void stand_on_line(TextLine& line) {
    double top = 0, bottom = 0;
    for (const Word& word : line.words) top += word.box.y, bottom += word.box.br().y;
    const auto count = static_cast<double>(line.words.size());
    top /= count, bottom /= count;
    const double base = bottom - below_line * (bottom - top);
    line.baseline_start = {static_cast<double>(line.words.front().box.x), base};
    line.baseline_end = {static_cast<double>(line.words.back().box.br().x), base};
    line.ascent_px = base - top;
    line.descent_px = bottom - base;
}

bool begins_as_pdf(const std::filesystem::path& file) {
    std::string begin(1024, '\0');
    std::ifstream(file, std::ios::binary).read(begin.data(), static_cast<std::streamsize>(begin.size()));
    return begin.find("%PDF-") != std::string::npos;
}

std::optional<TextLayer> text_of(poppler::page& page, cv::Size picture_px, double dpi) {
    TextLayer layer{{}, picture_px.width, picture_px.height, {}};
    std::vector<std::string> words;
    size_t all = 0;
    for (const poppler::text_box& box : page.text_list()) {
        ++all;
        auto word = word_of(box, dpi);
        if (!word) continue;
        words.push_back(word->text);
        if (layer.lines.empty() || !goes_on(layer.lines.back(), *word)) layer.lines.emplace_back();
        layer.lines.back().words.push_back(std::move(*word));
    }
    constexpr double enough = 0.8;
    if (words.empty() || static_cast<double>(words.size()) < enough * static_cast<double>(all)) return std::nullopt;
    for (TextLine& line : layer.lines) stand_on_line(line);
    layer.lines = in_reading_order(std::move(layer.lines));
    const auto votes = votes_for(words, {"eng", "deu", "fra", "nld", "spa", "ita", "por", "pol", "dan", "swe", "ell"});
    layer.language = is_clear(votes) ? votes.front().language : "";
    for (TextLine& line : layer.lines) line.language = layer.language;
    return layer;
}

}

std::optional<TextLayer> text_in_pdf(const PageFile& file, int index, cv::Size picture_px, double dpi) {
    const PageFile::Loan pdf = file.pdf();
    if (!pdf.get()) return std::nullopt;
    const std::unique_ptr<poppler::page> page(pdf.get()->document().create_page(index));
    return page ? text_of(*page, picture_px, dpi) : std::nullopt;
}

Result<std::vector<std::optional<TextLayer>>> texts_in_pdf(const std::filesystem::path& file, double dpi,
                                                           const std::stop_token& stop) {
    const std::unique_ptr<poppler::document> pdf(begins_as_pdf(file) ? poppler::document::load_from_file(file.string())
                                                                     : nullptr);
    if (!pdf)
        return fail(ErrorKind::BadInput,
                    fmt::format("{} is damaged or not a PDF; its text could not be read.", file.string()));
    if (pdf->is_locked())
        return fail(ErrorKind::Encrypted,
                    fmt::format("{} is protected by a password; its text could not be read.", file.string()));
    std::vector<std::optional<TextLayer>> out(static_cast<size_t>(std::max(0, pdf->pages())));
    for (size_t i = 0; i < out.size(); ++i) {
        if (stop.stop_requested()) return stopped();
        const std::unique_ptr<poppler::page> page(pdf->create_page(static_cast<int>(i)));
        if (!page) continue;
        const auto rect = page->page_rect();
        const auto px = [dpi](double pt) { return static_cast<int>(std::lround(pt * dpi / points_per_inch)); };
        const bool lies =
            page->orientation() == poppler::page::landscape || page->orientation() == poppler::page::seascape;
        const cv::Size size(px(lies ? rect.height() : rect.width()), px(lies ? rect.width() : rect.height()));
        out[i] = text_of(*page, size, dpi);
    }
    return out;
}

}
