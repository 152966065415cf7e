#include "core/paper_facts/paper_facts.h"

#include "core/paper_facts/paper_facts_found.h"

#include <algorithm>

namespace yelvin {

PaperFacts facts_of_page(const PageText& text, const PaperWords& words, std::chrono::year_month_day today) {
    const PaperPage page = paper_page(text);
    PaperFacts says;
    says.date = date_on(page, words, today);
    says.sender = sender_on(page, words);
    says.kind = kind_on(page, words);
    says.number = number_on(page, words, says.kind ? says.kind->value : std::string());
    says.total = total_on(page, words);
    says.heading = heading_on(text, page, words, says.sender);
    return says;
}

PaperFacts facts_of_document(std::span<const PageText> pages, const PaperWords& words,
                             std::chrono::year_month_day today) {
    PaperFacts all;
    for (size_t i = 0; i < pages.size(); ++i) {
        if (i >= pages_with_facts && i + 1 < pages.size()) continue;
        PaperFacts page = facts_of_page(pages[i], words, today);
        for (auto fact : {&PaperFacts::date, &PaperFacts::sender, &PaperFacts::kind, &PaperFacts::number,
                          &PaperFacts::heading, &PaperFacts::total}) {
            if (!(page.*fact) || all.*fact) continue;
            (page.*fact)->page = i;
            if (i > 0) (page.*fact)->sure *= 0.8; // A fact that only a later page states is less certain.
            all.*fact = std::move(page.*fact);
        }
        // The amount to pay is on the last page.
        if (i > 0 && page.total && all.total && page.total->sure > 0.8) {
            all.total = page.total;
            all.total->page = i;
        }
    }
    return all;
}

}
