// The heading of a document: its subject, or the heading above its text. A heading that the user marked comes first.
#include "core/paper_facts/paper_facts_found.h"

#include <algorithm>

namespace yelvin {

namespace {

std::optional<PaperFact> said_by_a_person(const PageText& text) {
    for (const TextParagraph& paragraph : text.paragraphs) {
        if (!paragraph.kind_was_said || paragraph.kind != ParagraphKind::Heading || paragraph.left_out) continue;
        PaperFact fact{"", 1, "marked as a heading", {}};
        for (size_t line = paragraph.first; line < paragraph.first + paragraph.count; ++line)
            for (size_t word = 0; word < text.layer.lines[line].words.size(); ++word) {
                fact.value += (fact.value.empty() ? "" : " ") + text.layer.lines[line].words[word].text;
                fact.place.push_back({line, word});
            }
        return fact;
    }
    return std::nullopt;
}

bool is_left_out(const PageText& text, const PaperPart& part) {
    const size_t line = part.places.front().line;
    return std::ranges::any_of(text.paragraphs, [&](const TextParagraph& paragraph) {
        return paragraph.left_out && line >= paragraph.first && line < paragraph.first + paragraph.count;
    });
}

// "Subject: …", in the same line or beside it.
std::optional<PaperFact> subject_in(const PaperPage& page, const PaperPart& part, const PaperWords& words) {
    const PhraseMatch subject = longest_at(words.subjects, part.keys, 0);
    if (!subject) return std::nullopt;
    size_t from = part.word_of_key[subject.keys - 1] + 1;
    const bool colon = part.words[from - 1].ends_with(':');
    const bool parted = from < part.words.size() && part.words[from] == ":";
    if (!colon && !parted) return std::nullopt;
    from += parted;
    if (from < part.words.size())
        return PaperFact{part.text(from), 0.95, "the subject", part.places_of(from, part.words.size())};
    const PaperPart* right = page.right_of(part);
    if (!right) return std::nullopt;
    return PaperFact{right->text(), 0.93, "the subject", right->places_of(0, right->words.size())};
}

double stands_out(const PaperPage& page, const PaperPart& part, const PaperWords& words) {
    const double larger = part.height / page.usual_height;
    if (larger < 1.2 && (page.left_of(part) || page.right_of(part))) return 0; // It is the heading of a table's column.
    double score = larger > 1.2 ? 0.7 + 0.15 * std::min(1.5, larger - 1) : part.bold ? 0.68 : 0;
    if (part.words.size() > 14 || part.keys.front().size() < 2) score *= 0.5;
    // It is more likely a letterhead.
    if (page.down(part) < 0.12 && !longest_at(words.kinds, part.keys, 0)) score *= 0.7;
    return score;
}

// A heading may consist of several lines of one size.
PaperFact with_further_lines(const PaperPage& page, const PaperPart& first, const PaperWords& words, PaperFact fact) {
    const PaperPart* last = &first;
    for (int lines = 1; lines < 3; ++lines) {
        const PaperPart* next = page.below(*last);
        const bool goes_on = next && next->height > 0.88 * first.height && next->height < 1.12 * first.height &&
                             next->bold == first.bold && next->box.y - last->box.br().y < 1.3 * first.height;
        if (!goes_on || stands_out(page, *next, words) < 0.4) break;
        fact.value += " " + next->text();
        std::ranges::copy(next->places, std::back_inserter(fact.place));
        last = next;
    }
    return fact;
}

}

std::optional<PaperFact> heading_on(const PageText& text, const PaperPage& page, const PaperWords& words,
                                    const std::optional<PaperFact>& sender) {
    if (auto said = said_by_a_person(text)) return said;
    const auto for_whom = addressee_on(page, words);
    const PaperPart* best = nullptr;
    double best_score = 0;
    for (const PaperPart& part : page.parts) {
        if (page.down(part) > 0.75 || part.keys.empty() || std::ranges::find(for_whom, &part) != for_whom.end())
            continue;
        if (part.sure_of(0, part.words.size()) < 0.3 || is_left_out(text, part)) continue;
        if (sender && word_keys(part.text()) == word_keys(sender->value)) continue;
        if (auto subject = subject_in(page, part, words)) return subject;
        if (const double score = stands_out(page, part, words); score > best_score) {
            best = &part;
            best_score = score;
        }
    }
    if (!best || best_score < 0.4) return std::nullopt;
    const bool large = best->height > 1.2 * page.usual_height;
    return with_further_lines(page, *best, words,
                              {best->text(), std::min(0.95, best_score), large ? "the largest text" : "in bold",
                               best->places_of(0, best->words.size())});
}

}
