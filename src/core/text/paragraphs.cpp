#include "core/text/reading_order.h"

#include "core/text/page_text.h"
#include "core/text/word_order.h"

#include <algorithm>
#include <cmath>

namespace yelvin {

namespace {

struct Measured {
    cv::Rect box;
    double tall = 0, base = 0;
    int gaps = 0; // wide ones, between words
    bool starts_item = false, bold = false;
    std::string_view last;
};

bool starts_item(const std::string& word) {
    for (const char* mark : {"•", "·", "▪", "◦", "–", "—", "-", "*", "»", "o"})
        if (word == mark) return true;
    size_t at = word.starts_with('(') ? 1 : 0;
    const size_t first = at;
    while (at < word.size() && std::isdigit(static_cast<unsigned char>(word[at]))) ++at;
    if (at == first && at < word.size() && std::isalpha(static_cast<unsigned char>(word[at])))
        ++at; // a)
    else if (at == first || at - first > 2)
        return false;
    const bool letter = std::isalpha(static_cast<unsigned char>(word[first]));
    return at + 1 == word.size() && (word[at] == ')' || (word[at] == '.' && !letter));
}

int gap_between(const cv::Rect& a, const cv::Rect& b) { return std::max(a.x, b.x) - std::min(a.br().x, b.br().x); }

Measured measured(const TextLine& line) {
    Measured out{line.words.front().box,
                 line.ascent_px,
                 (line.baseline_start.y + line.baseline_end.y) / 2,
                 0,
                 starts_item(line.words.front().text) && line.words.size() > 1,
                 std::ranges::all_of(line.words, &Word::bold),
                 line.words.back().text};
    for (size_t i = 0; i < line.words.size(); ++i) {
        out.box |= line.words[i].box;
        if (i > 0 && gap_between(line.words[i - 1].box, line.words[i].box) > 2.2 * line.ascent_px) ++out.gaps;
    }
    return out;
}

template <class Each>
double median_over(const std::vector<Measured>& lines, Each each) {
    std::vector<double> values;
    for (const Measured& line : lines) values.push_back(each(line));
    std::ranges::nth_element(values, values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2));
    return values[values.size() / 2];
}

// The usual line spacing, relative to the height of the lines.
double usual_lead(const std::vector<Measured>& lines) {
    std::vector<double> leads;
    for (size_t i = 1; i < lines.size(); ++i) {
        const double down = (lines[i].base - lines[i - 1].base) / std::max(1.0, lines[i].tall);
        if (down > 0.8 && down < 4) leads.push_back(down);
    }
    if (leads.empty()) return 2;
    // A value from the smaller half is used, because the spacing between paragraphs is larger.
    const auto at = leads.begin() + static_cast<std::ptrdiff_t>(leads.size() * 2 / 5);
    std::ranges::nth_element(leads, at);
    return *at;
}

bool goes_on(const std::vector<Measured>& lines, size_t i, double lead, const cv::Rect& so_far) {
    const Measured &above = lines[i - 1], &line = lines[i];
    const double down = (line.base - above.base) / std::max(1.0, line.tall);
    if (std::abs(line.base - above.base) < 0.4 * line.tall)
        return above.gaps + line.gaps > 0 || line.tall < 0.9 * above.tall;
    if (down < 0.5 || down > 1.3 * lead || line.starts_item) return false;
    if (std::max(line.tall, above.tall) > 1.25 * std::min(line.tall, above.tall)) return false;
    if (line.bold != above.bold) return false;
    if (line.box.x > so_far.br().x || line.box.br().x < so_far.x) return false;
    const bool indented = line.box.x > so_far.x + 1.2 * line.tall && above.box.x < line.box.x - 1.2 * line.tall;
    const bool ended =
        above.box.br().x < so_far.x + 0.7 * so_far.width && (above.last.ends_with('.') || above.last.ends_with(':'));
    return !indented && !ended;
}

ParagraphKind kind_of(const std::vector<Measured>& lines, const Paragraph& p, double body, bool some_are_not_bold) {
    const Measured& first = lines[p.first];
    int gaps = 0;
    double tall = 0;
    for (size_t i = p.first; i < p.first + p.count; ++i) gaps += lines[i].gaps, tall = std::max(tall, lines[i].tall);
    if (p.count > 1 && gaps >= static_cast<int>(p.count)) return ParagraphKind::Table;
    const auto all_lines = std::ranges::subrange(lines.begin() + static_cast<std::ptrdiff_t>(p.first),
                                                 lines.begin() + static_cast<std::ptrdiff_t>(p.first + p.count));
    if (p.count <= 2 && some_are_not_bold && std::ranges::all_of(all_lines, &Measured::bold))
        return ParagraphKind::Heading;
    if (first.starts_item) return ParagraphKind::ListItem;
    const bool sentence = lines[p.first + p.count - 1].last.ends_with('.');
    if (p.count <= 3 && tall > 1.22 * body && !sentence) return ParagraphKind::Heading;
    return ParagraphKind::Paragraph;
}

}

std::string_view paragraph_word(ParagraphKind kind) {
    switch (kind) {
    case ParagraphKind::Heading:
        return "heading";
    case ParagraphKind::ListItem:
        return "list-item";
    case ParagraphKind::Table:
        return "table";
    case ParagraphKind::Paragraph:
        break;
    }
    return "paragraph";
}

std::vector<Paragraph> paragraphs_of(const TextLayer& layer) {
    std::vector<Paragraph> out;
    if (layer.lines.empty()) return out;
    std::vector<Measured> lines;
    for (const TextLine& line : layer.lines) lines.push_back(measured(line));
    // Right-to-left lines begin and are indented at their right end.
    const auto leftwards = static_cast<size_t>(std::ranges::count_if(layer.lines, runs_right_to_left));
    const bool mirrored = 2 * leftwards > lines.size();
    const auto mirror = [&](cv::Rect& box) { box.x = layer.width_px - box.br().x; };
    if (mirrored)
        for (Measured& line : lines) mirror(line.box);
    const double lead = usual_lead(lines), body = median_over(lines, [](const Measured&m) { return m.tall; });
    for (size_t i = 0; i < lines.size(); ++i) {
        // Rows of a table belong together regardless of their spacing.
        const bool row = i > 0 && lines[i].gaps > 0 && lines[i - 1].gaps > 0 && lines[i].base > lines[i - 1].base &&
                         lines[i].base - lines[i - 1].base < 5.5 * lines[i].tall;
        if (i == 0 || !(row || goes_on(lines, i, lead, out.back().box)))
            out.push_back({ParagraphKind::Paragraph, i, 0, lines[i].box});
        ++out.back().count;
        out.back().box |= lines[i].box;
    }
    const bool some_are_not_bold = !std::ranges::all_of(lines, &Measured::bold);
    for (Paragraph& paragraph : out) {
        paragraph.kind = kind_of(lines, paragraph, body, some_are_not_bold);
        if (mirrored) mirror(paragraph.box);
    }
    return out;
}

std::string running_text(const TextLayer& layer) {
    const PageText text = as_it_was_read(layer);
    const int words = text.layer.word_count();
    return words == 0 ? "" : running_text(text, 0, static_cast<size_t>(words) - 1) + "\n";
}

}
