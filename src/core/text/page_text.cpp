#include "core/text/page_text.h"

#include "core/text/carried_words.h"
#include "core/text/text_places.h"
#include "core/text/word_order.h"

#include <algorithm>
#include <cmath>
#include <sstream>

namespace yelvin {

namespace {

struct Block {
    TextParagraph about;
    std::vector<TextLine> lines;
};

cv::Point2d middle_of(const cv::Rect& box) { return {box.x + box.width / 2.0, box.y + box.height / 2.0}; }

std::vector<Block> blocks_of(const TextLayer& read, const cv::Matx33d& to_original) {
    std::vector<Block> blocks;
    for (const Paragraph& paragraph : paragraphs_of(read)) {
        Block& block = blocks.emplace_back();
        static_cast<Paragraph&>(block.about) = paragraph;
        const auto from = read.lines.begin() + static_cast<std::ptrdiff_t>(paragraph.first);
        block.lines.assign(from, from + static_cast<std::ptrdiff_t>(paragraph.count));
        block.about.at = mapped(to_original, middle_of(block.lines.front().words.front().box));
    }
    return blocks;
}

// Returns the smallest block that contains the point.
Block* block_at(std::vector<Block>& blocks, cv::Point2d point) {
    Block* found = nullptr;
    for (Block& block : blocks) {
        const cv::Rect& box = block.about.box;
        const bool inside =
            point.x >= box.x - 2 && point.y >= box.y - 2 && point.x <= box.br().x + 2 && point.y <= box.br().y + 2;
        if (inside && (!found || box.area() < found->about.box.area())) found = &block;
    }
    return found;
}

void apply(const ParagraphEdit& edit, Block& block, const TextLayer& read, const PageLies& lies) {
    if (edit.kind) {
        block.about.kind = *edit.kind;
        block.about.kind_was_said = true;
    }
    block.about.left_out = edit.left_out;
    if (!edit.read_again) return;
    TextLayer part =
        carried_words(edit.read_again->layer, edit.read_again->read_as, lies.recipe, lies.original, lies.dpi);
    // A block whose lines have another rotation is from an earlier recognition of the page.
    if (part.turned_degrees == read.turned_degrees && !part.lines.empty()) block.lines = std::move(part.lines);
}

// ---- words

// Returns the code points of the text.
std::vector<std::string> letters_of(const std::string& text) {
    std::vector<std::string> letters;
    for (const char c : text) {
        if (letters.empty() || (static_cast<unsigned char>(c) & 0xC0U) != 0x80U) letters.emplace_back();
        letters.back() += c;
    }
    return letters;
}

// Divides the place among the typed words in proportion to their numbers of letters.
std::vector<Word> words_in(const cv::Rect& place, const std::string& typed, bool bold) {
    std::vector<std::string> texts;
    std::istringstream in(typed);
    for (std::string text; in >> text;) texts.push_back(std::move(text));
    double letters = -1;
    for (const std::string& text : texts) letters += static_cast<double>(letters_of(text).size()) + 1;
    std::vector<Word> words;
    double at = 0;
    for (const std::string& text : texts) {
        const auto own = static_cast<double>(letters_of(text).size());
        const int left = place.x + cvRound(place.width * at / letters),
                  right = place.x + cvRound(place.width * (at + own) / letters);
        words.push_back({text, {left, place.y, std::max(1, right - left), place.height}, 100, bold});
        at += own + 1;
    }
    return words;
}

// Returns the part of a word beside the place, assuming letters of equal width.
std::optional<Word> beside(const Word& word, const cv::Rect& place, bool before) {
    const auto letters = letters_of(word.text);
    const double by = static_cast<double>(letters.size()) / std::max(1, word.box.width);
    const int from = before ? word.box.x : place.br().x, to = before ? place.x : word.box.br().x;
    const auto first = static_cast<size_t>(std::max(0L, std::lround((from - word.box.x) * by))),
               last = std::min(letters.size(), static_cast<size_t>(std::max(0L, std::lround((to - word.box.x) * by))));
    if (first >= last || to <= from) return std::nullopt;
    Word out = word;
    out.text.clear();
    for (size_t i = first; i < last; ++i) out.text += letters[i];
    out.box.x = from;
    out.box.width = to - from;
    return out;
}

int overlap(const cv::Rect& a, const cv::Rect& b) { return std::min(a.br().x, b.br().x) - std::max(a.x, b.x); }

bool same_row(const cv::Rect& a, const cv::Rect& b) {
    return std::abs(middle_of(a).y - middle_of(b).y) < 0.5 * std::max(a.height, b.height);
}

// Returns false if the line has no word in that place.
bool put_in_line(TextLine& line, const cv::Rect& place, const WordEdit& edit) {
    std::vector<Word> out;
    bool done = false;
    for (const Word& word : line.words) {
        const int shared = same_row(word.box, place) ? overlap(word.box, place) : 0;
        const bool goes = 2 * shared > word.box.width, holds = !goes && 10 * shared > 8 * place.width;
        if (!goes && !holds) {
            out.push_back(word);
            continue;
        }
        if (holds) // The engine joined two words into one; keep the part before the place.
            if (const auto before = beside(word, place, true)) out.push_back(*before);
        if (!std::exchange(done, true)) {
            auto words = edit.was == edit.is && goes ? std::vector<Word>{word} : words_in(place, edit.is, word.bold);
            for (Word& each : words) each.confidence = 100;
            if (edit.was == edit.is && goes) words.front().text = edit.is;
            std::ranges::move(words, std::back_inserter(out));
        }
        if (holds)
            if (const auto after = beside(word, place, false)) out.push_back(*after);
    }
    if (done) line.words = std::move(out);
    return done;
}

// Adds a word where none was recognised: to the line beside the place, or as a line of its own.
void add_word(std::vector<Block>& blocks, const cv::Rect& place, const WordEdit& edit) {
    const auto words = words_in(place, edit.is, false);
    if (words.empty()) return;
    if (blocks.empty()) blocks.emplace_back().about.box = place;
    Block* nearest = nullptr;
    double away = 0;
    for (Block& block : blocks) {
        const cv::Rect& box = block.about.box;
        const double down = std::max({0, box.y - place.br().y, place.y - box.br().y}),
                     across = std::max({0, box.x - place.br().x, place.x - box.br().x});
        if (!nearest || std::hypot(across, down) < away) nearest = &block, away = std::hypot(across, down);
    }
    for (TextLine& line : nearest->lines) {
        if (line.words.empty() || !same_row(line.words.front().box, place)) continue;
        const auto at = std::ranges::find_if(line.words, [&](const Word& word) { return word.box.x > place.x; });
        line.words.insert(at, words.begin(), words.end());
        return put_in_logical_order(line);
    }
    const double base = place.br().y;
    TextLine line{words,
                  {static_cast<double>(place.x), base},
                  {static_cast<double>(place.br().x), base},
                  static_cast<double>(place.height),
                  0,
                  nearest->lines.empty() ? std::string() : nearest->lines.front().language};
    const auto at = std::ranges::find_if(nearest->lines, [&](const TextLine& other) {
        return !other.words.empty() && other.words.front().box.y > place.y;
    });
    nearest->lines.insert(at, std::move(line));
}

void apply(const WordEdit& edit, std::vector<Block>& blocks, const TextLayer& read, const cv::Matx33d& to_layer) {
    const cv::Point2d middle = mapped(to_layer, edit.middle);
    if (!cv::Rect2d(0, 0, read.width_px, read.height_px).contains(middle)) return; // The place was cropped away.
    const cv::Rect place(cvRound(middle.x - edit.width / 2), cvRound(middle.y - edit.height / 2),
                         std::max(1, cvRound(edit.width)), std::max(1, cvRound(edit.height)));
    bool done = false;
    for (Block& block : blocks) {
        for (TextLine& line : block.lines) done = !done && put_in_line(line, place, edit) ? true : done;
    }
    if (!done) add_word(blocks, place, edit);
}

// ---- order

void put_in_order(std::vector<Block>& blocks, const std::vector<cv::Point2d>& order, const cv::Matx33d& to_layer) {
    if (order.empty()) return;
    std::vector<const Block*> sequence;
    for (const cv::Point2d at : order) {
        const Block* block = block_at(blocks, mapped(to_layer, at));
        if (block && std::ranges::find(sequence, block) == sequence.end()) sequence.push_back(block);
    }
    // A block that is not in the stored order follows the block after which it was found.
    for (size_t i = 0; i < blocks.size(); ++i) {
        if (std::ranges::find(sequence, &blocks[i]) != sequence.end()) continue;
        auto at = i == 0 ? sequence.begin() : std::ranges::find(sequence, &blocks[i - 1]) + 1;
        sequence.insert(at, &blocks[i]);
    }
    std::vector<Block> sorted;
    for (const Block* block : sequence) sorted.push_back(*block);
    blocks = std::move(sorted);
}

PageText put_together(std::vector<Block> blocks, const TextLayer& read) {
    PageText text{{{}, read.width_px, read.height_px, read.language, read.turned_degrees}, {}};
    for (Block& block : blocks) {
        std::erase_if(block.lines, [](const TextLine& line) { return line.words.empty(); });
        if (block.lines.empty()) continue;
        TextParagraph about = block.about;
        about.first = text.layer.lines.size();
        about.count = block.lines.size();
        about.language = block.lines.front().language;
        about.box = block.lines.front().words.front().box;
        for (TextLine& line : block.lines) {
            for (const Word& word : line.words) about.box |= word.box;
            text.layer.lines.push_back(std::move(line));
        }
        text.paragraphs.push_back(std::move(about));
    }
    return text;
}

}

PageText text_with(const TextLayer& read, const TextEdits& edits, const PageLies& lies) {
    const cv::Matx33d to_original = layer_to_original(read, lies.recipe, lies.original, lies.dpi),
                      to_layer = to_original.inv();
    std::vector<Block> blocks = blocks_of(read, to_original);
    for (const ParagraphEdit& edit : edits.paragraphs)
        if (Block* block = block_at(blocks, mapped(to_layer, edit.at))) apply(edit, *block, read, lies);
    for (const WordEdit& edit : edits.words) apply(edit, blocks, read, to_layer);
    put_in_order(blocks, edits.order, to_layer);
    return put_together(std::move(blocks), read);
}

PageText as_it_was_read(const TextLayer& read) { return put_together(blocks_of(read, cv::Matx33d::eye()), read); }

std::vector<WordPlace> PageText::words() const {
    std::vector<WordPlace> out;
    for (size_t p = 0; p < paragraphs.size(); ++p) {
        for (size_t line = paragraphs[p].first; line < paragraphs[p].first + paragraphs[p].count; ++line) {
            for (size_t word = 0; word < layer.lines[line].words.size(); ++word) out.push_back({p, line, word});
        }
    }
    return out;
}

TextLayer PageText::kept() const { return without_left_out(*this).layer; }

PageText scaled(PageText text, double by) {
    const auto box = [by](const cv::Rect& at) {
        const cv::Point from(cvRound(at.x * by), cvRound(at.y * by)),
            to(cvRound(at.br().x * by), cvRound(at.br().y * by));
        return cv::Rect(from, cv::Point(std::max(to.x, from.x + 1), std::max(to.y, from.y + 1)));
    };
    text.layer.width_px = cvRound(text.layer.width_px * by);
    text.layer.height_px = cvRound(text.layer.height_px * by);
    for (TextLine& line : text.layer.lines) {
        for (Word& word : line.words) word.box = box(word.box);
        line.baseline_start *= by;
        line.baseline_end *= by;
        line.ascent_px *= by;
        line.descent_px *= by;
    }
    for (TextParagraph& paragraph : text.paragraphs) paragraph.box = box(paragraph.box);
    return text;
}

PageText without_left_out(PageText text) {
    PageText out;
    out.layer = std::exchange(text.layer, {});
    const auto lines = std::exchange(out.layer.lines, {});
    for (TextParagraph paragraph : text.paragraphs) {
        if (paragraph.left_out) continue;
        const auto from = lines.begin() + static_cast<std::ptrdiff_t>(paragraph.first);
        paragraph.first = out.layer.lines.size();
        out.layer.lines.insert(out.layer.lines.end(), from, from + static_cast<std::ptrdiff_t>(paragraph.count));
        out.paragraphs.push_back(std::move(paragraph));
    }
    return out;
}

namespace {
bool begins_small(const std::string& text) {
    return std::islower(static_cast<unsigned char>(text[0])) || static_cast<unsigned char>(text[0]) >= 0xC3;
}
}

Joint joint(const PageText& text, const WordPlace& word, const WordPlace& next) {
    const ParagraphKind kind = text.paragraphs[word.paragraph].kind;
    if (word.paragraph != next.paragraph) {
        const bool both_items =
            kind == ParagraphKind::ListItem && text.paragraphs[next.paragraph].kind == ParagraphKind::ListItem;
        return {false, both_items ? "\n" : "\n\n"};
    }
    const Word &before = text.at(word), &after = text.at(next);
    if (word.line != next.line) {
        if (kind == ParagraphKind::Table) return {false, "\n"};
        if (before.text.size() > 1 && before.text.ends_with('-') && begins_small(after.text)) return {true, ""};
    }
    return {false, space_between(before, after)};
}

std::string running_text(const PageText& text, size_t first, size_t last) {
    const std::vector<WordPlace> words = text.words();
    if (first > last || last >= words.size()) return {};
    const bool one_paragraph = words[first].paragraph == words[last].paragraph;
    std::string out;
    const WordPlace* before = nullptr;
    for (size_t i = first; i <= last; ++i) {
        if (!one_paragraph && text.paragraphs[words[i].paragraph].left_out) continue;
        if (before) {
            const Joint between = joint(text, *before, words[i]);
            if (between.hyphen_goes) out.pop_back();
            out += between.between;
        }
        out += text.at(words[i]).text;
        before = &words[i];
    }
    return out;
}

}
