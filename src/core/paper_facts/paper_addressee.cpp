// The addressee of a document.
#include "core/paper_facts/dates_written.h"
#include "core/paper_facts/paper_facts_found.h"

#include <algorithm>
#include <array>

namespace yelvin {

// A postcode: five digits, four digits with two letters, or the two groups of a British one.
bool has_postcode(const PaperPart& part) {
    for (size_t i = 0; i < part.words.size(); ++i) {
        std::string word = part.words[i];
        while (!word.empty() && (word.back() == ',' || word.back() == '.')) word.pop_back();
        const bool digits = std::ranges::all_of(word, [](char c) { return c >= '0' && c <= '9'; });
        if (digits && (word.size() == 4 || word.size() == 5)) return true;
        const bool code = word.size() >= 2 && word.size() <= 4 && has_digit(word) && word[0] >= 'A' && word[0] <= 'Z';
        if (code && i + 1 < part.words.size() && part.words[i + 1].size() >= 3 && part.words[i + 1][0] >= '0' &&
            part.words[i + 1][0] <= '9')
            return true;
    }
    return false;
}

bool is_line_with_marks(const PaperPart& part) {
    const auto marks =
        std::ranges::count_if(part.words, [](const std::string& word) { return word_key(word).empty(); });
    return marks >= 2 && has_postcode(part);
}

bool begins_with_a_title(const PaperPart& part) {
    constexpr std::array<std::string_view, 16> titles{"mr",   "mrs",     "ms",       "miss",   "herr", "herrn",
                                                      "frau", "familie", "monsieur", "madame", "mme",  "mevrouw",
                                                      "dhr",  "mw",      "tav",      "attn"};
    return !part.keys.empty() && (std::ranges::find(titles, part.keys.front()) != titles.end() ||
                                  part.text(0, 2) == "de heer" || part.text(0, 2) == "z. Hd.");
}

namespace {

// Returns lines below each other with the same left edge, without the sender's small line above an address.
std::vector<const PaperPart*> block_from(const PaperPage& page, const PaperPart& first) {
    std::vector<const PaperPart*> block{&first};
    if (is_line_with_marks(first)) return block;
    for (const PaperPart* next = page.below(first); next; next = page.below(*next)) {
        const PaperPart& last = *block.back();
        const bool near = next->box.y - last.box.br().y < 1.6 * first.height;
        const bool aligned = std::abs(next->box.x - first.box.x) < 0.012 * page.width;
        const bool same_size = next->height < 1.5 * first.height && first.height < 1.5 * next->height;
        if (!near || !aligned || !same_size) break;
        block.push_back(next);
    }
    return block;
}

}

std::vector<const PaperPart*> addressee_on(const PaperPage& page, const PaperWords& words) {
    std::vector<const PaperPart*> best;
    double best_score = 0;
    for (const PaperPart& part : page.parts) {
        const double down = page.down(part);
        if (down > 0.4) break;
        auto block = block_from(page, part);
        const bool labelled = whole_part(words.addressee, part) || longest_at(words.addressee, part.keys, 0).keys > 0;
        if (block.size() > 8 || (block.size() < 3 && !(labelled && block.size() >= 2))) continue;
        const auto is_sentence = [&](const PaperPart* line) {
            return line->box.width > 0.45 * page.width || line->words.size() > 7 ||
                   !dates_in(line->words, {page.language}).empty();
        };
        if (std::ranges::any_of(block, is_sentence)) continue;
        const bool is_person =
            std::ranges::any_of(block, [](const PaperPart* line) { return begins_with_a_title(*line); });
        double score = labelled ? 2 : 0;
        if (std::ranges::any_of(block, [](const PaperPart* line) { return has_postcode(*line); })) score += 1;
        if (down > 0.13) score += 1;
        if (is_person) score += 1;
        if (page.across(part) < 0.45) score += 0.8;
        if (part.height > 1.3 * page.usual_height) score -= 2;
        score += 0.1 * static_cast<double>(std::min<size_t>(block.size(), 5));
        if (score > best_score && score >= 1.8) {
            best_score = score;
            best = std::move(block);
        }
    }
    return best;
}

}
