#include "core/reading/paper_says.h"

#include "core/reading/paper_facts_found.h"

#include <algorithm>

namespace yelvin {

PaperSays what_paper_says(const PageText& text, const PaperWords& words, std::chrono::year_month_day today) {
    const PaperPage page = paper_page(text);
    PaperSays says;
    says.date = date_on(page, words, today);
    says.sender = sender_on(page, words);
    says.kind = kind_on(page, words);
    says.number = number_on(page, words, says.kind ? says.kind->value : std::string());
    says.total = total_on(page, words);
    says.heading = heading_on(text, page, words, says.sender);
    return says;
}

PaperSays what_papers_say(std::span<const PageText> pages, const PaperWords& words, std::chrono::year_month_day today) {
    PaperSays all;
    for (size_t i = 0; i < pages.size(); ++i) {
        if (i >= pages_that_say && i + 1 < pages.size()) continue;
        PaperSays page = what_paper_says(pages[i], words, today);
        for (auto fact : {&PaperSays::date, &PaperSays::sender, &PaperSays::kind, &PaperSays::number,
                          &PaperSays::heading, &PaperSays::total}) {
            if (!(page.*fact) || all.*fact) continue;
            (page.*fact)->page = i;
            if (i > 0) (page.*fact)->sure *= 0.8; // what stands on a later page only
            all.*fact = std::move(page.*fact);
        }
        // What is to be paid stands on the last page.
        if (i > 0 && page.total && all.total && page.total->sure > 0.8) {
            all.total = page.total;
            all.total->page = i;
        }
    }
    return all;
}

}
